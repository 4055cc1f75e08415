"""Milled parts nobody has built here: each gives its bench and its volume in closed form (mm³)."""

import math

from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.engrave import Engrave
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.row import Row
from lathed_solid.core.route.steps.shift import Shift

from .bench import IN3, Bench, edge


def _disc(d):
    return math.pi * d * d / 4


def shelf_block():
    """FOUND B1: upright lines sized by their length, a recess from corner to corner."""
    b = Bench("40", "20", "10", "12", "3 deep")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("rect 5,4 17,16", base="face", on=f"{s1}/end")
    b.size(k, ("l1",), "#4", "distance")
    b.size(k, ("l2",), "#4", "distance")
    b.extrude(k, "#5", "cut", direction="backward")
    return b, 40 * 20 * 10 - 12 * 12 * 3


def inch_clamp_bar():
    """A bar with a slot, from zero and from the far end, a hole midway."""
    b = Bench("4.500", "1.250", ".500", ".406 slot".replace(" slot", ""), "1.750", ".625", "Ø.375 THRU", units="in")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("slot #4 x #5 at #6+#5/2,#2/2")
    b.extrude(k, "", "cut")
    b.hole(f"{s1}/end", diameter="#7", x="#1-#6", y="#2/2")
    v = 4.5 * 1.25 * 0.5 - 0.5 * (0.406 * 1.75 + _disc(0.406)) - 0.5 * _disc(0.375)
    return b, v * IN3


def mirrored_recess():
    """FOUND B4: a recess on one side mirrored to the other."""
    b = Bench("60", "40", "30", "Ø20 x 5 deep".replace(" x 5 deep", ""), "5 deep")
    s1 = b.block("rect #1 x #2", depth="#3", direction="both")
    k = b.sketch("circle Ø#4", base="face", on=f"{s1}/l2/side")
    s2 = b.extrude(k, "#5", "cut", direction="backward")
    b.step(Mirror, of=(s2,), about="yz")
    return b, 60 * 40 * 30 - 2 * 5 * _disc(20)


def name_plate():
    """Engraved letters whose height and depth are stated."""
    b = Bench("80", "30", "6", ".4 deep", "8")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("cl 5,10 75,10", base="face", on=f"{s1}/end")
    b.draw(k, 'text "SKP-07 HE" #5 on l1')
    b.step(Engrave, face=f"{s1}/end", sketch=k, depth="#4")
    return b, None


def dovetail_way():
    """Sizes at the open mouth of a slot, whose lines lie in faces that were there before; its corner's angle."""
    b = Bench("80", "50", "25", "40", "60°", "8")
    s1 = b.block("rect #1 x #3 at 0,#3/2", depth="#2")
    k = b.sketch("line -20,25 20,25 25,17 -25,17 close")
    b.size(k, ("l1",), "#4", "distance")
    b.size(k, ("l1", "l2"), "#5")
    b.size(k, ("l1", "l3"), "#6")
    b.extrude(k, "", "cut")
    del s1
    return b, None


def tee_slot():
    """A slot whose floor is taken by a wider one below it."""
    b = Bench("100", "40", "30", "12", "20", "8", "18")
    b.block("rect 0,0 #1,#3", depth="#2")
    b.extrude(b.sketch("rect #4 x #7 at 50,30-#7/2"), "", "cut")
    b.extrude(b.sketch("rect #5 x #6 at 50,30-#7+#6/2"), "", "cut")
    return b, 100 * 40 * 30 - 40 * (12 * 10 + 20 * 8)


def round_ended_link():
    """Both ends rounded to full, a slot, a hole: the overall length is still told."""
    b = Bench("120", "30", "8", "4x R15", "12", "40", "80", "Ø10 THRU", "15")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.fillet("#4", *((f"{s1}/l{i}/side", f"{s1}/l{j}/side") for i in (2, 4) for j in (1, 3)))
    b.extrude(b.sketch("slot #5 x #6 at #7,#2/2"), "", "cut")
    b.hole(f"{s1}/end", x="#9", y="#2/2", diameter="#8")
    return b, 8 * (90 * 30 + _disc(30) - _disc(10) - 12 * 40 - _disc(12))


def hexagon_stud():
    """All six flats of a drawn hexagon."""
    b = Bench("8 A/F", "25", "Ø4.3 THRU")
    s1 = b.block("polygon 6 A/F #1 at 0,0", depth="#2")
    b.hole(f"{s1}/end", x="0", y="0", diameter="#3")
    return b, 25 * (8 * 8 * math.sqrt(3) / 2 - _disc(4.3))


