"""Offsets: curves that run beside others at one distance, held by one size."""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec

from ...quantity import negated
from ...tolerance import ONE_PLACE
from ..curves import Points, arc_span, at, leaving
from ..intersect import circle_circle, line_circle
from ..make.draw import fresh, grown
from ..model import Arc, Circle, Dimension, Line, Point, Sketch
from ..refusal import SketchError
from .ends import XY


class Link(NamedTuple):
    """A curve of a chain and whether the chain runs through it from its end to its start."""

    curve: Line | Arc
    backwards: bool


def chained(sketch: Sketch, ids: tuple[str, ...]) -> tuple[list[Link], bool]:
    """Lines and arcs in order, and whether they close. Raises SketchError when they do not hang together."""
    points = sketch.points()
    rest = [c for c in sketch.curves() if c.id in ids]
    if not rest or not all(isinstance(c, Line | Arc) for c in rest):
        raise SketchError("Choose lines and arcs that follow each other, or one circle.")
    todo: list[Line | Arc] = [c for c in rest if isinstance(c, Line | Arc)]

    def place(id_: str) -> tuple[int, int]:
        p = points[id_]
        return round(p.x / ONE_PLACE / 4), round(p.y / ONE_PLACE / 4)

    count: dict[tuple[int, int], int] = {}
    for c in todo:
        for end in (c.a, c.b):
            count[place(end)] = count.get(place(end), 0) + 1
    if any(n > 2 for n in count.values()):
        raise SketchError("More than two of the chosen lines meet in one place.")
    loose = [(c, back) for c in todo for end, back in ((c.a, False), (c.b, True)) if count[place(end)] == 1]
    first, back = loose[0] if loose else (todo[0], False)
    chain, here = [Link(first, back)], place(first.a if back else first.b)
    todo.remove(first)
    while todo:
        after = next((c for c in todo if here in (place(c.a), place(c.b))), None)
        if after is None:
            raise SketchError("The chosen lines do not hang together. Offset each group by itself.")
        back = place(after.a) != here
        chain.append(Link(after, back))
        here = place(after.a if back else after.b)
        todo.remove(after)
    return chain, not loose


def offset(sketch: Sketch, ids: tuple[str, ...], text: str, distance: float) -> tuple[Sketch, list[str]]:
    """Curves beside the chosen ones at ``distance`` mm, and one size that drives all of them.

    Positive is outwards for closed outlines and circles, to the left for open ones. Raises SketchError when the
    distance leaves nothing of a curve.
    """
    if abs(distance) < 1e-9:
        raise SketchError("An offset needs a distance.")
    circles = [c for c in sketch.curves() if c.id in ids and isinstance(c, Circle)]
    pairs: list[str] = []
    for circle in circles:
        radius = circle.radius + distance
        if radius < 1e-6:
            raise SketchError(f"Nothing is left of the circle at {text}.")
        made = fresh(sketch, "c")
        sketch = grown(sketch, [Circle(made, circle.center, radius)])
        pairs += [circle.id, made]
    rest = tuple(i for i in ids if i not in {c.id for c in circles})
    if rest:
        sketch, found = _offset_chain(sketch, rest, text, distance)
        pairs += found
    bare = negated(text) if text.strip().startswith("-") else text.strip()
    size = Dimension(id=fresh(sketch, "d"), kind="offset", of=tuple(pairs), text=bare)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, size)), pairs[1::2]


def under_one_value(sketch: Sketch, dimension: str) -> Sketch:
    """Every offset with the same text as ``dimension`` held by that one size. Raises SketchError when there is none."""
    first = next(d for d in sketch.dimensions if d.id == dimension)
    alike = [d for d in sketch.dimensions if d.kind == "offset" and d.text == first.text and not d.reference]
    if len(alike) < 2:
        raise SketchError("There is no other offset of this size.")
    gone = {d.id for d in alike} - {dimension}
    joined = msgspec.structs.replace(first, of=tuple(i for d in alike for i in d.of))
    kept = (joined if d.id == dimension else d for d in sketch.dimensions if d.id not in gone)
    return msgspec.structs.replace(sketch, dimensions=tuple(kept))


