"""The levelling foot measured in the window: instrument over a pseudo-terminal, unplugged halfway, nominals accepted."""

import csv
import os
import pty
import tty

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.caliper.logbook import LogEntry
from lathed_solid.core.job import reading, storage

from ..conftest import EXAMPLES


@pytest.fixture
def bench(desk):
    desk.press(desk.window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    panel = desk.window.read_lower.calipers
    desk.wait(panel.isVisible)
    panel.port.setCurrentIndex(panel.port.findData("sim:caliper"))
    return panel


def connect(desk, panel):
    desk.click(panel.plug)
    desk.wait(lambda: panel.capture.connected and "steps of 0.01" in panel.status.text(), 10)


def measure(desk, panel, way, what, size, times=5, pitch=None):
    """Touch the part: the instrument's data button, and the Read button in turn."""
    capture = panel.capture
    desk.click(panel.ways[way])
    panel.what.setCurrentText(what)
    panel.what.activated.emit(panel.what.currentIndex())
    if pitch:
        desk.retype(panel.pitch, pitch)
    capture.simulated.size = size
    for n in range(times):
        if n % 2:
            desk.click(panel.ask)
        else:
            capture.simulated.press()
        desk.wait(lambda n=n: len(capture.values) > n, 10)


def accept(desk, panel, note, feature):
    assert panel.meant.count() > 0
    assert panel.chosen().note == note
    desk.retype(panel.feature, feature)
    desk.click(panel.take)


#: What SKP-05's example was read as: way, what the panel calls it, true size, pitch gauge, note, feature.
FOOT = [
    ("outside", "length, width", 52.02, None, "52", "overall"),
    ("outside", "across flats", 16.97, None, "17 A/F", "hexagon"),
    ("step", "length, width", 6.01, None, "6", "hexagon, thick"),
    ("outside", "diameter", 6.98, None, "Ø7", "neck"),
    ("step", "length, width", 2.99, None, "3", "neck, long"),
    ("thread", "thread", 7.87, "1.25", "M8x1.25", "thread"),
    ("step", "length, width", 28.03, None, "28", "threaded length"),
    ("outside", "ball", 11.99, None, "SØ12", "ball"),
    ("inside", "length, width", 1.51, None, "1.5", "screwdriver slot"),
    ("depth", "length, width", 2.02, None, "2", "slot, deep"),
]


def test_the_levelling_foot_is_read_by_caliper_with_the_cable_pulled_halfway(desk, bench):
    connect(desk, bench)
    for at, (way, what, size, pitch, note, feature) in enumerate(FOOT):
        if at == 5:
            # Halfway through a set of readings somebody trips over the cable.
            measure(desk, bench, "thread", "thread", size, times=2, pitch=pitch)
            bench.capture.simulated.unplug()
            desk.wait(lambda: not bench.capture.connected, 10)
            assert "unplugged" in bench.status.text()
            assert len(bench.capture.values) == 2, "what was read so far is kept"
            assert bench.plug.text() == "Connect"
            connect(desk, bench)
            bench.capture.simulated.size = size
            for n in (2, 3):
                bench.capture.simulated.press()
                desk.wait(lambda n=n: len(bench.capture.values) > n, 10)
        else:
            measure(desk, bench, way, what, size, pitch=pitch)
        accept(desk, bench, note, feature)
        assert bench.capture.values == []
    content, shipped = desk.session.content, storage.load(EXAMPLES / "skp-05.lathed").job.content
    assert [(c.note, c.label, c.origin) for c in content.callouts] == [
        (c.note, c.label, c.origin) for c in shipped.callouts
    ]
    assert [e.callout for e in content.logbook] == list(range(1, 11))
    assert all(e.instrument == "Simulated caliper" and len(e.values) >= 4 for e in content.logbook)
    assert desk.session.current.history.undo_words == "measured 2"


def test_typed_readings_an_outlier_and_keeping_the_mean(desk, bench):
    """A keyboard-wedge instrument types into the field and presses Enter."""
    for text in ("12.01", "12.02", "12.01", "12.41", "12.02"):
        desk.keys(bench.field, text)
        desk.press(bench.field, Qt.Key.Key_Return)
    assert "far off, left out" in bench.list.item(3).text()
    assert "12.015" in bench.figures.text()
    desk.keys(bench.field, "twelve")
    desk.press(bench.field, Qt.Key.Key_Return)
    assert "no reading" in bench.status.text()
    assert len(bench.capture.values) == 5
    bench.field.clear()
    desk.keys(bench.field, "-3")
    desk.press(bench.field, Qt.Key.Key_Return)
    assert "above zero" in bench.status.text()
    bench.field.clear()
    bench.list.setCurrentRow(3)
    desk.click(bench.drop)
    assert len(bench.capture.values) == 4
    desk.click(bench.as_read)
    callout = desk.session.content.callouts[0]
    assert callout.note == "Ø12.015"
    assert callout.source.startswith("4 readings, mean 12.015")


def test_the_scale_states_the_mass_and_a_low_battery_is_said(desk, bench):
    bench.port.setCurrentIndex(bench.port.findData("sim:scale"))
    desk.click(bench.plug)
    desk.wait(lambda: bench.capture.way == "weight", 10)
    bench.capture.simulated.size = 312.23
    for n in range(3):
        bench.capture.simulated.press()
        desk.wait(lambda n=n: len(bench.capture.values) > n, 10)
    bench.capture.simulated.drain_battery()
    desk.wait(lambda: "battery is low" in bench.status.text(), 10)
    desk.click(bench.take)
    assert desk.session.content.header.stated.mass == pytest.approx(312.23, abs=0.05)
    assert desk.session.content.logbook[0].way == "weight"
    desk.click(bench.plug)
    assert not bench.capture.connected


def test_a_foreign_instrument_that_sends_bare_numbers_and_rubbish(desk, bench):
    """The same port takes any instrument that ends its lines; what makes no sense is said, not taken."""
    master, slave = pty.openpty()
    tty.setraw(slave)
    try:
        assert bench.capture.connect_to(os.ttyname(slave))
        os.write(master, b"  +20.03\r\n")
        desk.wait(lambda: bench.capture.values == [20.03], 10)
        os.write(master, b"\xff\xfe??\r\n")
        desk.wait(lambda: "no reading" in bench.status.text(), 10)
        os.write(master, b"x" * 5000)
        desk.wait(lambda: "without an end of line" in bench.status.text(), 10)
        assert bench.capture.values == [20.03]
    finally:
        bench.capture.disconnect_device()
        os.close(master)
        os.close(slave)
    assert not bench.capture.connect_to("/dev/nothing-here")
    assert "cannot be opened" in bench.status.text()


def test_the_logbook_goes_out_as_csv_and_comes_in_again(desk, tmp_path):
    desk.session.open(EXAMPLES / "skp-05.lathed")
    lower = desk.window.read_lower
    desk.window.show_read(lower.logbook)
    assert lower.logbook.rows.rowCount() == 10
    lower.logbook.export_csv(tmp_path / "log.csv")
    with (tmp_path / "log.csv").open() as stream:
        rows = list(csv.DictReader(stream))
    assert rows[5]["conclusion"] == "M8x1.25" and rows[5]["way"] == "thread"
    assert len(rows[5]["readings"].split()) == 5
    lower.logbook.import_csv(tmp_path / "log.csv")
    assert lower.logbook.rows.rowCount() == 20
    assert len({e.id for e in desk.session.content.logbook}) == 20
    (tmp_path / "bad.csv").write_text("when,way,readings\n2026-11-24,sideways,1\n")
    lower.logbook.import_csv(tmp_path / "bad.csv")
    assert "Row 2" in desk.said[-1][0]
    assert lower.logbook.rows.rowCount() == 20
    lower.logbook.table.selectRow(3)
    assert desk.session.callout == 4


def test_a_size_is_worked_out_and_follows_what_it_came_from(desk):
    desk.enter("Ø20 ; outside")
    desk.enter("Ø12 ; bore")
    panel = desk.window.read_lower.convert
    desk.window.show_read(panel)
    panel.list.setCurrentRow(2)
    assert not panel.take.isEnabled()
    desk.retype(panel.fields["od"], "#1")
    desk.retype(panel.fields["id"], "#2")
    assert "length 4" in panel.result.text()
    desk.retype(panel.label, "wall")
    desk.click(panel.take)
    made = desk.session.content.callouts[2]
    assert (made.note, made.origin, made.label) == ("(#1 - #2)/2", "derived", "wall")
    from lathed_solid.core.job import edits

    desk.session.edit(lambda c: edits.edit_callout(c, 2, "Ø14"), "bore changed")
    assert desk.session.content.ledger().reading(3).main.nominal == 3
    panel.list.setCurrentRow(3)
    desk.retype(panel.fields["chord"], "8")
    desk.retype(panel.fields["height"], "2")
    assert "radius R5" in panel.result.text()
    QTest.qWait(20)


def test_the_completeness_look_names_what_the_drawing_owes(desk):
    for note in ("22 ; journal", "2 ; relief", "68 ; seat", "92 ; overall", "90 ; overall", "6x Ø5.5 THRU cbore Ø10"):
        desk.enter(note)
    panel = desk.window.read_lower.complete
    desk.press(desk.window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: panel.list.count() > 0)
    words = [f.words for f in panel.findings]
    assert any("How deep is the counterbore" in w for w in words)
    assert any("4 and 5 are both “overall”, but say 92 and 90" in w for w in words)
    assert any("6 holes, but where?" in w for w in words)
    assert panel.chains.item(0).text() == "1 + 2 + 3 = 4"
    desk.click(panel.watch)
    desk.wait(lambda: any("state one length twice" in f.words for f in panel.findings))
    from lathed_solid.core.job import edits

    desk.session.edit(lambda c: edits.edit_callout(c, 3, "67"), "slip of the pen")
    desk.wait(lambda: any("1 missing" in f.words for f in panel.findings))
    panel.list.setCurrentRow(next(i for i, f in enumerate(panel.findings) if f.sort == "chain"))
    assert desk.session.callout == 4


def test_a_title_block_by_decimal_places(desk):
    desk.window.show_stage("Read")
    block = desk.window.title_block
    block.units.setCurrentIndex(1)
    block.units.activated.emit(1)
    block.grade.setCurrentIndex(4)
    block.grade.activated.emit(4)
    assert block.places.isVisible()
    desk.enter(".50")
    desk.enter("2 5/8")
    ledger = desk.session.content.ledger()
    assert ledger.reading(1).main.upper == pytest.approx(0.51 * 25.4)
    assert ledger.reading(2).main.upper == pytest.approx((2.625 + 1 / 64) * 25.4)
    desk.retype(block.places.fields["two"], ".02")
    assert desk.session.content.ledger().reading(1).main.upper == pytest.approx(0.52 * 25.4)
    desk.retype(block.places.fields["two"], "much")
    assert "no plus-minus figure" in desk.said[-1][0]
    assert block.places.fields["two"].text() == "0.02"
    block.grade.setCurrentIndex(1)
    block.grade.activated.emit(1)
    assert not block.places.isVisible()
    assert "2768" in desk.session.content.ledger().reading(1).main.basis


def test_the_stand_in_is_worked_by_its_own_buttons(desk, bench):
    """As in the demo: the worn foot lies between the simulated jaws; its buttons do what an instrument's do."""
    connect(desk, bench)
    hand, capture = bench.stand_in, bench.capture
    assert hand.isVisible()
    hand.feature.setCurrentIndex(3)
    hand.feature.activated.emit(3)
    assert (capture.way, capture.what) == ("outside", "diameter")
    assert hand.display.text() == "6.98 mm"
    for n in range(4):
        desk.click(hand.buttons["data"])
        desk.wait(lambda n=n: len(capture.values) > n, 10)
    assert bench.chosen().note == "Ø7"
    desk.click(hand.buttons["unit"])
    assert hand.display.text() == "0.2748 in"
    desk.click(hand.buttons["data"])
    desk.wait(lambda: len(capture.values) == 5, 10)
    assert capture.values[-1] == pytest.approx(6.98, abs=0.06), "inches arrive as what they are"
    desk.retype(hand.between, "0")
    desk.click(hand.buttons["zero"])
    assert hand.display.text() in ("0.0000 in", "-0.0000 in")
    desk.click(hand.buttons["battery"])
    desk.wait(lambda: "battery is low" in bench.status.text(), 10)
    desk.click(hand.buttons["cable"])
    desk.wait(lambda: not capture.connected, 10)
    assert not hand.isVisible()
    assert len(capture.values) == 5


def test_thousands_of_readings_leave_an_edit_as_quick_as_few(desk):
    """What an edit paints does not grow with what is not shown: rows put into words are those that are seen."""
    desk.window.show_read(desk.window.read_lower.logbook)
    entries = tuple(
        LogEntry(id=f"r{i}", when="2026-11-24T10:15:00", instrument="Caliper", way="outside", values=(12.0, 12.01))
        for i in range(20_000)
    )
    rows = desk.window.read_lower.logbook.rows
    worded = []
    plain = rows._cells
    rows._cells = lambda entry: worded.append(entry.id) or plain(entry)
    desk.session.edit(lambda c: reading.log_all(c, entries), "imported")
    QTest.qWait(50)
    assert rows.rowCount() == 20_000
    assert len(set(worded)) < 200
    worded.clear()
    desk.enter("22")
    QTest.qWait(50)
    assert len(set(worded)) < 200
