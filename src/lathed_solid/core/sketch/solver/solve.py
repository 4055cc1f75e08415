"""Solving a sketch: guarded Newton on what changed, homotopy when a step would flip the shape, least change for
what is not fully pinned. The last good pose is never overwritten by a failure."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import NamedTuple

import msgspec
import numpy as np

from ...tolerance import SOLVED
from ..model import Circle, Ellipse, Point, Sketch, Text
from .blocks import Blocks
from .formulate import Formulation
from .linear import Augmented, Square
from .rows import Floats
from .system import System

MAX_STEPS = 40
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
        self._blocks: Blocks | None = None
        self._augmented: Augmented | None = None
        #: The values the present pose meets; None before the first solve.
        self.solved_for: dict[str, float] | None = None
        self._y = _with_directions(self.system, self.system.start(np.array(self.formulation.x)))
        self.tolerance = SOLVED * max(1.0, float(np.abs(self._y).max(initial=0.0)) / 1000)

    @property
    def blocks(self) -> Blocks:
        if self._blocks is None:
            self._blocks = Blocks(self.system)
        return self._blocks

    @property
    def augmented(self) -> Augmented:
        if self._augmented is None:
            self._augmented = Augmented(self.system)
        return self._augmented

    def solve(self, values: Mapping[str, float]) -> Solution:
        """Move to ``values`` (dimension id to mm or radians)."""
        system = self.system
        system.constants(values)
        residual, data = system.evaluate(self._y)
        worst = float(np.abs(residual).max(initial=0.0))
        if worst <= self.tolerance:
            # Merging alone may have moved points: equalities are met by being one variable.
            return Solution(True, self._arrived(self._y, values), 1.0, worst)
        y, reached = self._guarded(self._y, residual, data)
        if reached < 1.0:
            y, reached = self._follow(self._y, residual, data)
        if reached < 1.0 or not self._sound(y):
            return Solution(False, self.sketch, min(reached, 0.999999), worst)
        return Solution(True, self._arrived(y, values), 1.0, float(np.abs(system.evaluate(y)[0]).max(initial=0.0)))

    def _arrived(self, y: Floats, values: Mapping[str, float]) -> Sketch:
        moved = self.posed(y)
        self._y, self.solved_for = y, dict(values)
        if moved.entities != self.sketch.entities:
            self.sketch = moved
        return self.sketch

    def settle(self, values: Mapping[str, float]) -> Sketch | None:
        """The nearest pose that meets ``values``, on whatever branch it lies; None when there is none in reach."""
        self.system.constants(values)
        residual, data = self.system.evaluate(self._y)
        y = self._correct(self._y, np.zeros(self.system.m), residual, data, strict=False)
        if y is None or not self._sound(y):
            return None
        return self._arrived(y, values)

    def furthest(self, values: Mapping[str, float]) -> tuple[Floats, float]:
        """How far (0 to 1) the present pose can be taken towards ``values``, and the pose there."""
        self.system.constants(values)
        residual, data = self.system.evaluate(self._y)
        return self._follow(self._y, residual, data, finest=1e-10)

    def _guarded(self, y: Floats, residual: Floats, data: Floats) -> tuple[Floats, float]:
        """One direct attempt: square blocks by Newton, the rest by least change; refused when the guard trips."""
        before = self.blocks.signs(data)
        moved = self._correct(y, np.zeros(self.system.m), residual, data, strict=False)
        if moved is None:
            return y, 0.0
        after = self.blocks.signs(self.system.evaluate(moved)[1])
        return (moved, 1.0) if np.array_equal(before, after) else (y, 0.0)

    def _correct(self, y: Floats, target: Floats, residual: Floats, data: Floats, strict: bool) -> Floats | None:
        """Newton to ``residual == target``; ``strict`` wants every step to contract."""
        system, blocks = self.system, self.blocks
        square = None
        if blocks.whole:
            changed = np.nonzero(np.abs(residual - target) > self.tolerance)[0]
            rows = blocks.affected(changed)
            square = Square(system, rows, blocks.columns_of(rows))
        gap = residual - target
        size = float(np.abs(gap).max(initial=0.0))
        for _ in range(MAX_STEPS):
            if size <= self.tolerance:
                return y
            try:
                y = y.copy()
                if square is not None:
                    y[square.columns] -= square.step(gap, data)
                else:
                    y += self.augmented.step(gap, data, np.ones(system.n))
            except np.linalg.LinAlgError:
                if square is None:
                    return None
                square = None
                continue
            gap_now, data = system.evaluate(y)
            gap = gap_now - target
            now = float(np.abs(gap).max(initial=0.0))
            if not np.isfinite(now) or now > 1e9:
                return None
            if strict and now > 0.5 * size and now > self.tolerance:
                return None
            size = now
        return None

    def _follow(self, y: Floats, residual: Floats, data: Floats, finest: float = 1e-4) -> tuple[Floats, float]:
        """Homotopy: shrink the residual from where it stands to zero, keeping every block's sign."""
        signs = self.blocks.signs(data)
        first, reached, stride = residual.copy(), 0.0, 0.5
        while reached < 1.0:
            goal = min(1.0, reached + stride)
            now, data_now = self.system.evaluate(y)
            moved = self._correct(y, (1.0 - goal) * first, now, data_now, strict=True)
            if (
                moved is not None
                and self._sound(moved)
                and np.array_equal(signs, self.blocks.signs(self.system.evaluate(moved)[1]))
            ):
                y, reached, stride = moved, goal, stride * 2
            else:
                stride *= 0.35
                if stride < finest:
                    return y, reached
        return y, 1.0

    def _sound(self, y: Floats) -> bool:
        """No circle may have turned to nothing or less."""
        x = self.system.full(y)
        return all(x[i] > 1e-9 for i in self.formulation.own_sizes)

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
    for place in system.without_direction(y):
        row = system.formulation.rows[system.row_index[place]]
        px, py, qx, qy = row.variables[:4]
        x = system.full(y)
        if abs(x[qx] - x[px]) + abs(x[qy] - x[py]) > 1e-9:
            continue
        free = next((v for v in (qx, qy, px, py) if column[v] >= 0), None)
        if free is not None:
            y = y.copy()
            y[column[free]] += 0.01 * row.constants[2] * (1 if free in (qx, qy) else -1)
    return y


def solve(sketch: Sketch, values: Mapping[str, float]) -> Solution:
    """Solve ``sketch`` for ``values`` from its stored pose. Raises SketchError for a relation that makes no sense."""
    return Solver(sketch, values).solve(values)
