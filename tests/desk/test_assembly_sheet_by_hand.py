"""The assembly's drawing sheet by mouse and keys: laid out, cut, a number moved, kept with the file, written."""

from __future__ import annotations

import math
import os
import shutil
from pathlib import Path

import pypdfium2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.drafting.sheet.placing import Placing

EXAMPLES = Path(__file__).parents[2] / "examples"


def _pictured(desk, name):
    if folder := os.environ.get("PICTURES"):
        desk.window.grab().save(f"{folder}/{name}.png")


@pytest.fixture
def drum(desk, tmp_path, monkeypatch):
    """SKP-00 in Fit, its sheet laid out from the bill."""
    monkeypatch.chdir(tmp_path)
    for path in EXAMPLES.glob("skp-0*.lathed"):
        shutil.copy(path, tmp_path)
    desk.window.open_file(tmp_path / "skp-00.lathed")
    fit = desk.window.fit
    fit.tabs.setCurrentWidget(fit.bill)
    QTest.qWait(50)
    desk.click(fit.bill.draw)
    _drawn(desk, fit)
    return fit


def _drawn(desk, fit):
    drawing = fit.sheets.drawing
    desk.wait(lambda: drawing.composed is not None and not drawing.is_late and not drawing.is_proposing, 60)
    QTest.qWait(60)


def _pixel(fit, view, place):
    drawing = fit.sheets.drawing
    placing = Placing(drawing.sheet, drawing.sheet.view(view), drawing.seen.views[view])
    return fit.board.canvas.pixel_of(placing.at(place)).toPoint()


def _spot(fit, number):
    return next(s.box for s in fit.sheets.drawing.composed.scene.spots if s.of == f"label:{number}")


def test_an_assembly_has_its_own_sheet_that_is_changed_kept_and_written(desk, drum, tmp_path, monkeypatch):
    window, document, drawing = desk.window, drum.document, drum.sheets.drawing
    canvas = drum.board.canvas
    assert canvas.isVisible() and drum.sheets.side.isVisible() and not drum.looks.isVisible()
    missing = drum.board.missing
    assert [missing.list.item(n).text() for n in range(missing.list.count())] == ["4   ISO 4026 M5x12  (in no view)"]
    _pictured(desk, "laid-out")

    # where the set screw lies is cut through: the view from the right, upright through the hub's screw
    right = next(v for v in drawing.sheet.views if v.way == "right")
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=_pixel(drum, right.id, (0.0, 0.0)))
    assert drawing.chosen_view.id == right.id
    assert not window.actions_.get("issue.square").enabled() and window.actions_.get("issue.bent").enabled()
    window.run(window.actions_.get("issue.upright"))
    _drawn(desk, drum)
    section = drawing.sheet.views[-1]
    assert section.letter == "A" and drawing.seen.views[section.id].areas
    assert [w.text for w in drawing.composed.scene.texts()].count("A-A") == 1

    # a number is dragged, and chooses its parts
    left, bottom, right_, top = _spot(drum, 2)
    start = canvas.pixel_of(((left + right_) / 2, (bottom + top) / 2)).toPoint()
    end = start + canvas.pixel_of((-20.0, 15.0)).toPoint() - canvas.pixel_of((0.0, 0.0)).toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    for k in range(1, 6):
        QTest.mouseMove(canvas, start + (end - start) * k / 5)
        QTest.qWait(10)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=end)
    moved = _spot(drum, 2)
    assert moved[0] - left == pytest.approx(-20.0, abs=1.0) and moved[1] - bottom == pytest.approx(15.0, abs=1.0)
    chosen = document.chosen
    assert chosen and {document.assembly.part_of(i).item for i in chosen} == {2}

    # it follows what is changed of the assembly; undo brings either back
    grounded = document.instance
    document.hide(True)
    _drawn(desk, drum)
    assert 2 in drawing.composed.unseen and document.assembly.instance(grounded).hidden
    window.undo()
    _drawn(desk, drum)
    assert _spot(drum, 2) == pytest.approx(moved)

    # kept with the assembly, and there again
    _pictured(desk, "changed")
    assert window.save_here() and document.is_saved
    drum.which.setCurrentIndex(0)
    assert drum.view.isVisible() and drum.relations.isVisible() and window.board is None
    document.begin()
    assert drawing.sheet is None
    window.open_file(tmp_path / "skp-00.lathed")
    drum.which.setCurrentIndex(1)
    _drawn(desk, drum)
    assert drawing.sheet.views[-1].letter == "A" and _spot(drum, 2) == pytest.approx(moved)

    target = tmp_path / "drum.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), "*.pdf"))
    desk.click(drum.board.out.files["pdf"])
    desk.wait(lambda: target.exists() and not window.session.is_working, 60)
    text = pypdfium2.PdfDocument(target)[0].get_textpage().get_text_range()
    assert "ISO 4762 M5x16" in text and "A-A" in text
    desk.click(drum.board.fields.remove)
    assert drawing.sheet is None and drum.board.fields.new.isEnabled()


def test_an_assembly_is_bent_about_its_arbor_so_that_a_screw_stands_in_the_plane(desk, drum):
    """A view from above is added, one of its screws clicked: the section goes through the arbor and that screw, which
    stands whole, with its centre line; its number can be written there.
    """
    drawing, card = drum.sheets.drawing, drum.board.fields.view
    QTest.mouseClick(
        drum.board.canvas, Qt.MouseButton.LeftButton, pos=_pixel(drum, drawing.sheet.views[0].id, (5.0, 30.0))
    )
    next(a for a in card.add.menu().actions() if a.text() == "from above").trigger()
    _drawn(desk, drum)
    top = drawing.sheet.views[-1]
    assert top.way == "top" and {round(c.radius) for c in drawing.seen.views[top.id].centres if c.ring} == {33, 49}
    screw = next(c for c in drawing.seen.views[top.id].centres if not c.ring and abs(math.hypot(*c.a) - 49) < 0.01)
    QTest.mouseClick(drum.board.canvas, Qt.MouseButton.LeftButton, pos=_pixel(drum, top.id, screw.a))
    assert math.dist(drawing.pointed.place, screw.a) < 0.6
    desk.enter("section, one half bent")
    _drawn(desk, drum)
    desk.wait(lambda: drawing.sheet.views[-1].cut is not None and not drawing.is_late, 60)
    section = drawing.sheet.views[-1]
    shown = drawing.seen.views[section.id]
    assert section.cut.kind == "aligned" and section.cut.upright and shown.lost == ""
    upright = sorted({round(c.a[0], 1) for c in shown.centres if abs(c.a[0] - c.b[0]) < 1e-6})
    assert 0.0 in upright and any(abs(abs(x) - 49) < 0.6 for x in upright), upright
    QTest.qWait(60)
    _pictured(desk, "assembly bent")
    assert card.axis.isVisible() and card.axis.text() == "0; 0"
    for field in (card.level, card.axis, card.left_out):
        assert field.height() >= field.sizeHint().height(), "the list below gives way, not the fields"


def test_a_sheet_that_comes_when_another_assembly_is_open_is_not_put_into_that(desk, drum):
    """Laid out of the drum, while a new assembly was begun: neither has it, and a sheet can be asked for again."""
    drawing, document = drum.sheets.drawing, drum.document
    desk.click(drum.board.fields.new)
    assert drawing.is_proposing and not drum.board.fields.new.isEnabled()
    document.begin()
    desk.wait(lambda: not drawing.is_proposing, 60)
    assert document.assembly.sheets == () and drawing.composed is None and document.is_saved
