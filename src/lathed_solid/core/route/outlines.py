"""From solved sketches to kernel faces, and from sketch dimensions to gauges."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ..sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Line, Sketch
from ..sketch.region import Loop, Region, arc_span, find_regions
from .gauges import (
    AnyGauge,
    AxisAngle,
    Between,
    Claim,
    Diameter,
    DiameterAt,
    Leg,
    LegAngle,
    Radius,
    claim,
)
from .model import StepFailure

if TYPE_CHECKING:
    from ..kernel import outline
    from ..kernel.geometry import Frame


def closed_regions(sketch: Sketch) -> tuple[Region, ...]:
    """The areas of a sketch. Raises StepFailure saying where the outline is open or crosses itself."""
    found = find_regions(sketch)
    if problem := found.problem(sketch):
        raise StepFailure(problem)
    return found.regions


def kernel_loop(loop: Loop, sketch: Sketch) -> tuple[outline.Piece, ...]:
    """The pieces of a loop in order, named after their curves."""
    from ..kernel.outline import ArcSegment, FullCircle, Segment

    points = sketch.points()
    pieces: list[outline.Piece] = []
    for id_, backwards in loop.curves:
        curve = sketch.get(id_)
        if isinstance(curve, Circle):
            c = points[curve.center]
            pieces.append(FullCircle(id_, (c.x, c.y), curve.radius))
            continue
        assert isinstance(curve, Line | Arc)
        ends = [points[curve.a], points[curve.b]]
        a, b = reversed(ends) if backwards else ends
        if isinstance(curve, Line):
            pieces.append(Segment(id_, (a.x, a.y), (b.x, b.y)))
        else:
            c = points[curve.center]
            start, sweep, radius = arc_span(curve, points)
            middle = start + sweep / 2
            through = (c.x + radius * math.cos(middle), c.y + radius * math.sin(middle))
            pieces.append(ArcSegment(id_, (a.x, a.y), through, (b.x, b.y)))
    return tuple(pieces)


def sketch_frame(sketch: Sketch, offset: float, angle: float) -> Frame:
    """Where the sketch's plane lies in the part: Z is the turning axis."""
    from ..kernel.geometry import Frame

    c, s = math.cos(angle), math.sin(angle)
    if sketch.plane.base == "end":
        return Frame((0.0, 0.0, offset), (c, s, 0.0), (-s, c, 0.0))
    return Frame((-s * offset, c * offset, 0.0), (0.0, 0.0, 1.0), (c, s, 0.0))


def sketch_claims(sketch: Sketch, tag: str) -> list[Claim]:
    """What the dimensions of a swept sketch state about the faces ``tag/<line>/side``."""
    found: list[Claim] = []
    for dimension in sketch.dimensions:
        if not dimension.reference and (gauge := _gauge(sketch, dimension, tag)):
            found += claim(dimension.text, gauge)
    return found + _direction_claims(sketch, tag)


def _direction_claims(sketch: Sketch, tag: str) -> list[Claim]:
    """The stated direction of a side plane is that of the lowest flat it makes."""
    if sketch.plane.base != "side":
        return []
    points = sketch.points()
    level = {r.of[0] for r in sketch.relations if r.kind == "horizontal" and len(r.of) == 1}
    lines = [c for c in sketch.curves() if isinstance(c, Line) and c.id in level and not c.construction]
    if not lines:
        return []
    lowest = min(lines, key=lambda c: points[c.a].y)
    return claim(sketch.plane.angle, AxisAngle(face_of(sketch, lowest.id, tag)))


def _gauge(sketch: Sketch, d: Dimension, tag: str) -> AnyGauge | None:
    if d.kind in ("radius", "diameter"):
        return _round_gauge(sketch, d, tag)
    if d.kind == "angle":
        lines = [i for i in d.of if i not in (ALONG, ACROSS)]
        return LegAngle(face_of(sketch, lines[0], tag)) if len(lines) == 1 and sketch.turned else None
    if d.kind == "along":
        shared = [c.id for c in sketch.curves() if isinstance(c, Line) and {c.a, c.b} == set(d.of)]
        if shared:
            return Leg(face_of(sketch, shared[0], tag))
    a, b = (_flat_at(sketch, id_, tag) for id_ in d.of)
    return Between(a, b, d.far) if a and b else None


def _round_gauge(sketch: Sketch, d: Dimension, tag: str) -> AnyGauge | None:
    id_ = d.of[0]
    if id_ in sketch.points():
        lines = _lines_at(sketch, id_)
        slanted = [i for i in lines if not _is_across(sketch, i)]
        square = [i for i in lines if _is_across(sketch, i)]
        if slanted and square:
            return DiameterAt(face_of(sketch, slanted[0], tag), face_of(sketch, square[0], tag))
        return None
    face = face_of(sketch, id_, tag)
    return Radius(face) if d.kind == "radius" else Diameter(face)


def face_of(sketch: Sketch, id_: str, tag: str) -> str:
    """The face a sketch line makes, or the one it stands for."""
    curve = sketch.get(id_)
    link = getattr(curve, "link", "")
    return link or f"{tag}/{id_}/side"


def _flat_at(sketch: Sketch, id_: str, tag: str) -> str:
    """The face that a dimension's element stands for: its line, or the line across that a point lies on."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return "" if id_ == ALONG else sketch.plane.datum
    if id_ in sketch.points():
        across = [i for i in _lines_at(sketch, id_) if _is_across(sketch, i)]
        return face_of(sketch, across[0], tag) if across else ""
    curve = sketch.get(id_)
    if getattr(curve, "construction", False) and not getattr(curve, "link", ""):
        return ""
    return face_of(sketch, id_, tag)


def _lines_at(sketch: Sketch, point: str) -> list[str]:
    ends = [c.id for c in sketch.curves() if isinstance(c, Line) and point in (c.a, c.b)]
    return ends + [
        r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == point and r.of[1] not in (ALONG, ACROSS)
    ]


def _is_across(sketch: Sketch, line: str) -> bool:
    return any(r.kind == "vertical" and r.of == (line,) for r in sketch.relations)
