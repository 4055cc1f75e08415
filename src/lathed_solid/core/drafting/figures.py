"""The figure of every kind of dimension: its lines, arrows, and where its text would stand by itself."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from ..sketch.copies import Copy
from ..sketch.curves import arc_span, at, nearest, polyline
from ..sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Ellipse, Line, Sketch, Text
from ..sketch.traces import Traces
from .place import Box, Place, Scale

BUILT_IN = (ORIGIN, ALONG, ACROSS)


def bounds(sketch: Sketch, under: Traces | None = None) -> Box:
    """Box of the sketch, and of a scan under it, in mm; a turned profile with both halves."""
    points = sketch.points()
    lines = [polyline(c, points) for c in sketch.curves()]
    lines += [np.array([(p.x, p.y) for p in points.values()])] if points else []
    if under is not None:
        lines += [np.reshape(s, (2, 2)) for s in under.lines]
        lines += [np.array([(x - r, y - r), (x + r, y + r)]) for x, y, r in under.circles]
    if not lines:
        return Box(-5, -15, 60, 30)
    every = np.concatenate(lines)
    if float(np.ptp(every, axis=0).max()) < 1e-6:  # a lone point is seen with the zero its sizes run from
        every = np.concatenate([every, [(0.0, 0.0)]])
    (x0, y0), (x1, y1) = every.min(axis=0), every.max(axis=0)
    if sketch.turned:
        y1 = max(abs(y0), abs(y1))
        y0 = -y1
    return Box(float(x0), float(y0), float(x1 - x0), float(y1 - y0))


class Figure(NamedTuple):
    """A dimension laid out in pixels: line pieces, arrow heads (tip, direction) and where its text is centred."""

    dimension: Dimension
    lines: tuple[tuple[Place, Place], ...]
    arrows: tuple[tuple[Place, tuple[float, float]], ...]
    text_at: Place


def anchor(sketch: Sketch, id_: str) -> tuple[float, float]:
    """Where a dimension takes hold of an element, mm."""
    if id_ in BUILT_IN:
        return 0.0, 0.0
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        # The end farther from the axis: where a drawing would start its extension line.
        p = a if abs(a.y) >= abs(b.y) else b
    elif isinstance(entity, Circle | Arc | Ellipse):
        p = points[entity.center]
    else:
        p = points[id_]
    return p.x, p.y


def middle(sketch: Sketch, id_: str) -> tuple[float, float]:
    """The middle of a line, or the anchor of anything else, mm."""
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Text):
        entity = sketch.get(entity.on)
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        return (a.x + b.x) / 2, (a.y + b.y) / 2
    return anchor(sketch, entity.id)


def figure_of(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    """The figure of one dimension, where it stands when nothing is in its way."""
    return _DRAW.get(d.kind, _beside)(sketch, d, t)


# --- by kind
def _diameter(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    id_ = d.of[0]
    if id_ not in sketch.points() and isinstance(sketch.get(id_), Circle | Arc):
        return _round(sketch, d, t)
    x, y = middle(sketch, id_)
    top, bottom = t.at(x, abs(y)), t.at(x, -abs(y))
    return Figure(d, ((top, bottom),), ((top, (0.0, -1.0)), (bottom, (0.0, 1.0))), t.at(x, 0))


def _round(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    entity, points = sketch.get(d.of[0]), sketch.points()
    assert isinstance(entity, Circle | Arc)
    c = points[entity.center]
    if isinstance(entity, Circle):
        angle, radius = math.radians(40), entity.radius
    else:
        start, sweep, radius = arc_span(entity, points)
        angle = start + sweep / 2
    rim = t.at(c.x + radius * math.cos(angle), c.y + radius * math.sin(angle))
    away = 1.0 if isinstance(entity, Circle) else -1.0 if radius * t.scale > 60 else 1.0
    text = Place(rim.x + away * 30 * math.cos(angle), rim.y - away * 30 * math.sin(angle))
    return Figure(d, ((rim, text),), ((rim, (-away * math.cos(angle), away * math.sin(angle))),), text)


def _axis_of(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    """An ellipse's axis, from end to end."""
    entity, points = sketch.get(d.of[0]), sketch.points()
    assert isinstance(entity, Ellipse)
    c, a = points[entity.center], points[entity.a]
    dx, dy = a.x - c.x, a.y - c.y
    if d.kind == "short_axis":
        size = math.hypot(dx, dy) or 1.0
        dx, dy = -dy / size * entity.minor, dx / size * entity.minor
    return _between(d, t.at(c.x - dx, c.y - dy), t.at(c.x + dx, c.y + dy))


def _between(d: Dimension, a: Place, b: Place) -> Figure:
    dx, dy = b.x - a.x, b.y - a.y
    size = math.hypot(dx, dy) or 1.0
    way = (dx / size, dy / size)
    return Figure(d, ((a, b),), ((a, (-way[0], -way[1])), (b, way)), Place((a.x + b.x) / 2, (a.y + b.y) / 2))


