"""Curves cut into pieces where they cross, touch or lie on one another, so that areas need no trimming.

A piece is called after its curve and what it runs between: ``l1[l3|c2]`` is the part of l1 from l3 to c2, a curve that
nothing meets keeps its own name. So the name of a piece is not changed by what is drawn elsewhere.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import msgspec
import numpy as np

from ..tolerance import CLOSED
from .curves import arc_span, at, parameter, polyline
from .intersect import meet
from .model import Arc, Circle, Curve, Ellipse, Line, Point, Spline, ends_of

Points = Mapping[str, Point]
#: Places nearer than this (mm) to the end of a curve, or to each other, are one.
NEAR = 10 * CLOSED


class Arranged(NamedTuple):
    """Pieces of curves (each a line or arc of its own id), and the points they need besides the sketch's."""

    curves: list[Curve]
    points: dict[str, Point]
    crossings: tuple[tuple[str, str], ...]
    split: bool


def source_of(piece: str) -> str:
    """The curve a piece is a part of."""
    return piece.partition("[")[0]


def between(piece: str) -> tuple[str, str]:
    """What a piece runs between: other curves, or "" for its curve's own ends."""
    inner = piece.partition("[")[2].rstrip("]")
    first, _, last = inner.partition("|")
    return first, last


def piece_name(curve: str, first: str, last: str) -> str:
    return f"{curve}[{first}|{last}]" if first or last else curve


class _Cut(NamedTuple):
    """Where a curve is met: its parameter there (0 to 1), and by what."""

    t: float
    by: str


def arranged(curves: Sequence[Curve], points: Points) -> Arranged:
    """All pieces. Free edges and ellipses are not cut; ``crossings`` are the pairs that would have to be."""
    cuts: dict[str, list[_Cut]] = {}
    crossings: list[tuple[str, str]] = []
    for a, b in _near_pairs(curves, points):
        found = _met(a, b, points)
        if found and (isinstance(a, Spline | Ellipse) or isinstance(b, Spline | Ellipse)):
            if any(not (_at_end(a, s, points) or _at_end(b, t, points)) for s, t in found):
                crossings.append((a.id, b.id))
            continue
        for k, (s, t) in enumerate(sorted(found)):
            mark = f".{k + 1}" if len(found) > 1 else ""
            cuts.setdefault(a.id, []).append(_Cut(s, b.id + mark))
            cuts.setdefault(b.id, []).append(_Cut(t, a.id + mark))
    made: dict[str, Point] = {}
    pieces: list[Curve] = []
    split = False
    for curve in curves:
        inner = _inner(curve, cuts.get(curve.id, []), points)
        split = split or bool(inner)
        pieces += _pieces(curve, inner, points, made) if inner else [curve]
    return Arranged(_without_doubles(pieces, {**points, **made}), made, tuple(sorted(crossings)), split)


def _near_pairs(curves: Sequence[Curve], points: Points) -> list[tuple[Curve, Curve]]:
    """Pairs whose boxes meet; lines that only share a corner are left out."""
    if len(curves) < 2:
        return []
    lines = [polyline(c, points, math.pi / 12) for c in curves]
    low, high = np.array([p.min(axis=0) for p in lines]), np.array([p.max(axis=0) for p in lines])
    round_ones = np.array([not isinstance(c, Line) for c in curves])
    grow = np.where(round_ones, 0.05 * (high - low).max(axis=1), 0.0) + CLOSED
    low, high = low - grow[:, None], high + grow[:, None]
    i, j = np.triu_indices(len(curves), 1)
    near = ((low[i] <= high[j]) & (low[j] <= high[i])).all(axis=1)
    found = []
    for p, q in zip(i[near].tolist(), j[near].tolist(), strict=True):
        a, b = curves[p], curves[q]
        if isinstance(a, Line) and isinstance(b, Line) and {a.a, a.b} & {b.a, b.b} and not _one_line(a, b, points):
            continue
        found.append((a, b))
    return found


def _met(a: Curve, b: Curve, points: Points) -> list[tuple[float, float]]:
    """Parameters on both curves where they cross or touch, and the ends of stretches they share."""
    found = [(m.s, m.t) for m in meet(a, b, points)]
    if not _one_line(a, b, points):
        return found
    for one, other, swapped in ((a, b, False), (b, a, True)):
        for end in ends_of(one) or ():
            p = points[end]
            s, t = parameter(one, points, p.x, p.y), parameter(other, points, p.x, p.y)
            x, y = at(other, points, min(max(t, 0.0), 1.0)) if ends_of(other) else at(other, points, t)
            if math.hypot(x - p.x, y - p.y) < NEAR:
                found.append((t, s) if swapped else (s, t))
    return found


