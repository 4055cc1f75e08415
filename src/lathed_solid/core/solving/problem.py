"""A plain problem: variables, what is fixed, rows, and where given values enter them. Knows nothing of sketches."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import ClassVar, NamedTuple

from .rows import Kind, Row, Table, tables_of


class Slot(NamedTuple):
    """Where a given value enters: row index, constant index, and constant = scale * value + shift."""

    row: int
    constant: int
    scale: float
    shift: float


class Problem:
    """Variables ``x`` (index 0 is the constant zero), ``fixed`` ones, rows, and each given value's slots.

    ``values`` are what is given (mm, radians), by id; ``kinds`` the rows that may be stated, with their functions. Rows
    belong to the id in ``_owner`` when they are stated.
    """

    kinds: ClassVar[Mapping[str, Kind]]

    def __init__(self, values: Mapping[str, float]) -> None:
        self.values = values
        self.x: list[float] = [0.0]
        self.fixed: dict[int, float] = {0: 0.0}
        self.rows: list[Row] = []
        self.slots: dict[str, list[Slot]] = {}
        self._owner = ""
        self._tables: list[Table] | None = None
        self._padding = _padding(tuple(self.kinds.items()))

    @property
    def positive(self) -> list[int]:
        """Variables that must stay above zero."""
        return []

    def variable(self, value: float) -> int:
        self.x.append(value)
        return len(self.x) - 1

    def constant(self, value: float) -> int:
        index = self.variable(value)
        self.fixed[index] = value
        return index

    def row(self, kind: str, variables: tuple[int, ...], *constants: float) -> int:
        rows = self.rows
        rows.append(Row(kind, variables + self._padding[kind][len(variables)], constants, self._owner))
        return len(rows) - 1

    def slot(self, row: int, constant: int, scale: float, shift: float = 0.0, owner: str = "") -> None:
        self.slots.setdefault(owner or self._owner, []).append(Slot(row, constant, scale, shift))

    def tables(self) -> list[Table]:
        """All rows as arrays, one table a kind, in the order of ``kinds``."""
        if self._tables is None:
            self._tables = tables_of(self.rows, self.kinds)
        return self._tables


@lru_cache(maxsize=8)
def _padding(kinds: tuple[tuple[str, Kind], ...]) -> dict[str, list[tuple[int, ...]]]:
    """The unused variables of a row, per kind and number of used ones."""
    return {name: [(0,) * (kind.slots - used) for used in range(kind.slots + 1)] for name, kind in kinds}