def mirrored_first_step():
    """The step that begins the body is mirrored like any other."""
    b = Bench("60", "20", "10", "12")
    s1 = b.block("line 0,0 #1,0 #1,#2 0,#3 close", depth="#4")
    b.step(Mirror, of=(s1,), about="yz")
    return b, 2 * 60 * 15 * 12


def moved_body():
    """A body drilled, then moved and turned: its sizes go with it."""
    b = Bench("60", "20", "12", "Ø6 THRU")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.hole(f"{s1}/end", x="10", y="10", diameter="#4")
    b.step(Shift, of_bodies=(s1,), x="100", turn="30°")
    return b, 60 * 20 * 12 - 12 * _disc(6)


def mirrored_body():
    """A half with two holes mirrored whole and joined."""
    b = Bench("3.00", "2.00", ".75", "2x Ø.5 THRU", ".75", "1.00", units="in")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.hole(f"{s1}/end", diameter="#4", x="#1-#5", y="#6")
    b.step(Mirror, of_bodies=(s1,), about="yz", joined="joined")
    return b, (6 * 2 * 0.75 - 2 * 0.75 * _disc(0.5)) * IN3


def cut_from_top_face():
    """FOUND B5: a cut that starts at the picked top face, backward."""
    b = Bench("2.000", "1.500", ".250", "1.000", ".500", ".1 deep", units="in")
    s1 = b.block("rect #1 x #2", depth="#3")
    k = b.sketch("rect #4 x #5")
    b.extrude(k, "#6", "cut", direction="backward", begin=f"{s1}/end")
    return b, (2 * 1.5 * 0.25 - 1 * 0.5 * 0.1) * IN3


def saddle_boss():
    """A boss across a shaft, rounded where they meet: the fillet is a free face (FOUND B6)."""
    b = Bench("Ø50", "100", "Ø24", "40", "R4")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    k = b.sketch("circle Ø#3 at #2/2,0", base="side", angle="90°")
    s2 = b.extrude(k, "#4", "add", direction="forward")
    b.fillet("#5", (f"{s1}/a.od/side", f"{s2}/c1/side"))
    return b, None


def corner_chamfers():
    """FOUND B3: chamfers drawn at the plate's corners."""
    b = Bench("4.00", "3.00", ".500", "4x .250 x 45°", units="in")
    k = b.sketch("rect #1 x #2")
    sketch = b.content.sketch(k)
    corners = [e.id for e in sketch.entities if type(e).__name__ == "Point"]
    lines = [c.id for c in sketch.curves() if not c.construction]
    del corners
    for first, second in zip(lines, lines[1:] + lines[:1], strict=True):
        b.draw(k, f"chamfer #4 of {first} {second}")
    b.extrude(k, "#3")
    return b, (4 * 3 - 4 * 0.25**2 / 2) * 0.5 * IN3


def rounded_plate():
    """Overall sizes run to the sharp corners that were rounded away."""
    b = Bench("80", "50", "8", "4x R6", "4x Ø6.6 THRU", "12", "10")
    k = b.sketch("rect #1 x #2")
    lines = [c.id for c in b.content.sketch(k).curves() if not c.construction]
    for first, second in zip(lines, lines[1:] + lines[:1], strict=True):
        b.draw(k, f"fillet #4 of {first} {second}")
    s1 = b.extrude(k, "#3")
    p = b.sketch("point #1/2-#6,#2/2-#7", "point #1/2-#6,-(#2/2-#7)", "point -(#1/2-#6),#2/2-#7",
                 "point -(#1/2-#6),-(#2/2-#7)", base="face", on=f"{s1}/end")  # fmt: skip
    b.hole(f"{s1}/end", placement="sketch", sketch=p, diameter="#5")
    area = 80 * 50 - (4 - math.pi) * 36
    return b, area * 8 - 4 * 8 * _disc(6.6)


def stud_grid():
    """FOUND B10: a grid drawn in a sketch; studs on a plate, their height from the face they stand on."""
    b = Bench("100", "60", "12", "8x Ø3/8 in".replace("3/8 in", "9"), "7", "20", "22", "16", "14")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("circle Ø#4 at #8,#9", base="face", on=f"{s1}/end")
    b.draw(k, "grid 4 x #6 by 2 x #7 of c1")
    b.extrude(k, "#5")
    return b, 100 * 60 * 12 + 8 * 7 * _disc(9)


