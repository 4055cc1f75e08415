"""A clamp like SKP-04 with mouse and keys: web, eyes, an offset pocket mirrored to the other side, bores, slit, screw."""

import math

import pytest
from PyQt6.QtWidgets import QCheckBox

from lathed_solid.core.sketch.shadow import in_shadow

from .test_bracket_by_hand import done, fill, to_depth
from .test_drum_by_hand import new_sketch
from .test_plate_by_hand import draw_clamp

#: Of a slit 1.6 wide, what lies in the ring between Ø14 and Ø30.
SLIT_AREA = sum(s * (0.8 * math.sqrt(r * r - 0.64) + r * r * math.asin(0.8 / r)) for s, r in ((1, 15), (-1, 7)))


def extruded(desk, words, depth, *, cut=False, through=False):
    """A new extrude both ways from what is typed."""
    new_sketch(desk, "extrude")
    for text in words:
        desk.enter(text)
    desk.settled()
    desk.choose("Material", "cut away" if cut else "add")
    desk.choose("How far", "through all" if through else "to a depth")
    desk.choose("Direction", "both ways")
    if depth:
        fill(desk, Depth=depth)
    return done(desk)


def taken(plate):
    """The lines that were taken from the part, without those that are only seen."""
    return [c.id for c in plate.sketch.curves() if not in_shadow(c.id)]


def test_the_clamp_by_mouse_and_keyboard(desk, plate):
    window = desk.window
    draw_clamp(desk, plate)
    window.toggle_large()
    web = to_depth(desk, "both ways", "6")
    # The pocket: the outline of the web's upper side, three in.
    desk.look("T")
    desk.pick((28, 6, 3))
    new_sketch(desk, "extrude")
    window.run(window.actions_.get("plate.outline"))
    desk.wait(lambda: len(taken(plate)) == 4)
    plate.canvas.choose(*taken(plate))
    plate._on_chosen()
    desk.enter("offset -3")
    desk.settled()
    pocket = web - to_depth(desk, "backward", "1.5")
    # Three in from an outline of this length: a ring of that width less what its bends take.
    assert 1.5 * 1100 < pocket < 1.5 * 1250
    desk.enter("add: mirror")
    desk.settled()
    box = next(b for b in window.route.editor.findChildren(QCheckBox) if b.text().startswith("20"))
    box.click()
    desk.settled()
    desk.choose("About", "the plane across Z")
    assert web - done(desk) == pytest.approx(2 * pocket)
    extruded(desk, ["circle Ø30 at 0,0"], "14")
    extruded(desk, ["circle Ø18 at 46,6"], "8")
    for at, d in (((5, 5, 7), "14"), ((48, 8, 4), "7")):
        desk.look("T")
        desk.pick(at)
        desk.enter("add: hole")
        desk.settled()
        desk.choose("Where", "on the face's axis")
        fill(desk, Drill_Ø=d)
        done(desk)
    whole = done(desk)
    slit = extruded(desk, ["rect -20,-0.8 0,0.8"], "", cut=True, through=True)
    assert whole - slit == pytest.approx(14 * SLIT_AREA, rel=1e-5)
    # The cross screw: a flat on the big eye, and a clearance hole from it as far as the slit.
    flat = extruded(desk, ["rect -15,7 -7,20"], "16", cut=True)
    assert flat < slit
    desk.look("K")
    desk.pick((-9, 7, 4))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "at a point of the face")
    fill(desk, Clears_screw="M3", X="11", Y="0")
    desk.choose("How far", "to the next hollow")
    assert flat - done(desk) == pytest.approx(math.pi * 1.7**2 * (7 - 0.8), rel=1e-6)
