"""Dragging: what is held follows the cursor as far as the relations let it; everything else moves least."""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping

import numpy as np

from ...arrays import Floats
from ...solving.linear import Factor
from ..model import Circle, Point, Sketch, stands_on
from .solve import Solver

#: Longest move of the dragged point in one frame, mm per frame as a share of the sketch's size.
STEP_SHARE = 0.05
BUDGET_SECONDS = 0.010
#: How well the relations hold while the hand moves, mm: far below a pixel. They are met exactly on release.
WHILE_DRAGGED = 1e-6


class Drag:
    """One drag from press to release. The pose is feasible after every call of :meth:`to`.

    ``element`` is a point, or a curve: its points then go along with the cursor from where it was pressed (``at``, mm).
    A circle pressed on its rim grows and shrinks. Raises SketchError like the solver.
    """

    def __init__(
        self, sketch: Sketch, values: Mapping[str, float], element: str, at: tuple[float, float] | None = None
    ) -> None:
        self._solver = solver = Solver(sketch, values, lengths=True)
        solver.solve(values)
        self._system = solver.system
        self._y, self._press = solver.pose.copy(), solver.pose.copy()
        self._at = at
        self._rim = -1
        column = self._system.merge.column
        entity = next((e for e in solver.sketch.entities if e.id == element), None)
        if isinstance(entity, Circle) and at is not None:
            self._rim = int(column[solver.formulation.radius[element]])
            self._center = entity.center
        points = [element] if entity is None or isinstance(entity, Point) else list(stands_on(entity))
        places = solver.sketch.points()
        self._held: list[tuple[int, int, float]] = []
        if self._rim < 0:
            for p in _points(points, solver.sketch):
                for k, v in enumerate(solver.formulation.point[p]):
                    offset = 0.0 if at is None or p == element else (places[p].x, places[p].y)[k] - at[k]
                    if column[v] >= 0:
                        self._held.append((k, int(column[v]), offset))
        self._weight = np.ones(self._system.n)
        for _, c, _ in self._held:
            self._weight[c] = 1e4
        if self._rim >= 0:
            self._weight[self._rim] = 1e4
        self._factor: Factor | None = None
        self._sizes = np.array([c for v in solver.formulation.positive if (c := int(column[v])) >= 0], dtype=np.intp)
        self._stiff = self._y[self._sizes].copy()
        self._reach = max(1e-3, float(np.ptp(self._y)) if len(self._y) else 1.0) * STEP_SHARE

    def to(self, x: float, y: float) -> Sketch:
        """One frame towards (x, y) in sketch mm."""
        if not self._held and self._rim < 0:
            return self._solver.sketch
        self._stiffen()
        ends = time.perf_counter() + BUDGET_SECONDS
        share = 1.0
        while time.perf_counter() < ends and share > 0.02:
            wish = 0.15 * share * (self._press - self._y)
            wish[self._sizes] = 0.0
            gaps = self._gaps(x, y)
            for c, gap in gaps:
                wish[c] = float(np.clip(gap * share, -self._reach, self._reach))
            moved = self._restore(wish)
            if moved is None:
                share *= 0.35
                continue
            self._y = moved
            left = self._gaps(x, y)
            # One step a frame; only a jump of the mouse takes more, and not where the part holds still.
            if all(abs(gap) < self._reach for _, gap in gaps) or _size(left) > 0.9 * _size(gaps):
                break
        return self._solver.posed(self._y)

    def _stiffen(self) -> None:
        """A radius or line that shrinks gives way less and less: it never passes zero, and others take over."""
        now = self._y[self._sizes]
        if np.any((now < 0.8 * self._stiff) | (now > 1.25 * self._stiff)):
            others = self._sizes != self._rim
            self._stiff = now.copy()
            self._weight[self._sizes[others]] = np.maximum(1.0, (self._press[self._sizes] / now) ** 4)[others]
            self._factor = None

    def _gaps(self, x: float, y: float) -> list[tuple[int, float]]:
        """Columns held and how far each is from where the cursor wants it."""
        if self._rim >= 0:
            full = self._system.full(self._y)
            i, j = self._solver.formulation.point[self._center]
            return [(self._rim, float(np.hypot(x - full[i], y - full[j]) - self._y[self._rim]))]
        return [(c, (x, y)[k] + offset - float(self._y[c])) for k, c, offset in self._held]

    def _restore(self, wish: Floats) -> Floats | None:
        """Wished step, then least-change steps back onto the relations; None when they do not contract.

        The last frame's factor is tried first: from one frame to the next little changes, and the steps back onto the
        relations make up for it.
        """
        residual, data = self._system.evaluate(self._y)
        if self._factor is not None:
            kept = self._stepped(residual, wish, self._factor)
            if kept is not None:
                return kept
        try:
            return self._stepped(residual, wish, self._solver.newton.factor(residual, data, self._weight))
        except np.linalg.LinAlgError:
            return None

    def _stepped(self, residual: Floats, wish: Floats, factor: Factor) -> Floats | None:
        try:
            step = factor.step(residual, self._weight * wish)
        except np.linalg.LinAlgError:
            return None
        y = self._y + self._kept_positive(step) * step
        moved, self._factor = self._solver.newton.restored(y, self._weight, factor, WHILE_DRAGGED)
        return moved

    def _kept_positive(self, step: Floats) -> float:
        """The share of a step after which no radius or length has lost more than half of itself."""
        shrinking = -step[self._sizes]
        least = np.where(shrinking > 0, 0.5 * self._y[self._sizes] / np.maximum(shrinking, 1e-30), 1.0)
        return float(min(1.0, least.min(initial=1.0)))

    def release(self) -> Sketch:
        """End the drag where it stands, with every relation met as closely as by a solve."""
        settled, _ = self._solver.newton.restored(self._y)
        return self._solver.accept(self._y if settled is None else settled)


def _size(gaps: list[tuple[int, float]]) -> float:
    return max((abs(gap) for _, gap in gaps), default=0.0)


def _points(ids: Iterable[str], sketch: Sketch) -> list[str]:
    """The points among ``ids``; a text is dragged by the line it stands on."""
    known = {e.id: e for e in sketch.entities}
    found: list[str] = []
    for id_ in ids:
        entity = known.get(id_)
        if isinstance(entity, Point):
            found.append(id_)
        elif entity is not None:
            found += _points(stands_on(entity), sketch)
    return found
