"""Holes into every kind of face, and broken edges that are repeated: each gives its bench and its volume (mm³)."""

import math

from lathed_solid.core.route.model import EdgeRef
from lathed_solid.core.route.steps.datum import DatumPlane
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.row import Row

from .bench import IN3, Bench


def _disc(d):
    return math.pi * d * d / 4


def hole_from_edges():
    """So far from this edge and that edge, in inches; the edges told from either side."""
    b = Bench("3.000", "2.000", ".500", "Ø.3125 THRU", ".625", ".4375", units="in")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    edges = (EdgeRef(f"{s1}/end", f"{s1}/l2/side"), EdgeRef(f"{s1}/l3/side", f"{s1}/end"))
    b.hole(f"{s1}/end", placement="edges", edge=edges, x="#5", y="#6", diameter="#4")
    return b, (3 * 2 * 0.5 - 0.5 * _disc(0.3125)) * IN3


def ramp():
    """A hole down along Y into a slant; its depth is counted where its axis meets the slant."""
    b = Bench("60", "30", "20", "Ø6 x 12 deep", "15", "18", "40")
    s1 = b.extrude(b.sketch("line 0,0 #1,0 #1,#2 0,#3 close"), "#7")
    where = {"placement": "point", "heading": "y", "x": "#5", "y": "#6"}
    b.hole(f"{s1}/l3/side", **where, diameter="#4", extent="depth", depth="#4.depth", tip="")
    return b, 60 * 25 * 40 - 12 * _disc(6)  # what lies above the start on one side is missing on the other


def from_a_plane():
    """A drill that starts in a plane above the part."""
    b = Bench("60", "40", "10", "Ø6", "5 deep", "25", "20")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    plane = b.step(DatumPlane, of="xy", offset="12")
    del s1
    b.hole(f"{plane}/plane", placement="point", x="#6", y="#7", diameter="#4", extent="depth", depth="#5", tip="")
    return b, 60 * 40 * 10 - 3 * _disc(6)


def ball():
    """A ball drilled across, from its pole, and out of the middle at an angle."""
    b = Bench("SØ30", "Ø5 THRU", "Ø6 x 10 deep", "8", "Ø4 x 9 deep", "30°")
    s1 = b.step(Revolve, sketch=b.sketch("line -15,0 15,0", "arc 15,0 -15,0 0,15", base="side"))
    (face,) = {name for names in b.proved().result.body.names.values() for name in names}
    assert face.startswith(s1)
    b.size(b.content.sketches[0].id, ("a1",), "#1", "diameter")
    b.hole(face, placement="radial", along="0", diameter="#2")
    b.hole(face, placement="axis", diameter="#3", extent="depth", depth="#3.depth", tip="")
    where = {"placement": "radial", "along": "#4", "angle": "#6"}
    b.hole(face, **where, diameter="#5", extent="depth", depth="#5.depth", tip="")
    return b, None


def oiled_cone():
    """An oil hole square to the axis of a taper."""
    b = Bench("Ø40", "Ø20", "50", "Ø5 x 8 deep", "25", "45°")
    s1 = b.turned({"to": "#3", "diameter": "#1", "diameter2": "#2"})
    where = {"placement": "radial", "along": "#5", "angle": "#6"}
    b.hole(f"{s1}/a.od/side", **where, diameter="#4", extent="depth", depth="#4.depth", tip="")
    return b, None


def hub_beside_the_axis():
    """A cross hole through a hub that stands off the part's axis."""
    b = Bench("60", "40", "10", "Ø20", "25", "Ø4 THRU", "18", "30°", "40", "20")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    hub = b.extrude(b.sketch("circle Ø#4 at #9,#10", base="face", on=f"{s1}/end"), "#5")
    b.hole(f"{hub}/c1/side", placement="radial", along="#7", angle="#8", diameter="#6")
    return b, None


def crossed_blind_hole():
    """A blind hole parted by one that crosses it is still as deep as it was drilled."""
    b = Bench("50", "40", "30", "Ø8 x 22 deep", "Ø6 THRU", "25", "20", "12")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.hole(f"{s1}/end", x="#6", y="#7", diameter="#4", extent="depth", depth="#4.depth", tip="118°")
    b.hole(f"{s1}/l2/side", x="#7", y="#8", diameter="#5")
    return b, None


def two_pads_one_step():
    """One step drills two pads of one height."""
    b = Bench("80", "40", "10", "20", "6", "2x Ø8 THRU", "15", "65")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    for at in ("#7", "#8"):
        pad = b.extrude(b.sketch(f"rect #4 x #4 at {at},#2/2", base="face", on=f"{s1}/end"), "#5")
    points = b.sketch("point #7,#2/2", "point #8,#2/2", base="face", on=f"{pad}/end")
    b.hole(f"{pad}/end", placement="sketch", sketch=points, diameter="#6")
    return b, 80 * 40 * 10 + 2 * (20 * 20 * 6 - 16 * _disc(8))


def chamfered_holes_in_a_ring():
    """A ring repeats the hole and the chamfer at its mouth."""
    b = Bench("Ø80", "10", "Ø60", "6x Ø8 THRU", "6x 1 x 45°")
    s1 = b.block("circle Ø#1 at 0,0", depth="#2")
    hole = b.hole(f"{s1}/end", placement="circle", circle="#3", diameter="#4")
    mouth = b.chamfer("#5", (f"{hole}/0/side", f"{s1}/end"))
    b.step(Ring, of=(hole, mouth), count="6")
    return b, 10 * _disc(80) - 6 * (10 * _disc(8) + math.pi * (1 / 3 + 4))


def mirrored_pads():
    """A pad with its foot rounded and its rim broken at 30°, mirrored with both."""
    b = Bench("100", "40", "10", "Ø16", "8", "2x R2", "2x 1 x 30°", "30")
    s1 = b.block("rect #1 x #2", depth="#3")
    pad = b.extrude(b.sketch("circle Ø#4 at #8,0", base="face", on=f"{s1}/end"), "#5")
    foot = b.fillet("#6", (f"{pad}/c1/side", f"{s1}/end"))
    rim = b.chamfer("#7", (f"{pad}/end", f"{pad}/c1/side"), angle="#7.angle")
    b.step(Mirror, of=(pad, foot, rim), about="yz")
    return b, None


def pockets_in_a_row():
    """Round ended pockets, R half their width, three in a row with all their corners."""
    b = Bench("100", "40", "12", "10", "20", "5 deep", "12x R5", "30")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    outline = b.sketch("rect #4 x #5 at 20,20", base="face", on=f"{s1}/end")
    pocket = b.extrude(outline, "#6", "cut", direction="backward")
    corners = [(f"{pocket}/l{i}/side", f"{pocket}/l{i % 4 + 1}/side") for i in range(1, 5)]
    rounds = b.fillet("#7", *corners)
    b.step(Row, of=(pocket, rounds), count="3", pitch="#8")
    return b, 100 * 40 * 12 - 3 * 5 * (10 * 10 + _disc(10))


DRILLED = {
    f.__name__: f
    for f in (
        hole_from_edges, ramp, from_a_plane, ball, oiled_cone, hub_beside_the_axis, crossed_blind_hole, two_pads_one_step,
        chamfered_holes_in_a_ring, mirrored_pads, pockets_in_a_row,
    )
}  # fmt: skip
