"""Rounding and breaking the corner between two curves."""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec

from ...tolerance import ONE_PLACE
from ..make.draw import fresh, grown
from ..model import Arc, Dimension, Line, Point, Relation, Sketch, stands_on
from ..refusal import SketchError
from ..tangents import centers, foot
from .ends import XY, new_point, related, replaced, swept, users


class Corner(NamedTuple):
    """Two curves that meet, the point of each there, and the place (mm)."""

    first: Line | Arc
    second: Line | Arc
    p: str
    q: str
    at: XY


def corner(sketch: Sketch, ids: tuple[str, ...]) -> Corner:
    """The corner at a chosen point, or between two chosen curves. Raises SketchError when there is none."""
    points = sketch.points()
    if len(ids) == 1 and ids[0] in points:
        found = [c for c in users(sketch, ids[0]) if not c.construction]
        if len(found) != 2:
            raise SketchError("Choose a corner where just two lines or arcs meet.")
        here = points[ids[0]]
        ends = [next(e for e in (c.a, c.b) if _gap(points[e], here) < ONE_PLACE) for c in found]
        return Corner(found[0], found[1], ends[0], ends[1], (here.x, here.y))
    curves = [c for c in sketch.curves() if c.id in ids and isinstance(c, Line | Arc)]
    if len(curves) != 2:
        raise SketchError("Choose a corner point, or the two lines or arcs that meet there.")
    a, b = curves
    assert isinstance(a, Line | Arc) and isinstance(b, Line | Arc)
    for p in (a.a, a.b):
        for q in (b.a, b.b):
            if _gap(points[p], points[q]) < ONE_PLACE:
                return Corner(a, b, p, q, (points[p].x, points[p].y))
    raise SketchError("These two do not meet. Extend one to the other first.")


def _gap(p: Point, q: Point) -> float:
    return math.hypot(p.x - q.x, p.y - q.y)


def _by_their_ends(sketch: Sketch, ids: tuple[str, str]) -> Sketch:
    """Mirror images that are stated for lines, stated for their ends instead: one end is about to be cut off, and the
    line must stay the image of the other all the same.
    """
    relations: list[Relation] = []
    points, grew = sketch.points(), sketch
    for r in sketch.relations:
        pair = [sketch.by_id.get(i) for i in r.of[:2]]
        if r.kind != "symmetric" or not set(ids) & set(r.of[:2]) or not all(isinstance(c, Line) for c in pair):
            relations.append(r)
            continue
        (a, b), (c, d) = ((line.a, line.b) for line in pair if isinstance(line, Line))
        if _uneven(points, r.of[2], sketch, a, c) > _uneven(points, r.of[2], sketch, a, d):
            c, d = d, c
        for p, q in ((a, c), (b, d)):
            new = Relation(fresh(grew, "r"), "symmetric", (p, q, r.of[2]), r.assumed)
            relations.append(new)
            grew = grown(grew, (), [new])
    return msgspec.structs.replace(sketch, relations=tuple(relations))


def _uneven(points: dict[str, Point], axis: str, sketch: Sketch, p: str, q: str) -> float:
    """How far two points are from being images of each other."""
    from ..make.size import offset_from

    a, b = points[p], points[q]
    sides = offset_from(sketch, axis, (a.x, a.y)) + offset_from(sketch, axis, (b.x, b.y))
    return abs(sides) + abs(_along_axis(sketch, axis, a) - _along_axis(sketch, axis, b))


def _along_axis(sketch: Sketch, axis: str, p: Point) -> float:
    """How far along an axis a point lies, mm."""
    from ..make.size import direction

    ux, uy = direction(sketch, axis)
    return ux * p.x + uy * p.y


def round_corner(sketch: Sketch, ids: tuple[str, ...], text: str, radius: float) -> tuple[Sketch, str]:
    """An arc of ``radius`` mm (``text`` as typed) in a corner, tangent to both sides.

    The sharp corner stays as a point on both lines when a size or relation speaks of it. Raises SketchError when the
    radius does not fit.
    """
    found, points = corner(sketch, ids), sketch.points()
    sketch = _by_their_ends(sketch, (found.first.id, found.second.id))
    best = None
    for center in centers(found.first, found.second, points, radius):
        feet = [foot(c, points, center) for c in (found.first, found.second)]
        if not all(_on(c, points, f) for c, f in zip((found.first, found.second), feet, strict=True)):
            continue
        away = math.dist(center, found.at)
        if best is None or away < best[0]:
            best = (away, center, feet)
    if best is None:
        raise SketchError(f"A radius of {text} does not fit in this corner.")
    _, (cx, cy), feet = best
    original = sketch
    sketch, p = new_point(sketch, *feet[0])
    sketch, q = new_point(sketch, *feet[1])
    sketch, c = new_point(sketch, cx, cy)
    sketch = _cut_back(sketch, found, p, q)
    left = (feet[0][0] - cx) * (feet[1][1] - cy) - (feet[0][1] - cy) * (feet[1][0] - cx) > 0
    id_ = fresh(sketch, "a")
    sketch = grown(sketch, [Arc(id_, c, *((p, q) if left else (q, p)))])
    sketch = related(related(sketch, "tangent", found.first.id, id_), "tangent", found.second.id, id_)
    made = Dimension(id=fresh(sketch, "d"), kind="radius", of=(id_,), text=text)
    sketch, _ = _sharp(sketch, found, original, always=False)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made)), id_


