"""Three parts nobody had built here, by mouse and keys from their first number to their drawing sheet: a metric gland, an
inch motor plate, a metric angle stop.
"""

from __future__ import annotations

import itertools
import math
import os

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.placing import Placing
from lathed_solid.core.drafting.sheet.scene import Sized
from lathed_solid.core.job.measures import stands_alone

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_steps_from_callouts import bored, step_of, turned
from .test_strangers_by_hand import IN3, all_in, inch


def sheet_of(desk, name):
    """A sheet laid out by one click in the Issue stage; what is on it."""
    desk.press(desk.window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    room = desk.window.issue
    desk.click(room.side.board.fields.new)
    desk.wait(lambda: room.drawing.composed is not None and not room.drawing.is_late, 60)
    QTest.qWait(60)
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/{name}.png")
    drawing = room.drawing
    content, scene = drawing.content, drawing.composed.scene
    assert {e.number for e in drawing.sheet.labels} == {c.number for c in content.callouts}
    assert drawing.composed.unseen == () and not room.side.board.missing.list.isVisible()
    texts = [w.text for w in scene.texts()]
    every, others = len(content.callouts), sum(stands_alone(content, c.number) for c in content.callouts)
    more = f", {others} not measured" if others else ""
    assert f"{every - others} of {every} callouts in limits{more}" in texts
    assert not any("/side" in t or "s1" in t.split() for t in texts), "no internal names"
    boxes = [(w.text, words_box(w)) for w in scene.texts()]
    over = [
        (a, b)
        for (a, p), (b, q) in itertools.combinations(boxes, 2)
        if p[0] + 0.05 < q[2] and q[0] + 0.05 < p[2] and p[1] + 0.05 < q[3] and q[1] + 0.05 < p[3]
    ]
    assert over == []
    ledger = content.ledger()
    for mark in scene.marks:
        if isinstance(mark, Sized):
            number = int(mark.of.removeprefix("label:"))
            assert mark.length == pytest.approx(ledger.reading(number).main.made, rel=1e-6)
    sized = {int(m.of.removeprefix("label:")) for m in scene.marks if isinstance(m, Sized)}
    lengths = {c.number for c in content.callouts if ledger.reading(c.number).shape == "length"}
    assert lengths <= sized, "every length has its line"
    assert all(ledger.reading(n).shape == "diameter" for n in sized - lengths), "besides only diameters across"
    assert room.canvas.hasFocus()
    return room


def chamfered(desk, view, edge, callout):
    """The edge that is seen at a place broken as a callout says; the part's volume after it."""
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    desk.look(view)
    desk.pick(edge)
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    fill(desk, Size=callout, Angle=f"{callout}.angle")
    return done(desk)


def test_a_gland_with_its_ring_of_holes(desk):
    for note in ("Ø60", "10", "Ø36", "34", "Ø22 H7 THRU", "3x Ø9 THRU on Ø48", "1 x 45°"):
        desk.enter(note)
    blank = turned(desk, (0, 1, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    with_bore = bored(desk, (28, 2, 0), 5)
    assert blank - with_bore == pytest.approx(math.pi * 121 * 34)
    desk.look("L")
    desk.pick((28, 2, 0))
    step_of(desk, 6)
    done(desk)
    desk.enter("add: ring")
    desk.settled()
    fill(desk, Count="#6.count")
    drilled_all = done(desk)
    assert with_bore - drilled_all == pytest.approx(3 * math.pi * 4.5**2 * 10, rel=1e-6)
    chamfered(desk, "R", (-18 * math.cos(0.6), -18 * math.sin(0.6), 34), "#7")
    all_in(desk)
    room = sheet_of(desk, "gland")
    front = room.drawing.sheet.views[0]
    assert front.cut is not None and front.cut.kind == "half", "a bored part is shown in half section"
    print("gland", desk.actions)


def test_an_inch_motor_plate(desk):
    inch(desk, "4.000", "2.500", ".375", "Ø1.250 THRU", "Ø.500 THRU", "1/4-20 UNC-2B THRU", "1.250", "1.500")
    volume = slab(desk)
    assert volume == pytest.approx(4 * 2.5 * 0.375 * IN3)
    at = (45, 25, 0.375 * 25.4)
    drilled(desk, at, 4, "0")
    drilled(desk, at, 5, "#7")
    desk.look("T")
    whole = drilled(desk, at, 6, "-#8")
    assert whole < volume
    all_in(desk)
    room = sheet_of(desk, "motor-plate")
    assert room.drawing.sheet.size == "ANSI B"
    desk.click(room.side.board.fields.ticks["holes"])
    QTest.qWait(50)
    told = [w.text for w in room.drawing.composed.scene.texts() if w.of == "table:holes"]
    assert len(told) == 4 * 4 and "1.25" in told and "-1.5" in told
    print("plate", desk.actions)


def test_an_angle_stop(desk):
    for note in ("50", "30", "12", "40", "14", "M8 THRU", "26"):
        desk.enter(note)
    foot = slab(desk)
    desk.look("T")
    desk.pick((20, 10, 12))
    new_sketch(desk, "extrude")
    desk.enter("rect #5 x #2 at -18,0")
    desk.choose("How far", "to a depth")
    fill(desk, Depth="#4-#3")
    block = done(desk)
    assert block - foot == pytest.approx(14 * 30 * 28)
    desk.look("L")
    desk.pick((-25, 5, 30))
    step_of(desk, 6)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X="0", Y="#7")
    done(desk)
    all_in(desk)
    room = sheet_of(desk, "angle-stop")
    # An upright section through the middle of the hole, where it is seen end-on.
    drawing = room.drawing
    view, arc = next(
        (i, s.arc)
        for i, v in drawing.seen.views.items()
        for s in v.strokes
        if s.visible and s.arc is not None and drawing.sheet.view(i).way != "three faces"
    )
    placing = Placing(drawing.sheet, drawing.sheet.view(view), drawing.seen.views[view])
    QTest.mouseClick(
        room.canvas, Qt.MouseButton.LeftButton, pos=room.canvas.pixel_of(placing.at(arc.at(0.0))).toPoint()
    )
    menu = room.board.doings.menu_for(room.canvas)
    next(a for a in menu.actions() if a.text() == "Section upright through here").trigger()
    desk.wait(lambda: not drawing.is_late and drawing.composed is not None, 60)
    assert drawing.seen.views[drawing.sheet.views[-1].id].areas
    if folder := os.environ.get("PICTURES"):
        QTest.qWait(100)
        desk.window.grab().save(f"{folder}/angle-stop-cut.png")
    print("stop", desk.actions)
