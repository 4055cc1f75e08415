"""Which faces a line of a view belongs to: an edge lies between two, an outline is that of one round face."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GeomAbs import GeomAbs_CurveType
from scipy.spatial import cKDTree

from ...arrays import Floats
from ..ground.figures import Surface
from ..ground.named import NamedBody
from .sampling import places_along
from .strokes import Piece

#: Places on an edge that is not straight, and the largest gap between places on a straight one (mm).
_ON_CURVES, _GAP = 241, 1.0
#: A piece lies on an edge when its middle is as near as this to one of that edge's chords, times what it spans (mm).
_NEAR = 0.02


class Owners:
    """The edges of a body laid out for asking; ``surfaces`` are its faces as measured."""

    def __init__(self, body: NamedBody, surfaces: Sequence[Surface]) -> None:
        self._rounds = _Rounds(surfaces)
        starts, ends, self._faces = [], [], list[tuple[int, ...]]()
        for indices, edge in body.sides:
            if BRep_Tool.Degenerated_s(edge):
                continue
            places = _along(BRepAdaptor_Curve(edge))
            starts.append(places[:-1])
            ends.append(places[1:])
            self._faces += [tuple(sorted(indices))] * (len(places) - 1)
        self._a = np.concatenate(starts) if starts else np.zeros((0, 3))
        self._b = np.concatenate(ends) if ends else np.zeros((0, 3))
        self._tree = cKDTree((self._a + self._b) / 2) if len(self._a) else None

    def owned(self, pieces: Sequence[Piece]) -> list[Piece]:
        """The pieces with the faces they belong to."""
        if not pieces or self._tree is None:
            return list(pieces)
        middles = np.array([_middle(p.places) for p in pieces])
        _, near = self._tree.query(middles, k=min(8, len(self._a)))
        near = np.atleast_2d(near).reshape(len(pieces), -1)
        away = self._away(middles, near)
        best = away.argmin(axis=1)
        return [
            p._replace(faces=self._of(p, int(near[k, best[k]]), float(away[k, best[k]]))) for k, p in enumerate(pieces)
        ]

    def _away(self, middles: Floats, near: Floats) -> Floats:
        a, d = self._a[near], self._b[near] - self._a[near]
        gap = middles[:, None, :] - a
        share = np.clip((gap * d).sum(2) / np.maximum((d * d).sum(2), 1e-18), 0, 1)
        return np.asarray(np.linalg.norm(gap - share[:, :, None] * d, axis=2))

    def _of(self, piece: Piece, segment: int, away: float) -> tuple[int, ...]:
        if piece.kind == "outline":
            found = self._round(piece.places)
            return (found,) if found else ()
        size = float(np.linalg.norm(self._b[segment] - self._a[segment]))
        return self._faces[segment] if away < _NEAR * max(1.0, size) else ()

    def _round(self, places: Floats) -> int:
        """The round face that an outline lies on."""
        some = places[[0, len(places) // 2, -1]] if len(places) > 2 else np.array([places.mean(axis=0)])
        if not self._rounds.index:
            return 0
        off = self._rounds.off(some)
        best = int(off.argmin())
        return self._rounds.index[best] if off[best] < _NEAR else 0


def _middle(places: Floats) -> Floats:
    return np.asarray(places[len(places) // 2] if len(places) > 2 else places.mean(axis=0))


def _along(curve: BRepAdaptor_Curve) -> Floats:
    a, b = curve.FirstParameter(), curve.LastParameter()
    straight = curve.GetType() == GeomAbs_CurveType.GeomAbs_Line
    count = min(_ON_CURVES, max(2, int((b - a) / _GAP))) if straight else _ON_CURVES
    return places_along(curve, count)


class _Rounds:
    """Round faces as arrays (n, ...): how far places lie from all of them at once."""

    def __init__(self, surfaces: Sequence[Surface]) -> None:
        own = [s for s in surfaces if s.kind in ("cylinder", "cone", "sphere", "torus")]
        self.index = [s.index for s in own]
        self._origin = np.array([s.origin for s in own]).reshape(-1, 1, 3)
        self._axis = np.array([s.axis for s in own]).reshape(-1, 3)
        self._radius, self._major = (np.array([getattr(s, f) for s in own])[:, None] for f in ("radius", "major"))
        self._span = np.array([s.span for s in own]).reshape(-1, 2)
        self._rise = np.array([np.tan(s.half_angle) if s.kind == "cone" else 0.0 for s in own])[:, None]
        kinds = np.array([s.kind for s in own])
        self._balls, self._rings = (kinds == "sphere")[:, None], (kinds == "torus")[:, None]

    def off(self, places: Floats) -> Floats:
        """The farthest of ``places`` (k, 3) from each face, mm; far for those beyond a face's ends."""
        gap = places - self._origin
        along = np.einsum("nkc,nc->nk", gap, self._axis)
        out = np.sqrt(np.maximum(np.einsum("nkc,nkc->nk", gap, gap) - along**2, 0.0))
        straight = np.abs(out - self._radius - along * self._rise)
        ring = np.abs(np.hypot(out - self._major, along) - self._radius)
        ball = np.abs(np.hypot(out, along) - self._radius)
        off = np.where(self._balls, ball, np.where(self._rings, ring, straight))
        beyond = (along.min(axis=1) < self._span[:, 0] - _NEAR) | (along.max(axis=1) > self._span[:, 1] + _NEAR)
        closed = (self._balls | self._rings)[:, 0]
        found: Floats = np.where(beyond & ~closed, 1e9, off.max(axis=1))
        return found
