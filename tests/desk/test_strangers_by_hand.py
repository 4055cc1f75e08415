"""Three parts that nobody had built here, by mouse and keys: an inch link, a metric bearing block, an inch pulley."""

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch
from .test_steps_from_callouts import pick_round, step_of
from .test_vise_base_by_hand import tick

IN3 = 25.4**3


def inch(desk, *notes):
    desk.press(desk.window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    for note in notes:
        desk.enter(note)


def nothing_cut_off(desk):
    """At 1280 wide the step editor shows all of its fields, to their right ends."""
    window, body = desk.window, desk.window.route.editor.widget()
    assert window.width() == 1280
    scroll = window.route.editor.viewport()
    edge = scroll.mapTo(window, QPoint(scroll.width(), 0)).x()
    assert edge <= 1280
    for field in body.findChildren(QWidget):
        if field.isVisibleTo(body):
            assert field.mapTo(window, QPoint(field.width(), 0)).x() <= edge, field.accessibleName()


def all_in(desk):
    nothing_cut_off(desk)
    proof = desk.session.current.proof
    wrong = [(x.number, x.note, x.key, x.mark, x.message) for x in proof.lines if x.mark != "in"]
    assert wrong == []
    assert [n.words for n in proof.unexplained] == []
    assert proof.unused == ()


def test_an_inch_link_with_a_boss(desk):
    inch(desk, "3.000", "1.000", ".250", "Ø.750", ".625", "Ø.3125 THRU", "Ø.500 THRU")
    new_sketch(desk, "extrude")
    desk.enter("slot #2 from 0,0 #1,0")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    web = done(desk)
    desk.look("T")
    desk.window._part_cursor((30.0, 3.0, 6.35))
    assert desk.window.entry._readout.text().startswith("X 1.1"), "a milled part is read in X, Y and Z"
    assert web == pytest.approx((3 * 1 + math.pi / 4) * 0.25 * IN3)
    desk.look("T")
    desk.pick((30, 3, 6.35))
    new_sketch(desk, "extrude")
    desk.enter("circle Ø#4 at 0,0")
    desk.choose("How far", "to a depth")
    fill(desk, Depth="#5-#3")
    bossed = done(desk)
    assert bossed - web == pytest.approx(math.pi / 4 * 0.75**2 * 0.375 * IN3)
    desk.look("T")
    desk.pick((3, 3, 15.875))
    hole = step_of(desk, 6)
    assert hole.diameter == "#6"
    desk.choose("Where", "on the axis of a round edge")
    desk.click(desk.field("Pick Round edge"))
    desk.settled()
    desk.pick((9.525 * math.cos(2.2), 9.525 * math.sin(2.2), 15.875))
    desk.settled()
    done(desk)
    desk.look("T")
    desk.pick((40, 3, 6.35))
    step_of(desk, 7)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X="#1", Y="0")
    drilled = done(desk)
    taken = math.pi / 4 * (0.3125**2 * 0.625 + 0.5**2 * 0.25)
    assert bossed - drilled == pytest.approx(taken * IN3)
    all_in(desk)


def test_a_bearing_block(desk):
    for note in ("80", "36", "10", "34", "42", "26", "Ø20 H7 THRU", "2x Ø9 THRU", "10", "18", "2x 1 x 45°"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    foot = done(desk)
    desk.look("T")
    desk.pick((35, 10, 10))
    new_sketch(desk, "extrude")
    desk.enter("rect #4 x #2")
    desk.choose("How far", "to a depth")
    fill(desk, Depth="#5-#3")
    block = done(desk)
    assert block == pytest.approx(80 * 36 * 10 + 34 * 36 * 32)
    assert block > foot
    # The bore, so high above the foot's underside, from the front.
    desk.look("F")
    face = next(s for s in desk.session.current.built.surfaces if s.kind == "plane" and abs(abs(s.axis[1]) - 1) < 1e-6)
    assert face
    desk.pick((3, face.origin[1], 34))
    step_of(desk, 7)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X="0", Y="#6")
    bored = done(desk)
    assert block - bored == pytest.approx(math.pi * 100 * 36, rel=1e-5)
    desk.look("T")
    desk.pick((35, 10, 10))
    step_of(desk, 8)
    desk.choose("Where", "so far from two edges")
    desk.click(desk.field("Pick Counted from"))
    desk.settled()
    desk.pick((40, 7, 10))
    desk.pick((30, -18, 10), more=True)
    desk.settled()
    desk.click(desk.field("Pick Counted from"))
    fill(desk, From_the_first="#9", From_the_second="#10")
    done(desk)
    desk.enter("add: mirror")
    desk.settled()
    tick(desk, 40)
    desk.choose("About", "the plane across X")
    drilled = done(desk)
    assert bored - drilled == pytest.approx(2 * math.pi / 4 * 81 * 10)
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    for side, view in ((1, "F"), (-1, "K")):
        desk.look(view)
        y = -18 if view == "F" else 18
        desk.pick((10 * math.cos(0.8) * side, y, 26 + 10 * math.sin(0.8)))
        desk.settled()
    asked = desk.window.entry.preview.text()
    assert "click Pick again when done" in asked
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    assert desk.window.entry.preview.text() == "", "what was asked for is over"
    fill(desk, Size="#11", Angle="#11.angle")
    broken = done(desk)
    # A ring of a right triangle 1 x 1 round the bore, at both ends.
    assert drilled - broken == pytest.approx(2 * 2 * math.pi * (10 + 1 / 3) / 2, rel=1e-6)
    all_in(desk)


def test_an_inch_pulley(desk):
    inch(desk, "Ø3.000", "Ø1.250", ".750", "1.375", "Ø.625 THRU", ".188 KEYWAY x .709 ACROSS", "2x .031 x 45°")
    desk.enter("add: turned")
    for row, column, text in ((0, 1, "#3"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#2")):
        desk.cell(row, column, text)
    blank = done(desk)
    desk.window._part_cursor((20.0, 12.0, 0.0))
    assert "X Ø1.8" in desk.window.entry._readout.text(), "a turned part is read as on the lathe"
    assert blank == pytest.approx(math.pi / 4 * (9 * 0.75 + 1.25**2 * 0.625) * IN3)
    desk.look("L")
    desk.pick((20, 12, 0))
    step_of(desk, 5)
    desk.choose("Where", "on the face's axis")
    bored = done(desk)
    assert blank - bored == pytest.approx(math.pi / 4 * 0.625**2 * 1.375 * IN3)
    pick_round(desk, 0.3125 * 25.4, 1.375 * 25.4)
    keyway = step_of(desk, 6)
    assert keyway.form == "bore"
    keyed = done(desk)
    assert keyed < bored
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    for view, z in (("L", 0.0), ("R", 1.375 * 25.4)):
        desk.look(view)
        r = 0.3125 * 25.4
        desk.pick((-r * math.cos(0.6), -r * math.sin(0.6), z))
        desk.settled()
    desk.click(desk.field("Pick Edges"))
    fill(desk, Size="#7", Angle="#7.angle")
    done(desk)
    all_in(desk)
