"""The compiled system: all rows evaluated at once into a sparse Jacobian with a pattern built once."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .formulate import Formulation
from .merge import Merge
from .rows import KINDS, Floats

Ints = NDArray[np.intp]


class _Block(NamedTuple):
    """Rows of one kind: slices of the gathered variables and of the residual, and their constants."""

    kind: str
    slots: slice
    rows: slice
    shape: tuple[int, int]
    constants: Floats


class System:
    """Residual and Jacobian over the merged variables ``y`` (length ``n``) for ``m`` rows."""

    def __init__(self, formulation: Formulation, merged: bool = True) -> None:
        self.formulation = formulation
        self.merge = Merge(formulation, merged)
        self.n = len(self.merge.roots)
        self.row_index: list[int] = []
        self._blocks: list[_Block] = []
        gather: list[Ints] = []
        owner_row: list[Ints] = []
        by_kind: dict[str, list[int]] = {}
        for index in self.merge.kept:
            by_kind.setdefault(formulation.rows[index].kind, []).append(index)
        at = slot_at = 0
        for name, kind in KINDS.items():
            rows = by_kind.get(name, [])
            if not rows:
                continue
            count = len(rows)
            variables = np.array([formulation.rows[r].variables for r in rows], dtype=np.intp).T
            constants = np.array([formulation.rows[r].constants for r in rows], dtype=float).T.copy()
            width = kind.slots * count
            self._blocks.append(
                _Block(
                    name,
                    slice(slot_at, slot_at + width),
                    slice(at, at + count),
                    (kind.slots, count),
                    constants,
                )
            )
            gather.append(variables.ravel())
            owner_row.append(np.tile(np.arange(at, at + count), kind.slots))
            self.row_index += rows
            at, slot_at = at + count, slot_at + width
        self.m = at
        self.position = {row: i for i, row in enumerate(self.row_index)}
        self._pattern(
            np.concatenate(gather) if gather else np.zeros(0, np.intp),
            np.concatenate(owner_row) if owner_row else np.zeros(0, np.intp),
        )

    def _pattern(self, gather: Ints, owner_row: Ints) -> None:
        column = self.merge.column[gather]
        self._live = np.where(column >= 0, 1.0, 0.0)
        self._gather = np.where(column >= 0, column, 0)
        self._shift = np.where(column >= 0, 0.0, self.merge.shift[gather])
        self._gradient = np.zeros(len(gather))
        free = column >= 0
        keys = column[free] * max(self.m, 1) + owner_row[free]
        unique, inverse = np.unique(keys, return_inverse=True)
        self.entries = len(unique)
        self._slot = np.full(len(gather), self.entries)
        self._slot[free] = inverse
        #: Column and row of every Jacobian entry, in column order.
        self.columns: Ints = unique // max(self.m, 1)
        self.rows: Ints = unique % max(self.m, 1)

    def constants(self, values: Mapping[str, float]) -> None:
        """Put new dimension values in (mm, radians)."""
        for id_, slots in self.formulation.slots.items():
            if id_ not in values:
                continue
            for slot in slots:
                place = self.position[slot.row]
                block = next(b for b in self._blocks if b.rows.start <= place < b.rows.stop)
                block.constants[slot.constant, place - block.rows.start] = slot.scale * values[id_] + slot.shift

    def start(self, x: Floats) -> Floats:
        return x[self.merge.roots].copy()

    def full(self, y: Floats) -> Floats:
        """All variables from the merged ones."""
        if not self.n:
            return np.array(self.merge.shift)
        column = self.merge.column
        return np.where(column >= 0, y[np.maximum(column, 0)], self.merge.shift)

    def evaluate(self, y: Floats) -> tuple[Floats, Floats]:
        """Residual (m) and Jacobian entries (in the order of ``rows``/``columns``)."""
        X = (self._live * y[self._gather] if self.n else 0 * self._live) + self._shift
        G, residual = self._gradient, np.empty(self.m)
        for block in self._blocks:
            kind = KINDS[block.kind]
            residual[block.rows] = kind.evaluate(
                X[block.slots].reshape(block.shape), block.constants, G[block.slots].reshape(block.shape)
            )
        summed = np.bincount(self._slot, weights=G * self._live, minlength=self.entries + 1)
        data: Floats = np.asarray(summed[: self.entries], dtype=np.float64)
        return residual, data

    def dense(self, data: Floats) -> Floats:
        J = np.zeros((self.m, self.n))
        J[self.rows, self.columns] = data
        return J

    def owner(self, place: int) -> str:
        """The id of the relation, dimension or element that stated row ``place``."""
        return self.formulation.rows[self.row_index[place]].owner