def break_corner(
    sketch: Sketch, ids: tuple[str, ...], leg_text: str, leg: float, angle_text: str, angle: float
) -> tuple[Sketch, str]:
    """A chamfer across a corner of two lines: ``leg`` mm along the first, at ``angle`` radians to it."""
    found, points = corner(sketch, ids), sketch.points()
    if not isinstance(found.first, Line) or not isinstance(found.second, Line):
        raise SketchError("A chamfer goes between two lines. Use a radius on arcs.")
    u, v = (_away(c, points, found.at) for c in (found.first, found.second))
    between = math.acos(max(-1.0, min(1.0, u[0] * v[0] + u[1] * v[1])))
    rest = math.pi - between - angle
    if rest <= 1e-6 or not angle > 0:
        raise SketchError(f"A chamfer at {angle_text} does not meet the second line.")
    sketch = _by_their_ends(sketch, (found.first.id, found.second.id))
    far = leg * math.sin(angle) / math.sin(rest)
    for c, reach in ((found.first, leg), (found.second, far)):
        if reach >= _gap(points[c.a], points[c.b]) - ONE_PLACE:
            raise SketchError(f"A chamfer of {leg_text} is longer than the line it lies on.")
    original = sketch
    (x, y) = found.at
    sketch, p = new_point(sketch, x + u[0] * leg, y + u[1] * leg)
    sketch, q = new_point(sketch, x + v[0] * far, y + v[1] * far)
    sketch, sharp = _sharp(_cut_back(sketch, found, p, q), found, original, always=True)
    id_ = fresh(sketch, "l")
    sketch = grown(sketch, [Line(id_, p, q)])
    quadrant, sense = _lean(sketch, found.first.id, id_, angle)
    long = Dimension(id=fresh(sketch, "d"), kind="distance", of=(sharp, p), text=leg_text)
    sketch = msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, long))
    slope = Dimension(id=fresh(sketch, "d"), kind="angle", of=(found.first.id, id_), text=angle_text)
    slope = msgspec.structs.replace(slope, quadrant=quadrant, sense=sense)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, slope)), id_


def _lean(sketch: Sketch, line: str, chamfer: str, angle: float) -> tuple[int, int]:
    """Which of the four angles between line and chamfer is the stated one."""
    from ..make.size import angle_choices

    asked = Dimension(id="?", kind="angle", of=(line, chamfer), text="")
    best = min(angle_choices(sketch, asked), key=lambda c: (round(abs(c[1] - angle), 9), c[0].quadrant))
    return best[0].quadrant, best[0].sense


def _away(line: Line | Arc, points: dict[str, Point], at: XY) -> XY:
    """Unit direction from a corner along a line."""
    far = max((points[line.a], points[line.b]), key=lambda p: math.hypot(p.x - at[0], p.y - at[1]))
    size = math.hypot(far.x - at[0], far.y - at[1])
    return (far.x - at[0]) / size, (far.y - at[1]) / size


def _on(curve: Line | Arc, points: dict[str, Point], at: XY) -> bool:
    from ..curves import parameter

    return -1e-9 < parameter(curve, points, *at) < 1 + 1e-9


def _cut_back(sketch: Sketch, found: Corner, p: str, q: str) -> Sketch:
    ends = []
    for curve, old, new in ((found.first, found.p, p), (found.second, found.q, q)):
        ends.append(msgspec.structs.replace(curve, **{"a" if curve.a == old else "b": new}))
    return replaced(sketch, *ends)


def _sharp(sketch: Sketch, found: Corner, original: Sketch, always: bool) -> tuple[Sketch, str]:
    """The corner kept as a point on both sides when something else speaks of it (or ``always``); "" when it goes.

    Stated lengths run to the sharp corner, so rounding it must not move them.
    """
    ends = (found.p, found.q)
    spoken = {i for d in sketch.dimensions for i in d.of}
    spoken |= {i for r in sketch.relations if not (r.kind == "coincident" and set(r.of) == set(ends)) for i in r.of}
    spoken |= {p for e in sketch.entities for p in stands_on(e)}
    kept = [e for e in dict.fromkeys(ends) if e in spoken] or ([found.p] if always else [])
    if not kept:
        return swept(sketch, original), ""
    for curve in (found.first, found.second):
        sketch = related(sketch, "on", kept[0], curve.id)
    if len(kept) == 1 and found.p != found.q:
        gone = found.q if kept[0] == found.p else found.p
        sketch = msgspec.structs.replace(sketch, relations=tuple(r for r in sketch.relations if gone not in r.of))
    return swept(sketch, original), kept[0]
