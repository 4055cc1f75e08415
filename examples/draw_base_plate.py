"""SKP-03, the recorder's base plate, in inches: one sketch for outline, pocket and slot, one for each hole pattern."""

from __future__ import annotations

import math
from typing import Any

import msgspec
from msgspec.structs import replace
from scripted import drawn, with_callouts

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content, Route
from lathed_solid.core.job.settle import settle
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.stock import Stock
from lathed_solid.core.sketch.curves import nearest
from lathed_solid.core.sketch.edit import corner, trim
from lathed_solid.core.sketch.explain import finish
from lathed_solid.core.sketch.model import Circle, Line, Plane, Relation, Sketch
from lathed_solid.core.sketch.region import find_regions

#: Notes and labels, in the order of their balloons.
CALLOUTS = [
    ("7 1/2", "length"),
    ("4 3/4", "width"),
    ("5/8", "thickness"),
    ("4x R3/8", "corner reliefs"),
    ("3 1/8", "pocket, length"),
    ("1 7/8", "pocket, width"),
    (".28", "pocket, depth"),
    ("4x R3/16", "pocket corners"),
    ("2 1/2", "pocket centre, X"),
    ("2 3/8", "pocket and slot centre, Y"),
    ("5/16", "slot, width"),
    ("1 1/4", "slot, between centres"),
    ("5 3/4", "slot centre, X"),
    ("4x Ø.266 THRU cbore Ø.438 x .25 deep", "fixing holes"),
    ("1", "fixing holes, X"),
    ("1/2", "fixing holes, Y"),
    ("6x 10-24 UNC-2B .38 deep drill Ø.1495 dp .50", "tapped holes"),
    ("5/8", "tapped holes, first X"),
    ("1 1/8", "tapped holes, first Y"),
    ("1 7/8", "tapped holes, X pitch"),
    ("2 1/2", "tapped holes, Y pitch"),
]
TOP = FaceRef("s1/end", "top, Z 0")


def outline(sketch: Sketch, ledger: Ledger) -> Sketch:
    """Outline with its reliefs, the pocket with its corners, and the slot; fully pinned by callouts."""
    sketch = drawn(sketch, ledger, "rect #1 x #2 at #1/2,#2/2")
    edges = [c for c in sketch.curves() if isinstance(c, Line) and not c.construction]
    circles = []
    for point in dict.fromkeys(p for line in edges for p in (line.a, line.b)):
        sketch = drawn(sketch, ledger, f"circle R#4 at {point}")
        circles.append(sketch.curves()[-1].id)
    # One size; the other three are equal to it.
    rest = tuple(d for d in sketch.dimensions if d.of not in {(c,) for c in circles[1:]})
    equal = Relation("r_reliefs", "equal", tuple(circles))
    sketch = msgspec.structs.replace(sketch, dimensions=rest, relations=(*sketch.relations, equal))
    for circle in circles:
        sketch = _relieved(sketch, circle)
    sketch = settle_sketch(sketch, ledger)
    before = {e.id for e in sketch.entities}
    sketch = drawn(sketch, ledger, "rect #5 x #6 at #9,#10")
    lines = [e for e in sketch.entities if e.id not in before and isinstance(e, Line) and not e.construction]
    radius = 3 / 16 * 25.4
    for point in dict.fromkeys(p for line in lines for p in (line.a, line.b)):
        sketch, _ = corner.round_corner(sketch, (point,), "#8", radius)
    return drawn(settle_sketch(sketch, ledger), ledger, "slot #11 x #12 at #13,#10")


def _relieved(sketch: Sketch, id_: str) -> Sketch:
    """Trim what stands over at one corner: the circle outside, both lines inside."""
    circle = sketch.get(id_)
    assert isinstance(circle, Circle)
    c, r = sketch.points()[circle.center], circle.radius
    away = math.copysign(1, c.x - 90), math.copysign(1, c.y - 60)
    sketch = trim.trim(sketch, id_, (c.x + away[0] * r * 0.7071, c.y + away[1] * r * 0.7071))
    for at in ((c.x - away[0] * r / 2, c.y), (c.x, c.y - away[1] * r / 2)):
        points = sketch.points()
        edges = [e for e in sketch.curves() if isinstance(e, Line) and not e.construction]
        sketch = trim.trim(sketch, min(edges, key=lambda e: nearest(e, points, *at)[0]).id, at)
    return sketch


