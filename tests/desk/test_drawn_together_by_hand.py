"""Strangers' parts by mouse and keys: a metric roller pin in its lug, drawn together on one sheet; an inch leg screw whose
tapped hole is too shallow, a metric index plate with a hole left out, both found by the figure their drawings state.
"""

import math
import os

import pypdfium2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_fit_by_hand import button, words
from .test_fit_in_words import saved, typed
from .test_steps_from_callouts import bored, step_of, turned
from .test_strangers_by_hand import IN3, all_in, inch
from .test_vise_base_by_hand import tick
from .test_why_by_hand import explained, state, take_first


def pictured(desk, name):
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/{name}.png")


def test_a_roller_pin_and_its_lug_are_drawn_together(desk, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(desk.saved_as), ""))
    for note in ("60", "40", "14", "Ø12 H7 THRU"):
        desk.enter(note)
    block = slab(desk)
    drilled(desk, (20, 12, 14), 4, "0", "0")
    assert block - desk.session.current.proof.mass.volume == pytest.approx(math.pi * 36 * 14, rel=1e-6)
    all_in(desk)
    saved(desk, "lug")
    for note in ("Ø20", "6", "Ø12 g6", "24"):
        desk.enter(note)
    pin = turned(desk, (0, 0, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    assert pin == pytest.approx(math.pi * (100 * 6 + 36 * 18), rel=1e-3)
    all_in(desk)
    saved(desk, "pin")

    desk.press(desk.window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.window.is_fitted and desk.window.fit.view.is_ready)
    room = desk.window.fit
    files = [str(tmp_path / f"{n}.lathed") for n in ("lug", "pin")]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: (files, ""))
    button(desk, room, "From files …")
    desk.wait(lambda: len(room.document.assembly.instances) == 2, 60)
    for sentence in ("in line lug Ø12 hole with pin Ø12", "seated lug Z 14 with pin Z 6"):
        assert typed(desk, sentence).startswith("Ties "), sentence
    _, pin = (i.id for i in room.document.assembly.instances)
    assert words(room, pin).startswith("turns about")

    begun = desk.actions
    desk.enter("drawing sheet of the assembly")
    drawing = room.sheets.drawing
    desk.wait(lambda: drawing.composed is not None and not drawing.is_late and not drawing.is_proposing, 60)
    QTest.qWait(60)
    pictured(desk, "lug and pin")
    assert desk.actions - begun <= 2
    assert drawing.composed.unseen == () and [e.number for e in drawing.sheet.labels] == [1, 2]
    text = [w.text for w in drawing.composed.scene.texts()]
    assert text.count("1") >= 2 and text.count("2") >= 2, "in their circles and in the list"
    assert {"lug", "pin"} <= set(text), "parts without a name by their files"
    scale = drawing.sheet.scale_of(drawing.sheet.views[0])
    (view,) = [s.box for s in drawing.composed.scene.spots if s.of == f"view:{drawing.sheet.views[0].id}"]
    assert view[2] - view[0] == pytest.approx(60 * scale, abs=0.01), "as wide as the lug"
    # The pin's axis is met by the cut: both parts are hatched, each its own way.
    assert {a.solid for a in drawing.seen.views[drawing.sheet.views[0].id].areas} == {0, 1}
    room.board.fields.scale.setCurrentText("2:1")
    desk.press(room.board.fields.scale, Qt.Key.Key_Return)
    assert drawing.sheet.scale == "2:1"
    target = tmp_path / "both.pdf"
    desk.saved_as = target
    desk.enter("write the drawing: pdf")
    desk.wait(lambda: target.exists() and not desk.session.is_working, 60)
    assert "2:1" in pypdfium2.PdfDocument(target)[0].get_textpage().get_text_range()


def test_an_inch_leg_screw_tapped_too_shallow(desk):
    """Its drill was stopped at the depth of the thread: by the stated volume that is the first suspect."""
    inch(desk, "Ø1.000", "1.500", "Ø1.500", ".375", "1/4-20 UNC-2B x .500 deep drill Ø.201 x .800 deep")
    turned(desk, (0, 0, "#4"), (0, 2, "#3"), (1, 0, "#2"), (1, 2, "#1"))
    right = bored(desk, (10, 15, 0), 5)
    all_in(desk)
    fill(desk, Depth="#5.depth")
    wrong = done(desk)
    assert right < wrong and wrong - right == pytest.approx(math.pi / 4 * 0.201**2 * 0.3 * IN3, rel=0.05)
    state(desk, f"{right / IN3:.4f}")
    first = explained(desk)
    assert "drill depth, not its depth" in first
    take_first(desk)
    assert desk.session.current.proof.mass.volume == pytest.approx(right)
    all_in(desk)


def test_an_index_plate_with_a_hole_left_out(desk):
    for note in ("Ø70", "8", "6x Ø9 THRU", "Ø50"):
        desk.enter(note)
    blank = turned(desk, (0, 0, "#2"), (0, 2, "#1"))
    desk.look("R")
    desk.pick((10, 10, 8))
    step_of(desk, 3)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X="#4/2", Y="0")
    hole = blank - done(desk)
    assert hole == pytest.approx(math.pi / 4 * 81 * 8)
    desk.enter("add: ring")
    desk.settled()
    tick(desk, 20)
    fill(desk, Count="6")
    right = done(desk)
    assert right == pytest.approx(blank - 6 * hole)
    all_in(desk)
    desk.click(desk.field("More fields"))
    desk.settled()
    fill(desk, Leave_out="4")
    assert done(desk) == pytest.approx(blank - 5 * hole)
    (line,) = (x for x in desk.session.current.proof.lines if x.mark != "in")
    assert (line.number, line.key) == (3, "count")
    pictured(desk, "index plate")
    state(desk, f"{right:.2f}")
    assert "none left out" in explained(desk)
    take_first(desk)
    assert desk.session.current.proof.mass.volume == pytest.approx(right)
    all_in(desk)
