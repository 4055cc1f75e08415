"""Arcs drawn from their centre or on from a line, and slots along an arc."""

from __future__ import annotations

import math

import msgspec

from ..curves import leaving
from ..model import Arc, RelationKind, Sketch, Spline, ends_of
from ..refusal import SketchError
from .draw import Spot, fresh, grown, placed
from .shapes import new_points, related


def add_center_arc(sketch: Sketch, center: Spot, start: Spot, end: Spot) -> tuple[Sketch, str]:
    """An arc about ``center`` from ``start`` towards ``end``, the shorter way round. Raises SketchError for no size."""
    radius = math.hypot(start.x - center.x, start.y - center.y)
    far = math.hypot(end.x - center.x, end.y - center.y)
    if radius < 1e-6 or far < 1e-9:
        raise SketchError("An arc needs a radius and a direction for its end.")
    left = (start.x - center.x) * (end.y - center.y) - (start.y - center.y) * (end.x - center.x) >= 0
    x, y = center.x + (end.x - center.x) / far * radius, center.y + (end.y - center.y) / far * radius
    sketch, c = placed(sketch, center)
    sketch, p = placed(sketch, start)
    sketch, q = placed(sketch, end if abs(far - radius) < 1e-6 else Spot(x, y))
    id_ = fresh(sketch, "a")
    return grown(sketch, [Arc(id_, c, *((p, q) if left else (q, p)))]), id_


def add_tangent_arc(sketch: Sketch, start: Spot, end: Spot) -> tuple[Sketch, str]:
    """An arc that goes on smoothly from the line or arc whose end ``start`` lies on. Raises SketchError for none."""
    radius, heading, before = tangent_arc(sketch, start, end)
    sketch, q = placed(sketch, end)
    sketch, c = placed(sketch, Spot(start.x - math.sin(heading) * radius, start.y + math.cos(heading) * radius))
    id_ = fresh(sketch, "a")
    ends = (start.point, q) if radius > 0 else (q, start.point)
    sketch = grown(sketch, [Arc(id_, c, *ends)])
    return related(sketch, "tangent", before, id_), id_


def tangent_arc(sketch: Sketch, start: Spot, end: Spot) -> tuple[float, float, str]:
    """Signed radius (mm, left turning positive), heading at the start (radians) and the curve it goes on from."""
    before = next((c for c in sketch.curves() if start.point and start.point in (ends_of(c) or ())), None)
    if before is None or isinstance(before, Spline):
        raise SketchError("A tangent arc starts at the end of a line or an arc.")
    backwards = (ends_of(before) or ("", ""))[0] != start.point
    heading = leaving(before, sketch.points(), backwards)[0] + math.pi
    dx, dy = end.x - start.x, end.y - start.y
    side = math.cos(heading) * dy - math.sin(heading) * dx
    if abs(side) < 1e-9:
        raise SketchError("The end lies straight ahead: draw a line, or move it to one side.")
    return (dx * dx + dy * dy) / (2 * side), heading, before.id


def add_arc_slot(sketch: Sketch, center: Spot, start: Spot, end: Spot, width: float) -> tuple[Sketch, str, str]:
    """A slot of ``width`` mm along an arc about ``center``. Returns the construction arc and one round end."""
    sketch, spine_id = add_center_arc(sketch, center, start, end)
    spine = sketch.get(spine_id)
    assert isinstance(spine, Arc)
    points = sketch.points()
    c, half = points[spine.center], width / 2
    radius = math.hypot(points[spine.a].x - c.x, points[spine.a].y - c.y)
    if not 0 < half < radius:
        raise SketchError("A slot needs a width above zero and less than twice its radius.")
    places = []
    for tip in (points[spine.a], points[spine.b]):
        ux, uy = (tip.x - c.x) / radius, (tip.y - c.y) / radius
        places += [(c.x + ux * (radius + s * half), c.y + uy * (radius + s * half)) for s in (-1, 1)]
    entities = tuple(msgspec.structs.replace(e, construction=True) if e.id == spine_id else e for e in sketch.entities)
    sketch, (pi, po, qi, qo) = new_points(msgspec.structs.replace(sketch, entities=entities), places)
    made = []
    # Sides first, then the round ends: each bulges away from the slot.
    for arc in ((spine.center, pi, qi), (spine.center, po, qo), (spine.a, pi, po), (spine.b, qo, qi)):
        made.append(fresh(sketch, "a"))
        sketch = grown(sketch, [Arc(made[-1], *arc)])
    inner, outer, near, far = made
    stated: tuple[tuple[RelationKind, str, str], ...] = (
        ("equal", near, far),
        ("tangent", inner, near),
        ("tangent", outer, near),
        ("tangent", inner, far),
        ("tangent", outer, far),
    )
    for kind, a, b in stated:
        sketch = related(sketch, kind, a, b)
    return sketch, spine_id, near
