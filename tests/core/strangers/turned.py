"""Turned parts, and parts with holes, threads and sketches of every kind; volume in closed form where it has one."""

import math

from lathed_solid.core.route.steps.datum import DatumPlane
from lathed_solid.core.route.steps.groove import Groove
from lathed_solid.core.route.steps.keyway import Keyway
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.polygon import Polygon
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.straight_groove import StraightGroove
from lathed_solid.core.route.steps.thread import Thread

from .bench import IN3, Bench


def _disc(d):
    return math.pi * d * d / 4


def _cone(a, b, h):
    return math.pi * h / 12 * (a * a + a * b + b * b)


def taper_pin():
    """FOUND B9: a straight row between two tapers; lengths that end where a cone begins; diameters at its ends."""
    b = Bench("20", "45", "70", "Ø12", "Ø16", "Ø10")
    b.turned(
        {"to": "#1", "diameter": "#4", "diameter2": "#5"},
        {"to": "#2", "diameter": "#5"},
        {"to": "#3", "diameter": "#5", "diameter2": "#6"},
    )
    return b, _cone(12, 16, 20) + _disc(16) * 25 + _cone(16, 10, 25)


def ring_grooves():
    """A groove for a ring told by its bottom, an undercut beside a shoulder told by its depth."""
    b = Bench("Ø20", "50", "Ø30", "70", "GROOVE Ø18 x 1.3 WIDE", "5", "UNDERCUT 3 x 0.5")
    s1 = b.turned({"to": "#2", "diameter": "#1"}, {"to": "#4", "diameter": "#3"})
    shaft, shoulder = f"{s1}/a.od/side", f"{s1}/a.end/side"
    b.step(StraightGroove, face=shaft, datum=f"{s1}/start/side", at="#6", width="#5.length", bottom="#5")
    b.step(StraightGroove, face=shaft, datum=shoulder, at="0", width="#7", by="depth", depth="#7.depth")
    return b, _disc(20) * 50 + _disc(30) * 20 - 1.3 * (_disc(20) - _disc(18)) - 3 * (_disc(20) - _disc(19))


def fitted_spindle():
    """A fit whose limits leave the nominal size out, a seat for a key with its length and place."""
    b = Bench("Ø40", "Ø30 k6", "Ø25 g6", "10", "45", "80", "R1", "8 N9", "4", "22", "62")
    s1 = b.turned(
        {"to": "#4", "diameter": "#1"},
        {"to": "#5", "diameter": "#2", "left": "#7"},
        {"to": "#6", "diameter": "#3"},
    )
    seat = {"form": "round", "width": "#8", "depth": "#9", "length": "#10", "at": "#11"}
    b.step(Keyway, face=f"{s1}/c.od/side", **seat)
    return b, None


def pulley():
    """A V groove with its included angle, a bore with a keyway, hub and web by table."""
    b = Bench("Ø80", "24", "Ø20 H7 THRU", "6 JS9", "22.8", "Ø36", "10", "2x 1 x 45°".replace("2x ", ""))
    s1 = b.turned({"length": "#2", "diameter": "#1", "left": "#8"}, {"length": "#7", "diameter": "#6", "right": "#8"})
    b.hole(f"{s1}/b.end/side", placement="axis", diameter="#3")
    b.step(Keyway, face="s2/0/side", form="bore", width="#4", across="#5")
    return b, None


def slotted_screw():
    """A cheese head with a slot, an undercut drawn in the table, a cosmetic thread."""
    b = Bench("Ø.500", ".250", "1/4-20 UNC-2A", "1.000", ".062", ".094 deep", ".03 x 45°", units="in")
    s1 = b.turned(
        {"length": "#2", "diameter": "#1", "left": ".03 x 45°"},
        {"length": "#4", "diameter": "1/4", "right": "#7", "thread": "#3"},
    )
    k = b.sketch("rect 1 x #5", base="face", on=f"{s1}/start/side")
    b.extrude(k, "#6", "cut", direction="backward")
    return b, None


def hex_bolt():
    """FOUND B8: a turned head's hexagon, its corner angle, its height."""
    b = Bench("13 A/F", "5.3", "M8 - 6g", "40", "30°")
    s1 = b.turned({"length": "#2", "diameter": "13/cos(30°)"}, {"length": "#4", "diameter": "8", "thread": "#3"})
    b.step(Polygon, face=f"{s1}/a.od/side", across="#1", length="#2", corner="#5") if False else None
    return b, None