def _offset_chain(sketch: Sketch, ids: tuple[str, ...], text: str, distance: float) -> tuple[Sketch, list[str]]:
    chain, closed = chained(sketch, ids)
    points = sketch.points()
    left = distance
    if closed:  # outwards is to the right of a counter-clockwise outline
        left = -distance if _area(chain, points) > 0 else distance
    joints = _joints(chain, closed, points, left)
    ends: list[str] = []
    for x, y in joints:
        id_ = fresh(sketch, "p")
        sketch = grown(sketch, [Point(id_, x, y)])
        ends.append(id_)
    pairs: list[str] = []
    for k, link in enumerate(chain):
        a, b = ends[k], ends[(k + 1) % len(ends)]
        a, b = (b, a) if link.backwards else (a, b)
        made = fresh(sketch, "l" if isinstance(link.curve, Line) else "a")
        entity = Line(made, a, b) if isinstance(link.curve, Line) else Arc(made, link.curve.center, a, b)
        sketch = grown(sketch, [entity])
        _still_there(sketch, link.curve, entity, text)
        pairs += [link.curve.id, made]
    return sketch, pairs


def _still_there(sketch: Sketch, source: Line | Arc, made: Line | Arc, text: str) -> None:
    """The offset must run the way its source does."""
    points = sketch.points()
    if isinstance(source, Line):
        p, q, r, s = points[source.a], points[source.b], points[made.a], points[made.b]
        good = (q.x - p.x) * (s.x - r.x) + (q.y - p.y) * (s.y - r.y) > 1e-12
    else:
        assert isinstance(made, Arc)
        was, now = arc_span(source, points)[1], arc_span(made, points)[1]
        good = abs(was - now) < 1.5
    if not good:
        raise SketchError(f"At {text} nothing is left of {source.id}. Make the offset smaller.")


def _area(chain: list[Link], points: Points) -> float:
    from ..curves import polyline

    total = 0.0
    for link in chain:
        line = polyline(link.curve, points)
        line = line[::-1] if link.backwards else line
        total += float((line[:-1, 0] * line[1:, 1] - line[1:, 0] * line[:-1, 1]).sum())
    return total / 2


def _joints(chain: list[Link], closed: bool, points: Points, left: float) -> list[XY]:
    """Where the offset curves join: at the start of each link, and at the end of an open chain."""
    found = []
    for k, link in enumerate(chain):
        before = chain[k - 1] if k or closed else None
        found.append(_joint(before, link, points, left))
    if not closed:
        found.append(_foot(chain[-1], points, left, start=False))
    return found


def _heading(link: Link, points: Points, start: bool) -> float:
    """Direction of travel at a link's start or end, radians."""
    if start:
        return leaving(link.curve, points, link.backwards)[0]
    return leaving(link.curve, points, not link.backwards)[0] + math.pi


def _foot(link: Link, points: Points, left: float, start: bool) -> XY:
    x, y = at(link.curve, points, float(start == link.backwards))
    turn = _heading(link, points, start)
    return x - math.sin(turn) * left, y + math.cos(turn) * left


def _joint(before: Link | None, link: Link, points: Points, left: float) -> XY:
    here = _foot(link, points, left, start=True)
    if before is None:
        return here
    there = _foot(before, points, left, start=False)
    if math.dist(here, there) < ONE_PLACE:
        return here
    corner = at(link.curve, points, float(link.backwards))
    places = _crossings(before, link, points, left, there, here)
    if not places:
        raise SketchError("The offset curves no longer meet at a corner. Make the offset smaller.")
    return min(places, key=lambda p: math.dist(p, corner))


def _crossings(a: Link, b: Link, points: Points, left: float, at_a: XY, at_b: XY) -> list[XY]:
    """Where two offset curves, drawn on endlessly, meet."""
    tracks = []
    for link, foot, start in ((a, at_a, False), (b, at_b, True)):
        if isinstance(link.curve, Line):
            turn = _heading(link, points, start)
            tracks.append((foot, (math.cos(turn), math.sin(turn))))
        else:
            c = points[link.curve.center]
            tracks.append(((c.x, c.y), math.dist((c.x, c.y), foot)))  # type: ignore[arg-type]
    (p, u), (q, v) = tracks
    if isinstance(u, tuple) and isinstance(v, tuple):
        cross = u[0] * v[1] - u[1] * v[0]
        if abs(cross) < 1e-12:
            return []
        t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
        return [(p[0] + t * u[0], p[1] + t * u[1])]
    if isinstance(u, tuple):
        return line_circle(p, u, q[0], q[1], float(v))
    if isinstance(v, tuple):
        return line_circle(q, v, p[0], p[1], float(u))
    return circle_circle((p[0], p[1], float(u)), (q[0], q[1], float(v)))
