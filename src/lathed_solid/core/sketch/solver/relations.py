"""The rows each kind of relation comes down to."""

from __future__ import annotations

import math
from collections.abc import Callable

from ..model import ACROSS, ALONG, Arc, Circle, Ellipse, Line, Point, Relation, Spline
from ..refusal import Unstatable
from .elements import Elements, Pair

RIGHT = math.pi / 2


def _same(f: Elements, p: Pair, q: Pair) -> None:
    for k in (0, 1):
        f.row("linear", (q[k], p[k]), 1, -1, 0, 0)


def _coincident(f: Elements, r: Relation) -> None:
    _same(f, f.point[r.of[0]], f.point[r.of[1]])


def _concentric(f: Elements, r: Relation) -> None:
    first = f.anchor(r.of[0])
    for other in r.of[1:]:
        if f.anchor(other) != first:
            _same(f, first, f.anchor(other))


def _level(k: int) -> Callable[[Elements, Relation], None]:
    def rule(f: Elements, r: Relation) -> None:
        a, b = f.line(r.of[0]) if len(r.of) == 1 else (f.point[r.of[0]], f.point[r.of[1]])
        f.row("linear", (b[k], a[k]), 1, -1, 0, 0)

    return rule


def _parallel(f: Elements, r: Relation) -> None:
    f.turn(f.line(r.of[0]), f.line(r.of[1]), (0.0, math.pi))


def _perpendicular(f: Elements, r: Relation) -> None:
    f.turn(f.line(r.of[0]), f.line(r.of[1]), (RIGHT, -RIGHT))


def _collinear(f: Elements, r: Relation) -> None:
    first = f.line(r.of[0])
    for other in r.of[1:]:
        for p in f.line(other):
            f.row("offset", (*first[0], *first[1], *p), 0, 0)


# --- tangency
def _tangent(f: Elements, r: Relation) -> None:
    """Order the two: a spline or ellipse last, then round ones, lines first."""
    rank = {Line: 0, Arc: 1, Circle: 1, Ellipse: 2, Spline: 3}
    a, b = sorted(r.of, key=lambda i: 0 if i in (ALONG, ACROSS) else rank[type(f.element(i))])
    last = f.element(b) if b not in (ALONG, ACROSS) else None
    if isinstance(last, Spline):
        _joins_smoothly(f, a, last)
    elif isinstance(last, Ellipse):
        line, center = f.line(a), f.center(b)
        variables = (*line[0], *line[1], *center, *f.point[last.a], f.scalar[b])
        f.row("touches_ellipse", variables, f.side(line, center))
    elif b not in f.radius:
        raise Unstatable("at least one of them must be round")
    elif a in f.radius:
        _round_round(f, a, b)
    else:
        _line_round(f, a, b)


def _line_round(f: Elements, a: str, b: str) -> None:
    line, shared = f.line(a), f.shared_end(a, b)
    if shared:
        f.turn(line, (f.center(b), f.point[shared[1]]), (RIGHT, -RIGHT))
    else:
        f.row("offset", (*line[0], *line[1], *f.center(b), f.radius[b]), f.side(line, f.center(b)), 0)


def _round_round(f: Elements, a: str, b: str) -> None:
    if shared := f.shared_end(a, b):
        f.turn((f.center(a), f.point[shared[0]]), (f.center(b), f.point[shared[1]]), (0.0, math.pi))
        return
    p, q, ra, rb = f.center(a), f.center(b), f.radius[a], f.radius[b]
    gap = f.length(p, q)
    signs = min(((1, 1), (1, -1), (-1, 1)), key=lambda s: abs(gap - s[0] * f.x[ra] - s[1] * f.x[rb]))
    f.row("distance", (*p, *q, ra, rb), *signs, 0)


def _joins_smoothly(f: Elements, other: str, spline: Spline) -> None:
    """A spline's end handle lies in the direction of what it joins."""
    shared = f.shared_end(other, spline.id)
    if not shared:
        raise Unstatable("a spline joins smoothly only what it shares an end with")
    first = f.root(shared[1]) == f.root(spline.through[0])
    end, handle = (spline.through[0], spline.start) if first else (spline.through[-1], spline.end)
    if not handle:
        raise Unstatable("the spline has no direction at that end")
    arrow = (f.point[end], f.point[handle])
    if isinstance(f.element(other), Spline):
        o = f.element(other)
        assert isinstance(o, Spline)
        other_first = f.root(shared[0]) == f.root(o.through[0])
        mate = o.start if other_first else o.end
        if not mate:
            raise Unstatable("the other spline has no direction at that end")
        f.turn((f.point[shared[0]], f.point[mate]), arrow, (0.0, math.pi))
    elif other in f.radius:
        f.turn((f.center(other), f.point[shared[0]]), arrow, (RIGHT, -RIGHT))
    else:
        f.turn(f.line(other), arrow, (0.0, math.pi))


# --- the rest
def _equal(f: Elements, r: Relation) -> None:
    a = r.of[0]
    for b in r.of[1:]:
        if a in f.radius and b in f.radius:
            f.row("linear", (f.radius[b], f.radius[a]), 1, -1, 0, 0)
        elif a in f.scalar and b in f.scalar:
            f.row("linear", (f.scalar[b], f.scalar[a]), 1, -1, 0, 0)
            if isinstance(e := f.element(a), Ellipse) and isinstance(o := f.element(b), Ellipse):
                ends = (*f.center(a), *f.point[e.a], *f.center(b), *f.point[o.a])
                f.row("equal_length", ends, 0)
        else:
            (p, q), (s, t) = f.line(a), f.line(b)
            f.row("equal_length", (*p, *q, *s, *t), 0)


