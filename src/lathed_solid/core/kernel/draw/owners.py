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
from ..ground.placing import triple
from .strokes import Piece

#: Places on an edge that is not straight, and the largest gap between places on a straight one (mm).
_ON_CURVES, _GAP = 241, 1.0
#: A piece lies on an edge when its middle is as near as this to one of that edge's chords, times what it spans (mm).
_NEAR = 0.02


class Owners:
    """The edges of a body laid out for asking; ``surfaces`` are its faces as measured."""

    def __init__(self, body: NamedBody, surfaces: Sequence[Surface]) -> None:
        self._surfaces = surfaces
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
        best = min(((_off(s, some), s.index) for s in self._surfaces if s.kind != "plane"), default=(1.0, 0))
        return best[1] if best[0] < _NEAR else 0


def _middle(places: Floats) -> Floats:
    return np.asarray(places[len(places) // 2] if len(places) > 2 else places.mean(axis=0))


def _along(curve: BRepAdaptor_Curve) -> Floats:
    a, b = curve.FirstParameter(), curve.LastParameter()
    straight = curve.GetType() == GeomAbs_CurveType.GeomAbs_Line
    count = min(_ON_CURVES, max(2, int((b - a) / _GAP))) if straight else _ON_CURVES
    return np.array([triple(curve.Value(float(u))) for u in np.linspace(a, b, count)])


def _off(s: Surface, places: Floats) -> float:
    """How far places lie from a round face, mm; far for those beyond its ends."""
    axis, gap = np.array(s.axis), places - np.array(s.origin)
    along = gap @ axis
    out = np.linalg.norm(gap - np.outer(along, axis), axis=1)
    if s.kind == "sphere":
        return float(np.abs(np.linalg.norm(gap, axis=1) - s.radius).max())
    if s.kind == "torus":
        return float(np.abs(np.hypot(out - s.major, along) - s.radius).max())
    if s.kind not in ("cylinder", "cone"):
        return 1e9
    if along.min() < s.span[0] - _NEAR or along.max() > s.span[1] + _NEAR:
        return 1e9
    radius = s.radius + (along * np.tan(s.half_angle) if s.kind == "cone" else 0.0)
    return float(np.abs(out - radius).max())
