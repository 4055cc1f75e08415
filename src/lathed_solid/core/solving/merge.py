"""Merging of variables that equalities make one (coincident, horizontal, vertical, equal, fixed).

Dimensions stay rows: they change often and must remain visible to the diagnosis.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Floats, Ints
from .problem import Problem
from .rows import LINEAR, Row


class Merge:
    """``x[i] = scale[i] * y[column[i]] + shift[i]``; ``column`` is -1 for constants. ``kept`` are the rows left."""

    def __init__(self, problem: Problem, enable: bool = True) -> None:
        count = len(problem.x)
        self._parent = list(range(count))
        self._value = dict(problem.fixed)
        self.kept: list[int] = list(range(len(problem.rows)))
        if enable:
            dimensioned = {slot.row for slots in problem.slots.values() for slot in slots}
            self.kept = [
                index
                for index, row in enumerate(problem.rows)
                if row.kind != LINEAR or index in dimensioned or not self._absorb(row)
            ]
        roots = np.arange(count)
        if enable:
            roots = np.array([i if p == i else self._find(i) for i, p in enumerate(self._parent)], dtype=np.intp)
        value = np.zeros(count)
        given = np.fromiter(self._value, np.intp, len(self._value))
        value[given] = np.fromiter(self._value.values(), float, len(self._value))
        free = np.zeros(count, bool)
        free[roots] = True
        free[given] = False
        self.roots: Ints = np.nonzero(free)[0]
        position = np.full(count, -1)
        position[self.roots] = np.arange(len(self.roots))
        self.column: Ints = position[roots]
        self.shift: Floats = value[roots]

    def _find(self, i: int) -> int:
        while self._parent[i] != i:
            self._parent[i] = self._parent[self._parent[i]]
            i = self._parent[i]
        return i

    def _absorb(self, row: Row) -> bool:
        """Join the two variables of a linear ``x - y = 0`` or pin that of ``x = c``; False when the row must stay."""
        if row.constants[2] != 0:
            return False
        a, b, _, rest = row.constants
        i, j = self._find(row.variables[0]), self._find(row.variables[1])
        if b == 0:
            if i in self._value:
                return False
            self._value[i] = rest / a
            return True
        if (a, b, rest) != (1, -1, 0) or i == j:
            return False
        if i in self._value and j in self._value:
            return False
        if i in self._value:
            i, j = j, i
        self._parent[i] = j
        return True
