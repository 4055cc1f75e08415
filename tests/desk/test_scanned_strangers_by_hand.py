"""Strangers from paper to proof, by mouse and keys: a metric plate drawn over its scan, an inch bushing from a
photograph, a metric guide block whose scan is only a page of a PDF.
"""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from lathed_solid.desk.glass import pictures

from .scans import opened, pictured, reviewed
from .test_drawing_by_hand import click_sheet
from .test_scanned_by_hand import plate_sheet


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
    for a, b in ((2, 1), (2, 4), (2, 6)):
        pts = plate.sketch.points()
        p, q = pts[f"p{a}"], pts[f"p{b}"]
        desk.plate_click(p.x, p.y)
        desk.plate_click(q.x, q.y, Qt.KeyboardModifier.ControlModifier)
        QTest.qWait(50)
        print(a, b, [b.text() for b in plate.findChildren(QPushButton) if b.isVisible()], number)
    desk.window.grab().save("/tmp/w/pl.png")
    assert 0
