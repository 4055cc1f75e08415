"""Playing what can still move: each free motion to and fro, with all relations held."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from scipy.linalg import qr

from ..model import Sketch
from ..solver.solve import Solver
from .diagnose import null_space

#: How far the motion goes, as a share of the sketch's size.
REACH = 0.06


class Wiggle:
    """The free motions of a sketch, each as local as it can be. ``count`` of them."""

    def __init__(self, sketch: Sketch, values: Mapping[str, float]) -> None:
        self._solver = Solver(sketch, values)
        self._solver.solve(values)
        system = self._solver.system
        self._start = self._solver.pose.copy()
        if system.n == 0:
            self._ways = np.zeros((0, 0))
            return
        _, data = system.evaluate(self._start)
        self._ways = _local(null_space(system, data))
        size = float(np.ptp(self._start)) or 1.0
        greatest = np.abs(self._ways).max(axis=0, initial=1e-12)
        self._ways *= REACH * size / np.maximum(greatest, 1e-12)

    @property
    def count(self) -> int:
        return int(self._ways.shape[1]) if self._ways.size else 0

    def pose(self, way: int, phase: float) -> Sketch:
        """The sketch a part (``phase`` in turns: 0 to 1) of the way through motion ``way``."""
        swing = math.sin(2 * math.pi * phase)
        for share in (1.0, 0.4, 0.15):
            y, _ = self._solver.newton.restored(self._start + share * swing * self._ways[:, way])
            if y is not None:
                return self._solver.posed(y)
        return self._solver.sketch

    def moving(self, way: int) -> tuple[str, ...]:
        """Points that take part in a motion, the most moved first."""
        column = self._solver.system.merge.column
        found = []
        for id_, pair in self._solver.formulation.point.items():
            far = max((abs(self._ways[column[v], way]) for v in pair if column[v] >= 0), default=0.0)
            if far > 1e-9:
                found.append((-far, id_))
        return tuple(id_ for _, id_ in sorted(found))


def _local(basis: np.ndarray) -> np.ndarray:
    """The same motions, mixed so that each moves one variable that the others leave alone."""
    if not basis.shape[1]:
        return basis
    _, _, pivots = qr(basis.T, mode="economic", pivoting=True)
    chosen = np.sort(pivots[: basis.shape[1]])
    return np.asarray(basis @ np.linalg.inv(basis[chosen]))
