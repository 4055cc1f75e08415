"""Faces found again in the triangles of a mesh: what is flat, and what is a cylinder, a cone, a ball or a ring.

The corners of a mesh lie on the true faces; only what is between them does not. A face is therefore grown from a few
neighbouring triangles: a surface is fitted to their corners, and whatever borders on it and has all its corners on the
surface belongs to it too.
"""

from __future__ import annotations

import itertools
import math
from collections import deque
from collections.abc import Iterator, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from ....arrays import Floats, Ints, Truths
from ...ground.check import KernelFailure
from ...measure.triangles import Triangles
from .fitting import (
    ROUGH,
    Fitted,
    balls,
    circles,
    cones,
    cylinders,
    from_line,
    refitted,
    rings,
    squared,
    tapers,
    unit_rows,
)

#: Corners of one face lie so near it: what single precision tells, mm and of the size.
_NEAR, _OF_SIZE = 3e-5, 2e-7
#: The first fit, to a few triangles, may be so much worse than that of a few points, of its radius.
_OF_RADIUS = 1e-4
#: It is grown and fitted anew so often before only what lies on it is kept.
_ROUNDS = 5
#: Triangles of one round face lean by no more than this to each other (radians).
_LEAN = 0.7
#: And by no more than this (as a cosine) to the face itself: slivers beside an edge lean most.
_ALONG, _STRAY = 0.9, 0.7
#: A round face is told by so many flats at least.
_FEW = 3
#: Where it is no more than that, none is larger than the smallest by more: a flat and the strips of the rounds at its
#: two ends lie on one cylinder.
_UNLIKE = 3.0
#: A flat that borders on more without an edge is no part of a round face.
_MANY = 8
#: So many flats that lie this many times deeper in a round face than all others are no part of it: less where the
#: others are as good as alike, the deepest no more than so many times the middle one.
_CHORDS, _DEEPER, _DEEP, _EVEN = 6, 4.0, 1.6, 1.3
#: So many triangles are looked at, and so many flats may be left that are on no round face.
MOST, FLATS = 300_000, 800
#: So many flats are asked in vain for a round face before a mesh is taken to have none such there.
_VAIN = 250


class Region(NamedTuple):
    """A face: the triangles on it (indices) and its surface; of a round one, whether the material lies outside."""

    triangles: Ints
    surface: Fitted
    hollow: bool = False


