"""What can still move, and which relations collide. Works on the unmerged system at a solved pose."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
from scipy.linalg import qr
from scipy.sparse import csr_matrix, identity
from scipy.sparse.linalg import SuperLU, splu

from ...arrays import Floats
from ...memo import kept
from ...solving.system import System
from ..model import Dimension, Relation, Sketch
from ..solver.formulate import Formulation
from ..solver.kept import standing

#: Singular values below this (rows have unit gradients in mm) count as zero.
RANK = 1e-8
DENSE_BELOW = 150


class Freedom(NamedTuple):
    """``ways`` to move; per point id the free directions: 0, 1 (a unit vector) or 2."""

    ways: int
    directions: dict[str, tuple[int, tuple[float, float]]]
    radii: frozenset[str]


class Verdict(NamedTuple):
    """What adding a relation would do. ``because`` lists ids that already determine it (a minimal set)."""

    kind: Literal["fits", "redundant", "conflict"]
    because: tuple[str, ...]


def freedom(sketch: Sketch, values: Mapping[str, float]) -> Freedom:
    """Degrees of freedom and free directions at the stored (solved) pose."""
    formulation, system, rows = _compiled(sketch, values)
    if system.n == 0:
        return Freedom(0, {}, frozenset())
    basis = rows.free_motions()
    column = system.merge.column
    ids = np.array(list(formulation.point), dtype=object)
    pairs = column[np.array(list(formulation.point.values()), dtype=np.intp).reshape(-1, 2)]
    free = pairs[:, 0] >= 0
    names: list[str] = ids[free].tolist()
    directions = dict.fromkeys(names, (0, (0.0, 0.0)))
    if basis.shape[1]:
        u, s, _ = np.linalg.svd(basis[pairs[free]], full_matrices=False)
        ranks, ways = (s > 1e-6).sum(axis=1).tolist(), u[:, :, 0].tolist()
        directions = {id_: (rank, (x, y)) for id_, rank, (x, y) in zip(names, ranks, ways, strict=True)}
    round_ones = np.array(list(formulation.radius), dtype=object)
    felt = np.abs(basis[column[list(formulation.radius.values())]]).max(axis=1, initial=0.0) > 1e-6
    radii: frozenset[str] = frozenset(round_ones[felt].tolist()) if len(round_ones) else frozenset()
    return Freedom(basis.shape[1], directions, radii)


class _Asked:
    """The system last made for a sketch, with the values it was made for: one thing, because a helper asks too."""

    def __init__(self) -> None:
        self.last: tuple[dict[str, float], tuple[Formulation, System, Rows]] | None = None


def _compiled(sketch: Sketch, values: Mapping[str, float]) -> tuple[Formulation, System, Rows]:
    """The unmerged system of a sketch and its rows; kept with the (immutable) sketch for the next question."""
    asked = kept(sketch, "asked", _Asked)
    last = asked.last
    if last is None or last[0] != values:
        last = asked.last = (dict(values), _stated(sketch, values))
    return last[1]


def _stated(sketch: Sketch, values: Mapping[str, float]) -> tuple[Formulation, System, Rows]:
    if solver := standing(sketch, values):
        formulation, system = solver.formulation.at_pose(solver.system.full(solver.pose)), solver.unmerged
        system.constants(values)
    else:
        formulation = Formulation(sketch, values)
        system = System(formulation, merged=False)
    _, data = system.evaluate(system.start(np.array(formulation.x)))
    rows = Rows(csr_matrix((data, (system.rows, system.columns)), shape=(system.m, system.n)))
    return formulation, system, rows


def null_space(system: System, data: Floats) -> Floats:
    """Orthonormal basis (n x k) of the motions that keep every row of a system."""
    return free_motions(csr_matrix((data, (system.rows, system.columns)), shape=(system.m, system.n)))


def free_motions(J: csr_matrix) -> Floats:
    """Orthonormal basis (n x k) of the motions that a Jacobian does not feel."""
    return Rows(J).free_motions()


def judge(sketch: Sketch, values: Mapping[str, float], new: Relation | Dimension) -> Verdict:
    """Whether ``new`` would fit the solved ``sketch``, repeat what is known, or contradict it.

    ``values`` must hold the value of ``new`` if it is a dimension.
    """
    formulation, system, known = _compiled(sketch, {k: v for k, v in values.items() if k != new.id})
    asked = System(formulation.only(new, values), merged=False)
    residual, data = asked.evaluate(asked.start(np.array(asked.problem.x)))
    rows = asked.dense(data)[:, : system.n]
    because: list[str] = []
    dependent = contradicted = 0
    for k, row in enumerate(rows):
        support = known.support(row)
        if support is None:
            continue
        dependent += 1
        contradicted += abs(residual[k]) > 1e-7
        because += [system.owner(i) for i in support]
    if dependent < len(rows) and not contradicted:
        return Verdict("fits", ())
    return Verdict("conflict" if contradicted else "redundant", _named(sketch, because))


def _named(sketch: Sketch, owners: list[str]) -> tuple[str, ...]:
    """Each once, sizes first, then relations; what elements say by themselves is left out."""
    sizes = {d.id for d in sketch.dimensions}
    stated = sizes | {r.id for r in sketch.relations}
    return tuple(sorted(dict.fromkeys(i for i in owners if i in stated), key=lambda i: i not in sizes))


class Rows:
    """The rows that hold at a pose (m x n), factorised once for both questions: what they leave free, and which of
    them make up another one."""

    def __init__(self, J: csr_matrix) -> None:
        self._J = J

    @cached_property
    def _factor(self) -> SuperLU:
        """Of J'J; its condition is that of J squared, so what it solves is refined."""
        gram = (self._J.T @ self._J + 1e-12 * identity(self._J.shape[1])).tocsc()
        return splu(gram, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})

    def free_motions(self) -> Floats:
        """Orthonormal basis (n x k) of the motions that no row feels, by inverse iteration with a block."""
        J = self._J
        m, n = J.shape
        if m == 0:
            return np.eye(n)
        if n < DENSE_BELOW:
            _, s, vt = np.linalg.svd(J.toarray())
            return np.asarray(vt[int((s > RANK * max(1.0, s[0])).sum()) :].T)
        random, width = np.random.default_rng(0), max(8, n - m + 8)
        while True:
            width = min(width, n)
            X = random.standard_normal((n, width))
            for turn in range(4):
                X = np.linalg.qr(self._factor.solve(X))[0]
                if turn:
                    _, s, vt = np.linalg.svd(J @ X, full_matrices=False)
                    if not ((s > 0.01 * RANK) & (s < 1e4 * RANK)).any():
                        break  # free and felt motions are far apart
            s = np.concatenate([s, np.zeros(width - len(s))])
            free = int((s < RANK).sum())
            if free < width or width == n:
                return np.asarray(X @ vt.T[:, width - free :])
            width *= 2

    def support(self, new: Floats) -> list[int] | None:
        """Indices of a minimal set of rows that make up ``new``, or None when it says something of its own."""
        J = self._J
        if J.shape[0] == 0:
            return None
        if min(J.shape) < DENSE_BELOW:
            return _support(J.toarray(), new)
        weights, rest = np.zeros(J.shape[0]), new
        for _ in range(6):
            weights = weights + J @ self._factor.solve(rest)
            rest = new - J.T @ weights
            if np.abs(rest).max(initial=0.0) < 1e-11:
                break
        if np.abs(rest).max(initial=0.0) > 1e-7:
            return None
        limit = 1e-7 * max(1.0, float(np.abs(weights).max(initial=0.0)))
        taking_part = np.nonzero(np.abs(weights) > limit)[0]
        # Rows said twice share a weight; among those taking part a minimal set is found densely.
        columns = np.unique(J[taking_part].indices)
        minimal = _support(J[taking_part][:, columns].toarray(), new[columns])
        return None if minimal is None else [int(taking_part[i]) for i in minimal]


def _support(rows: Floats, new: Floats) -> list[int] | None:
    """Indices of the independent ``rows`` that make up ``new``, or None when ``new`` says something of its own."""
    if len(rows) == 0:
        return None
    _, R, pivots = qr(rows.T, mode="economic", pivoting=True)
    diagonal = np.abs(np.diag(R))
    rank = int((diagonal > RANK * max(1.0, diagonal[0])).sum())
    basis = np.sort(pivots[:rank])
    weights, *_ = np.linalg.lstsq(rows[basis].T, new, rcond=None)
    if np.abs(rows[basis].T @ weights - new).max(initial=0.0) > 1e-7:
        return None
    limit = 1e-7 * max(1.0, float(np.abs(weights).max(initial=0.0)))
    return [int(basis[i]) for i in np.nonzero(np.abs(weights) > limit)[0]]