def _midpoint(f: Elements, r: Relation) -> None:
    m, (a, b) = f.point[r.of[0]], f.ends[r.of[1]]
    if r.of[1] in f.radius:  # half way along an arc: as far from both ends, and on it
        f.row("equal_length", (*m, *a, *m, *b), 0)
        f.row("distance", (*f.center(r.of[1]), *m, f.radius[r.of[1]]), 1, 0, 0)
        return
    for k in (0, 1):
        f.row("linear", (m[k], a[k], b[k]), 1, -0.5, -0.5, 0)


def _symmetric(f: Elements, r: Relation) -> None:
    first, second, axis = r.of[0], r.of[1], f.line(r.of[2])
    if first in f.point:
        _mirrored(f, f.point[first], f.point[second], axis)
        return
    e, o = f.element(first), f.element(second)
    if isinstance(e, Line) and isinstance(o, Line):
        straight = abs(f.length(f.point[e.a], axis[0]) - f.length(f.point[o.a], axis[0]))
        crossed = abs(f.length(f.point[e.a], axis[0]) - f.length(f.point[o.b], axis[0]))
        ends = (o.a, o.b) if straight <= crossed else (o.b, o.a)
        for p, q in zip((e.a, e.b), ends, strict=True):
            _mirrored(f, f.point[p], f.point[q], axis)
        return
    _mirrored(f, f.center(first), f.center(second), axis)
    if isinstance(e, Arc) and isinstance(o, Arc):
        _mirrored(f, f.point[e.a], f.point[o.b], axis)
        _other_end(f, f.center(first), f.point[e.b], f.point[o.a], axis)
    else:
        f.row("linear", (f.radius[second], f.radius[first]), 1, -1, 0, 0)


def _mirrored(f: Elements, p: Pair, q: Pair, axis: tuple[Pair, Pair]) -> None:
    f.row("square_to", (*p, *q, *axis[0], *axis[1]), 0)
    f.row("middle_on", (*p, *q, *axis[0], *axis[1]), 0)


def _other_end(f: Elements, center: Pair, p: Pair, q: Pair, axis: tuple[Pair, Pair]) -> None:
    """Only the way along the circle is still open at an arc's second end; take the row that feels it."""
    lean = f.angle(*axis, center, p)
    kind = "square_to" if abs(math.sin(lean)) > abs(math.cos(lean)) else "middle_on"
    f.row(kind, (*p, *q, *axis[0], *axis[1]), 0)


def _on(f: Elements, r: Relation) -> None:
    p, curve = f.point[r.of[0]], r.of[1]
    if curve in f.radius:
        f.row("distance", (*f.center(curve), *p, f.radius[curve]), 1, 0, 0)
    elif curve in (ALONG, ACROSS):
        f.row("linear", (p[1 if curve == ALONG else 0],), 1, 0, 0, 0)
    elif isinstance(e := f.element(curve), Ellipse):
        f.row("on_ellipse", (*p, *f.center(curve), *f.point[e.a], f.scalar[curve]), 0)
    else:
        a, b = f.line(curve)
        f.row("offset", (*a, *b, *p), 0, 0)


def _spaced(f: Elements, r: Relation) -> None:
    """Points of a row at equal steps: each lies half way between its neighbours."""
    for a, m, b in zip(r.of, r.of[1:], r.of[2:], strict=False):
        for k in (0, 1):
            f.row("linear", (f.point[m][k], f.point[a][k], f.point[b][k]), 1, -0.5, -0.5, 0)


def _pierce(f: Elements, r: Relation) -> None:
    if r.at is None:
        raise Unstatable("it does not come through this plane")
    for k in (0, 1):
        f.row("linear", (f.point[r.of[0]][k],), 1, 0, 0, r.at[k])


def _fixed(f: Elements, r: Relation) -> None:
    for id_ in r.of:
        entity = f.element(id_)
        held = (id_,) if isinstance(entity, Point) else tuple(_points_of(f, id_))
        for p in held:
            for k in (0, 1):
                f.row("linear", (f.point[p][k],), 1, 0, 0, f.x[f.point[p][k]])
        if isinstance(entity, Circle):
            f.row("linear", (f.radius[id_],), 1, 0, 0, f.x[f.radius[id_]])
        elif isinstance(entity, Ellipse):
            f.row("linear", (f.scalar[id_],), 1, 0, 0, f.x[f.scalar[id_]])


def _points_of(f: Elements, id_: str) -> list[str]:
    """The points to hold for a curve; an arc's second end then lies where its rows put it."""
    from ..model import stands_on

    return list(stands_on(f.element(id_)))


#: The rows of every kind of relation.
ROWS: dict[str, Callable[[Elements, Relation], None]] = {
    "coincident": _coincident,
    "concentric": _concentric,
    "horizontal": _level(1),
    "vertical": _level(0),
    "parallel": _parallel,
    "perpendicular": _perpendicular,
    "collinear": _collinear,
    "tangent": _tangent,
    "equal": _equal,
    "midpoint": _midpoint,
    "symmetric": _symmetric,
    "on": _on,
    "spaced": _spaced,
    "pierce": _pierce,
    "fixed": _fixed,
}
