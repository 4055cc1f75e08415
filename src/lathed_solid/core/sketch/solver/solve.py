"""Solving a sketch: its rows brought to zero on the branch of the stored pose, and the pose they then have.

The last good pose is never overwritten by a failure.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import NamedTuple

import msgspec
import numpy as np

from ...arrays import Floats
from ...solving.newton import Newton
from ...solving.system import System
from ...tolerance import SOLVED
from ..model import Circle, Ellipse, Point, Sketch, Text
from .formulate import Formulation

#: Two ends closer than this have no direction from one to the other (mm).
_NOWHERE = 1e-9
#: The field of every element with a size of its own.
_SIZES: dict[type, str] = {Circle: "radius", Ellipse: "minor", Text: "height"}


class Solution(NamedTuple):
    """``sketch`` in its new pose when ``ok``, else as it was. ``reached`` is how far (0..1) the values could be
    taken before the sketch could not follow; ``worst`` the largest residual in mm."""

    ok: bool
    sketch: Sketch
    reached: float
    worst: float


class Solver:
    """A compiled sketch: build once for a shape, then solve for many values."""

    def __init__(self, sketch: Sketch, values: Mapping[str, float], lengths: bool = False) -> None:
        self.sketch = sketch
        self.formulation = Formulation(sketch, values, lengths)
        self.system = System(self.formulation)
        #: The values the present pose meets; None before the first solve.
        self.solved_for: dict[str, float] | None = None
        self._y = _with_directions(self.system, self.system.start(np.array(self.formulation.x)))
        tolerance = SOLVED * max(1.0, float(np.abs(self._y).max(initial=0.0)) / 1000)
        self.newton: Newton[Floats] = Newton(self.system, tolerance, self._sound)

    def solve(self, values: Mapping[str, float]) -> Solution:
        """Move to ``values`` (dimension id to mm or radians)."""
        system = self.system
        system.constants(values)
        worst = self.newton.off(self._y)
        if worst <= self.newton.tolerance:
            # Merging alone may have moved points: equalities are met by being one variable.
            return Solution(True, self._arrived(self._y, values), 1.0, worst)
        y, reached = self.newton.solve(self._y)
        if reached < 1.0 or not self._sound(y):
            return Solution(False, self.sketch, min(reached, 0.999999), worst)
        return Solution(True, self._arrived(y, values), 1.0, self.newton.off(y))

    def _arrived(self, y: Floats, values: Mapping[str, float]) -> Sketch:
        moved = self.posed(y)
        self._y, self.solved_for = y, dict(values)
        if moved.entities != self.sketch.entities:
            self.sketch = moved
        return self.sketch

    def settle(self, values: Mapping[str, float]) -> Sketch | None:
        """The nearest pose that meets ``values``, on whatever branch it lies; None when there is none in reach."""
        self.system.constants(values)
        y = self.newton.nearest(self._y)
        return None if y is None else self._arrived(y, values)

    def furthest(self, values: Mapping[str, float]) -> tuple[Floats, float]:
        """How far (0 to 1) the present pose can be taken towards ``values``, and the pose there."""
        self.system.constants(values)
        return self.newton.follow(self._y, finest=1e-10)

    def _sound(self, y: Floats) -> bool:
        """No circle may have turned to nothing or less."""
        x = self.system.full(y)
        return all(x[i] > 1e-9 for i in self.formulation.positive)

    def posed(self, y: Floats) -> Sketch:
        """The sketch with ``y`` written into its points and circles."""
        x, entities = self.system.full(y).tolist(), list(self.sketch.entities)
        for at, id_, (i, j) in self._places:
            entities[at] = Point(id_, x[i], x[j])
        for at, field, i in self._sizes:
            entities[at] = msgspec.structs.replace(entities[at], **{field: x[i]})
        return self.sketch.moved(tuple(entities))

    @cached_property
    def _places(self) -> list[tuple[int, str, tuple[int, int]]]:
        """Every point's position among the entities and its variables."""
        where = self.formulation.point
        return [(at, e.id, where[e.id]) for at, e in enumerate(self.sketch.entities) if type(e) is Point]

    @cached_property
    def _sizes(self) -> list[tuple[int, str, int]]:
        """Every other element with a size of its own: position, field, variable."""
        variables = self.formulation.radius | self.formulation.scalar
        return [
            (at, _SIZES[type(e)], variables[e.id]) for at, e in enumerate(self.sketch.entities) if type(e) in _SIZES
        ]

    @cached_property
    def unmerged(self) -> System:
        """The same rows with every variable for itself, as questions about them need it."""
        return System(self.formulation, merged=False)

    @property
    def pose(self) -> Floats:
        return self._y

    def accept(self, y: Floats) -> Sketch:
        """Take ``y`` as the new pose (a drag has ended there)."""
        self._y = y
        self.sketch = self.posed(y)
        return self.sketch


def _with_directions(system: System, y: Floats) -> Floats:
    """A start in which no distance has length zero: there its direction would be undefined and nothing would move."""
    column = system.merge.column
    for place in _without_direction(system, y):
        row = system.problem.rows[system.row_index[place]]
        px, py, qx, qy = row.variables[:4]
        x = system.full(y)
        if abs(x[qx] - x[px]) + abs(x[qy] - x[py]) > _NOWHERE:
            continue
        free = next((v for v in (qx, qy, px, py) if column[v] >= 0), None)
        if free is not None:
            y = y.copy()
            y[column[free]] += 0.01 * row.constants[2] * (1 if free in (qx, qy) else -1)
    return y


def _without_direction(system: System, y: Floats) -> list[int]:
    """Places of plain distance rows whose two ends coincide at ``y``."""
    found = system.gathered("distance", y)
    if found is None:
        return []
    first, x, P = found
    short = np.abs(x[2:4] - x[0:2]).sum(axis=0) <= _NOWHERE
    wanted = (P[2] > 0) & (P[0] == 0) & (P[1] == 0)
    return [first + int(i) for i in np.nonzero(short & wanted)[0]]


def solve(sketch: Sketch, values: Mapping[str, float]) -> Solution:
    """Solve ``sketch`` for ``values`` from its stored pose. Raises SketchError for a relation that makes no sense."""
    return Solver(sketch, values).solve(values)
