"""From solved sketches to kernel faces, and from sketch dimensions to gauges."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from ..sketch.curves import arc_span, half_axis, spline_form
from ..sketch.lettering import Contour, all_contours
from ..sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Ellipse, Line, Point, Sketch, Spline
from ..sketch.region import Loop, Region, find_regions
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
from .planes import plane_axes

if TYPE_CHECKING:
    from ..kernel import outline
    from ..kernel.geometry import Frame


def closed_regions(sketch: Sketch, chosen: Sequence[str] = ()) -> tuple[Region, ...]:
    """The areas of a sketch, or those chosen. Raises StepFailure saying where the outline is open or crosses itself."""
    found = find_regions(sketch)
    if problem := found.problem(sketch, bool(chosen)):
        raise StepFailure(problem)
    try:
        return found.chosen(chosen)
    except LookupError as error:
        raise StepFailure(str(error.args[0])) from None


def kernel_loop(loop: Loop, sketch: Sketch) -> tuple[outline.Piece, ...]:
    """The pieces of a loop in order, named after their curves."""
    from ..kernel.outline import FullCircle, FullEllipse

    points, letters = sketch.points(), all_contours(sketch)
    pieces: list[outline.Piece] = []
    for id_, backwards in loop.curves:
        if id_ in letters:
            pieces += _letter(letters[id_])
            continue
        curve = sketch.get(id_)
        if isinstance(curve, Circle):
            c = points[curve.center]
            pieces.append(FullCircle(id_, (c.x, c.y), curve.radius))
        elif isinstance(curve, Ellipse):
            c, (half, ux, uy) = points[curve.center], half_axis(curve, points)
            pieces.append(FullEllipse(id_, (c.x, c.y), (half * ux, half * uy), curve.minor))
        else:
            assert isinstance(curve, Line | Arc | Spline)
            pieces.append(_open_piece(curve, points, backwards))
    return tuple(pieces)


def _open_piece(curve: Line | Arc | Spline, points: Mapping[str, Point], backwards: bool) -> outline.Piece:
    from ..kernel.outline import ArcSegment, FreeCurve, Segment

    if isinstance(curve, Spline):
        form = spline_form(curve, points)
        poles, knots = form.poles, form.knots
        if backwards:
            poles, knots = poles[::-1], (knots[0] + knots[-1] - knots)[::-1]
        return FreeCurve(curve.id, tuple((float(x), float(y)) for x, y in poles), tuple(float(k) for k in knots))
    ends = [points[curve.a], points[curve.b]]
    a, b = reversed(ends) if backwards else ends
    if isinstance(curve, Line):
        return Segment(curve.id, (a.x, a.y), (b.x, b.y))
    c, (start, sweep, radius) = points[curve.center], arc_span(curve, points)
    middle = start + sweep / 2
    through = (c.x + radius * math.cos(middle), c.y + radius * math.sin(middle))
    return ArcSegment(curve.id, (a.x, a.y), through, (b.x, b.y))


def _letter(contour: Contour) -> list[outline.Piece]:
    """The pieces of one line of a letter; straight ones as such, those of no length left out."""
    from ..kernel.outline import Cubic, Segment

    pieces: list[outline.Piece] = []
    for poles in contour.cubics:
        p = [(float(x), float(y)) for x, y in poles]
        dx, dy = p[3][0] - p[0][0], p[3][1] - p[0][1]
        size = math.hypot(dx, dy)
        if size < 1e-7:
            continue
        bent = max(abs(dx * (q[1] - p[0][1]) - dy * (q[0] - p[0][0])) / size for q in p[1:3])
        pieces.append(Segment(contour.name, p[0], p[3]) if bent < 1e-9 else Cubic(contour.name, tuple(p)))  # type: ignore[arg-type]
    return pieces


def sketch_frame(sketch: Sketch, offset: float, angle: float) -> Frame:
    """Where the sketch's plane lies in the part: Z is the turning axis."""
    from ..kernel.geometry import Frame

    return Frame(*plane_axes(sketch.plane.base, offset, angle))


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
