"""Dragging a point: it follows the cursor as far as the relations let it; everything else moves least."""

from __future__ import annotations

import time

import numpy as np

from ..model import Sketch
from .solve import Solver

#: Longest move of the dragged point in one frame, mm per frame as a share of the sketch's size.
STEP_SHARE = 0.05
BUDGET_SECONDS = 0.010


class Drag:
    """One drag from press to release. The pose is feasible after every call of :meth:`to`."""

    def __init__(self, solver: Solver, point: str) -> None:
        self._solver, self._system = solver, solver.system
        self._y, self._press = solver.pose.copy(), solver.pose.copy()
        column = self._system.merge.column
        i, j = solver.formulation.point[point]
        self._held = [(k, int(column[v])) for k, v in enumerate((i, j)) if column[v] >= 0]
        self._weight = np.ones(self._system.n)
        for _, c in self._held:
            self._weight[c] = 1e4
        self._reach = max(1e-3, float(np.ptp(self._y)) if len(self._y) else 1.0) * STEP_SHARE

    def to(self, x: float, y: float) -> Sketch:
        """One frame towards (x, y) in sketch mm."""
        if not self._held:
            return self._solver.sketch
        ends = time.perf_counter() + BUDGET_SECONDS
        share = 1.0
        while time.perf_counter() < ends and share > 0.02:
            wish = 0.15 * (self._press - self._y)
            for k, c in self._held:
                gap = ((x, y)[k] - self._y[c]) * share
                wish[c] = float(np.clip(gap, -self._reach, self._reach))
            moved = self._restore(wish)
            if moved is None:
                share *= 0.35
                continue
            self._y = moved
            if all(abs((x, y)[k] - self._y[c]) < 1e-3 for k, c in self._held):
                break
        return self._solver.posed(self._y)

    def _restore(self, wish: np.ndarray) -> np.ndarray | None:
        """Wished step, then least-change steps back onto the relations; None when they do not contract."""
        residual, data = self._system.evaluate(self._y)
        try:
            step = self._solver.augmented.step(residual, data, self._weight, self._weight * wish)
        except np.linalg.LinAlgError:
            return None
        return restored(self._solver, self._y + step)

    def release(self) -> Sketch:
        """End the drag where it stands."""
        return self._solver.accept(self._y)


def restored(solver: Solver, y: np.ndarray) -> np.ndarray | None:
    """The pose nearest to ``y`` in which all relations hold; None when the steps to it do not contract."""
    system, size = solver.system, np.inf
    ones = np.ones(system.n)
    try:
        for _ in range(8):
            residual, data = system.evaluate(y)
            now = float(np.abs(residual).max(initial=0.0))
            if now <= solver.tolerance:
                break
            if now > 0.9 * size:
                return None
            size = now
            y = y + solver.augmented.step(residual, data, ones)
        else:
            return None
    except np.linalg.LinAlgError:
        return None
    x = system.full(y)
    return None if any(x[i] <= 1e-9 for i in solver.formulation.own_sizes) else y
