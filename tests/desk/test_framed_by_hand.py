"""Form, place, finish and datums put on their faces, and a section bent at the axis, by mouse and keys: a flanged bush and
an end cap (mm), an inch guide bar, an inch rocker plate.
"""

from __future__ import annotations

import math
import os

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.drafting.sheet.placing import Placing

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_inspecting_by_hand import go
from .test_issued_strangers_by_hand import sheet_of
from .test_measuring_by_hand import round_face
from .test_steps_from_callouts import bored, step_of, turned
from .test_strangers_by_hand import all_in, inch


def put_on(desk, number, face, hollow=False):
    """A callout chosen in the ledger, then a click on its face (a place, or the index of one), then one on the button."""
    panel = desk.window.measure
    desk.choose_callout(number)
    if isinstance(face, int):
        desk.window.picking.on_face(face, False)
    else:
        desk.pick(face)
    assert panel.bind.isEnabled() and panel.bind.text() == f"Put callout {number} on this face"
    desk.click(panel.bind)
    desk.settled()
    assert desk.said[-1][1] == "good" and "judged on the part" in desk.said[-1][0]


def ringed(desk, at, number):
    """The holes of a callout on their circle, in the left face, which is picked at a place."""
    desk.look("L")
    desk.pick(at)
    step_of(desk, number)
    done(desk)
    desk.enter("add: ring")
    desk.settled()
    fill(desk, Count=f"#{number}.count")
    done(desk)


def said(room, number):
    return [w.text for w in room.drawing.composed.scene.texts() if w.of == f"label:{number}"]


