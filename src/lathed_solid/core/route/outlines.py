"""From solved sketches to kernel faces, and from sketch dimensions to gauges."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from ..sketch.arrange import source_of
from ..sketch.curves import arc_span, half_axis, spline_form
from ..sketch.lettering import Contour, all_contours
from ..sketch.model import Arc, Circle, Ellipse, Line, Point, Sketch, Spline, ends_of
from ..sketch.refusal import SketchError
from ..sketch.region import Loop, Region, find_regions
from .model import StepFailure, Unfinished

if TYPE_CHECKING:
    from ..kernel.form import outline
    from ..kernel.form.outline import FlatFace
    from ..kernel.ground.geometry import Frame


def closed_regions(sketch: Sketch, chosen: Sequence[str] = ()) -> tuple[Region, ...]:
    """The areas of a sketch, or those chosen. Raises StepFailure saying where the outline is open or crosses itself."""
    found = find_regions(sketch)
    if problem := found.problem(sketch, bool(chosen)):
        raise StepFailure(problem)
    if found.divided and not chosen:
        raise Unfinished("The lines divide the outline into several areas. Click those to be taken.")
    try:
        return found.chosen(chosen)
    except SketchError as error:
        raise StepFailure(error.message) from None


def kernel_loop(loop: Loop, sketch: Sketch) -> tuple[outline.Piece, ...]:
    """The pieces of a loop in order, named after their curves."""
    from ..kernel.form.outline import FullCircle, FullEllipse

    points, letters = {**sketch.points(), **loop.places}, all_contours(sketch)
    pieces: list[outline.Piece] = []
    for id_, backwards in loop.curves:
        if id_ in letters:
            pieces += _letter(letters[id_])
            continue
        curve = loop.pieces.get(id_) or sketch.get(id_)
        if isinstance(curve, Circle):
            c = points[curve.center]
            pieces.append(FullCircle(id_, (c.x, c.y), curve.radius))
        elif isinstance(curve, Ellipse):
            c, (half, ux, uy) = points[curve.center], half_axis(curve, points)
            pieces.append(FullEllipse(id_, (c.x, c.y), (half * ux, half * uy), curve.minor))
        else:
            assert isinstance(curve, Line | Arc | Spline)
            own = msgspec.structs.replace(curve, id=source_of(id_))  # a face is called after the whole line
            pieces.append(_open_piece(own, points, backwards))
    return tuple(pieces)


def _open_piece(curve: Line | Arc | Spline, points: Mapping[str, Point], backwards: bool) -> outline.Piece:
    from ..kernel.form.outline import ArcSegment, FreeCurve, Segment

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
    from ..kernel.form.outline import Cubic, Segment

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


def flats(sketch: Sketch, chosen: Sequence[str], frame: Frame) -> list[FlatFace]:
    """The chosen closed areas of a sketch as kernel faces in ``frame``. Raises StepFailure."""
    from ..kernel.form.outline import flat_face

    return [
        flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), frame)
        for region in closed_regions(sketch, chosen)
    ]


Walk = list[tuple[str, bool]]


def chain(sketch: Sketch) -> tuple[Walk, bool, bool]:
    """All lines of a sketch in one run: (curve, backwards) in order, whether it closes, and whether it turns left.

    Raises StepFailure when they branch or fall apart.
    """
    points = sketch.points()
    curves = [c for c in sketch.curves() if not c.construction]
    if len(curves) == 1 and ends_of(curves[0]) is None:
        return [(curves[0].id, False)], True, True
    spots: dict[tuple[float, float], list[str]] = {}
    ends = {}
    for c in curves:
        two = ends_of(c)
        if two is None:
            raise StepFailure(
                f"The path of “{sketch.name}” must be one run of lines and arcs; {c.id} closes in itself."
            )
        ends[c.id] = [(round(points[p].x, 5), round(points[p].y, 5)) for p in two]
        for spot in ends[c.id]:
            spots.setdefault(spot, []).append(c.id)
    if not curves:
        raise Unfinished(f"The sketch “{sketch.name}” has no lines yet.")
    if any(len(found) > 2 for found in spots.values()):
        raise StepFailure(f"The path of “{sketch.name}” branches. Leave one run of lines and arcs.")
    loose = [s for c in curves for s in ends[c.id] if len(spots[s]) == 1]
    at = loose[0] if loose else ends[curves[0].id][0]
    walk: Walk = []
    while True:
        step = next((i for i in spots.get(at, ()) if i not in {w[0] for w in walk}), None)
        if step is None:
            break
        backwards = ends[step][0] != at
        walk.append((step, backwards))
        at = ends[step][0 if backwards else 1]
    if len(walk) != len(curves):
        raise StepFailure(f"The lines of “{sketch.name}” do not make one run: there is a gap.")
    return walk, not loose, _turns_left(walk, ends)


def _turns_left(walk: Walk, ends: Mapping[str, list[tuple[float, float]]]) -> bool:
    corners = [ends[i][1 if back else 0] for i, back in walk]
    around = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
    return around >= 0


def kernel_chain(walk: Walk, sketch: Sketch) -> tuple[outline.Piece, ...]:
    """The pieces of a run of lines, in order, named after them."""
    points = sketch.points()
    if len(walk) == 1 and ends_of(sketch.get(walk[0][0])) is None:
        return kernel_loop(Loop(tuple(walk), np.zeros((0, 2))), sketch)
    made = []
    for id_, back in walk:
        curve = sketch.get(id_)
        assert isinstance(curve, Line | Arc | Spline)
        made.append(_open_piece(curve, points, back))
    return tuple(made)


def profile_points(sketch: Sketch) -> list[list[tuple[float, float]]]:
    """A run of lines and arcs as places along each piece, from left to right. Raises StepFailure."""
    walk, closed, _ = chain(sketch)
    if closed:
        raise StepFailure(f"The profile “{sketch.name}” must be open: it is the bottom of the groove only.")
    runs = [sampled(piece) for piece in kernel_chain(walk, sketch)]
    if runs[0][0][0] > runs[-1][-1][0]:
        runs = [run[::-1] for run in reversed(runs)]
    return runs


def sampled(piece: outline.Piece, places: int = 17) -> list[tuple[float, float]]:
    """Places along a piece of an outline at equal steps of its own parameter; a straight one by eight."""
    from ..kernel.form.outline import Segment, path_edges
    from ..kernel.ground.geometry import Frame
    from ..kernel.measure.curves import places_on

    flat = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    edge = path_edges((piece,), flat)[0][0]
    found = places_on(edge, 8 if isinstance(piece, Segment) else places)
    return [(x, y) for x, y, _ in found]
