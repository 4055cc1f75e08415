"""Which relations a new one repeats or contradicts: its rows as sums of theirs, brought down to as few as will do."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from scipy.sparse import bmat, csc_matrix, identity
from scipy.sparse.linalg import splu

from ..arrays import Floats
from .poses import Poses
from .statement import Statement

#: A row is a sum of others when what is left is below this share of it.
_DEPENDS = 1e-7
#: Residuals below this agree (mm).
_AGREES = 1e-6


class Conflict(NamedTuple):
    """Relation ``new`` says again what ``others`` say together, or the contrary (then by ``off`` mm), with so many of
    its ``rows``.
    """

    new: str
    others: tuple[str, ...]
    off: float
    rows: int

    @property
    def repeats(self) -> bool:
        return self.off <= _AGREES


def conflict(statement: Statement, state: Poses, new: str) -> Conflict | None:
    """What stands against a relation, or has said it already, where all others are met; None when it says something
    new with every row. ``state`` meets the others.
    """
    bodies = statement.bodies()
    residual, data = bodies.evaluate(state)
    J = csc_matrix((data, (bodies.rows, bodies.columns)), shape=(bodies.m, bodies.n)).tocsr()
    owners = np.array(bodies.owners)
    own, rest = np.nonzero(owners == new)[0], np.nonzero(owners != new)[0]
    if not len(own) or not len(rest):
        return None
    weights = _weights(J[rest], J[own].toarray())
    found: set[str] = set()
    off, many_rows = 0.0, 0
    for row, weight in zip(own, weights, strict=True):
        if weight is None:
            continue
        many_rows += 1
        many = owners[rest[np.abs(weight) > 1e-6 * np.abs(weight).max()]]
        found |= set(_fewest(J, owners, int(row), sorted(set(many.tolist()))))
        off = max(off, abs(float(residual[row])))
    if not found:
        return None
    return Conflict(new, tuple(sorted(found)), off, many_rows)


def _weights(rest: csc_matrix, wanted: Floats) -> list[Floats | None]:
    """How each wanted row is a sum of the rest, with the least weights; None for one that is not."""
    m, n = rest.shape
    A = bmat([[identity(m), rest], [rest.T, -1e-12 * identity(n)]], format="csc")
    factor = splu(A, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})
    made: list[Floats | None] = []
    for row in wanted:
        weight = factor.solve(np.concatenate([np.zeros(m), row]))[:m]
        size = float(np.abs(row).max(initial=0.0))
        left = float(np.abs(rest.T @ weight - row).max(initial=0.0))
        made.append(weight if size == 0 or left < _DEPENDS * size else None)
    return made


def _fewest(J: csc_matrix, owners: Floats, row: int, candidates: Sequence[str]) -> list[str]:
    """The candidates the row needs: every other is left out, whole runs first, the newest first."""
    kept = sorted(candidates, key=_newest, reverse=True)
    run = max(1, len(kept) // 2)
    while run >= 1:
        at = 0
        while at < len(kept):
            trial = kept[:at] + kept[at + run :]
            if trial and _does(J, owners, row, trial):
                kept = trial
            else:
                at += run
        run //= 2
    return kept


def _newest(relation: str) -> tuple[int, str]:
    digits = "".join(c for c in relation if c.isdigit())
    return int(digits or 0), relation


def _does(J: csc_matrix, owners: Floats, row: int, trial: Sequence[str]) -> bool:
    rows = np.nonzero(np.isin(owners, trial))[0]
    part = J[np.append(rows, row)]
    columns = np.unique(part.nonzero()[1])
    A = part[:, columns].toarray()
    weight = np.linalg.lstsq(A[:-1].T, A[-1], rcond=1e-9)[0]
    return bool(
        np.abs(A[:-1].T @ weight - A[-1]).max(initial=0.0) < _DEPENDS * max(np.abs(A[-1]).max(initial=0.0), 1e-12)
    )