def test_a_flanged_bush_with_its_datum_and_runout(desk):
    for note in (
        "Ø50",
        "8",
        "Ø32 h6",
        "38",
        "Ø20 H7 THRU",
        "DATUM A",
        "runout 0.02 A",
        "perpendicularity 0.03 A",
        "Ra 0.8",
    ):
        desk.enter(note)
    turned(desk, (0, 1, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    bored(desk, (24, 2, 0), 5)
    before = desk.session.current.proof
    assert [(x.number, x.mark) for x in before.lines] == [(n, "in") for n in (1, 2, 3, 4)] + [(5, "in")] * 2
    go(desk, desk.window.measure)
    put_on(desk, 6, round_face(desk, 10.0))
    put_on(desk, 7, round_face(desk, 16.0))
    desk.look("R")
    put_on(desk, 8, (22, 2, 8))
    put_on(desk, 9, round_face(desk, 10.0))
    after = desk.session.current.proof
    assert [(x.number, x.mark) for x in after.lines] == [(x.number, x.mark) for x in before.lines]
    assert after.unexplained == before.unexplained
    room = sheet_of(desk, "bush")
    assert [said(room, n) for n in (6, 7, 8, 9)] == [["A"], ["↗  0.02  A"], ["⊥  0.03  A"], ["Ra 0.8 µm"]]
    # The bore made larger: everything stands where it stood, and one step back takes a note off its face again.
    desk.session.undo()
    desk.settled()
    desk.wait(lambda: not room.drawing.is_late, 30)
    print("bush", desk.actions)


def test_an_inch_guide_bar_with_flat_and_square_faces(desk):
    inch(
        desk, "3.000", "1.000", ".500", "Ø.250 THRU", "flatness .001", "parallelism .002 A", "DATUM A", "Ra 32", "1.000"
    )
    slab(desk)
    drilled(desk, (30, 8, 12.7), 4, "#9")
    go(desk, desk.window.measure)
    desk.look("T")
    put_on(desk, 5, (-30, -8, 12.7))
    put_on(desk, 6, (-30, 8, 12.7))
    put_on(desk, 8, (-20, 8, 12.7))
    desk.look("B")
    put_on(desk, 7, (-30, 8, 0))
    desk.click(desk.window.measure.bind)  # once more is no other thing
    desk.settled()
    assert len(desk.session.content.bindings) == 4
    # Two faces, or none, are no place to stand.
    desk.look("T")
    desk.pick((-30, -8, 12.7))
    desk.window.picking.on_face(round_face(desk, 0.125 * 25.4), True)
    assert not desk.window.measure.bind.isEnabled()
    room = sheet_of(desk, "guide bar")
    assert [said(room, n) for n in (5, 6, 7, 8)] == [["⏥  .001"], ["∥  .002  A"], ["A"], ["Ra 32 µin"]]
    front = next(v.id for v in room.drawing.sheet.views if v.way == "front")
    assert {e.view for e in room.drawing.sheet.labels if e.number in (5, 6, 7, 8)} == {front}, (
        "where its face is a line"
    )
    # What comes after the sheet was laid out is listed, and put on it by one click.
    desk.enter("flatness .0005")
    go(desk, desk.window.measure)
    desk.look("F")
    put_on(desk, 10, (-30, -12.7, 6))
    desk.press(desk.window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: not room.drawing.is_late and room.side.board.missing.list.isVisible(), 30)
    desk.click(room.side.board.missing.put)
    desk.wait(lambda: not room.drawing.is_late, 30)
    QTest.qWait(60)
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/guide bar more.png")
    top = next(v.id for v in room.drawing.sheet.views if v.way == "top")
    assert room.drawing.sheet.label(10).view == top, "the front face is a line from above"
    assert said(room, 10) == ["⏥  .0005"] and not room.side.board.missing.list.isVisible()
    print("guide bar", desk.actions)


def test_an_end_cap_in_an_aligned_section(desk):
    """Three screw holes: no one plane through the axis shows two of them."""
    for note in ("Ø70", "12", "Ø25 H7 THRU", "3x Ø7 THRU on Ø52"):
        desk.enter(note)
    turned(desk, (0, 1, "#2"), (0, 2, "#1"))
    bored(desk, (33, 2, 0), 3)
    ringed(desk, (33, 2, 0), 4)
    all_in(desk)
    room = sheet_of(desk, "cap")
    drawing = room.drawing
    end = next(v.id for v in drawing.sheet.views if v.cut is None and v.way in ("left", "right"))
    low = min(
        (s.arc for s in drawing.seen.views[end].strokes if s.visible and s.arc and abs(s.arc.radius - 3.5) < 1e-6),
        key=lambda a: a.center[1],
    )
    placing = Placing(drawing.sheet, drawing.sheet.view(end), drawing.seen.views[end])
    desk.click(room.canvas, room.canvas.pixel_of(placing.at(low.at(0.0))).toPoint())
    assert drawing.pointed.place == pytest.approx(low.center)
    desk.enter("section, one half bent")
    many = len(drawing.sheet.views)
    desk.wait(
        lambda: not drawing.is_late and len(drawing.sheet.views) > many - 1 and drawing.sheet.views[-1].cut is not None,
        60,
    )
    QTest.qWait(60)
    bent = drawing.sheet.views[-1]
    assert bent.cut.kind == "aligned" and bent.letter == "A" and float(bent.cut.turn) in (60.0, -60.0)
    shown = drawing.seen.views[bent.id]
    assert {round(c.a[1], 3) for c in shown.centres} >= {26.0, -26.0, 0.0}, "a hole above, and one below"
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/cap bent.png")
    print("cap", desk.actions)


def clicked_ring(desk, room, view, radius):
    """A click on the rightmost place of a circle in a view; its middle is then what is chosen."""
    drawing = room.drawing
    circle = next(
        s.arc for s in drawing.seen.views[view].strokes if s.visible and s.arc and abs(s.arc.radius - radius) < 1e-6
    )
    placing = Placing(drawing.sheet, drawing.sheet.view(view), drawing.seen.views[view])
    desk.click(room.canvas, room.canvas.pixel_of(placing.at(circle.at(0.0))).toPoint())
    assert drawing.pointed.place == pytest.approx(circle.center)
    return circle.center


def test_an_inch_rocker_plate_bent_about_its_bore(desk):
    """Milled, its bore off zero: sizes with their frames below them, a section from above that goes through the bore and
    one hole, then through the bore and another, then about the hole.
    """
    inch(desk, "4.000 parallelism .002 A", "2.500", ".500 Ra 63", "Ø1.000 +.001/0 THRU DATUM A Ra 32", ".750")
    for note in ("Ø.375 THRU position Ø.010 A", "1.250", ".500", "Ø.250 THRU", ".625"):
        desk.enter(note)
    slab(desk)
    drilled(desk, (45, 0, 12.7), 4, "-#5")
    drilled(desk, (45, 0, 12.7), 6, "#7", "#8")
    drilled(desk, (45, 0, 12.7), 9, "#10", "-#10")
    all_in(desk)
    room = sheet_of(desk, "rocker plate")
    drawing = room.drawing
    assert said(room, 4)[1:] == ["Ra 32 µin", "A"] and said(room, 6)[-1] == "⌖  Ø.010  A"
    assert said(room, 1)[-1] == "∥  .002  A" and said(room, 3)[-1] == "Ra 63 µin"
    top = next(v.id for v in drawing.sheet.views if v.way == "top")
    hole = clicked_ring(desk, room, top, 0.1875 * 25.4)
    desk.enter("section, one half bent")
    desk.wait(lambda: not drawing.is_late and drawing.sheet.views[-1].cut is not None, 60)
    QTest.qWait(60)
    bent = drawing.sheet.views[-1].id
    shown = drawing.seen.views[bent]
    assert shown.lost == "" and shown.pivot.origin[:2] == pytest.approx((-0.75 * 25.4, 0.0))
    apart = math.dist(hole, (-0.75 * 25.4, 0.0))

    def axes():
        lines = drawing.seen.views[bent].centres
        return sorted({round(c.a[0], 3) for c in lines if abs(c.a[0] - c.b[0]) < 1e-6})

    assert max(axes()) - min(axes()) == pytest.approx(apart, abs=2e-3)
    # About the hole instead, by its place; then back by what is typed.
    clicked_ring(desk, room, top, 0.1875 * 25.4)
    desk.enter("axis of the bent section")
    desk.wait(lambda: not drawing.is_late and drawing.seen.views[bent].pivot.origin[:2] == pytest.approx(hole), 60)
    card = room.side.board.fields.view
    placing = Placing(drawing.sheet, drawing.sheet.view(bent), drawing.seen.views[bent])
    left, bottom, right, top_ = placing.box()
    desk.click(room.canvas, room.canvas.pixel_of(((left + right) / 2, (bottom + top_) / 2)).toPoint())
    assert card.axis.isVisible() and card.axis.text() == "1.25; 0.5"
    card.axis.selectAll()
    QTest.keyClicks(card.axis, "-#5; 0")
    QTest.keyClick(card.axis, Qt.Key.Key_Return)
    desk.wait(lambda: not drawing.is_late and drawing.seen.views[bent].pivot.origin[0] < 0, 60)
    QTest.qWait(60)
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/rocker bent.png")
    print("rocker", desk.actions)
