"""What lies under another line of a view is drawn once: visible over hidden, edges over outlines over smooth lines."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence

import msgspec

from .strokes import XY, ArcOf, Stroke

Span = tuple[float, float]
_RANK = {"cut": 0, "sharp": 1, "outline": 2, "tangent": 3, "torn": 4}
#: Lines nearer than this lie on each other, and shorter rests are dropped (mm of the part).
_ON = 1e-3
_TURN = 2 * math.pi


def singled(strokes: Iterable[Stroke]) -> list[Stroke]:
    """The strokes without what lies on a stronger one: whole doubles, and parts of straight lines and of arcs."""
    kept: list[Stroke] = []
    lines: dict[tuple[int, int], list[Span]] = defaultdict(list)
    arcs: dict[tuple[int, int, int], list[Span]] = defaultdict(list)
    curves: set[tuple[int, ...]] = set()
    for stroke in sorted(strokes, key=lambda s: (not s.visible, _RANK[s.kind])):
        if stroke.arc is not None:
            kept += _arc_rests(stroke, stroke.arc, arcs)
        elif stroke.is_straight:
            kept += _line_rests(stroke, lines)
        elif (key := _curve_key(stroke.points)) not in curves:
            curves.add(key)
            kept.append(stroke)
    return kept


def _curve_key(points: Sequence[XY]) -> tuple[int, ...]:
    ends = sorted([points[0], points[-1]])
    middle = points[len(points) // 2]
    return tuple(round(v / (2 * _ON)) for p in (*ends, middle) for v in p)


# --- straight ones
def _line_rests(stroke: Stroke, taken: dict[tuple[int, int], list[Span]]) -> list[Stroke]:
    """Carriers are told by direction and distance from zero; ``taken`` says what of each is drawn."""
    (ax, ay), (bx, by) = stroke.points
    turn = math.atan2(by - ay, bx - ax) % math.pi
    if turn > math.pi - 1e-5:
        turn = 0.0
    u, v = math.cos(turn), math.sin(turn)
    off = ay * u - ax * v
    low, high = sorted((ax * u + ay * v, bx * u + by * v))
    near = [(round(turn / 1e-5) + i, round(off / _ON) + j) for i in (-1, 0, 1) for j in (-1, 0, 1)]
    rests = _without((low, high), [s for key in near for s in taken.get(key, ())])
    taken[near[4]].append((low, high))
    if rests == [(low, high)]:
        return [stroke]
    ends = [((a * u - off * v, a * v + off * u), (b * u - off * v, b * v + off * u)) for a, b in rests]
    return [msgspec.structs.replace(stroke, points=e) for e in ends]


# --- round ones
def _arc_rests(stroke: Stroke, arc: ArcOf, taken: dict[tuple[int, int, int], list[Span]]) -> list[Stroke]:
    low = min(arc.start, arc.start + arc.sweep) % _TURN
    span = (low, low + abs(arc.sweep))
    x, y, r = (round(value / _ON) for value in (*arc.center, arc.radius))
    near = [(x + i, y + j, r + k) for i in (-1, 0, 1) for j in (-1, 0, 1) for k in (-1, 0, 1)]
    drawn = [(a + n * _TURN, b + n * _TURN) for key in near for a, b in taken.get(key, ()) for n in (-1, 0, 1)]
    rests = _without(span, drawn, _ON / max(arc.radius, _ON))
    taken[(x, y, r)].append(span)
    if rests == [span]:
        return [stroke]
    return [_part(stroke, msgspec.structs.replace(arc, start=a, sweep=b - a)) for a, b in rests]


def _part(stroke: Stroke, arc: ArcOf) -> Stroke:
    count = max(3, math.ceil(abs(arc.sweep) / 0.13))
    points = tuple(arc.at(k / (count - 1)) for k in range(count))
    return msgspec.structs.replace(stroke, arc=arc, points=points)


def _without(span: Span, taken: Sequence[Span], least: float = _ON) -> list[Span]:
    """What of a span is not taken; rests shorter than ``least`` are none."""
    rests = [span]
    for a, b in taken:
        if b <= span[0] or a >= span[1]:
            continue
        rests = [r for low, high in rests for r in ((low, min(high, a)), (max(low, b), high)) if r[1] - r[0] > least]
    return rests
