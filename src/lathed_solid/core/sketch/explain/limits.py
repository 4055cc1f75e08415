"""How far a size can be taken: from which value on it becomes impossible, and what then stands in its way."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from ...solving.system import System
from ..model import Sketch
from ..solver.solve import Solver
from .measure import present_value

#: Systems larger than this are not searched for what stands in the way (a dense singular value problem).
LARGEST = 600


class Limit(NamedTuple):
    """``dimension`` can be taken from ``now`` to ``value`` (mm, radians) but not to ``wanted``; ``because`` are the ids
    of the sizes and relations that together forbid more.
    """

    dimension: str
    now: float
    value: float
    wanted: float
    because: tuple[str, ...]


def limit(sketch: Sketch, values: Mapping[str, float]) -> Limit | None:
    """For a sketch that cannot follow one changed size. None when several sizes changed or it can follow after all."""
    changed = []
    for d in sketch.dimensions:
        if d.reference or d.id not in values:
            continue
        now = present_value(sketch, d)
        if abs(now - values[d.id]) > 1e-7 * max(1.0, abs(now)):
            changed.append((d.id, now))
    if len(changed) != 1:
        return None
    id_, now = changed[0]
    solver = Solver(sketch, dict(values) | {id_: now})
    solver.solve(dict(values) | {id_: now})
    y, reached = solver.furthest(values)
    if reached >= 1.0:
        return None
    at_limit = now + reached * (values[id_] - now)
    return Limit(id_, now, at_limit, values[id_], _because(solver.posed(y), dict(values) | {id_: at_limit}))


def _because(sketch: Sketch, values: Mapping[str, float]) -> tuple[str, ...]:
    """The rows that lose their independence at the limit: the left null vector there."""
    from ..solver.formulate import Formulation

    formulation = Formulation(sketch, values)
    system = System(formulation, merged=False)
    if system.m > LARGEST or not system.m:
        return ()
    _, data = system.evaluate(system.start(np.array(formulation.x)))
    u, s, _ = np.linalg.svd(system.dense(data))
    weights = np.abs(u[:, min(len(s), system.m) - 1])
    stated = {d.id for d in sketch.dimensions} | {r.id for r in sketch.relations}
    dimensions = {d.id for d in sketch.dimensions}
    found = dict.fromkeys(
        system.owner(i) for i in np.argsort(-weights) if weights[i] > 0.03 * weights.max() and system.owner(i) in stated
    )
    return tuple(sorted(found, key=lambda i: i not in dimensions))
