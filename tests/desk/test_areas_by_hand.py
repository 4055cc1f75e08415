"""Milled outlines by mouse and keys without trimming: a plate with its corners cut off, a lever from one sketch."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from .test_bracket_by_hand import done, fill


def marks(desk):
    return {c.number: desk.session.current.proof.mark_of(c.number) for c in desk.session.content.callouts}


def take_area(desk, *places, offer=False):
    """Click areas of the outline that is on the plate."""
    desk.click(desk.plate_button("Choose areas") if offer else desk.field("Choose areas"))
    for place in places:
        desk.plate_click(*place)
        desk.settled()
    desk.press(desk.window.plate.canvas, Qt.Key.Key_Escape)


def test_a_plate_with_its_corners_cut_off_by_crossing_lines(desk):
    for note in ("100", "60", "8"):
        desk.enter(note)
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("rect #1 x #2")
    for x, y in ((1, 1), (1, -1), (-1, 1), (-1, -1)):  # across each corner, ends left standing over it
        desk.enter(f"line {x * 54},{y * 14} {x * 34},{y * 34}")
    take_area(desk, (0, 0), offer=True)
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    assert done(desk) == pytest.approx((100 * 60 - 4 * 12 * 12 / 2) * 8)
    assert set(marks(desk).values()) == {"in"}
    assert desk.actions <= 30


def another_extrude(desk, *places, material="add", direction="forward", depth):
    """One more step on the sketch that is there."""
    desk.enter("add: extrude")
    desk.settled()
    desk.choose("Which Outline", "Extrude")
    desk.settled()
    take_area(desk, *places)
    desk.choose("Material", material)
    desk.choose("How far", "to a depth")
    desk.choose("Direction", direction)
    fill(desk, Depth=depth)
    return done(desk)


def test_a_lever_with_two_hubs_from_one_sketch(desk):
    for note in ("90", "Ø36", "Ø22", "R120", "20", "8", "14", "Ø16 H7 THRU", "Ø8 THRU"):
        desk.enter(note)
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("circle Ø#2 at 0,0")
    desk.enter("circle Ø#3 at #1,0")
    desk.enter("arc R#4 between c1 c2 near 45,25")
    desk.enter("arc R#4 between c1 c2 near 45,-25")
    take_area(desk, (0, 0), offer=True)
    desk.choose("Direction", "forward")
    fill(desk, Depth="#5")
    hub = done(desk)
    assert hub == pytest.approx(math.pi * 18**2 * 20)
    web = another_extrude(desk, (45, 0), depth="#6")
    eye = another_extrude(desk, (90, 0), depth="#7")
    assert eye - web == pytest.approx(math.pi * 11**2 * 14, rel=1e-6)
    for number, place in ((8, (6, 6, 20)), (9, (93, 3, 14))):
        desk.look("T")
        desk.pick(place)
        desk.choose_callout(number)
        desk.press(desk.window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        QTest.qWait(50)
        done(desk)
    assert eye - done(desk) == pytest.approx(math.pi * (8**2 * 20 + 4**2 * 14), rel=1e-6)
    found = marks(desk)
    assert set(found.values()) == {"in"}, found
    assert desk.session.current.proof.unused == ()
    assert desk.actions <= 60
