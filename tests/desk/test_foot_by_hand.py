"""A levelling foot like SKP-05 with mouse and keys: table, ball drawn on the plate, hexagon, modelled thread, slot."""

import math

import pytest
from PyQt6.QtCore import Qt

from .test_bracket_by_hand import done, fill, to_depth
from .test_drum_by_hand import new_sketch, pick_face

CALLOUTS = ["52", "17 A/F", "6", "Ø7", "3", "M8x1.25", "28", "SØ12", "1.5", "2"]
BEHIND = "sqrt((#8/2)^2-(#4/2)^2)"
#: ISO 68-1, M8: axial section of the groove (mm², flats P/4 and 7P/8) and the radius of its middle.
GROOVE_AREA, GROOVE_RADIUS = 0.61343 * 1.25 * (1.25 / 4 + 1.25 * 7 / 8) / 2, 4 - 0.3124


def face_named(desk, name):
    return next(i for i, n in enumerate(desk.session.current.built.names, 1) if name in n)


def test_the_foot_by_mouse_and_keyboard(desk):
    session, window = desk.session, desk.window
    for note in CALLOUTS:
        desk.enter(note)
    desk.enter("add: turned")
    rows = ({1: "#5", 2: "#4"}, {1: "#3", 2: "20"}, {0: f"#1-#8/2-{BEHIND}", 2: "8", 5: "1 x 45°"})
    for row, cells in enumerate(rows):
        for column, text in cells.items():
            desk.cell(row, column, text)
    desk.settled()
    done(desk)
    # The ball: half a disc over the axis, sized on the plate.
    desk.enter("add: turned")
    desk.wait(lambda: window.plate.sketch is not None and window.plate.sketch.id == "k2")
    desk.enter("arc about -4.9,0 1.1,0 -10.9,0")
    desk.enter("line -10.9,0 1.1,0")
    desk.settled()
    window.toggle_large()
    sketch = window.plate.sketch
    assert len(sketch.points()) == 3  # the line was typed to the arc's own ends
    desk.plate_click(-4.9, 6)
    desk.size("#8", "size Ø")
    desk.settled()
    desk.plate_click(-4.9, 0)
    desk.plate_click(0, 0, Qt.KeyboardModifier.ControlModifier)
    desk.size(BEHIND, "size along")
    desk.settled()
    window.toggle_large()
    balled = done(desk)
    # The hexagon with turned corners, on the blank.
    desk.look("F")
    pick_face(desk, face_named(desk, "s1/b.od/side"), 10, 9)
    desk.enter("add: hexagon")
    desk.settled()
    fill(desk, Across_flats="#2")
    assert balled - done(desk) > 6 * (math.pi * 100 - 17**2 * math.sqrt(3) / 2)  # the corners are turned too
    # The screwdriver slot, on the end.
    desk.look("R")
    desk.pick((1.5, 1.5, 41.1266))
    new_sketch(desk, "extrude")
    desk.enter("rect 10 x #9 at 0,0")
    desk.settled()
    slotted = to_depth(desk, "backward", "#10")
    # The thread is modelled, from the right end.
    desk.look("F")
    pick_face(desk, face_named(desk, "s1/c.od/side"), 4, 40)
    desk.enter("add: thread")
    desk.settled()
    fill(desk, Thread="#6", Length="#7")
    desk.choose("Shown", "modelled, true profile")
    threaded = done(desk)
    # A groove of the true profile, 28 long; run-out and chamfer make a little difference.
    assert slotted - threaded == pytest.approx(28 / 1.25 * GROOVE_AREA * 2 * math.pi * GROOVE_RADIUS, rel=0.02)
    marks = {c.number: session.current.proof.mark_of(c.number) for c in session.content.callouts}
    assert set(marks.values()) <= {"in", "near"}, marks