def housing():
    """A box with a pocket by offset, wall thickness and floor."""
    b = Bench("120", "80", "45", "6 wall".replace(" wall", ""), "8", "R10", "Ø30 THRU", "26")
    k = b.sketch("rect #1 x #2")
    s1 = b.extrude(k, "#3")
    p = b.sketch("rect #1-2*#4 x #2-2*#4", base="face", on=f"{s1}/end")
    lines = [c.id for c in b.content.sketch(p).curves() if not c.construction]
    for first, second in zip(lines, lines[1:] + lines[:1], strict=True):
        b.draw(p, f"fillet #6 of {first} {second}")
    b.extrude(p, "#3-#5", "cut", direction="backward")
    h = b.sketch("circle Ø#7 at 0,#8", base="face", on=f"{s1}/l2/side")
    b.extrude(h, "", "cut", extent="next", direction="backward")
    pocket = (108 * 68 - (4 - math.pi) * 100) * 37
    return b, 120 * 80 * 45 - pocket - 6 * _disc(30)


def angle_plate():
    """Walls sized from the far side, an angle between flats, a lean."""
    b = Bench("60", "40", "12", "30", "30°", "8")
    k = b.sketch("line 0,0 #1,0 #1,#3 #6,#3 @0,10 0,22.7 close", base="side", angle="0°")
    b.size(k, ("l4",), "#4-#3", "distance")
    b.size(k, ("l6",), "#4", "distance")
    del b.content
    return


def vise_jaw():
    """A step and a groove along it, depth from the top, hole on the end face from two edges."""
    b = Bench("3.00", "1.25", "1.00", ".375", ".250", "Ø.328 THRU", ".500", ".625", ".125", ".094 deep", units="in")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("rect 0,0 #1,#4")
    b.extrude(k, "#5", "cut", direction="backward", begin=f"{s1}/end")
    g = b.sketch("rect 0,0.75 3,0.875")
    b.size(g, ("l2",), "#9", "distance")
    b.size(g, ("l1", "along"), "#2-#7", "distance")
    b.size(g, ("l1",), "#1", "distance")
    b.extrude(g, "#10", "cut", direction="backward", begin=f"{s1}/end")
    b.hole(f"{s1}/l3/side", diameter="#6", x="#1/2", y="#8", extent="through")
    del b
    return


def bolt_ring_cover():
    """A cover with a ring of counterbored holes and a slot across, by a ring and a row."""
    b = Bench("Ø90", "14", "Ø40 THRU", "6x Ø6.6 THRU cbore Ø11 x 6.5 deep on Ø70")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    b.hole(f"{s1}/a.end/side", placement="axis", diameter="#3")
    h = b.hole(f"{s1}/a.end/side", placement="circle", circle="#4.circle", diameter="#4", seat="counterbore",
               seat_diameter="#4.seat", seat_depth="#4.seat_depth")  # fmt: skip
    b.step(Ring, of=(h,), count="#4.count")
    v = _disc(90) * 14 - _disc(40) * 14 - 6 * (_disc(6.6) * 14 + (_disc(11) - _disc(6.6)) * 6.5)
    return b, v


def rack_row():
    """A row of grooves, pitch and width."""
    b = Bench("100", "20", "15", "4", "3 deep", "8x 4".replace("8x 4", "12"), "10")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    k = b.sketch("rect 10,0 14,20")
    b.size(k, ("across", "l4"), "#7", "distance")
    b.size(k, ("l1",), "#4", "distance")
    b.size(k, ("l2",), "#2", "distance")
    s2 = b.extrude(k, "#5", "cut", direction="backward", begin=f"{s1}/end")
    b.step(Row, of=(s2,), count="7", pitch="#6", along="x")
    return b, 100 * 20 * 15 - 7 * 4 * 20 * 3


MILLED = {
    f.__name__: f
    for f in (
        shelf_block, inch_clamp_bar, mirrored_recess, mirrored_body, mirrored_first_step, name_plate, dovetail_way, tee_slot, round_ended_link,
        hexagon_stud, moved_body, cut_from_top_face, saddle_boss, corner_chamfers,
        rounded_plate, stud_grid, housing, bolt_ring_cover, rack_row,
    )
}  # fmt: skip

__all__ = ["MILLED", "FaceRef", "edge"]
