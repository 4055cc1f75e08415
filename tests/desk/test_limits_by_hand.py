"""A stack-up and a fit's clearance, by mouse and keys."""

import pytest
from PyQt6.QtCore import Qt

from .test_inspecting_by_hand import go
from .test_strangers_by_hand import inch


def carry(desk, panel, text):
    line = panel.what.lineEdit()
    desk.click(line)
    desk.press(line, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    desk.keys(line, text)
    desk.press(line, Qt.Key.Key_Return)
    desk.wait(lambda: panel.carried is not None and panel.carried.text == text.replace("volume", ""), 60)
    desk.settled()
    return panel.carried


def rows(panel):
    return [tuple(panel.table.item(r, c).text() for c in range(6)) for r in range(panel.table.rowCount())]


def test_a_stack_of_lengths_and_a_fit(desk):
    for note in ("28 ±0.2", "13 ±0.1", "9 ±0.05", "Ø20 H7", "Ø20 h6"):
        desk.enter(note)
    panel = go(desk, desk.window.limits)
    found = carry(desk, panel, "#1-#2-#3")
    assert found.worst == pytest.approx((5.65, 6.35))
    assert rows(panel)[0] == ("1", "28 ±0.2", "27.800 … 28.200", "5.800", "6.200", "76%")
    assert "always room" in panel.state.text() and "5.650 … 6.350" in panel.figures.text()
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(1, 1)).center())
    assert desk.session.callout == 2
    assert carry(desk, panel, "#4-#5").worst == pytest.approx((0.0, 0.034))
    assert "just touches zero" in panel.state.text()
    # what cannot be carried is said, and what was there stays
    desk.keys(panel.what.lineEdit(), "-#99")
    desk.press(panel.what.lineEdit(), Qt.Key.Key_Return)
    desk.wait(lambda: any(tone == "bad" and "#99" in text for text, tone in desk.said))
    assert panel.carried.text == "#4-#5"


def test_an_inch_bush_by_volume_and_the_figures_go_with_the_part(desk):
    inch(desk, "Ø1.000", "2.000")
    desk.enter("add: turned")
    desk.cell(0, 0, "#2")
    desk.cell(0, 2, "#1")
    desk.settled()
    panel = go(desk, desk.window.limits)
    found = carry(desk, panel, "volume")
    assert [s.number for s in found.shares] == [1, 2] and "in³" in panel.figures.text()
    desk.enter("1.25")
    desk.settled()
    assert panel.carried is None and rows(panel) == [], "it told of the part as it was"
