"""Strangers' parts issued, changed by hand, and what the window then says has changed."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Job
from lathed_solid.desk import window_files
from lathed_solid.desk.route.cards import CardDelegate

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_steps_from_callouts import bored, turned
from .test_strangers_by_hand import IN3, all_in, inch


def issued(desk):
    """The revision issued; nothing is told to have changed since."""
    desk.enter("issue this")
    desk.settled()
    assert told(desk) == ["Nothing has changed."]


def told(desk):
    """What Prove says has changed since the last revision."""
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    QTest.qWait(60)
    return desk.window.proof_figures._changes.text().splitlines()


def rewrite(desk, number, text):
    """A callout's note typed anew on the sheet."""
    desk.choose_callout(number)
    desk.press(desk.window.sheet.list, Qt.Key.Key_Return)
    (line,) = desk.window.sheet.list.viewport().findChildren(QLineEdit)
    line.selectAll()
    desk.keys(line, text)
    desk.press(line, Qt.Key.Key_Return)
    desk.settled()


def card(desk, title):
    """The card of a step, chosen; its list, and where it lies there."""
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    cards = desk.window.route.list
    row = next(k for k, s in enumerate(desk.session.content.steps) if (s.name or "") == title)
    cards.scrollTo(cards.model().index(row, 0))
    box = cards.visualRect(cards.model().index(row, 0))
    desk.click(cards.viewport(), box.center())
    desk.settled()
    return cards, box


def undone(desk, times):
    for _ in range(times):
        desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()


def test_an_inch_pillow_plate_whose_bore_grew_and_holes_moved(desk):
    inch(desk, "3.500", "2.000", ".625", "Ø1.000 THRU", "2x Ø.281 THRU", "2.750")
    plate = slab(desk)
    drilled(desk, (20, 15, 15.875), 4, "0")
    drilled(desk, (30, 20, 15.875), 5, "-#6/2")
    desk.enter("add: row or grid")
    desk.settled()
    fill(desk, Count="2", Pitch="#6")
    assert plate - done(desk) == pytest.approx(math.pi / 4 * 0.625 * (1 + 2 * 0.281**2) * IN3)
    all_in(desk)
    assert desk.actions <= 27, desk.actions
    issued(desk)
    rewrite(desk, 4, "Ø1.125 THRU")
    words = told(desk)
    assert words[0] == "callout 4: Ø1.000 THRU → Ø1.125 THRU"
    assert [w.partition(":")[0] for w in words[1:]] == ["volume", "mass"], words
    card(desk, "Row or grid")
    fill(desk, Pitch="#6-.25")
    assert any(w.endswith("pitch #6 → pitch #6-.25") for w in told(desk)), told(desk)
    desk.look("T")
    part = desk.window.part
    desk.pick((35, 20, 15.875))
    assert "Z 0.625" in part._hint.text()
    desk.window.picking.forget()
    rewrite(desk, 3, ".75")
    assert "0.625" not in part._hint.text(), "the face lies elsewhere now"
    undone(desk, 3)
    assert told(desk) == ["Nothing has changed."]


def test_a_turned_knob_on_which_two_people_work(desk, tmp_path, monkeypatch):
    for note in ("Ø36", "14", "Ø18", "22", "Ø8 H7 THRU"):
        desk.enter(note)
    solid = turned(desk, (0, 0, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    assert solid - bored(desk, (12, 0, 0), 5) == pytest.approx(math.pi * 16 * 22, rel=1e-6)
    all_in(desk)
    issued(desk)
    path = tmp_path / "knob.lathed"
    assert desk.session.save(path)
    hole = desk.session.content.steps[-1]
    cards, box = card(desk, hole.name)
    desk.click(cards.viewport(), CardDelegate.tick_box(box.adjusted(8, 3, -8, -3)).center())
    desk.settled()
    assert told(desk)[0] == f"step “{hole.name}”: switched off no → switched off yes"
    # the other one has made it longer meanwhile, and issued nothing
    theirs = storage.load(path).job
    content = edits.edit_callout(theirs.content, 4, "24")
    storage.save(Job(content=content, revisions=theirs.revisions), path)
    asked = []
    monkeypatch.setattr(window_files, "ask", lambda *given: asked.append(given) or "Go back")
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert asked[0][3].splitlines()[:2] == [
        "callout 4: 24 → 22",
        f"step “{hole.name}”: switched off no → switched off yes",
    ]
    assert storage.load(path).job.content == content, "nothing was written"


def test_a_latch_plate_whose_loose_corner_was_pulled(desk):
    """A line that no size holds is moved by hand: the solid is another, and it is said."""
    for note in ("70", "40", "6"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("line 0,0 #1,0 #1,#2 20,#2 close")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    volume = done(desk)
    issued(desk)
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.window.toggle_large()
    QTest.qWait(50)
    sketch = desk.window.plate.sketch
    loose = next(p for p in sketch.points().values() if abs(p.x - 20) < 1e-6 and abs(p.y - 40) < 1e-6)
    desk.plate_drag((loose.x, loose.y), (loose.x + 8, loose.y))
    assert done(desk) != pytest.approx(volume, rel=1e-4)
    words = told(desk)
    assert words[0].startswith(f"sketch “{sketch.name}”: as it was → ") and "moved by up to" in words[0], words
    assert words[1].startswith("volume: ")
    undone(desk, 1)
    assert told(desk) == ["Nothing has changed."]
