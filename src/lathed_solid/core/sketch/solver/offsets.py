"""The rows of an offset: one value for any number of curves and the curves that run beside them.

They are stated for points, not for curves: where two curves join smoothly the offset's join is the foot of one normal,
which stays well determined, while "lies on both offset curves" would not.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from ..model import Arc, Dimension, Line, ends_of
from .elements import Elements, Pair

#: Curves that meet within this angle (radians) of one direction join smoothly.
SMOOTH = 1e-3


class _End(NamedTuple):
    """A source curve's end, the offset's end that belongs to it, and on which side (1 left) the offset runs."""

    source: str
    point: str
    copy: str
    side: float


def state_offset(f: Elements, d: Dimension, value: float) -> None:
    """Rows for every pair (curve, its offset) of ``d``."""
    joints: dict[str, list[_End]] = {}
    for source, copy in zip(d.of[::2], d.of[1::2], strict=True):
        if ends_of(f.element(source)) is None or ends_of(f.element(copy)) is None:
            side = 1.0 if f.x[f.radius[copy]] >= f.x[f.radius[source]] else -1.0
            f.slot(f.row("linear", (f.radius[copy], f.radius[source]), 1, -1, 0, side * value), 3, side)
            continue
        side = _side(f, source, copy)
        for p, q in zip(ends_of(f.element(source)) or (), ends_of(f.element(copy)) or (), strict=True):
            joints.setdefault(f.root(q), []).append(_End(source, p, q, side))
    for ends in joints.values():
        first = ends[0]
        f_point = f.point[first.copy]
        if len(ends) > 1 and not _smooth(f, ends[0], ends[1]):
            for end in ends[:2]:
                _beside(f, end, f_point, value)
        elif len(ends) == 1 and (_held(f, first.copy) or _goes_on(f, first, d)):
            _beside(f, first, f_point, value)  # trimmed, extended or split: it runs along the offset as it likes
        else:
            _square(f, first, f_point, value)


def _held(f: Elements, point: str) -> bool:
    """Whether something else says where an offset's end is: a relation, or another curve that begins there."""
    group = {p for p in f.point if f.root(p) == f.root(point)}
    curves = [c for c in f.sketch.curves() if group & set(ends_of(c) or ())]
    return len(curves) > 1 or any(group & set(r.of) for r in f.sketch.relations if r.kind in _PLACING)


def _goes_on(f: Elements, end: _End, d: Dimension) -> bool:
    """Whether the source goes on beyond its end as another curve that has no offset: it was split there."""
    for curve in f.sketch.curves():
        ends = ends_of(curve) or ()
        if curve.id in d.of or curve.construction or not any(f.root(p) == f.root(end.point) for p in ends):
            continue
        here = next(p for p in ends if f.root(p) == f.root(end.point))
        if isinstance(curve, Line | Arc) and _smooth(f, end, _End(curve.id, here, end.copy, end.side)):
            return True
    return False


#: Relations that say where a point is.
_PLACING = ("on", "coincident", "midpoint", "symmetric", "horizontal", "vertical", "fixed", "pierce")


def _side(f: Elements, source: str, copy: str) -> float:
    """1 where the offset runs left of the source (outside a counter-clockwise arc: -1)."""
    if source in f.radius:
        return 1.0 if f.x[f.radius[copy]] <= f.x[f.radius[source]] else -1.0
    return f.side(f.line(source), f.point[(ends_of(f.element(copy)) or ("", ""))[0]])


def _beside(f: Elements, end: _End, point: Pair, value: float) -> None:
    """``point`` lies on the curve that runs beside the source."""
    if end.source in f.radius:
        k = -end.side
        row = f.row(
            "equal_length", (*f.center(end.source), *point, *f.center(end.source), *f.point[end.point]), k * value
        )
        f.slot(row, 0, k)
    else:
        line = f.line(end.source)
        f.slot(f.row("offset", (*line[0], *line[1], *point), 0, end.side * value), 1, end.side)


def _square(f: Elements, end: _End, point: Pair, value: float) -> None:
    """``point`` lies on the curve beside the source, square over the source's end."""
    _beside(f, end, point, value)
    if end.source in f.radius:
        center = f.center(end.source)
        f.turn((center, f.point[end.point]), (center, point), (0.0,))
    else:
        line = f.line(end.source)
        f.row("square_to", (*f.point[end.point], *point, *line[0], *line[1]), 0)


def _smooth(f: Elements, a: _End, b: _End) -> bool:
    return abs(math.sin(_heading(f, a) - _heading(f, b))) < SMOOTH


def _heading(f: Elements, end: _End) -> float:
    """Direction of the tangent at a source's end, radians."""
    entity = f.element(end.source)
    if isinstance(entity, Line):
        (ax, ay), (bx, by) = f.at(f.point[entity.a]), f.at(f.point[entity.b])
        return math.atan2(by - ay, bx - ax)
    assert isinstance(entity, Arc)
    (cx, cy), (px, py) = f.at(f.point[entity.center]), f.at(f.point[end.point])
    return math.atan2(py - cy, px - cx) + math.pi / 2
