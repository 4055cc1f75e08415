"""How it is made: mirror."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...tolerance import PARALLEL
from ..copying import repeat
from ..model import Built, StepFailure
from ..planes import MAIN_NORMALS
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import along, dot, minus
from ...kernel.ground.placing import mirroring
from ..steps.mirror import Mirror
from ..workshop import Maker


def build(step: Mirror, shop: Workshop) -> Built:
    return repeat(step, shop, {"m": mirroring(*_plane(step, shop))})


def _plane(step: Mirror, shop: Workshop) -> tuple[Vector, Vector]:
    """A point on the plane (mm) and its unit normal."""
    if step.about in MAIN_NORMALS:
        normal = MAIN_NORMALS[step.about]
        return along((0.0, 0.0, 0.0), normal, shop.value(step.offset, "Offset", positive=False)), normal
    first = shop.plane(step.face, "the face to mirror about")
    if step.about == "face":
        return first.origin, first.normal
    second = shop.plane(step.other, "the second face")
    if abs(dot(first.normal, second.normal)) < 1 - PARALLEL:
        raise StepFailure("The two faces are not parallel, so nothing lies midway between them.")
    halfway = dot(minus(second.origin, first.origin), first.normal) / 2
    return along(first.origin, first.normal, halfway), first.normal


MAKERS = {Mirror: Maker(build)}
