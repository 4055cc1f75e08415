"""The compiled system: all rows evaluated at once into a sparse Jacobian with a pattern built once."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import NamedTuple

import numpy as np

from ..arrays import Floats, Ints
from .merge import Merge
from .problem import Problem


class _Block(NamedTuple):
    """Rows of one kind: slices of the gathered variables and of the residual, and their constants."""

    kind: str
    slots: slice
    rows: slice
    shape: tuple[int, int]
    constants: Floats


class _Entering(NamedTuple):
    """Values of dimensions on their way into the constants of a block."""

    into: Floats
    ids: list[str]
    constant: Ints
    at: Ints
    scale: Floats
    shift: Floats


class System:
    """Residual and Jacobian over the merged variables ``y`` (length ``n``) for ``m`` rows."""

    def __init__(self, problem: Problem, merged: bool = True) -> None:
        self.problem = problem
        self.merge = Merge(problem, merged)
        self._at: Mapping[str, float] = dict(problem.values)
        self.n = len(self.merge.roots)
        self._blocks: list[_Block] = []
        gather: list[Ints] = []
        owner_row: list[Ints] = []
        kept = np.zeros(len(problem.rows), bool)
        kept[self.merge.kept] = True
        rows: list[Ints] = []
        at = slot_at = 0
        for table in problem.tables():
            own = np.nonzero(kept[table.rows])[0]
            if not len(own):
                continue
            slots, count = problem.kinds[table.kind].slots, len(own)
            width = slots * count
            self._blocks.append(
                _Block(
                    table.kind,
                    slice(slot_at, slot_at + width),
                    slice(at, at + count),
                    (slots, count),
                    table.constants[:, own].copy(),
                )
            )
            gather.append(table.variables[:, own].ravel())
            owner_row.append(np.tile(np.arange(at, at + count), slots))
            rows.append(table.rows[own])
            at, slot_at = at + count, slot_at + width
        self.m = at
        self.row_index: list[int] = np.concatenate(rows).tolist() if rows else []
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
        if values == self._at:
            return
        self._at = dict(values)
        for entering in self._entering:
            given = np.array([values.get(id_, np.nan) for id_ in entering.ids])
            known = ~np.isnan(given)
            put = entering.scale * given + entering.shift
            entering.into[entering.constant[known], entering.at[known]] = put[known]

    @cached_property
    def position(self) -> dict[int, int]:
        """Where each of the problem's rows that are kept stands."""
        return {row: i for i, row in enumerate(self.row_index)}

    @cached_property
    def _entering(self) -> list[_Entering]:
        """Where dimension values go, one entry for every block that takes some."""
        named = [(id_, slot) for id_, own in self.problem.slots.items() for slot in own]
        place = np.array([self.position[slot.row] for _, slot in named], dtype=np.intp)
        found = []
        for block in self._blocks:
            chosen = np.nonzero((place >= block.rows.start) & (place < block.rows.stop))[0]
            if len(chosen):
                own = [named[i] for i in chosen]
                constant, scale, shift = np.array([slot[1:] for _, slot in own]).T
                at = place[chosen] - block.rows.start
                found.append(
                    _Entering(block.constants, [id_ for id_, _ in own], constant.astype(np.intp), at, scale, shift)
                )
        return found

    def gathered(self, kind: str, y: Floats) -> tuple[int, Floats, Floats] | None:
        """Rows of one kind: where the first stands, their variables at ``y`` and their constants (slots x rows)."""
        X = (self._live * y[self._gather] if self.n else 0 * self._live) + self._shift
        for block in self._blocks:
            if block.kind == kind:
                return block.rows.start, X[block.slots].reshape(block.shape), block.constants
        return None

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
            kind = self.problem.kinds[block.kind]
            residual[block.rows] = kind.evaluate(
                X[block.slots].reshape(block.shape), block.constants, G[block.slots].reshape(block.shape)
            )
        summed = np.bincount(self._slot, weights=G * self._live, minlength=self.entries + 1)
        data: Floats = np.asarray(summed[: self.entries], dtype=np.float64)
        return residual, data

    def move(self, y: Floats, step: Floats) -> Floats:
        """Where ``step`` leads from ``y``."""
        return y + step

    def dense(self, data: Floats) -> Floats:
        J = np.zeros((self.m, self.n))
        J[self.rows, self.columns] = data
        return J

    def owner(self, place: int) -> str:
        """The id of the relation, dimension or element that stated row ``place``."""
        return self.problem.rows[self.row_index[place]].owner
