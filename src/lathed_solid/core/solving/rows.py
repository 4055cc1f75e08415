"""Rows of residuals, one table a kind, evaluated at once.

A row function takes the variables ``X`` (slots x rows) and constants ``P`` of all rows of its kind, writes the gradient
into ``G`` (slots x rows) and returns the residual. Residuals are millimetres with unit gradients, so that one closeness
limit serves all of them: angles are multiplied by a frozen length, squares are never taken.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import chain
from typing import NamedTuple

import numpy as np

from ..arrays import Floats, Ints

#: The kind of rows that may make two variables one, or pin one.
LINEAR = "linear"


def linear(X: Floats, P: Floats, G: Floats) -> Floats:
    """a0 x0 + a1 x1 + a2 x2 - b."""
    G[0:3] = P[0:3]
    result: Floats = P[0] * X[0] + P[1] * X[1] + P[2] * X[2] - P[3]
    return result


class Kind(NamedTuple):
    """Number of variable slots and of constants, and the row function."""

    slots: int
    constants: int
    evaluate: Callable[[Floats, Floats, Floats], Floats]


class Row(NamedTuple):
    """One residual: its kind, variable indices (unused slots are 0), constants, and the owner's id."""

    kind: str
    variables: tuple[int, ...]
    constants: tuple[float, ...]
    owner: str


class Table(NamedTuple):
    """All rows of one kind: their indices (n), variables (slots x n) and constants (constants x n)."""

    kind: str
    rows: Ints
    variables: Ints
    constants: Floats


def tables_of(rows: Sequence[Row], kinds: Mapping[str, Kind]) -> list[Table]:
    """One table for every kind that occurs, in the order of ``kinds``."""
    by_kind: dict[str, list[int]] = {}
    for index, row in enumerate(rows):
        by_kind.setdefault(row[0], []).append(index)
    found = []
    for name, kind in kinds.items():
        own = by_kind.get(name)
        if own:
            variables = np.fromiter(chain.from_iterable([rows[r][1] for r in own]), np.intp, kind.slots * len(own))
            constants = np.fromiter(chain.from_iterable([rows[r][2] for r in own]), float, kind.constants * len(own))
            found.append(
                Table(
                    name,
                    np.array(own, dtype=np.intp),
                    variables.reshape(len(own), -1).T,
                    constants.reshape(len(own), -1).T,
                )
            )
    return found
