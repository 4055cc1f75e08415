"""Linear algebra of solving: square steps, and minimum-norm steps for what is not square."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import SuperLU, splu

from ..arrays import Floats, Ints
from .pattern import Pattern

#: Below this many variables dense LU is faster than sparse.
DENSE_BELOW = 120
#: Regularisation of the augmented system; larger ones cost accuracy, zero fails on redundant rows.
EPSILON = 1e-13


class Square:
    """Newton steps on a square subset of rows and columns. Raises LinAlgError when it is singular."""

    def __init__(self, system: Pattern, rows: Ints, columns: Ints) -> None:
        self.rows, self.columns = rows, columns
        row_at, column_at = np.full(system.m, -1), np.full(system.n, -1)
        row_at[rows], column_at[columns] = np.arange(len(rows)), np.arange(len(columns))
        self._chosen = np.nonzero((row_at[system.rows] >= 0) & (column_at[system.columns] >= 0))[0]
        self._i, self._j = row_at[system.rows[self._chosen]], column_at[system.columns[self._chosen]]
        self.size = len(rows)
        if self.size >= DENSE_BELOW:
            # In column order, so that every step only fills in new values.
            order = np.lexsort((self._i, self._j))
            self._chosen = self._chosen[order]
            pointer = np.concatenate([[0], np.cumsum(np.bincount(self._j, minlength=self.size))])
            indices = self._i[order].astype(np.int32)
            shape = (self.size, self.size)
            self._sparse = csc_matrix((np.zeros(len(order)), indices, pointer.astype(np.int32)), shape=shape)

    def step(self, residual: Floats, data: Floats) -> Floats:
        if self.size < DENSE_BELOW:
            A = np.zeros((self.size, self.size))
            A[self._i, self._j] = data[self._chosen]
            return np.asarray(np.linalg.solve(A, residual[self.rows]), dtype=np.float64)
        self._sparse.data[:] = data[self._chosen]
        try:
            return np.asarray(splu(self._sparse).solve(residual[self.rows]))
        except RuntimeError as error:
            raise np.linalg.LinAlgError(str(error)) from None


class Augmented:
    """Steps from [[W, J'], [J, -damping]]: least change ``W`` that meets all rows, redundant ones included."""

    def __init__(self, system: Pattern) -> None:
        n, m = system.n, system.m
        rows = np.concatenate([np.arange(n), system.rows + n, system.columns, np.arange(m) + n])
        columns = np.concatenate([np.arange(n), system.columns, system.rows + n, np.arange(m) + n])
        self._order = np.lexsort((rows, columns))
        counts = np.bincount(columns, minlength=n + m)
        pointer = np.concatenate([[0], np.cumsum(counts)]).astype(np.int32)
        self._A = csc_matrix((np.zeros(len(rows)), rows[self._order].astype(np.int32), pointer), shape=(n + m, n + m))
        self.n, self.m = n, m

    def factor(self, data: Floats, weight: Floats, damping: float = EPSILON) -> Factor:
        """The system at one state, ready for any number of steps. Raises LinAlgError."""
        values = np.concatenate([weight, data, data, np.full(self.m, -damping)])
        self._A.data[:] = values[self._order]
        try:
            made = splu(self._A, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})
        except RuntimeError as error:
            raise np.linalg.LinAlgError(str(error)) from None
        return Factor(made, self.n)


class Factor:
    """A factorised augmented system."""

    def __init__(self, made: SuperLU, n: int) -> None:
        self._made, self._n = made, n

    def step(self, residual: Floats, pull: Floats | None = None) -> Floats:
        """The change of the unknowns; ``pull`` is the weighted wish (W times wanted change). Raises LinAlgError."""
        right = np.concatenate([np.zeros(self._n) if pull is None else pull, -residual])
        solution: Floats = self._made.solve(right)[: self._n]
        if not np.all(np.isfinite(solution)):
            raise np.linalg.LinAlgError("no finite step")
        return solution
