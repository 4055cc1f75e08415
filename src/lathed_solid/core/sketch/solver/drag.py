"""Dragging: what is held follows the cursor as far as the relations let it; everything else moves least."""

from __future__ import annotations

import time
from collections.abc import Iterable

import numpy as np

from ..model import Circle, Point, Sketch, stands_on
from .linear import Factor
from .solve import Solver

#: Longest move of the dragged point in one frame, mm per frame as a share of the sketch's size.
STEP_SHARE = 0.05
BUDGET_SECONDS = 0.010


class Drag:
    """One drag from press to release. The pose is feasible after every call of :meth:`to`.

    ``element`` is a point, or a curve: its points then go along with the cursor from where it was pressed (``at``, mm).
    A circle pressed on its rim grows and shrinks.
    """

    def __init__(self, solver: Solver, element: str, at: tuple[float, float] | None = None) -> None:
        self._solver, self._system = solver, solver.system
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
        self._reach = max(1e-3, float(np.ptp(self._y)) if len(self._y) else 1.0) * STEP_SHARE

    def to(self, x: float, y: float) -> Sketch:
        """One frame towards (x, y) in sketch mm."""
        if not self._held and self._rim < 0:
            return self._solver.sketch
        ends = time.perf_counter() + BUDGET_SECONDS
        share = 1.0
        while time.perf_counter() < ends and share > 0.02:
            wish = 0.15 * (self._press - self._y)
            gaps = self._gaps(x, y)
            for c, gap in gaps:
                wish[c] = float(np.clip(gap * share, -self._reach, self._reach))
            moved = self._restore(wish)
            if moved is None:
                share *= 0.35
                continue
            self._y = moved
            if all(abs(gap) < self._reach for _, gap in gaps):
                break  # one step a frame; only a jump of the mouse takes more
        return self._solver.posed(self._y)

    def _gaps(self, x: float, y: float) -> list[tuple[int, float]]:
        """Columns held and how far each is from where the cursor wants it."""
        if self._rim >= 0:
            full = self._system.full(self._y)
            i, j = self._solver.formulation.point[self._center]
            return [(self._rim, float(np.hypot(x - full[i], y - full[j]) - self._y[self._rim]))]
        return [(c, (x, y)[k] + offset - float(self._y[c])) for k, c, offset in self._held]

    def _restore(self, wish: np.ndarray) -> np.ndarray | None:
        """Wished step, then least-change steps back onto the relations; None when they do not contract."""
        residual, data = self._system.evaluate(self._y)
        try:
            factor = self._solver.augmented.factor(data, self._weight)
            y = self._y + factor.step(residual, self._weight * wish)
        except np.linalg.LinAlgError:
            return None
        return restored(self._solver, y, self._weight, factor)

    def release(self) -> Sketch:
        """End the drag where it stands."""
        return self._solver.accept(self._y)


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


def restored(
    solver: Solver, y: np.ndarray, weight: np.ndarray | None = None, factor: Factor | None = None
) -> np.ndarray | None:
    """The pose nearest to ``y`` in which all relations hold; None when the steps to it do not contract.

    A ``factor`` from near by is used for as long as its steps contract well, which saves most of the work of a frame.
    """
    system, size = solver.system, np.inf
    weights = np.ones(system.n) if weight is None else weight
    try:
        for _ in range(14):
            residual, data = system.evaluate(y)
            now = float(np.abs(residual).max(initial=0.0))
            if now <= solver.tolerance:
                break
            if now > 0.9 * size:
                return None
            if factor is None or now > 0.2 * size:
                factor = solver.augmented.factor(data, weights)
            size = now
            y = y + factor.step(residual)
        else:
            return None
    except np.linalg.LinAlgError:
        return None
    x = system.full(y)
    return None if any(x[i] <= 1e-9 for i in solver.formulation.own_sizes) else y
