"""The window at work: it never waits, never falls, never loses anything, and says what is wrong."""

import subprocess
import sys
import time

import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QLineEdit, QMessageBox, QPushButton

from lathed_solid.core.job import edits
from lathed_solid.worker import faults
from lathed_solid.worker.client import Client

from ..conftest import EXAMPLES


def with_fault(desk, monkeypatch, fault):
    """A new kernel process that takes a fault with it."""
    monkeypatch.setenv(faults.VARIABLE, fault)
    builds = desk.session._builds
    builds.client.close()
    builds.client = Client(builds._replied.emit)


CONTROL = """
import sys, time
last = time.perf_counter()
while True:
    time.sleep(0.005)
    now = time.perf_counter()
    if now - last > 0.05:
        print(last, now, flush=True)
    last = now
"""


def _stalls(seconds, limit):
    """Spells (start, end) longer than ``limit`` in which the event loop did not come round, and how often it did."""
    rounds, last, found = 0, time.perf_counter(), []

    def tick():
        nonlocal rounds, last
        now = time.perf_counter()
        rounds += 1
        if now - last > limit:
            found.append((last, now))
        last = now

    timer = QTimer()
    timer.timeout.connect(tick)
    timer.start(5)
    ends = time.perf_counter() + seconds
    while time.perf_counter() < ends:
        QTest.qWait(20)
    timer.stop()
    return found, rounds


@pytest.mark.clock
def test_the_event_loop_never_stalls_while_a_slow_step_runs(desk, monkeypatch):
    desk.open_example("skp-01")
    with_fault(desk, monkeypatch, "s4=slow:12")
    desk.session.rebuild()
    desk.wait(lambda: desk.session.busy.step == "s4")
    desk.wait(lambda: "working on Flat" in desk.window.rail.working.text())  # told now and then, not at once
    QTest.qWait(200)  # and painted
    # A bare process that only sleeps stands beside: what holds it up too is the machine, not the window.
    control = subprocess.Popen([sys.executable, "-c", CONTROL], stdout=subprocess.PIPE, text=True)
    QTest.qWait(300)
    stalls, rounds = _stalls(5.0, 0.1)
    control.kill()
    held = [tuple(map(float, line.split())) for line in control.communicate()[0].splitlines()]
    own = [(a, b) for a, b in stalls if not any(c < b and a < d for c, d in held)]
    assert desk.session.busy.step == "s4"  # still at it
    assert rounds > 200
    assert own == [], [f"{1000 * (b - a):.0f} ms" for a, b in own]
    desk.click(desk.window.rail.cancel)
    desk.wait(lambda: desk.session.busy.step == "")
    assert desk.session.current.built is not None


def test_a_step_that_fells_the_kernel_is_named_and_nothing_is_lost(desk, monkeypatch):
    with_fault(desk, monkeypatch, "s3=crash")
    desk.session.open(EXAMPLES / "skp-01.lathed")
    job = desk.session.current.history.state
    desk.wait(lambda: desk.session.current.built is not None and not desk.session.is_working, 60)
    reports = desk.session.current.reports
    assert [reports[s].state for s in ("s1", "s1tf", "s2", "s3", "s4")] == ["done", "done", "done", "failed", "waiting"]
    assert "brought the kernel down" in reports["s3"].message
    assert any("“Cross hole” brought the kernel down" in text for text, _ in desk.said)
    assert desk.session.current.history.state is job
    assert desk.window.part.scene.body is not None  # the last good solid is on screen
    with_fault(desk, monkeypatch, "")
    desk.enter("try fallen")
    desk.settled()
    assert {r.state for r in desk.session.current.reports.values()} == {"done"}


def test_notes_are_read_while_typing_and_wrong_ones_change_nothing(desk):
    bar = desk.window.entry
    bar.line.setFocus()
    desk.keys(bar.line, "6x dia 5.5 thru cbore 10 dp 5.4")
    assert "six through holes Ø5.5, each with a counterbore Ø10 wide" in bar.preview.text()
    desk.press(bar.line, Qt.Key.Key_Escape)
    desk.enter("Ø12 q9")
    assert "does not fit here" in bar.preview.text()
    assert desk.session.content.callouts == ()
    desk.press(bar.line, Qt.Key.Key_Escape)
    desk.enter("#3 + 1")
    assert "no callout #3" in bar.preview.text()
    assert desk.session.content.callouts == ()


