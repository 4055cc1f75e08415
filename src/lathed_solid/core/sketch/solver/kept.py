"""Compiled sketches kept from one edit to the next: a changed size, a drag or a question after a solve need no new
set-up. A kept solver serves a sketch of the same elements and relations that stands where the solver left it.
"""

from __future__ import annotations

import threading
from collections.abc import Mapping

from ..model import Dimension, Sketch
from .solve import Solver

#: Sketches of a job in work, and a few steps of undo.
KEPT = 8


class _Shelf(threading.local):
    def __init__(self) -> None:
        self.solvers: list[Solver] = []


_SHELF = _Shelf()


def solver_for(sketch: Sketch, values: Mapping[str, float]) -> Solver:
    """A solver that stands at the pose of ``sketch``: a kept one, or a new one. Raises SketchError."""
    solver = next((s for s in _SHELF.solvers if _serves(s, sketch)), None)
    if solver is None:
        solver = Solver(sketch, values)
    else:
        solver.sketch = sketch
        _SHELF.solvers.remove(solver)
    _SHELF.solvers.insert(0, solver)
    del _SHELF.solvers[KEPT:]
    return solver


def standing(sketch: Sketch, values: Mapping[str, float]) -> Solver | None:
    """The kept solver that has solved exactly this sketch for these values, if there is one."""
    return next((s for s in _SHELF.solvers if s.solved_for == values and _serves(s, sketch)), None)


def forget() -> None:
    """Drop all kept solvers (benches and tests begin cold)."""
    _SHELF.solvers.clear()


def _serves(solver: Solver, sketch: Sketch) -> bool:
    kept = solver.sketch
    if kept is sketch:
        return True
    return (
        len(kept.entities) == len(sketch.entities)
        and len(kept.dimensions) == len(sketch.dimensions)
        and kept.relations == sketch.relations
        and kept.repeats == sketch.repeats
        and kept.projected == sketch.projected
        and kept.plane == sketch.plane
        and kept.entities == sketch.entities
        and all(map(_same_but_for_text, kept.dimensions, sketch.dimensions))
    )


def _same_but_for_text(a: Dimension, b: Dimension) -> bool:
    return a is b or (
        (a.id, a.kind, a.of, a.sense, a.reference) == (b.id, b.kind, b.of, b.sense, b.reference)
        and (a.far, a.quadrant, a.rim) == (b.far, b.quadrant, b.rim)
    )
