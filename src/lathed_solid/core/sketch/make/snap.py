"""Where a click would land, and what that would mean: shown before the click, held off with a key."""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

from ..curves import at, leaving, nearest
from ..intersect import line_circle, meet
from ..model import ACROSS, ALONG, ORIGIN, Arc, Circle, Curve, Line, Point, Sketch, Spline, ends_of
from ..traces import Traces, snapped
from .draw import Spot

XY = tuple[float, float]


class Snap(NamedTuple):
    """``words`` say what the place is and which relation it brings; ``guides`` are helper lines (mm) to show."""

    spot: Spot
    words: tuple[str, ...] = ()
    guides: tuple[tuple[XY, XY], ...] = ()


def snap(
    sketch: Sketch,
    x: float,
    y: float,
    reach: float,
    last: Spot | None = None,
    leave: str = "",
    traces: Traces | None = None,
) -> Snap:
    """The snap within ``reach`` mm of a place. ``last``: where the line in hand began; ``leave``: one to pass over;
    ``traces``: a scan under the sketch, which gives places and no relations.
    """
    points = sketch.points()
    if (found := _point(points, x, y, reach, leave)) is not None:
        return found
    near = [c for c in sketch.curves() if c.id != leave and nearest(c, points, x, y)[0] < reach]
    found = _middle(near, points, x, y, reach) or _crossing(near, points, x, y, reach)
    if found is not None:
        return found
    if near:
        return _on_curve(near, points, x, y, last, reach)
    if math.hypot(x, y) < reach:
        return Snap(Spot(0.0, 0.0, ORIGIN), ("the origin",))
    if traces is not None and (on := snapped(traces, x, y, reach)) is not None:
        return _over(sketch, points, on, reach, last)
    return _directed(sketch, points, x, y, reach, last)


def _over(sketch: Sketch, points: dict[str, Point], on: tuple[XY, str], reach: float, last: Spot | None) -> Snap:
    """On a scan; there still level with or upright over the last place, or on an axis, where it is close to that too: a
    scan is never as exact.
    """
    (x, y), words = on
    directed = _directed(sketch, points, x, y, reach / 2, last)
    return directed._replace(words=(*directed.words, words))


def _point(points: dict[str, Point], x: float, y: float, reach: float, leave: str) -> Snap | None:
    gap, p = min(
        ((math.hypot(p.x - x, p.y - y), p) for p in points.values() if p.id != leave),
        key=lambda item: item[0],
        default=(reach, None),
    )
    if p is None or gap >= reach:
        return None
    return Snap(Spot(p.x, p.y, p.id), (f"on point {p.id}",))


def _middle(near: list[Curve], points: dict[str, Point], x: float, y: float, reach: float) -> Snap | None:
    for curve in near:
        if isinstance(curve, Line | Arc):
            mx, my = at(curve, points, 0.5)
            if math.hypot(mx - x, my - y) < reach:
                return Snap(Spot(mx, my, "", curve.id, middle=True), (f"middle of {curve.id}",))
    return None


def _crossing(near: list[Curve], points: dict[str, Point], x: float, y: float, reach: float) -> Snap | None:
    for a, b in itertools.combinations(near[:6], 2):
        for m in meet(a, b, points):
            if math.hypot(m.x - x, m.y - y) < reach:
                return Snap(Spot(m.x, m.y, "", a.id, also=b.id), (f"where {a.id} meets {b.id}",))
    return None


def _on_curve(near: list[Curve], points: dict[str, Point], x: float, y: float, last: Spot | None, reach: float) -> Snap:
    """On the nearest curve; there level with or upright over the last place if it is close to that too."""
    curve = min(near, key=lambda c: nearest(c, points, x, y)[0])
    foot = nearest(curve, points, x, y)[1]
    if isinstance(curve, Spline):
        return Snap(Spot(*foot), (f"by {curve.id}",))
    if last is not None:
        for k, words in ((1, "level"), (0, "upright")):
            if (
                abs((x, y)[k] - last.xy[k]) < reach
                and (hit := _on_level(curve, points, k, last.xy[k], foot)) is not None
            ):
                return Snap(Spot(*hit, "", curve.id), (f"on {curve.id}", words), ((last.xy, hit),))
    return Snap(Spot(*foot, "", curve.id), (f"on {curve.id}",))


