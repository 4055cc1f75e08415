"""Ellipses, free edges and lettering."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import msgspec

from ...tolerance import ONE_PLACE
from ..curves import spline_form
from ..model import Arc, Ellipse, Line, Point, Sketch, Spline, Text
from ..refusal import SketchError
from .draw import Spot, fresh, grown, placed


def add_ellipse(sketch: Sketch, center: Spot, axis: Spot, minor: float) -> tuple[Sketch, str]:
    """An ellipse: centre, the end of its first half axis, and the length of the other half axis (mm)."""
    if math.dist(center.xy, axis.xy) < ONE_PLACE or minor < 1e-6:
        raise SketchError("An ellipse needs two half axes above zero.")
    sketch, c = placed(sketch, center)
    sketch, a = placed(sketch, axis)
    id_ = fresh(sketch, "e")
    return grown(sketch, [Ellipse(id_, c, a, minor)]), id_


def add_spline(sketch: Sketch, spots: Sequence[Spot]) -> tuple[Sketch, str]:
    """A free edge through places; closed when the last one is the first. Raises SketchError for fewer than two."""
    ids: list[str] = []
    for spot in spots:
        if ids and math.dist(spot.xy, spots[len(ids) - 1].xy) < ONE_PLACE:
            continue
        if len(ids) > 2 and math.dist(spot.xy, spots[0].xy) < ONE_PLACE:
            ids.append(ids[0])
            break
        sketch, id_ = placed(sketch, spot)
        ids.append(id_)
    if len(ids) < 2:
        raise SketchError("A spline needs two different places at least.")
    name = fresh(sketch, "s")
    return grown(sketch, [Spline(name, tuple(ids))]), name


def with_handle(sketch: Sketch, spline: str, at_start: bool) -> Sketch:
    """A handle point that gives the spline's direction at one end, in its present direction."""
    entity = sketch.get(spline)
    if not isinstance(entity, Spline) or entity.through[0] == entity.through[-1]:
        raise SketchError("Only an open spline has a direction at its end.")
    points = sketch.points()
    form = spline_form(entity, points)
    ux, uy = map(float, form.at(form.knots[:1] if at_start else form.knots[-1:], 1)[0])
    size = math.hypot(ux, uy) or 1.0
    end = points[entity.through[0 if at_start else -1]]
    reach = 0.3 * float(form.knots[-1]) / max(1, len(entity.through) - 1) * (1 if at_start else -1)
    handle = fresh(sketch, "h")
    sketch = grown(sketch, [Point(handle, end.x + ux / size * reach, end.y + uy / size * reach)])
    # The handle at the end points back into the curve, as the one at the start does.
    changed: Any = msgspec.structs.replace(entity, **{"start" if at_start else "end": handle})
    entities = tuple(changed if e.id == spline else e for e in sketch.entities)
    return msgspec.structs.replace(sketch, entities=entities)


def add_text(sketch: Sketch, on: str, text: str, height: float, **style: Any) -> tuple[Sketch, str]:
    """Letters along a line or arc. ``style``: align, spacing, font. Raises SketchError for nothing to write."""
    if not text.strip():
        raise SketchError("There is nothing to write yet.")
    if height <= 0:
        raise SketchError("Letters need a height above zero.")
    if not isinstance(sketch.get(on), Line | Arc):
        raise SketchError("Letters stand on a line or an arc.")
    id_ = fresh(sketch, "t")
    return grown(sketch, [Text(id=id_, on=on, text=text, height=height, **style)]), id_


def with_text(sketch: Sketch, id_: str, **fields: Any) -> Sketch:
    """The sketch with a text changed (its words, align, spacing, font). Raises SketchError for nothing to write."""
    if not fields.get("text", "x").strip():
        raise SketchError("There is nothing to write yet.")
    entities = tuple(msgspec.structs.replace(e, **fields) if e.id == id_ else e for e in sketch.entities)
    return msgspec.structs.replace(sketch, entities=entities)
