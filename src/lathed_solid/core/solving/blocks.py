"""Splitting a system into irreducible blocks (Dulmage-Mendelsohn), and the branch guard built on them."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components, maximum_bipartite_matching

from ..arrays import Floats, Ints
from .pattern import Pattern


class Blocks:
    """The square, structurally sound part of a system, split into blocks that are solved one after another.

    ``rows`` and ``columns`` of that part; ``label`` per row (-1 outside). Rows and columns outside belong to an
    over- or under-determined part.
    """

    def __init__(self, system: Pattern) -> None:
        m, n = system.m, system.n
        self.system = system
        pattern = csr_matrix((np.ones(system.entries), (system.rows, system.columns)), shape=(m, n))
        self._column_of = np.asarray(maximum_bipartite_matching(pattern, perm_type="column"))
        row_of = np.full(n, -1)
        matched = self._column_of >= 0
        row_of[self._column_of[matched]] = np.nonzero(matched)[0]
        # Rows that an unmatched column can reach, and rows that reach an unmatched row, are not square.
        depends = row_of[system.columns]
        linked = depends >= 0
        self._graph = csr_matrix((np.ones(int(linked.sum())), (system.rows[linked], depends[linked])), shape=(m, m))
        loose = np.zeros(m, bool)
        loose[system.rows[row_of[system.columns] < 0]] = True
        if loose.any():
            loose = self._spread(loose, self._graph.T.tocsr())
        if not matched.all():
            loose |= self._spread(~matched, self._graph)
        self.rows: Ints = np.nonzero(~loose)[0]
        self.columns: Ints = self._column_of[self.rows]
        self.count, label = connected_components(self._graph, directed=True, connection="strong")
        self.label: Ints = np.where(loose, -1, label)
        self.whole = len(self.rows) == m == n
        self._dependents = self._condense(label)
        self._prepare_signs()

    @staticmethod
    def _spread(seed: np.ndarray, graph: csr_matrix) -> np.ndarray:
        seen = seed.copy()
        stack = list(np.nonzero(seed)[0])
        while stack:
            i = stack.pop()
            for j in graph.indices[graph.indptr[i] : graph.indptr[i + 1]]:
                if not seen[j]:
                    seen[j] = True
                    stack.append(j)
        return seen

    def _condense(self, label: Ints) -> csr_matrix:
        """Which blocks depend on which."""
        graph = self._graph
        rows = np.repeat(np.arange(graph.shape[0]), np.diff(graph.indptr))
        ends = (np.ones(graph.nnz), (label[graph.indices], label[rows]))
        return csr_matrix(ends, shape=(self.count, self.count))

    def affected(self, rows: Ints) -> Ints:
        """The rows that must be solved again when the constants of ``rows`` change."""
        blocks = np.unique(self.label[rows])
        blocks = blocks[blocks >= 0].astype(np.int32)
        if not len(blocks):
            return np.zeros(0, np.intp)
        # One more node that leads to all of them makes it a single search.
        graph, count = self._dependents, self.count
        indices = np.concatenate([graph.indices, blocks])
        pointer = np.append(graph.indptr, len(indices)).astype(np.int32)
        reach = csr_matrix((np.ones(len(indices)), indices, pointer), shape=(count + 1, count + 1))
        seen = np.zeros(count + 1, bool)
        seen[breadth_first_order(reach, count, return_predecessors=False)] = True
        return np.nonzero((self.label >= 0) & seen[self.label])[0]

    def columns_of(self, rows: Ints) -> Ints:
        return np.sort(self._column_of[rows])

    def _prepare_signs(self) -> None:
        system, size_of = self.system, np.bincount(self.label[self.label >= 0], minlength=self.count)
        block_of_column = np.full(system.n, -1)
        block_of_column[self.columns] = self.label[self.rows]
        order = np.argsort(self.label, kind="stable")
        order = order[self.label[order] >= 0]
        start = np.concatenate([[0], np.cumsum(size_of)])
        place = np.zeros(system.m, dtype=np.intp)
        place[order] = np.arange(len(order)) - start[self.label[order]]
        column_place = np.zeros(system.n, dtype=np.intp)
        column_place[self._column_of[order]] = place[order]
        inside = (self.label[system.rows] >= 0) & (self.label[system.rows] == block_of_column[system.columns])
        self._groups = []
        for size in np.unique(size_of[size_of > 0]):
            blocks = np.nonzero(size_of == size)[0]
            at = np.full(self.count, -1)
            at[blocks] = np.arange(len(blocks))
            chosen = np.nonzero(inside & (size_of[self.label[system.rows]] == size))[0]
            r, c = system.rows[chosen], system.columns[chosen]
            flat = (at[self.label[r]] * size + place[r]) * size + column_place[c]
            self._groups.append((int(size), len(blocks), chosen, flat))

    def signs(self, data: Floats) -> Floats:
        """Sign of the determinant of every block: a change means that the sketch has turned inside out."""
        found = []
        for size, count, chosen, flat in self._groups:
            cells = np.zeros(count * size * size)
            cells[flat] = data[chosen]
            matrices = cells.reshape(count, size, size)
            found.append(np.sign(matrices[:, 0, 0]) if size == 1 else np.linalg.slogdet(matrices)[0])
        return np.concatenate(found) if found else np.zeros(0)