class Mesh:
    """A closed mesh, its corners welded: who borders on whom."""

    def __init__(self, mesh: Triangles) -> None:
        if len(mesh.corners) > MOST:
            raise KernelFailure(f"It has {len(mesh.corners)} triangles; no more than {MOST} are read.")
        keys, first, node = np.unique(np.round(mesh.points, 5), axis=0, return_index=True, return_inverse=True)
        corners = node.reshape(-1)[mesh.corners]
        flat = (corners[:, 0] == corners[:, 1]) | (corners[:, 1] == corners[:, 2]) | (corners[:, 2] == corners[:, 0])
        if flat.all():
            raise KernelFailure("None of its triangles has an area.")
        self.points: Floats = np.asarray(mesh.points[first])
        self.corners: Ints = np.asarray(corners[~flat])
        a, b, c = (self.points[self.corners[:, k]] for k in range(3))
        square = np.cross(b - a, c - a)
        self.areas: Floats = np.linalg.norm(square, axis=1) / 2
        self.normals = unit_rows(square)
        self.middles: Floats = (a + b + c) / 3
        self.beside = _beside(self.corners)
        size = float(np.linalg.norm(keys.max(axis=0) - keys.min(axis=0)))
        self.near = _NEAR + _OF_SIZE * size

    def nodes(self, triangles: Sequence[int] | Ints) -> Ints:
        return np.unique(self.corners[np.asarray(triangles)])

    @cached_property
    def volume(self) -> float:
        """mm³, by the divergence theorem."""
        a, b, c = (self.points[self.corners[:, k]] for k in range(3))
        return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def _beside(corners: Ints) -> Ints:
    """The triangle across each side (from corner k to the next). Raises KernelFailure where it does not close."""
    count = int(corners.max()) + 1
    starts, ends = corners.reshape(-1), np.roll(corners, -1, axis=1).reshape(-1)
    key, back = starts * count + ends, ends * count + starts
    order = np.argsort(key)
    at = np.searchsorted(key[order], back)
    found = order[np.minimum(at, len(order) - 1)]
    if len(np.unique(key)) != len(key) or not np.array_equal(key[found], back):
        raise KernelFailure("Its triangles do not close round a solid.")
    return np.asarray(found // 3).reshape(-1, 3)


def pieces(triangles: Triangles) -> list[Mesh]:
    """The closed pieces that a file holds, one by one. Raises KernelFailure where one does not close."""
    whole = Mesh(triangles)
    count = len(whole.corners)
    rows, beyond = np.repeat(np.arange(count), 3), whole.beside.reshape(-1)
    many, of = connected_components(coo_array((np.ones(3 * count), (rows, beyond)), shape=(count, count)))
    if many == 1:
        return [whole]
    parts = (whole.corners[of == n] for n in range(many))
    return [Mesh(Triangles(whole.points, corners, np.ones(len(corners), int))) for corners in parts]


def regions(mesh: Mesh) -> list[Region]:
    """Every face of a mesh, each triangle on one of them."""
    return _Finder(mesh).run()


class _Finder:
    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        #: The flat piece that each triangle lies in.
        self.flat: Ints = np.full(len(mesh.corners), -1)
        self.flats: list[Ints] = []
        self.taken: set[int] = set()
        self.found: list[Region] = []

    def run(self) -> list[Region]:
        self._flats()
        self.normals = unit_rows(
            np.array([(self.mesh.normals[t] * self.mesh.areas[t, None]).sum(axis=0) for t in self.flats])
        )
        self.areas = np.array([self.mesh.areas[t].sum() for t in self.flats])
        self.neighbours = [self._around(n) for n in range(len(self.flats))]
        vain = 0
        for seed in np.argsort(-self.areas):
            if seed not in self.taken and vain < _VAIN:
                vain += not self._round(int(seed))
        self._join()
        self._strays()
        if (left := len(self.flats) - len(self.taken)) > FLATS:
            raise KernelFailure(
                f"{left} of its {len(self.flats)} flats are on no larger plane, cylinder, cone, ball or ring: it has "
                "free faces, or is too coarse. Have it written as STEP."
            )
        for n, triangles in enumerate(self.flats):
            if n not in self.taken:
                self.found.append(Region(triangles, self._plane(n)))
        return self.found

    def _join(self) -> None:
        """What a few flats were taken for may be part of a larger face beside it."""
        self.found.sort(key=lambda r: -len(r.triangles))
        for n, region in enumerate(self.found):
            on = self._on(region.surface, 2 * self.mesh.near)
            own = set(region.triangles.tolist())
            for k in range(len(self.found) - 1, n, -1):
                other = self.found[k].triangles
                if on[self.flat[other]].all() and not own.isdisjoint(self.mesh.beside[other].reshape(-1).tolist()):
                    region = region._replace(triangles=np.concatenate([region.triangles, other]))
                    own |= set(other.tolist())
                    del self.found[k]
            self.found[n] = region

    def _strays(self) -> None:
        """Single triangles beside a face with their corners on it, that lean more than the rest of it: slivers."""
        for n, region in enumerate(self.found):
            sags = self._sags(region.surface)
            deepest = 2 * sags[self.flat[region.triangles]].max()
            on = self._on(region.surface, 2 * self.mesh.near, _STRAY) & (sags <= deepest)
            beside = np.unique(self.flat[self.mesh.beside[region.triangles].reshape(-1)])
            more = [int(k) for k in beside if on[k] and k not in self.taken and len(self.flats[k]) == 1]
            if more:
                self.taken.update(more)
                every = np.concatenate([region.triangles, *(self.flats[k] for k in more)])
                self.found[n] = region._replace(triangles=every)

    # --- flat
    def _flats(self) -> None:
        """Pieces that are flat, from the largest triangle on: a strip of a round face is one too."""
        mesh = self.mesh
        for seed in np.argsort(-mesh.areas):
            if self.flat[seed] >= 0:
                continue
            normal, place = mesh.normals[seed], mesh.points[mesh.corners[seed, 0]]
            own, line = [int(seed)], deque([int(seed)])
            self.flat[seed] = len(self.flats)
            while line:
                for other in mesh.beside[line.popleft()]:
                    if self.flat[other] >= 0 or mesh.normals[other] @ normal < 0.99:
                        continue
                    if np.abs((mesh.points[mesh.corners[other]] - place) @ normal).max() <= mesh.near:
                        self.flat[other] = len(self.flats)
                        own.append(int(other))
                        line.append(int(other))
            self.flats.append(np.array(own))

    def _around(self, n: int) -> list[int]:
        """The flats that a flat borders on without a sharp edge."""
        others = np.unique(self.flat[self.mesh.beside[self.flats[n]].reshape(-1)])
        return [int(o) for o in others if o != n and self.normals[o] @ self.normals[n] > math.cos(_LEAN)]

    def _plane(self, n: int) -> Fitted:
        nodes = self.mesh.points[self.mesh.nodes(self.flats[n])]
        middle = nodes.mean(axis=0)
        if len(nodes) > 3:
            normal = np.linalg.svd(nodes - middle, full_matrices=False)[2][2]
            normal = normal if normal @ self.normals[n] > 0 else -normal
        else:
            normal = self.normals[n]
        return Fitted("plane", middle, squared(normal))

    # --- round
    def _round(self, seed: int) -> bool:
        """The largest round face that holds a flat, if there is one; False after a search in vain."""
        around = [n for n in self.neighbours[seed] if n not in self.taken]
        if not around or len(around) > _MANY:
            return True
        best: tuple[list[int], Fitted] | None = None
        for start in self._starts(seed, around):
            for surface in self._guesses(start):
                grown = self._grown(start, surface)
                # what comes first is simpler: a cone has its two circles on many a ball and ring
                if grown is not None and (best is None or len(grown[0]) > len(best[0])):
                    best = grown
            if best is not None:
                break
        if best is None:
            return False
        members, surface = self._without_chords(*best), best[1]
        triangles = np.concatenate([self.flats[n] for n in members])
        lean = self.mesh.normals[triangles] * surface.normals(self.mesh.middles[triangles])
        self.taken.update(members)
        self.found.append(Region(triangles, surface, bool((lean.sum(axis=1) * self.mesh.areas[triangles]).sum() < 0)))
        return True

    def _sags(self, surface: Fitted) -> Floats:
        """How far the sides of each flat run from a surface, between their ends."""
        corners = self.mesh.points[self.mesh.corners]
        halves = (corners + np.roll(corners, -1, axis=1)) / 2
        off = np.abs(surface.off(halves.reshape(-1, 3))).reshape(-1, 3).max(axis=1)
        found = np.zeros(len(self.flats))
        np.maximum.at(found, self.flat, off)
        return found

    def _without_chords(self, members: list[int], surface: Fitted) -> list[int]:
        """Without the few that lie far deeper in a face than all others: flats milled on a round bar."""
        every = self._sags(surface)
        own = sorted(members, key=lambda n: -every[n])
        sags = [float(every[n]) for n in own]
        for k in range(1, min(_CHORDS, len(own) // 2) + 1):
            even = sags[k] < _EVEN * sags[(k + len(sags)) // 2]
            if sags[k - 1] > (_DEEP if even else _DEEPER) * max(sags[k], self.mesh.near):
                return own[k:]
        return own

    def _starts(self, seed: int, around: list[int]) -> Iterator[list[int]]:
        if len(around) >= 2:
            yield [seed, *around]
        if len(around) > 2:  # some may be of another face: strips of one are about as large
            like = sorted(around, key=lambda n: abs(math.log(self.areas[n] / self.areas[seed])))
            yield from ([seed, *pair] for pair in itertools.combinations(like, 2))
        for one in around:
            more = [n for n in self.neighbours[one] if n not in self.taken and n != seed]
            yield [seed, one, *more]

    def _guesses(self, members: list[int]) -> Iterator[Fitted]:
        """Surfaces through a few flats, the simplest first."""
        points, normals = self._points(members), self.normals[members]
        if len(members) < _FEW:
            return
        weights = self.areas[members] / self.areas[members].sum()
        spread, ways = np.linalg.eigh((normals * weights[:, None]).T @ normals)
        if spread[0] < 1e-6:
            yield from cylinders(points, ways[:, 0])
            return
        axes = list(self._axes())
        about = [t for axis in axes for t in tapers(points, *axis) if np.abs(t.off(points)).max() <= 4 * self.mesh.near]
        yield from about
        if len(members) >= _FEW and not about:
            yield from cones(points, normals, np.array([self._points([n]).mean(axis=0) for n in members]))
        yield from balls(points)
        for axis in axes:
            yield from rings(points, *axis)

    def _axes(self) -> Iterator[tuple[Floats, Floats]]:
        """Axes of the round faces found so far, each once."""
        told: list[tuple[Floats, Floats]] = []
        for region in self.found:
            s = region.surface
            if s.kind not in ("cylinder", "cone"):
                continue
            if not any(abs(a @ s.axis) > 1 - 1e-8 and from_line(o, a, s.origin) < 1e-3 for o, a in told):
                told.append((s.origin, s.axis))
        return iter(told)

    def _points(self, members: list[int]) -> Floats:
        return np.asarray(self.mesh.points[self.mesh.nodes(np.concatenate([self.flats[n] for n in members]))])

    def _grown(self, start: list[int], surface: Fitted) -> tuple[list[int], Fitted] | None:
        """All that belongs to a surface, and the surface fitted to all of it."""
        rough = ROUGH + _OF_RADIUS * surface.radius
        points, close = self._points(start), 4 * self.mesh.near
        if (off := np.abs(surface.off(points)).max()) > close:
            better = refitted(surface, points) if off <= rough else None
            if better is None or np.abs(better.off(points)).max() > close:
                return None  # its corners lie on the face itself: what fits but roughly is another
            surface = better
        members, settled = start, False
        for limit in [rough] * _ROUNDS + [4 * self.mesh.near, self.mesh.near]:
            if settled and limit == rough:
                continue
            before, members = members, self._flood(start[0], surface, limit)
            settled = len(members) == len(before)
            refit = refitted(surface, self._points(members)) if len(members) >= _FEW else None
            if refit is None:
                return None
            surface = refit
        if len(members) == _FEW and self.areas[members].max() > _UNLIKE * self.areas[members].min():
            return None
        points = self._points(members)
        good = np.abs(surface.off(points)).max() <= 2 * self.mesh.near
        return (members, surface) if good and self._is_told(surface, points) else None

    def _is_told(self, surface: Fitted, points: Floats) -> bool:
        """Whether the points tell such a surface: any two circles of an axis lie on a ball."""
        if surface.kind not in ("sphere", "torus"):
            return True
        axes = [(surface.origin, surface.axis)] if surface.kind == "torus" else list(self._axes())
        least = 4 if surface.kind == "torus" else 3
        return all(len(circles(points, *axis, self.mesh.near)) >= least for axis in axes)

    def _flood(self, seed: int, surface: Fitted, limit: float) -> list[int]:
        on = self._on(surface, limit)
        own, line, seen = [seed], deque([seed]), {seed}
        if not on[seed]:
            return []
        while line:
            for n in self.neighbours[line.popleft()]:
                if n not in seen and n not in self.taken:
                    seen.add(n)
                    if on[n]:
                        own.append(n)
                        line.append(n)
        return own

    def _on(self, surface: Fitted, limit: float, along: float = _ALONG) -> Truths:
        """Which flats lie on a surface: with all their corners, and leaning as it does there."""
        mesh = self.mesh
        off = np.abs(surface.off(mesh.points)) <= limit
        lean = np.abs(np.einsum("ij,ij->i", surface.normals(mesh.middles), mesh.normals)) >= along
        # a flat across a round bar has its corners on it too: what lies between must not be far off
        sag = np.abs(surface.off(mesh.middles)) <= max(0.08 * surface.radius, limit)
        fails = ~(off[mesh.corners].all(axis=1) & lean & sag)
        return np.asarray(np.bincount(self.flat, fails, len(self.flats)) == 0)
