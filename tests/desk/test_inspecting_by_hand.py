"""A part in hand is measured, judged and reported on, by mouse and keys: turned and milled, mm and inch."""

import csv
import io
import math

import pypdfium2
import pytest
from PIL import Image
from PyQt6.QtCore import Qt

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_strangers_by_hand import inch


def go(desk, panel):
    """One of Prove's tabs, by its keys and a click on the tab."""
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    tabs = desk.window.proof_lower
    bar = tabs.tabBar()
    inner = tabs.look_over.holds(panel)
    desk.click(bar, bar.tabRect(tabs.indexOf(tabs.look_over if inner else panel)).center())
    if inner:
        desk.click(tabs.look_over.button_of(panel))
    desk.settled()
    assert panel.isVisible()
    return panel


def row_of(panel, number, what=""):
    table = panel.table
    return next(
        r
        for r in range(table.rowCount())
        if table.item(r, 1).text() == str(number) and what in (table.item(r, 3).text(), "")
    )


def read(desk, panel, number, text, what=""):
    """A row is clicked, the reading typed."""
    row = row_of(panel, number, what) if number else panel.table.rowCount() - 1
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(row, 2)).center())
    desk.click(panel.field)
    desk.keys(panel.field, text)
    desk.press(panel.field, Qt.Key.Key_Return)
    desk.settled()
    return [panel.table.item(row, c).text() for c in (8, 9)], panel.table.item(row, 7).data(Qt.ItemDataRole.UserRole)


def report(desk, tmp_path, monkeypatch, name):
    """The report looked at, then written; the written file."""
    panel = go(desk, desk.window.report)
    desk.wait(lambda: panel.pages is not None, 60)
    first = panel.paper.widget().layout().itemAt(0).widget()
    desk.wait(lambda: first.height() == round(first.width() / page_shape(panel.pages[0])))
    out = tmp_path / name
    monkeypatch.setattr("lathed_solid.desk.stages.report.QFileDialog.getSaveFileName", lambda *_: (str(out), ""))
    desk.click(panel.write)
    desk.wait(lambda: desk.said[-1] == (f"Wrote {name}.", "good"), 60)
    return out


def page_shape(picture):
    """How much wider than high a page is."""
    with Image.open(io.BytesIO(picture)) as page:
        return page.width / page.height


def words_of(path):
    return " ".join(" ".join(p.get_textpage().get_text_range() for p in pypdfium2.PdfDocument(path)).split())


def test_a_turned_cap_is_measured_judged_and_reported(desk, tmp_path, monkeypatch):
    for note in ("Ø40 h9", "18", "Ø16 H8 THRU", "1 x 45°"):
        desk.enter(note)
    desk.enter("add: turned")
    desk.cell(0, 0, "#2")
    desk.cell(0, 2, "#1")
    desk.settled()
    desk.look("R")
    desk.pick((0, 15, 18))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "on the face's axis")
    fill(desk, Drill_Ø="#3")
    assert done(desk) == pytest.approx(math.pi * (20**2 - 8**2) * 18, rel=1e-3)
    panel = go(desk, desk.window.in_hand)
    panel.piece.lineEdit().setFocus()
    desk.keys(panel.piece.lineEdit(), "cap 2")
    assert read(desk, panel, 1, "39.99") == (["39.990 ± 0.030", "cannot tell"], "near")
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 2)).center())
    assert "take a finer one" in panel.state.text(), "calipers do not tell h9"
    assert read(desk, panel, 1, "39.97 39.98 39.97")[0][1] == "within", "three readings do"
    assert read(desk, panel, 2, "18.02") == (["18.020 ± 0.030", "within"], "in")
    assert panel.way.currentData() == "inside", "the next row is the bore: the jaws go inside"
    assert read(desk, panel, 3, "16.5") == (["16.500 ± 0.030", "outside"], "out")
    assert read(desk, panel, 3, "sixteen") == (["16.500 ± 0.030", "outside"], "out")
    assert desk.said[-1][1] == "bad" and panel.field.text() == "sixteen"
    panel.field.clear()
    assert read(desk, panel, 0, "149.9") == (["149.90 g ± 0.03 g", "not judged"], "open"), "no mass is stated"
    assert [e.piece for e in desk.session.content.logbook] == ["cap 2"] * 5
    text = words_of(report(desk, tmp_path, monkeypatch, "cap.pdf"))
    assert "Part in hand: 3 measured, 2 within limits, 1 outside." in text
    assert "cap 2" in text and "Weighed" in text and "Callouts that are not used: 4." in text
    # another piece: it is another report
    panel.piece.setEditText("cap 3")
    assert desk.window.report.pages is None
    panel.piece.setEditText("cap 2")
    assert desk.window.report.pages is not None
    # one undo takes the weighing back; the report says that it is older than the part
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert len(desk.session.content.logbook) == 4
    assert "changed since" in desk.window.report.state.text()


