"""Tools that draw something new."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...quantity import negated
from ..make import draw, freehand, rounds, shapes
from ..make.draw import Spot, fresh
from ..make.size import make_dimension
from ..model import ALONG, Dimension, Line, Sketch
from ..refusal import SketchError
from .tool import (
    LENGTH_ANGLE,
    Field,
    Given,
    Tool,
    Typed,
    Values,
    aim_box,
    aim_half_box,
    aim_polar,
    aim_radial,
    gap_to,
    live_box,
    live_half_box,
    live_polar,
    live_radial,
)


def _with_size(sketch: Sketch, typed: Values, key: str, ids: tuple[str, ...], kind: str | None = None) -> Sketch:
    """With the size typed for ``key``, if one was."""
    import msgspec

    if key not in typed:
        return sketch
    made, _ = make_dimension(sketch, ids, typed[key].text, kind)  # type: ignore[arg-type]
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made), stations=None)


def point(sketch: Sketch, g: Given) -> Sketch:
    return draw.add_point(sketch, g.spots[0])[0]


def line(sketch: Sketch, g: Given) -> Sketch:
    return _line(sketch, g, False)


def center_line(sketch: Sketch, g: Given) -> Sketch:
    return _line(sketch, g, True)


def _line(sketch: Sketch, g: Given, construction: bool) -> Sketch:
    sketch, id_ = draw.add_line(sketch, g.spots[0], g.spots[1], construction)
    sketch = _with_size(sketch, g.typed, "length", (id_,), "distance")
    return _with_angle(sketch, id_, g.typed.get("angle"))


def _with_angle(sketch: Sketch, line: str, typed: Typed | None) -> Sketch:
    """A typed direction; level and upright lines have theirs from the relation."""
    import msgspec

    if typed is None or any(r.kind in ("horizontal", "vertical") and r.of == (line,) for r in sketch.relations):
        return sketch
    turn = math.remainder(typed.value, 2 * math.pi)
    if abs(math.sin(turn)) < 1e-9:
        return sketch
    bare = negated(typed.text) if typed.value < 0 and typed.text.strip().startswith("-") else typed.text.strip()
    sense = 1 if typed.value > 0 else -1
    made = Dimension(id=fresh(sketch, "d"), kind="angle", of=(ALONG, line), text=bare, sense=sense)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made), stations=None)


def rectangle(sketch: Sketch, g: Given) -> Sketch:
    before = {e.id for e in sketch.entities}
    sketch = draw.add_rectangle(sketch, g.spots[0], g.spots[1])
    lines = [e for e in sketch.entities if isinstance(e, Line) and e.id not in before]
    sketch = _with_size(sketch, g.typed, "width", (lines[0].a, lines[0].b), "distance")
    return _with_size(sketch, g.typed, "height", (lines[1].a, lines[1].b), "distance")


def center_rectangle(sketch: Sketch, g: Given) -> Sketch:
    a, b = g.spots
    sketch, middle = draw.placed(sketch, a)
    sketch, lines = shapes.add_centred_rectangle(sketch, middle, 2 * abs(b.x - a.x), 2 * abs(b.y - a.y))
    sketch = _with_size(sketch, g.typed, "width", (lines[3], lines[1]), "distance")
    return _with_size(sketch, g.typed, "height", (lines[0], lines[2]), "distance")


def slanted_rectangle(sketch: Sketch, g: Given) -> Sketch:
    before = {e.id for e in sketch.entities}
    sketch = shapes.add_slanted_rectangle(sketch, *g.spots)
    lines = [e for e in sketch.entities if isinstance(e, Line) and e.id not in before]
    sketch = _with_size(sketch, g.typed, "length", (lines[0].id,), "distance")
    sketch = _with_angle(sketch, lines[0].id, g.typed.get("angle"))
    return _with_size(sketch, g.typed, "height", (lines[1].id,), "distance")


def circle(sketch: Sketch, g: Given) -> Sketch:
    a, b = g.spots
    sketch, id_ = draw.add_circle(sketch, a, math.dist(a.xy, b.xy))
    if b.point and "diameter" not in g.typed:
        sketch = shapes.related(sketch, "on", b.point, id_) if b.point in sketch.points() else sketch
    return _with_size(sketch, g.typed, "diameter", (id_,), "diameter")


def arc(sketch: Sketch, g: Given) -> Sketch:
    sketch, id_ = draw.add_arc(sketch, *g.spots)
    return _with_size(sketch, g.typed, "radius", (id_,), "radius")


def center_arc(sketch: Sketch, g: Given) -> Sketch:
    sketch, id_ = rounds.add_center_arc(sketch, *g.spots)
    return _with_size(sketch, g.typed, "radius", (id_,), "radius")


def tangent_arc(sketch: Sketch, g: Given) -> Sketch:
    sketch, id_ = rounds.add_tangent_arc(sketch, *g.spots)
    return _with_size(sketch, g.typed, "radius", (id_,), "radius")


def _polygon(sketch: Sketch, g: Given, flats: bool) -> Sketch:
    a, b = g.spots
    sides = round(g.typed["sides"].value) if "sides" in g.typed else 6
    if flats and sides % 2:
        raise SketchError("Only polygons of an even number of sides have flats across.")
    far = 2 * math.dist(a.xy, b.xy)
    corners = far / math.cos(math.pi / sides) if flats else far
    sketch, middle = draw.placed(sketch, a)
    sketch, circle_id, lines = shapes.add_polygon(sketch, middle, sides, corners)
    if flats:
        return _with_size(sketch, g.typed, "across", (lines[0], lines[sides // 2]), "distance")
    return _with_size(sketch, g.typed, "across", (circle_id,), "diameter")


def flats_polygon(sketch: Sketch, g: Given) -> Sketch:
    return _polygon(sketch, g, True)


def corners_polygon(sketch: Sketch, g: Given) -> Sketch:
    return _polygon(sketch, g, False)


def slot(sketch: Sketch, g: Given) -> Sketch:
    a, b, c = g.spots
    sketch, p = draw.placed(sketch, a)
    sketch, q = draw.placed(sketch, b)
    width = g.typed["width"].value if "width" in g.typed else 2 * gap_to(a, b, c)
    sketch, spine, sides = shapes.add_slot_between(sketch, p, q, width)
    if abs(a.y - b.y) < 1e-9:
        sketch = shapes.related(sketch, "horizontal", spine)
    elif abs(a.x - b.x) < 1e-9:
        sketch = shapes.related(sketch, "vertical", spine)
    sketch = _with_size(sketch, g.typed, "length", (spine,), "distance")
    sketch = _with_angle(sketch, spine, g.typed.get("angle"))
    return _with_size(sketch, g.typed, "width", (sides[0], sides[1]), "distance")


def arc_slot(sketch: Sketch, g: Given) -> Sketch:
    center, a, b, c = g.spots
    off = abs(math.dist(center.xy, c.xy) - math.dist(center.xy, a.xy))
    width = g.typed["width"].value if "width" in g.typed else 2 * off
    sketch, spine, cap = rounds.add_arc_slot(sketch, center, a, b, width)
    sketch = _with_size(sketch, g.typed, "radius", (spine,), "radius")
    return _with_size(sketch, g.typed, "width", (cap,), "diameter")


def ellipse(sketch: Sketch, g: Given) -> Sketch:
    a, b, c = g.spots
    minor = g.typed["short"].value / 2 if "short" in g.typed else gap_to(a, b, c)
    sketch, id_ = freehand.add_ellipse(sketch, a, b, minor)
    sketch = _with_size(sketch, g.typed, "long", (id_,), "long_axis")
    return _with_size(sketch, g.typed, "short", (id_,), "short_axis")


def spline(sketch: Sketch, g: Given) -> Sketch:
    return freehand.add_spline(sketch, g.spots)[0]


def text(sketch: Sketch, g: Given) -> Sketch:
    on = g.spots[0].curve or (g.chosen[0] if len(g.chosen) == 1 else "")
    if not on:
        raise SketchError("Click the line or arc that the text stands on.")
    words = g.typed["text"].text if "text" in g.typed else ""
    height = g.typed["height"].value if "height" in g.typed else 0.0
    sketch, id_ = freehand.add_text(sketch, on, words, height, align="middle")
    return _with_size(sketch, g.typed, "height", (id_,), "height")


def _ellipse_live(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if len(spots) == 1:
        return {"long": 2 * math.dist(spots[0].xy, here.xy)}
    return {"short": 2 * gap_to(spots[0], spots[1], here)} if len(spots) == 2 else {}


def _slot_live(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if len(spots) == 1:
        return live_polar(spots, here)
    return {"width": 2 * gap_to(spots[0], spots[1], here)} if len(spots) == 2 else {}


def _arc_slot_live(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if len(spots) == 1:
        return {"radius": math.dist(spots[0].xy, here.xy)}
    if len(spots) == 3:
        return {"width": 2 * abs(math.dist(spots[0].xy, here.xy) - math.dist(spots[0].xy, spots[1].xy))}
    return {}


def _slant_live(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if len(spots) == 1:
        return live_polar(spots, here)
    return {"height": gap_to(spots[0], spots[1], here)} if len(spots) == 2 else {}


def _aim_first(aim_with: str) -> Callable[[tuple[Spot, ...], Spot, Values], Spot]:
    """Only the second place is aimed."""

    def aim(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
        if len(spots) != 1:
            return here
        return aim_polar(spots, here, typed) if aim_with == "polar" else aim_radial(aim_with, 1.0)(spots, here, typed)

    return aim


def _aim_slant(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    if len(spots) == 1:
        return aim_polar(spots, here, typed)
    if len(spots) == 2 and "height" in typed:
        a, b = spots
        size = math.dist(a.xy, b.xy) or 1.0
        side = (b.x - a.x) * (here.y - a.y) - (b.y - a.y) * (here.x - a.x)
        h = math.copysign(typed["height"].value, side)
        return Spot(b.x - (b.y - a.y) / size * h, b.y + (b.x - a.x) / size * h)
    return here


SIDES = Field("sides", "sides", "number", "6")
DRAWING = (
    Tool("point", "Point", "point", ("Click where the point is to be",), point, 1),
    Tool("line", "Line", "line", ("First end of the line", "Next end; Esc ends the run"), line, 2, ((), LENGTH_ANGLE),
         aim_polar, live_polar, goes_on=True),
    Tool("centre_line", "Centre line", "centre_line", ("First end of the centre line", "Other end"), center_line, 2,
         ((), LENGTH_ANGLE), aim_polar, live_polar),
    Tool("rectangle", "Rectangle by corners", "rectangle", ("First corner", "Opposite corner"), rectangle, 2,
         ((), (Field("width", "width"), Field("height", "height"))), aim_box, live_box),
    Tool("centre_rectangle", "Rectangle about its centre", "centre_rectangle", ("Centre", "A corner"),
         center_rectangle, 2,
         ((), (Field("width", "width"), Field("height", "height"))), aim_half_box, live_half_box),
    Tool("slanted_rectangle", "Rectangle over an edge", "slanted_rectangle",
         ("First end of an edge", "Other end of the edge", "How high it stands over the edge"), slanted_rectangle, 3,
         ((), LENGTH_ANGLE, (Field("height", "height"),)), _aim_slant, _slant_live),
    Tool("circle", "Circle", "circle", ("Centre", "A place on the circle"), circle, 2,
         ((), (Field("diameter", "Ø"),)), aim_radial("diameter"), live_radial("diameter")),
    Tool("arc", "Arc over three places", "arc", ("First end", "Other end", "A place on the arc"), arc, 3,
         ((), (), (Field("radius", "R"),))),
    Tool("centre_arc", "Arc about a centre", "centre_arc", ("Centre", "Where it begins", "Where it ends"),
         center_arc, 3,
         ((), (Field("radius", "R"),)), _aim_first("radius"), live_radial("radius", 1.0)),
    Tool("tangent_arc", "Arc on from an end", "tangent_arc", ("The end of a line or arc", "Where the arc ends"),
         tangent_arc, 2, ((), (Field("radius", "R"),))),
    Tool("polygon", "Polygon across flats", "polygon", ("Centre", "The middle of a flat"), flats_polygon, 2,
         ((), (Field("across", "across flats"), SIDES)), aim_radial("across"), live_radial("across")),
    Tool("corner_polygon", "Polygon across corners", "corner_polygon", ("Centre", "A corner"), corners_polygon, 2,
         ((), (Field("across", "across corners"), SIDES)), aim_radial("across"), live_radial("across")),
    Tool("slot", "Slot", "slot", ("Centre of one end", "Centre of the other end", "How wide"), slot, 3,
         ((), LENGTH_ANGLE, (Field("width", "width"),)), _aim_first("polar"), _slot_live),
    Tool("arc_slot", "Slot along an arc", "arc_slot",
         ("Centre of the arc", "Centre of one end", "Centre of the other end", "How wide"), arc_slot, 4,
         ((), (Field("radius", "R"),), (), (Field("width", "width"),)), _aim_first("radius"), _arc_slot_live),

    Tool("ellipse", "Ellipse", "ellipse", ("Centre", "End of one axis", "How wide the other way"), ellipse, 3,
         ((), (Field("long", "axis"),), (Field("short", "other axis"),)), aim_radial("long"), _ellipse_live),
    Tool("spline", "Free edge through places", "spline",
         ("First place", "Next place; Enter ends, the first place closes"), spline, -1),
    Tool("text", "Letters on a line or arc", "text",
         ("Type the text and its height, then click a line or arc",), text, 1,
         ((Field("text", "text", "text"), Field("height", "height", "length", "5")),)),
)  # fmt: skip
