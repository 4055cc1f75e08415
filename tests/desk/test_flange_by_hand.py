"""SKP-02's holes, edges and pattern straight from the callouts: choose one, pick a face or an edge, Ctrl+Enter."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

CALLOUTS = [
    "Ø118", "9", "Ø108", "13", "Ø42", "28", "R2", "Ø20 H7 THRU", "2x 0.8 x 45°",
    "6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98 first at 0°", "6x Ø18 THRU on Ø66 first at 30°", "M5 - 6H THRU drill Ø4.2 at 21",
]  # fmt: skip


def from_callout(desk, number):
    """Ctrl+Enter, which keeps the picked faces or edges."""
    desk.press(desk.window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    report = desk.session.current.reports[desk.session.step]
    assert report.state == "done", report.message


def _pick_where_it_shows(desk, radius, z, faces):
    """Click a round edge at the first place where it is not hidden."""
    for k in range(24):
        point = (radius * math.cos(k * math.pi / 12), radius * math.sin(k * math.pi / 12), z)
        if desk.edge_shows(point, faces):
            desk.pick(point)
            return
    raise AssertionError("the edge shows nowhere")


def test_the_flange_from_its_callouts(desk):
    for note in CALLOUTS:
        desk.enter(note)
    desk.enter("add: turned")
    for row, cells in enumerate(({0: "#2", 2: "#1"}, {0: "#4", 2: "#3"}, {0: "#6", 2: "#5"})):
        for column, text in cells.items():
            desk.cell(row, column, text)
    desk.settled()
    assert desk.session.current.proof.mass.volume == pytest.approx(155_848.128, rel=1e-6)
    # Bore, on the axis of the outer face.
    desk.look("L")
    desk.choose_callout(8)
    desk.pick((30, 20, 0))
    from_callout(desk, 8)
    # Screw holes and lightening holes with their rings.
    for number in (10, 11):
        desk.choose_callout(number)
        desk.pick((15, 16, 0))
        from_callout(desk, number)
    assert [s.name for s in desk.session.content.steps][-4:] == ["Hole", "Ring", "Hole", "Ring"]
    # The set screw through one wall of the hub, opposite X.
    desk.choose_callout(12)
    desk.look("F")
    desk.pick((5, 20, 17))
    desk.look("L")
    desk.pick((15, 16, 0), more=True)
    from_callout(desk, 12)
    desk.retype(desk.field("Angle"), "180")
    desk.choose("How far", "through one wall")
    desk.settled()
    # Hub foot: from the right end it hides behind the hub's own edge, so the view is turned until it shows.
    desk.choose_callout(7)
    desk.look("R")
    for key in (Qt.Key.Key_Right,) * 3 + (Qt.Key.Key_Up,) * 2:
        desk.press(desk.window.part, key)
    QTest.qWait(300)
    _pick_where_it_shows(desk, 21, 13, {"s1/c.od/side", "s1/b.end/side"})
    from_callout(desk, 7)
    proof = desk.session.current.proof
    marks = {n: proof.mark_of(n) for n in range(1, 13)}
    assert marks == dict.fromkeys(range(1, 13), "in") | {9: "open"}
    # The bore's edges, still missing: the proof says the callout is not used.
    assert 9 in proof.unused
    desk.choose_callout(9)
    QTest.qWait(50)
    desk.look("L")
    desk.pick((10 * 0.6, 10 * 0.8, 0))
    desk.look("R")
    desk.pick((10 * 0.6, 10 * 0.8, 28), more=True)
    from_callout(desk, 9)
    proof = desk.session.current.proof
    assert proof.mark_of(9) == "in"
    assert proof.mass.volume == pytest.approx(123_496.6047, rel=1e-6)  # all but the keyway
    assert proof.all_in