def base_plate(content: Content) -> Content:
    """Callouts and route under a title block."""
    content = with_callouts(content, CALLOUTS)
    ledger = content.ledger()
    content, flat = edits.add_sketch(content, "Outline, pocket and slot", Plane("end"))
    content = edits.set_sketch(content, outline(content.sketch(flat), ledger))
    regions = find_regions(content.sketch(flat))
    pocket = max(regions.openings, key=lambda r: r.outer.area).id
    for name, areas, depth, mode in (
        ("Plate", (regions.regions[0].id, pocket), "#3", "add"),
        ("Pocket", (pocket,), "#7", "cut"),
    ):
        content, _ = edits.with_step(
            content, Extrude, name=name, sketch=flat, regions=areas, mode=mode, extent="depth", depth=depth,
            direction="backward",
        )  # fmt: skip
    holes = (
        ("Fixing holes", ("point #15,#16", "grid 2 x #1-2*#15 by 2 x #2-2*#16 of p1"),
         {"diameter": "#14", "seat": "counterbore", "seat_diameter": "#14.seat", "seat_depth": "#14.seat_depth"}),
        ("Tapped holes", ("point #18,#19", "grid 3 x #20 by 2 x #21 of p1"),
         {"thread": "#17", "diameter": "#17.drill", "extent": "depth", "depth": "#17.drill_depth",
          "thread_depth": "#17.depth"}),
    )  # fmt: skip
    for name, texts, fields in holes:
        content, points = edits.add_sketch(content, name, Plane("end"))
        content = edits.set_sketch(content, drawn(content.sketch(points), ledger, *texts))
        content, _ = edits.with_step(content, Hole, name=name, face=TOP, placement="sketch", sketch=points, **fields)
    return settle(_engraved(content, ledger)).content


def with_routes(content: Content, blank: dict[str, Any]) -> Content:
    """The same plate three ways: material added, cut from its blank, a half and its mirror."""
    plate, pocket, fixing, tapped, number = content.steps
    content = edits.rename_route(content, "added")
    content, stock = edits.new_step_id(content)
    first = Stock(id=stock, name="Blank", **blank)
    cut = (first, replace(plate, name="Outline", mode="keep"), pocket, fixing, tapped, number)
    content, far = _flat(content, "Far half", "rect #1+1 x #2/2 at #1/2,3*#2/4")
    content, screws = _flat(content, "Fixing holes, half", "point #15,#16", "point #1-#15,#16")
    content, threads = _flat(content, "Tapped holes, half", "point #18,#19", "point #18+#20,#19", "point #18+2*#20,#19")
    ids = []
    for _ in range(4):
        content, id_ = edits.new_step_id(content)
        ids.append(id_)
    half = (
        plate,
        pocket,
        Extrude(id=ids[0], name="Far half away", sketch=far),
        replace(fixing, id=ids[1], sketch=screws),
        replace(tapped, id=ids[2], sketch=threads),
        Mirror(id=ids[3], name="Other half", of_bodies=(plate.id,), about="xz", offset="#2/2", joined="joined"),
        number,
    )
    routes = (*content.routes, Route(name="cut", steps=cut), Route(name="half", steps=half))
    return settle(replace(content, routes=routes)).content


def _flat(content: Content, name: str, *texts: str) -> tuple[Content, str]:
    """A sketch on the top."""
    content, id_ = edits.add_sketch(content, name, Plane("end"))
    return edits.set_sketch(content, drawn(content.sketch(id_), content.ledger(), *texts)), id_


def _engraved(content: Content, ledger: Ledger) -> Content:
    """The part's number, a cosmetic extra ticked off."""
    content, letters = edits.add_sketch(content, "Number", Plane("end"))
    number = drawn(content.sketch(letters), ledger, "cl 5,.5 6.5,.5", 'text "SKP-03" .3 on l1 middle bold')
    for pin in finish.pins(number, dimension_values(number, ledger)):
        number = finish.with_pin(number, pin, content.header.typed_style.length(pin.value))
    content = edits.set_sketch(content, number)
    content, _ = edits.with_step(
        content, Extrude, name="Engraved number", sketch=letters, extent="depth", depth=".02", direction="backward",
        suppressed=True,
    )  # fmt: skip
    return content