def _one_line(a: Curve, b: Curve, points: Points) -> bool:
    """Whether two curves are parts of one straight line or one circle."""
    if isinstance(a, Line) and isinstance(b, Line):
        p, q = points[a.a], points[a.b]
        size = math.hypot(q.x - p.x, q.y - p.y) or 1e-12
        ux, uy = (q.x - p.x) / size, (q.y - p.y) / size
        return all(abs(ux * (e.y - p.y) - uy * (e.x - p.x)) < CLOSED for e in (points[b.a], points[b.b]))
    if isinstance(a, Circle | Arc) and isinstance(b, Circle | Arc):
        (p, r), (q, s) = ((points[c.center], _radius(c, points)) for c in (a, b))
        return math.hypot(p.x - q.x, p.y - q.y) < CLOSED and abs(r - s) < CLOSED
    return False


def _radius(curve: Circle | Arc, points: Points) -> float:
    return curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]


def _length(curve: Curve, points: Points) -> float:
    if isinstance(curve, Line):
        return math.hypot(points[curve.a].x - points[curve.b].x, points[curve.a].y - points[curve.b].y)
    if isinstance(curve, Circle):
        return 2 * math.pi * curve.radius
    if isinstance(curve, Arc):
        _, sweep, radius = arc_span(curve, points)
        return sweep * radius
    return 1.0


def _at_end(curve: Curve, t: float, points: Points) -> bool:
    return ends_of(curve) is not None and min(t, 1 - t) * _length(curve, points) < NEAR


def _inner(curve: Curve, cuts: Sequence[_Cut], points: Points) -> list[_Cut]:
    """Where a curve is really divided: away from its ends, each place once (told by the first name there)."""
    length, found = _length(curve, points), list[_Cut]()
    whole = ends_of(curve) is None
    for cut in sorted(cuts, key=lambda c: ((c.t % 1.0) if whole else c.t, c.by)):
        t = cut.t % 1.0 if whole else cut.t
        if not whole and min(t, 1 - t) * length < NEAR:
            continue
        if found and (t - found[-1].t) * length < NEAR:
            continue
        found.append(_Cut(t, cut.by))
    if whole and len(found) > 1 and (found[0].t + 1 - found[-1].t) * length < NEAR:
        found.pop()
    return found


def _pieces(curve: Curve, inner: Sequence[_Cut], points: Points, made: dict[str, Point]) -> list[Curve]:
    def place(cut: _Cut) -> str:
        x, y = at(curve, points, cut.t)
        id_ = f"{curve.id}@{cut.by}"
        made[id_] = Point(id_, float(x), float(y))
        return id_

    here = [place(c) for c in inner]
    if isinstance(curve, Circle) and len(inner) == 1:
        return [Arc(curve.id, curve.center, here[0], here[0])]  # touched in one place: it stays whole
    if isinstance(curve, Circle):
        ends = list(zip(here, [*here[1:], here[0]], strict=True))
        names = list(zip(inner, [*inner[1:], inner[0]], strict=True))
        return [
            Arc(piece_name(curve.id, a.by, b.by), curve.center, p, q)
            for (p, q), (a, b) in zip(ends, names, strict=True)
        ]
    assert isinstance(curve, Line | Arc)
    spots, marks = [curve.a, *here, curve.b], ["", *(c.by for c in inner), ""]
    return [
        msgspec.structs.replace(curve, id=piece_name(curve.id, marks[k], marks[k + 1]), a=spots[k], b=spots[k + 1])
        for k in range(len(spots) - 1)
    ]


def _without_doubles(pieces: list[Curve], points: Points) -> list[Curve]:
    """Of pieces that lie on each other the first only."""
    seen: set[tuple[object, ...]] = set()
    kept = []
    for piece in pieces:
        line = polyline(piece, points)
        middle = at(piece, points, 0.5)
        ends = sorted(_cell(p) for p in (line[0], line[-1])) if ends_of(piece) else [_cell(line.mean(axis=0))]
        size = round(_length(piece, points) / NEAR / 4)
        key = (*ends, _cell(middle) if ends_of(piece) else size)
        if key not in seen or isinstance(piece, Spline | Ellipse):
            kept.append(piece)
        seen.add(key)
    return kept


def _cell(place: Sequence[float]) -> tuple[int, int]:
    return round(float(place[0]) / NEAR / 4), round(float(place[1]) / NEAR / 4)