def _on_level(curve: Curve, points: dict[str, Point], k: int, value: float, near: XY) -> XY | None:
    """Where a curve has the coordinate ``value`` (k: 0 along, 1 across), nearest to a place."""
    hits: list[XY] = []
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        span = (b.x - a.x, b.y - a.y)
        if abs(span[k]) > 1e-9:
            t = (value - (a.x, a.y)[k]) / span[k]
            if 0 <= t <= 1:
                hits.append((a.x + t * span[0], a.y + t * span[1]))
    elif isinstance(curve, Circle | Arc):
        from ..curves import radius_of

        c = points[curve.center]
        start, way = ((c.x, value), (1.0, 0.0)) if k == 1 else ((value, c.y), (0.0, 1.0))
        hits = line_circle(start, way, c.x, c.y, radius_of(curve, points))
    return min(hits, key=lambda h: math.dist(h, near), default=None)


def _directed(sketch: Sketch, points: dict[str, Point], x: float, y: float, reach: float, last: Spot | None) -> Snap:
    """Free ground: level, upright, smooth or square from the last place; on an axis; in line with another point."""
    words: list[str] = []
    guides: list[tuple[XY, XY]] = []
    held_x = held_y = False
    if last is not None:
        if abs(y - last.y) < reach:
            y, held_y = last.y, True
            words.append("level")
        elif abs(x - last.x) < reach:
            x, held_x = last.x, True
            words.append("upright")
        elif (slant := _from_curve(sketch, points, x, y, reach, last)) is not None:
            return slant
        if held_x or held_y:
            guides.append((last.xy, (x, y)))
    if not held_y and abs(y) < reach:
        return Snap(Spot(x, 0.0, "", ALONG), (*words, "on the axis"), tuple(guides))
    if not held_x and not sketch.turned and abs(x) < reach:
        return Snap(Spot(0.0, y, "", ACROSS), (*words, "on the cross axis"), tuple(guides))
    for p in points.values():
        if not held_x and abs(p.x - x) < reach / 2 and last is not None:
            x, held_x = p.x, True
            words.append(f"in line with {p.id}")
            guides.append(((p.x, p.y), (x, y)))
        elif not held_y and abs(p.y - y) < reach / 2 and last is not None:
            y, held_y = p.y, True
            words.append(f"in line with {p.id}")
            guides.append(((p.x, p.y), (x, y)))
    return Snap(Spot(x, y), tuple(words), tuple(guides))


def _from_curve(sketch: Sketch, points: dict[str, Point], x: float, y: float, reach: float, last: Spot) -> Snap | None:
    """Straight on from an arc's end, or square to a line at its end."""
    if not last.point or last.point == ORIGIN:
        return None
    for curve in sketch.curves():
        ends = ends_of(curve)
        if not ends or last.point not in ends or isinstance(curve, Spline):
            continue
        heading = leaving(curve, points, ends[0] != last.point)[0]
        turns = ((math.pi, f"smoothly from {curve.id}"),) if isinstance(curve, Arc) else (
            (math.pi / 2, f"square to {curve.id}"), (-math.pi / 2, f"square to {curve.id}"),
        )  # fmt: skip
        for turn, words in turns:
            ux, uy = math.cos(heading + turn), math.sin(heading + turn)
            along = (x - last.x) * ux + (y - last.y) * uy
            away = (x - last.x) * uy - (y - last.y) * ux
            if along > 0 and abs(away) < reach:
                hit = (last.x + along * ux, last.y + along * uy)
                return Snap(Spot(*hit), (words,), ((last.xy, hit),))
    return None
