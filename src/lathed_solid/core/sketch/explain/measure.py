"""What a dimension measures in the stored pose, whatever its text says."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from ...solving.system import System
from ..model import Dimension, Entity, Sketch, stands_on
from ..solver.formulate import Formulation


def present_value(sketch: Sketch, d: Dimension) -> float:
    """The present value in mm or radians. Raises SketchError for a dimension that makes no sense."""
    if d.kind == "turn":
        from ..make.size import make_dimension

        return make_dimension(sketch, d.of, "0", "turn")[1]
    bare = msgspec.structs.replace(
        sketch,
        entities=_involved(sketch, d),
        relations=(),
        dimensions=(msgspec.structs.replace(d, reference=False),),
    )
    guess = 1.0
    for _ in range(2 if d.kind == "angle" else 1):
        first, second = (_residual(bare, d.id, v) for v in (guess, guess + 1e-3))
        guess -= first * 1e-3 / (second - first)
    if d.kind == "angle":
        guess %= 2 * math.pi
    return guess


def _involved(sketch: Sketch, d: Dimension) -> tuple[Entity, ...]:
    """The elements a dimension measures, and what they stand on; all of them where copies are meant."""
    if sketch.repeats:
        return sketch.entities
    found: dict[str, Entity] = {}
    waiting = list(d.of)
    while waiting:
        entity = sketch.by_id.get(waiting.pop())
        if entity is not None and entity.id not in found:
            found[entity.id] = entity
            waiting += stands_on(entity)
    return tuple(found.values())


def _residual(sketch: Sketch, id_: str, value: float) -> float:
    formulation = Formulation(sketch, {id_: value})
    system = System(formulation, merged=False)
    residual, _ = system.evaluate(system.start(np.array(formulation.x)))
    slot = formulation.slots[id_][0]
    return float(residual[system.position[slot.row]])
