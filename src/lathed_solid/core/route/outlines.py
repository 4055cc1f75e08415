"""From solved sketches to kernel faces, and from sketch dimensions to gauges."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from ..sketch.curves import arc_span, half_axis, spline_form
from ..sketch.lettering import Contour, all_contours
from ..sketch.model import Arc, Circle, Ellipse, Line, Point, Sketch, Spline
from ..sketch.region import Loop, Region, find_regions
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
