"""Lines and arcs that touch two round curves, of several solutions the one nearest to a place."""

from __future__ import annotations

import math

from ..curves import radius_of
from ..model import Arc, Circle, Line, Sketch
from ..refusal import SketchError
from ..tangents import centers, common_tangents, touch
from .draw import Spot, fresh, grown, placed
from .shapes import related, sized

XY = tuple[float, float]


def _round(sketch: Sketch, id_: str) -> Circle | Arc:
    curve = sketch.by_id.get(id_)
    if not isinstance(curve, Circle | Arc):
        raise SketchError(f"{id_} is no circle or arc.")
    return curve


def add_touching_line(sketch: Sketch, first: str, second: str, near: XY) -> tuple[Sketch, str]:
    """The line that touches two circles or arcs, the one whose middle lies nearest to ``near`` (mm).

    Raises SketchError when there is none.
    """
    points = sketch.points()
    rounds = (_round(sketch, first), _round(sketch, second))
    a, b = ((points[c.center].x, points[c.center].y, radius_of(c, points)) for c in rounds)
    found = common_tangents(a, b)
    if not found:
        raise SketchError(f"No line touches both {first} and {second}: one lies inside the other.")
    p, q = min(found, key=lambda ends: math.dist(((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2), near))
    sketch, start = placed(sketch, Spot(*p, "", first))
    sketch, end = placed(sketch, Spot(*q, "", second))
    id_ = fresh(sketch, "l")
    sketch = grown(sketch, [Line(id_, start, end)])
    for curve in (first, second):
        sketch = related(sketch, "tangent", id_, curve)
    return sketch, id_


def add_touching_arc(sketch: Sketch, first: str, second: str, text: str, radius: float, near: XY) -> tuple[Sketch, str]:
    """The arc of ``radius`` mm (``text`` as typed) that touches two lines, circles or arcs, the one that passes nearest
    to ``near``. Raises SketchError when there is none.
    """
    points = sketch.points()
    curves = [sketch.by_id.get(i) for i in (first, second)]
    one, other = curves
    if not isinstance(one, Line | Circle | Arc) or not isinstance(other, Line | Circle | Arc):
        raise SketchError("An arc goes between two lines, circles or arcs.")
    found = centers(one, other, points, radius)
    if not found:
        raise SketchError(f"No arc of R{text} touches both {first} and {second}.")

    def away(center: XY) -> float:
        middle = _middle(center, touch(one, points, center, radius), touch(other, points, center, radius), near)
        return math.dist(middle, near)

    center = min(found, key=away)
    p, q = (touch(c, points, center, radius) for c in (one, other))
    middle = _middle(center, p, q, near)
    sketch, start = placed(sketch, Spot(*p, "", first))
    sketch, end = placed(sketch, Spot(*q, "", second))
    sketch, c = placed(sketch, Spot(*center))
    left = _turn(center, p, middle) + _turn(center, middle, q) < 2 * math.pi
    id_ = fresh(sketch, "a")
    sketch = grown(sketch, [Arc(id_, c, *((start, end) if left else (end, start)))])
    for curve in (first, second):
        sketch = related(sketch, "tangent", id_, curve)
    return sized(sketch, "radius", (id_,), text), id_


def _turn(center: XY, a: XY, b: XY) -> float:
    """From one place to another about a centre, counter-clockwise."""
    begin, end = (math.atan2(p[1] - center[1], p[0] - center[0]) for p in (a, b))
    return (end - begin) % (2 * math.pi)


def _middle(center: XY, p: XY, q: XY, near: XY) -> XY:
    """The middle of the one of both arcs between two places that passes nearer to ``near``."""
    radius, begin = math.dist(center, p), math.atan2(p[1] - center[1], p[0] - center[0])
    turn = _turn(center, p, q)
    both = (begin + turn / 2, begin + turn / 2 + math.pi)
    places = [(center[0] + radius * math.cos(a), center[1] + radius * math.sin(a)) for a in both]
    return min(places, key=lambda place: math.dist(place, near))


__all__ = ["add_touching_arc", "add_touching_line"]
