"""Strangers from paper to proof, by mouse and keys: a metric plate drawn over its scan, an inch bushing from a
photograph, a metric guide block whose scan is only a page of a PDF.
"""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from lathed_solid.desk.glass import pictures

from .scans import opened, pictured, reviewed
from .test_bracket_by_hand import done, fill
from .test_drawing_by_hand import click_sheet
from .test_scanned_by_hand import plate_sheet
from .test_strangers_by_hand import all_in


@pytest.fixture(autouse=True)
def _nothing_kept(monkeypatch, tmp_path):
    """What is read is kept in the test's own folder."""
    monkeypatch.setattr(pictures, "user_cache_path", lambda _: tmp_path)


def test_a_plate_drawn_over_its_scan(desk, tmp_path):
    offers = opened(desk, pictured(plate_sheet().pdf(), "clean", tmp_path / "plate.png"))
    glass, side, session = desk.window.glass, desk.window.read_side, desk.session
    desk.actions = 0
    desk.click(offers.all)
    reviewed(desk, ["66", "90", "34", "54", "4x Ø6.6 THRU", "Ø22 THRU", "12"])
    number = {c.note: f"#{c.number}" for c in session.content.callouts}
    desk.click(glass.tools["scale"])
    for x, y in ((70, 114), (160, 114)):
        click_sheet(desk, x / 297, y / 210)
    desk.retype(glass.slip.line, "90")
    side.setCurrentWidget(side.outlines)
    desk.click(side.traced.search)
    for x, y in ((64, 54), (166, 118)):
        click_sheet(desk, x / 297, y / 210)
    desk.wait(lambda: side.traced.take.isEnabled(), 60)
    for box, _ in side.traced._alike:
        desk.click(box, QPoint(8, box.height() // 2))
    desk.click(side.traced.take)
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.name == "Over the scan")
    desk.settled()
    plate, canvas = desk.window.plate, desk.window.plate.canvas
    desk.tool("rectangle")
    for x, y in ((0.6, 0.5), (89.3, 53.4)):
        desk.plate_click(x, y)
    desk.press(canvas, Qt.Key.Key_Escape)
    desk.settled()
    # The lengths of its lines are those of callouts, which "Pin it for me" finds by what the scan measures.
    pinned(desk, f"{number['90']} = 90", f"{number['54']} = 54")
    n90, n54, n66, n34 = (number[k] for k in ("90", "54", "66", "34"))
    # Where the holes stand, in words of the callouts; the drawing shows them in the middle of the plate.
    left_low, right_low, left_high, right_high = (12, 10), (78, 10), (12, 44), (78, 44)
    for one, other, words in (
        (left_low, right_low, "horizontal"),
        (left_high, right_high, "horizontal"),
        (left_low, left_high, "vertical"),
        (right_low, right_high, "vertical"),
    ):
        both_chosen(desk, one, other)
        desk.click(desk.plate_button(words))
        desk.settled()
    for one, other, button, text in (
        (left_low, right_low, "size along", n66),
        (left_low, left_high, "size across", n34),
        ((0, 0), left_low, "size along", f"({n90}-{n66})/2"),
        ((0, 0), left_low, "size across", f"({n54}-{n34})/2"),
        ((0, 0), (45, 27), "size along", f"{n90}/2"),
        ((0, 0), (45, 27), "size across", f"{n54}/2"),
    ):
        both_chosen(desk, one, other)
        desk.size(text, button)
        desk.settled()
    assert canvas.look.freedom.ways == 0, plate.strip.words.text()
    fill(desk, Depth=number["12"])
    volume = done(desk)
    assert volume == pytest.approx(12 * (90 * 54 - math.pi * (4 * 3.3**2 + 11**2)), rel=1e-9)
    all_in(desk)
    print("plate", desk.actions)


def both_chosen(desk, one, other):
    """Click the two points of the plate that stand nearest to these places."""
    places = [(p.x, p.y) for p in desk.window.plate.sketch.points().values()]
    for spot, modifier in ((one, Qt.KeyboardModifier.NoModifier), (other, Qt.KeyboardModifier.ControlModifier)):
        desk.plate_click(*min(places, key=lambda p: math.dist(p, spot)), modifier)
    QTest.qWait(20)


def pinned(desk, *wanted: str) -> None:
    """Take offers of "Pin it for me" by their words."""
    for words in wanted:
        menu = desk.plate_button("Pin it for me").menu()
        menu.aboutToShow.emit()
        next(a for a in menu.actions() if a.text().startswith(words)).trigger()
        desk.actions += 2
        desk.settled()
