"""SKP-07, the chart-arm bracket: a wall on a base with a gusset, countersunk holes, a slotted hole, and an angled face
with a hole square to it. Zero: front left corner of the base's top.
"""

from __future__ import annotations

from scripted import new_sketch, sized, with_callouts

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import settle
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.gauges import Between, Leg, Position
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.rib import Rib
from lathed_solid.core.sketch.model import ORIGIN, Line, Plane, Sketch

CALLOUTS = [
    ("70", "base, length"),
    ("44", "base, width"),
    ("8", "base and wall, thick"),
    ("48", "overall height"),
    ("6", "gusset, thick"),
    ("24", "gusset, along the base"),
    ("2x Ø5.5 THRU csk Ø11.2 x 90°", "fixing holes"),
    ("12", "fixing holes, from the end"),
    ("14", "fixing holes, from the front"),
    ("6.5", "slotted hole, wide"),
    ("16", "slotted hole, between centres"),
    ("30", "slotted hole, above the base"),
    ("12", "angled face, down the wall's end"),
    ("30°", "angled face, to the wall's end"),
    ("M4x0.7 - 6H 9 deep", "hole in the angled face"),
    ("R3", "wall to base"),
]


def bracket(content: Content) -> Content:
    content = with_callouts(content, CALLOUTS)
    content, base = new_sketch(content, "Base", Plane("end"), "rect #1 x #2 at #1/2,#2/2")
    content, _ = edits.with_step(
        content, Extrude, name="Base", sketch=base, mode="add", extent="depth", depth="#3", direction="backward"
    )
    content, wall = new_sketch(content, "Wall", Plane("end"), "rect #1 x #3 at #1/2,#2-#3/2")
    content, _ = edits.with_step(
        content, Extrude, name="Wall", sketch=wall, mode="add", extent="depth", depth="#4-#3", direction="forward"
    )
    # On the base's right end, X there runs towards the back and Y up; the gusset stands in the middle of the length.
    middle = Plane("face", "-#1/2", on="s1/l2/side")
    content, line = new_sketch(content, "Gusset", middle, "line 12,0 36,24")
    content = edits.set_sketch(content, _placed(content.sketch(line), content))
    content, _ = edits.with_step(content, Rib, name="Gusset", sketch=line, thickness="#5", side="right")
    content, _ = edits.with_step(
        content, Fillet, name="Wall to base", radius="#16", edges=(EdgeRef("s1/end", "s2/l1/side"),)
    )
    content, holes = new_sketch(content, "Fixing holes", Plane("end"), "point #8,#9", "row 2 x #1-2*#8 of p1")
    content, _ = edits.with_step(
        content, Hole, name="Fixing holes", face=FaceRef("s1/end", "base, top"), placement="sketch", sketch=holes,
        diameter="#7", seat="countersink", seat_diameter="#7.seat", seat_angle="#7.seat_angle",
    )  # fmt: skip
    front = Plane("face", on="s2/l1/side")
    content, slot = new_sketch(content, "Slotted hole", front, "slot #10 x #11 at #1/2,#12")
    content, _ = edits.with_step(
        content, Extrude, name="Slotted hole", sketch=slot, extent="next", direction="backward"
    )
    content, _ = edits.with_step(
        content, Chamfer, name="Angled face", edges=(EdgeRef("s2/l4/side", "s2/end"),), size="#13", angle="#14",
    )  # fmt: skip
    slanted = Plane("face", on="s7/e0/side")
    content, spot = new_sketch(content, "Hole in the angled face", slanted, "point -#2+#3/2,31.2")
    content, _ = edits.with_step(
        content, Hole, name="Hole in the angled face", face=FaceRef("s7/e0/side", "angled face"), placement="sketch",
        sketch=spot, thread="#15", thread_depth="#15.depth", extent="depth", depth="#15.depth+3",
    )  # fmt: skip
    for binding in (
        Binding(4, "", Between("s1/start", "s2/end")),
        Binding(6, "", Leg("s3/l1/side", "s1/end", "s2/l1/side")),
        Binding(12, "", Position("s6/a1/side", "z", "s6/a2/side")),
    ):
        content = edits.bind(content, binding)
    return settle(content).content


def _placed(sketch: Sketch, content: Content) -> Sketch:
    """The gusset's line from the base, its foot as far from the wall as stated, to the wall."""
    ledger, line = content.ledger(), sketch.curves()[-1]
    assert isinstance(line, Line)
    for point, kind, text in ((line.a, "along", "#2-#3-#6"), (line.b, "along", "#2-#3"), (line.b, "across", "#6")):
        sketch = sized(sketch, ledger, text, ORIGIN, point, kind=kind)
    return sketch