def _offset(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    """Between a curve and its offset, at the middle of the first pair."""
    points = sketch.points()
    source, copy = sketch.get(d.of[0]), sketch.get(d.of[1])
    if isinstance(source, Circle) and isinstance(copy, Circle):
        c = points[source.center]
        u = (math.cos(0.6), math.sin(0.6))
        return _between(
            d,
            t.at(c.x + source.radius * u[0], c.y + source.radius * u[1]),
            t.at(c.x + copy.radius * u[0], c.y + copy.radius * u[1]),
        )
    p = at(source, points, 0.5)  # type: ignore[arg-type]
    return _between(d, t.at(*p), t.at(*nearest(copy, points, *p)[1]))  # type: ignore[arg-type]


def _pitch(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    """From the original to its first copy."""
    repeat = next(r for r in sketch.repeats if r.id == d.of[0])
    source = next(i for i in repeat.of if i in sketch.points())
    first = Copy(repeat.id, *((0, 1) if d.kind == "pitch2" else (1, 0)), source).id
    points = sketch.points()
    p, q = points[source], points.get(first, points[source])
    return _between(d, t.at(p.x, p.y), t.at(q.x, q.y))


def _beside(sketch: Sketch, d: Dimension, t: Scale) -> Figure:
    """Angles, legs and straight distances: at the middle of what they size, a little off."""
    known = [middle(sketch, i) for i in d.of if i in sketch.by_id]
    x, y = (sum(p[k] for p in known) / max(1, len(known)) for k in (0, 1))
    at = t.at(x, y)
    if d.kind == "distance" and len(d.of) == 2:
        return _between(d, *_closest(sketch, d, t))
    entity = sketch.by_id.get(d.of[0])
    above = 14.0 if d.kind == "angle" else entity.height * t.scale if isinstance(entity, Text) else 0.0
    text = Place(at.x + 18, at.y - 20 - above)
    return Figure(d, ((at, Place(text.x - 8, text.y + 5)),), (), text)


def _closest(sketch: Sketch, d: Dimension, t: Scale) -> tuple[Place, Place]:
    """Ends of a straight distance: square onto a line when one of the two is a line."""
    lines = [i for i in d.of if i not in BUILT_IN and isinstance(sketch.get(i), Line)]
    if not lines:
        return _rims(sketch, d, t)
    line, points = sketch.get(lines[0]), sketch.points()
    assert isinstance(line, Line)
    other = next((i for i in d.of if i != lines[0]), lines[0])
    a, b = points[line.a], points[line.b]
    x, y = middle(sketch, other) if other not in BUILT_IN else (0.0, 0.0)
    length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    ux, uy = (b.x - a.x) / length, (b.y - a.y) / length
    along = (x - a.x) * ux + (y - a.y) * uy
    foot = (a.x + along * ux, a.y + along * uy)
    entity = None if other in BUILT_IN else sketch.get(other)
    if isinstance(entity, Circle | Arc):
        radius = entity.radius if isinstance(entity, Circle) else arc_span(entity, points)[2]
        toward = -1.0 if d.far else 1.0
        gap = math.hypot(foot[0] - x, foot[1] - y) or 1.0
        x += toward * (foot[0] - x) / gap * radius
        y += toward * (foot[1] - y) / gap * radius
    return t.at(*foot), t.at(x, y)


def _rims(sketch: Sketch, d: Dimension, t: Scale) -> tuple[Place, Place]:
    """Between two points or circles, from the edges that are meant."""
    points = sketch.points()
    (ax, ay), (bx, by) = (anchor(sketch, i) for i in d.of)
    size = math.hypot(bx - ax, by - ay)
    ux, uy = ((bx - ax) / size, (by - ay) / size) if size > 1e-9 else (1.0, 0.0)
    ends = []
    for id_, rim, x, y, way in ((d.of[0], d.rim[0], ax, ay, -1.0), (d.of[1], d.rim[1], bx, by, 1.0)):
        entity = sketch.get(id_) if rim and id_ not in BUILT_IN else None
        radius = 0.0
        if isinstance(entity, Circle | Arc):
            radius = entity.radius if isinstance(entity, Circle) else arc_span(entity, points)[2]
            way = 1.0 if size < 1e-9 else way * rim
        ends.append(t.at(x + way * radius * ux, y + way * radius * uy))
    return ends[0], ends[1]


_DRAW: dict[str, Callable[[Sketch, Dimension, Scale], Figure]] = {
    "diameter": _diameter, "radius": _round, "arc_length": _round, "long_axis": _axis_of, "short_axis": _axis_of,
    "offset": _offset, "pitch": _pitch, "pitch2": _pitch, "turn": _pitch,
}  # fmt: skip