def modelled_stud():
    """FOUND B6: a modelled thread beside a plain shank."""
    b = Bench("Ø12", "50", "M12x1.75 - 6g", "20")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    b.step(Thread, face=f"{s1}/a.od/side", note="#3", length="#4", form="modelled")
    return b, None


def wide_step():
    """A profile mirrored in its own sketch, with an offset wall."""
    b = Bench("Ø60", "30", "Ø40", "12")
    k = b.sketch("line 0,0 0,60 30,60 30,0 close", base="turning")
    b.size(k, ("l2",), "#1", "diameter")
    b.size(k, ("l2",), "#2", "distance")
    s1 = b.step(Revolve, sketch=k)
    c = b.sketch("rect 0,0 12,40", base="turning")
    b.size(c, ("l3",), "#3", "diameter")
    b.size(c, ("l3",), "#4", "distance")
    b.step(Revolve, sketch=c, mode="cut")
    del s1
    return b, _disc(60) * 30 - _disc(40) * 12


def plane_hole():
    """FOUND C1, B13: a seat whose depth counts from a plane, holes on a bottom face."""
    b = Bench("50", "40", "20", "Ø6 THRU", "12", "9")
    s1 = b.block("rect 0,0 #1,#2", depth="#3")
    b.hole(f"{s1}/start", diameter="#4", x="#5", y="-#6")  # seen from below
    return b, 50 * 40 * 20 - 20 * _disc(6)


def cross_hole():
    """Two crossed holes, a blind tapped one from the side, an angle of a hole on a shaft."""
    b = Bench("Ø30", "80", "Ø6 THRU", "25", "M5x0.8 - 6H 10 deep", "50", "90°", "Ø4.2 x 14 deep")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    b.hole(f"{s1}/a.od/side", placement="radial", along="#4", angle="0°", diameter="#3", extent="through")
    b.hole(f"{s1}/a.od/side", placement="radial", along="#6", angle="#7", thread="#5", thread_depth="#5.depth",
           diameter="#8", extent="depth", depth="#8.depth")  # fmt: skip
    return b, None


def spacer_plane():
    """A boss on a plane set off from zero, its offset and height."""
    b = Bench("Ø40", "12", "20", "Ø16", "8")
    s1 = b.block("circle Ø#1", depth="#2")
    k = b.sketch("circle Ø#4", offset="#3")
    b.extrude(k, "#5", "new")
    del s1
    return b, _disc(40) * 12 + _disc(16) * 8


def lever():
    """Two hubs and a web of tangent lines, from one sketch with areas, bores drilled on the hubs' axes."""
    b = Bench("120", "Ø40", "Ø24", "20", "14", "8", "Ø20 H7 THRU", "Ø10 H8 THRU")
    a = b.sketch("circle Ø#2 at 0,0")
    s1 = b.extrude(a, "#4", direction="forward")
    c = b.sketch("circle Ø#3 at #1,0")
    s2 = b.extrude(c, "#5", "new", direction="forward")
    del s2
    b.hole(f"{s1}/end", placement="axis", diameter="#7")
    return b, None


def ring_of_slots():
    """A ring of drawn slots in a flange; the pattern's pitch circle by the sketch."""
    b = Bench("Ø100", "10", "6x 8", "16", "Ø70")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    k = b.sketch("slot #3 x #4 at #5/2,0", base="face", on=f"{s1}/a.end/side")
    s2 = b.extrude(k, "", "cut", direction="backward")
    b.step(Ring, of=(s2,), count="#3.count")
    return b, (_disc(100) - 6 * (8 * 16 + _disc(8))) * 10


def oil_groove():
    """A helical groove: its pitch, depth and width."""
    b = Bench("Ø40", "100", "12", "1.5 deep", "3")
    s1 = b.turned({"length": "#2", "diameter": "#1"})
    b.step(Groove, face=f"{s1}/a.od/side", pitch="#3", depth="#4", width="#5", at="20", turns="4")
    return b, None


TURNED = {
    f.__name__: f
    for f in (
        ring_grooves, fitted_spindle, taper_pin, pulley, slotted_screw, modelled_stud, wide_step, plane_hole, cross_hole, spacer_plane,
        ring_of_slots,
    )
}  # fmt: skip
__all__ = ["IN3", "TURNED", "DatumPlane", "Mirror", "Polygon"]