def test_an_inch_stop_block_as_a_table(desk, tmp_path, monkeypatch):
    inch(desk, "2.500", "1.250", ".750", "2x Ø.250 THRU")
    slab(desk)
    panel = go(desk, desk.window.in_hand)
    assert read(desk, panel, 1, "2.501") == (["2.5010 ± 0.0012", "within"], "in")
    assert read(desk, panel, 3, ".70")[1] == "out"
    out = report(desk, tmp_path, monkeypatch, "block.csv")
    rows = {r["balloon"]: r for r in csv.DictReader(out.read_text().splitlines()) if r["balloon"]}
    assert (rows["1"]["unit"], rows["1"]["part"], rows["1"]["verdict"]) == ("in", "2.5010", "good")
    assert (rows["3"]["model"], rows["3"]["mark"], rows["3"]["verdict"]) == ("0.7500", "in", "bad")
    assert rows["4"]["mark"] == "open" and not rows["4"]["part"]


def test_readings_come_from_the_instrument_and_a_disc_is_shown_on_a_page(desk, tmp_path, monkeypatch):
    for note in ("Ø30", "12", "Ø12 H7 THRU"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("circle Ø#1 at 0,0")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#2")
    done(desk)
    panel = go(desk, desk.window.in_hand)
    capture = desk.window.capture
    assert capture.connect_simulated("caliper")
    desk.wait(panel.ask.isEnabled)
    capture.simulated.size = 30.02
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 2)).center())
    desk.click(panel.ask)
    desk.wait(lambda: len(desk.session.content.logbook) == 1)
    (entry,) = desk.session.content.logbook
    assert entry.callout == 1 and entry.values[0] == pytest.approx(30.02, abs=0.05)
    assert not capture.values, "they are not offered as a new callout besides"
    # a weight belongs to the mass, whatever row is chosen; a length never does
    capture.shut()
    assert capture.connect_simulated("scale")
    desk.wait(lambda: capture.way == "weight")
    capture.simulated.size = 66.6
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(1, 2)).center())
    desk.click(panel.ask)
    desk.wait(lambda: len(desk.session.content.logbook) == 2)
    assert (desk.session.content.logbook[1].way, desk.session.content.logbook[1].callout) == ("weight", None)
    capture.shut()
    # readings that wait in Read stay there: they are not taken for the part in hand, nor lost to it
    capture.set_way("outside")
    capture.add(11.5)
    assert capture.connect_simulated("caliper")
    desk.wait(panel.ask.isEnabled)
    desk.wait(lambda: capture.instrument.kind == "caliper")
    capture.simulated.size = 12.0
    last = panel.table.item(panel.table.rowCount() - 1, 2)
    desk.click(panel.table.viewport(), panel.table.visualItemRect(last).center())
    desk.click(panel.ask)
    desk.wait(lambda: "is a length" in desk.said[-1][0])
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(1, 2)).center())
    panel.way.setCurrentIndex(panel.way.findData("depth"))
    desk.click(panel.ask)
    desk.wait(lambda: len(desk.session.content.logbook) == 3)
    assert len(desk.session.content.logbook[2].values) == 1 and desk.session.content.logbook[2].way == "depth"
    assert capture.values == [11.5] and capture.way == "outside"
    capture.shut()
    page = report(desk, tmp_path, monkeypatch, "disc.html").read_text()
    assert page.count("<circle") == 2 and "data:image/png" in page
    assert "No step uses it" in page, "the bore that nobody made yet"
