"""How it is made: move a body."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..copying import body_copies
from ..model import Built, StepFailure, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector
    from ...kernel.ground.placing import Transform
from ...kernel.ground.placing import shifting, turning_about
from ..steps.shift import _KEY, Shift
from ..workshop import Maker


def build(step: Shift, shop: Workshop) -> Built:
    if not step.of_bodies:
        raise Unfinished("Tick the body to move.")
    if step.stays == "moved" and step.joined == "joined":
        raise StepFailure(
            "A body that is moved away cannot be joined to itself. Let it stay, or keep the copy separate."
        )
    body_copies(step.id, step.of_bodies, step.joined, shop, {_KEY: _place(step, shop)})
    if step.stays == "moved":
        for source in step.of_bodies:
            del shop.bodies[source]
        shop.active = f"{step.id}/{_KEY}/{step.of_bodies[-1]}"
    return Built(shop.body)


def _place(step: Shift, shop: Workshop) -> Transform:
    by: Vector = (
        shop.value(step.x, "X", positive=False),
        shop.value(step.y, "Y", positive=False),
        shop.value(step.z, "Z", positive=False),
    )
    angle = shop.value(step.turn, "Turned by", "angle", positive=False) if step.turn.strip() else 0.0
    origin, way = shop.axis(step.axis) if step.axis.name else ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    made = turning_about(origin, way, angle)
    made.Multiply(shifting(by))
    return made


MAKERS = {Shift: Maker(build)}
