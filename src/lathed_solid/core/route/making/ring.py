"""How it is made: ring pattern."""

from __future__ import annotations

import math

from ...kernel.ground.placing import turning_about
from ..copying import repeat, spread, whole_count
from ..model import Built, StepFailure
from ..steps.ring import Ring, _keys
from ..workshop import Maker, Workshop


def build(step: Ring, shop: Workshop) -> Built:
    count = whole_count(step.count, shop, "ring")
    if step.by == "pitch":
        pitch = shop.value(step.pitch, "Pitch angle", "angle", positive=False)
    else:
        total = shop.value(step.total, "Total angle", "angle")
        full = math.isclose(total, 2 * math.pi, rel_tol=1e-9)
        pitch = total / count if full else total / (count - 1)
    if abs(pitch) * (count - 1) > 2 * math.pi - 1e-9 or abs(pitch) < 1e-9:
        raise StepFailure("With this pitch copies would lie on each other.")
    origin, way = shop.axis(step.axis) if step.axis.name else ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    both = step.sides == "both"
    turns = {str(k): (spread(k, count) if both else k) * pitch for k in _keys(step, count)}
    return repeat(step, shop, {k: turning_about(origin, way, angle) for k, angle in turns.items()})


MAKERS = {Ring: Maker(build)}