def test_a_callout_is_changed_in_place_and_a_wrong_change_keeps_the_old(desk):
    desk.enter("22 ; journal")
    desk.choose_callout(1)
    sheet = desk.window.sheet.list
    for text, note in (("24 ±0.1 ; seat", "24 ±0.1"), ("24 +* 3", "24 ±0.1")):
        desk.press(sheet, Qt.Key.Key_Return)
        desk.wait(
            lambda: isinstance(QApplication.focusWidget(), QLineEdit) and sheet.isAncestorOf(QApplication.focusWidget())
        )
        editor = QApplication.focusWidget()
        desk.press(editor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        desk.keys(editor, text)
        desk.press(editor, Qt.Key.Key_Return)
        desk.wait(lambda: not isinstance(QApplication.focusWidget(), QLineEdit))
        QTest.qWait(30)
        assert desk.session.content.callouts[0].note == note
    assert "does not fit here" in desk.said[-1][0]
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.session.content.callouts[0].note == "22"
    desk.press(desk.window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert desk.session.content.callouts[0].label == "seat"


def test_a_used_callout_is_deleted_only_after_asking(desk, monkeypatch):
    desk.open_example("skp-02")
    answers = iter(["Keep it", "Delete it"])

    def answer(box):
        assert "used by step 50 Screw hole, step 60 Screw holes" in box.text()
        wanted = next(answers)
        next(b for b in box.buttons() if b.text() == wanted).click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", answer)
    desk.choose_callout(10)
    desk.press(desk.window.sheet.list, Qt.Key.Key_Delete)
    assert len(desk.session.content.callouts) == 15
    desk.press(desk.window.sheet.list, Qt.Key.Key_Delete)
    desk.settled()
    assert len(desk.session.content.callouts) == 14
    states = [r.state for r in desk.session.current.reports.values()]
    assert states[4:] == ["failed"] + ["waiting"] * 5
    assert "no callout #10" in desk.session.current.reports["s5"].message
    assert desk.window.part.scene.body is not None


def test_edges_are_picked_and_a_wrong_size_explains_itself(desk):
    desk.open_example("skp-01")
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.look("F")
    desk.pick((0, 10, 60))  # a face is not taken while edges are asked for
    surface = desk.window.part.surface
    x, y = surface.view.Convert(-10.0, 0.0, 24.0)
    at = QPoint(round(x / surface.devicePixelRatioF()), round(y / surface.devicePixelRatioF()) - 6)
    QTest.mouseMove(surface, at)
    desk.click(surface, at)
    (edge,) = desk.session.content.steps[-1].edges
    assert {edge.a, edge.b} == {"s1/b.end/side", "s1/c.od/side"}
    desk.retype(desk.field("Size"), "0.5")
    desk.settled()
    last = desk.session.content.steps[-1].id
    assert desk.session.current.reports[last].state == "done"
    desk.retype(desk.field("Size"), "25")
    desk.settled()
    assert "The largest that works is about" in desk.session.current.reports[last].message
    desk.retype(desk.field("Size"), "zero")
    assert desk.session.content.steps[-1].size == "25"
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.current.reports[last].state == "done"


def test_a_colliding_size_names_what_determines_it(desk):
    desk.enter("add: extrude")
    plate = desk.window.plate
    desk.click(plate.tools["rectangle"])
    desk.plate_click(5, 4)
    desk.plate_click(30, 14)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    assert "4 ways to move" in plate.strip.words.text()
    bottom, right, top, _ = (c.id for c in plate.sketch.curves())
    desk.plate_click(15, 4)
    assert plate.canvas.chosen == (bottom,)
    desk.size("40 - 2")
    assert plate.sketch.dimensions[-1].text == "40 - 2"
    assert "3 ways to move" in plate.strip.words.text()
    points = plate.sketch.points()
    p = points[plate.sketch.get(top).a]
    desk.plate_click((p.x + points[plate.sketch.get(top).b].x) / 2 + 6, p.y)
    assert plate.canvas.chosen == (top,)
    desk.click(plate.tools["dimension"])
    QTest.qWait(20)
    assert "already pinned by" in plate.strip.words.text()
    assert "distance 40 - 2" in plate.strip.words.text()
    offers = [b for b in plate.strip.findChildren(QPushButton) if b.isVisible()]
    assert offers[0].text() == "Show it as a reference"
    desk.click(offers[0])
    assert plate.sketch.dimensions[-1].reference
    # Dragging a corner: the length stays, the rest follows the mouse.
    corner = plate.sketch.get(right).b
    p = plate.sketch.points()[corner]
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    desk.plate_drag((p.x, p.y), (p.x + 6, p.y + 5))
    moved = plate.sketch.points()[corner]
    assert (moved.x, moved.y) == pytest.approx((p.x + 6, p.y + 5), abs=1.0)
    a, b = (plate.sketch.points()[i] for i in (plate.sketch.get(bottom).a, plate.sketch.get(bottom).b))
    assert abs(b.x - a.x) == pytest.approx(38, abs=1e-6)
    before = desk.session.content
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.session.content != before  # the whole drag is one undo


def test_sizes_of_a_table_profile_change_on_the_plate(desk):
    desk.open_example("skp-01")
    canvas = desk.window.plate.canvas
    QTest.qWait(200)
    canvas.edit_dimension("d.diameter")
    editor = canvas.findChildren(QLineEdit)[-1]
    desk.press(editor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    desk.keys(editor, "#9 + 2")
    desk.press(editor, Qt.Key.Key_Return)
    desk.settled()
    assert desk.session.content.sketch("k1").stations[3].diameter == "#9 + 2"
    assert desk.session.current.proof.mass.high[0] == pytest.approx(18)
    assert desk.session.current.proof.mark_of(9) == "open"  # a loose number in a formula shows nothing that is stated


def test_a_callout_changed_moves_the_solid_and_the_marks(desk):
    desk.open_example("skp-01")
    desk.session.edit(lambda c: edits.edit_callout(c, 9, "Ø40"), "callout 9 changed")
    desk.settled()
    proof = desk.session.current.proof
    assert proof.mark_of(9) == "in"
    assert proof.stated[0].mark == "out"
    assert "✗" in desk.window.rail._stated.text()


def test_revisions_are_issued_and_compared(desk):
    desk.open_example("skp-02")
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert desk.window.stage == "Prove"
    desk.enter("issue this")
    desk.session.edit(lambda c: edits.edit_callout(c, 7, "R3"), "callout 7 changed")
    desk.settled()
    QTest.qWait(100)
    words = desk.window.proof_figures._changes.text()
    assert "callout 7: R2 → R3" in words
    assert "volume: 123 163.11 mm³ →" in words
    assert desk.session.content.header.revision == "B"


def test_views_sections_and_schemes_survive_each_other(desk):
    desk.open_example("skp-02")
    for key in ("F", "L", "T", "R", "B", "K", "I"):
        desk.look(key)
    for words in (
        "section: cut",
        "hidden edges",
        "see through",
        "light or dark",
        "fit the part",
        "switch millimetres",
    ):
        desk.enter(words)
        QTest.qWait(150)
    desk.wait(lambda: "hatch" in desk.window.part.scene._extra)
    assert desk.session.content.header.style.unit == "in"
    assert desk.session.content.header.units == "mm"  # figures are shown otherwise, no size has changed
    desk.settled()
    figures = [label.text() for label in desk.window.proof_figures.findChildren(QLabel)]
    assert "4.6457 × 4.6457 × 1.1024" in figures
    for words in ("section: cut", "hidden edges", "see through", "light or dark"):
        desk.enter(words)
        QTest.qWait(100)
    assert "hatch" not in desk.window.part.scene._extra
    picture = desk.window.part.surface.grabFramebuffer()
    colors = {picture.pixel(x, y) for x in range(0, picture.width(), 9) for y in range(0, picture.height(), 9)}
    assert len(colors) > 50  # a shaded part, not an empty ground


def test_exports_by_action(desk, tmp_path, monkeypatch):
    desk.open_example("skp-01")
    for words, ending in (("write step", "step"), ("write stl", "stl"), ("write the proof", "csv")):
        target = tmp_path / f"a.{ending}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, t=target, **k: (str(t), ""))
        desk.enter(words)
        desk.wait(target.exists)
    desk.settled()
    assert "ISO-10303-21" in (tmp_path / "a.step").read_text("latin-1")[:200]


def test_every_action_has_a_title_and_no_two_share_keys(desk):
    actions = list(desk.window.actions_)
    keys = [a.keys for a in actions if a.keys]
    assert len(keys) == len(set(keys))
    assert all(a.title for a in actions)
    assert len(actions) > 50
