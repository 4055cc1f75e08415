"""SKP-04, the pen-arm clamp: two eyes joined by an outward and an inward tangent arc, a pocket on each side, a slit
and a cross screw. Zero: the big eye's axis, in the middle of its thickness.
"""

from __future__ import annotations

from scripted import drawn, new_sketch, related, sized, with_callouts

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import settle
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.gauges import Between, Count, Position
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.sketch.edit import offset, trim
from lathed_solid.core.sketch.make.draw import link
from lathed_solid.core.sketch.model import Arc, Plane, Sketch

CALLOUTS = [
    ("Ø30", "big eye"),
    ("14", "big eye, thick"),
    ("Ø18", "small eye"),
    ("8", "small eye, thick"),
    ("46", "between eyes, along"),
    ("6", "between eyes, across"),
    ("R60", "upper edge"),
    ("R40", "lower edge"),
    ("6", "web, thick"),
    ("Ø14 H7 THRU", "big bore"),
    ("Ø7 H7 THRU", "small bore"),
    ("3", "pocket to edge"),
    ("1.5", "pocket, deep"),
    ("1.6", "slit, wide"),
    ("2x 9", "flats for the screw, from the axis"),
    ("11", "cross screw, from the axis"),
    ("Ø4.5", "cross screw, clearance"),
    ("M4x0.7 - 6H", "cross screw, thread"),
]


def outline(sketch: Sketch, ledger: Ledger) -> Sketch:
    """Both eyes and the arcs that touch them, trimmed to one closed edge."""
    sketch = drawn(sketch, ledger, "circle Ø#1 at 0,0", "circle Ø#3 at #5,#6")
    for over, radius in (("arc -2,14.87 45,14.95 24,20", "#7"), ("arc 8,-12.69 44,-2.78 27,-3", "#8")):
        sketch = drawn(sketch, ledger, over)
        arc = sketch.curves()[-1]
        assert isinstance(arc, Arc)
        for end in sorted((arc.a, arc.b), key=lambda p: sketch.points()[p].x):
            eye = "c1" if sketch.points()[end].x < 20 else "c2"
            sketch = related(sketch, ledger, "on", end, eye)
            sketch = related(sketch, ledger, "tangent", arc.id, eye)
        sketch = sized(sketch, ledger, radius, arc.id, kind="radius")
    for eye, at in (("c1", (14.5, 3.8)), ("c2", (37.2, 4.2))):
        sketch = trim.trim(sketch, eye, at)
    return sketch


def pocketed(sketch: Sketch, ledger: Ledger) -> Sketch:
    """The outline again as lines to go by, and the pocket's edge inside it."""
    sketch = outline(sketch, ledger)
    edge = tuple(c.id for c in sketch.curves())
    sketch, _ = offset.offset(sketch, edge, "-#12", -3.0)
    for curve in edge:
        sketch = link(sketch, curve, f"s1/{curve}/side")
    return settle_sketch(sketch, ledger)


def clamp(content: Content) -> Content:
    content = with_callouts(content, CALLOUTS)
    ledger = content.ledger()
    content, web = edits.add_sketch(content, "Outline", Plane("end"))
    content = edits.set_sketch(content, outline(content.sketch(web), ledger))
    content, _ = edits.with_step(content, Extrude, name="Web", sketch=web, mode="add", extent="depth", depth="#9")
    content, flat = edits.add_sketch(content, "Pocket", Plane("end"))
    sketch = pocketed(content.sketch(flat), ledger)
    content = edits.set_sketch(content, sketch)
    content, pocket = edits.with_step(
        content, Extrude, name="Pocket", sketch=flat, extent="depth", depth="#13",
        direction="backward", begin=FaceRef("s1/end", "web, upper side"),
    )  # fmt: skip
    content, _ = edits.with_step(content, Mirror, name="Pocket, other side", of=(pocket,), about="xy")
    for name, circle, thick in (("Big eye", "circle Ø#1 at 0,0", "#2"), ("Small eye", "circle Ø#3 at #5,#6", "#4")):
        content, eye = new_sketch(content, name, Plane("end"), circle)
        content, _ = edits.with_step(content, Extrude, name=name, sketch=eye, mode="add", extent="depth", depth=thick)
    for name, face, size in (("Big bore", "s4/end", "#10"), ("Small bore", "s5/end", "#11")):
        content, _ = edits.with_step(content, Hole, name=name, face=FaceRef(face), placement="axis", diameter=size)
    content, slit = new_sketch(content, "Slit", Plane("end"), "rect 20 x #14 at -12,0")
    content, _ = edits.with_step(content, Extrude, name="Slit", sketch=slit)
    content, flats = new_sketch(content, "Flats", Plane("end"), "rect 12 x 8 at -#16,#15+4",
                                "rect 12 x 8 at -#16,-#15-4")  # fmt: skip
    content, _ = edits.with_step(content, Extrude, name="Flats", sketch=flats, extent="depth", depth="#2+2")
    content, _ = edits.with_step(
        content, Hole, name="Cross screw, clearance", face=FaceRef("s9/l1/side", "upper flat"), placement="point",
        x="#16", y="0", diameter="#17", extent="next",
    )  # fmt: skip
    content, _ = edits.with_step(
        content, Hole, name="Cross screw, thread", face=FaceRef("s9/l8/side", "lower flat"), placement="point",
        x="-#16", y="0", thread="#18", extent="next",
    )  # fmt: skip
    return settle(_bound(content)).content


def _bound(content: Content) -> Content:
    """What no step states by itself: bound to faces by hand."""
    for binding in (
        Binding(5, "", Position("s7/0/side", "x")),
        Binding(12, "", Between("s2/a6/side", "s1/a1/side")),
        Binding(6, "", Position("s7/0/side", "y")),
        Binding(16, "", Position("s10/0/side", "x")),
        Binding(15, "", Position("s9/l1/side", "y")),
        Binding(15, "count", Count("s9/l1/side", ("s9/l8/side",), even=False)),
    ):
        content = edits.bind(content, binding)
    return content
