"""How it is made: draft."""

from __future__ import annotations

from ...kernel.cut.draft import draft
from ..model import Built, Unfinished
from ..steps.leaning import Draft
from ..workshop import Maker, Workshop


def build(step: Draft, shop: Workshop) -> Built:
    if not step.faces:
        raise Unfinished("Pick the faces that lean.")
    plane = shop.plane(step.neutral, "the plane where the faces keep their size")
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    return Built(draft(shop.body, [f.name for f in step.faces], plane, angle))


MAKERS = {Draft: Maker(build)}
