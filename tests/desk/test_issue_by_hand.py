"""A drawing sheet made by mouse and keys: laid out, cut open, a callout moved, a number changed, written as files."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import msgspec
import numpy as np
import pypdfium2
import pytest
from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.drafting.sheet.placing import Placing
from lathed_solid.core.drafting.sheet.scene import Sized, Words
from lathed_solid.core.issue.drawing.pdf import to_pdf
from lathed_solid.core.issue.drawing.svg import to_svg
from lathed_solid.core.job import edits
from lathed_solid.desk.paper.paint import Painted
from lathed_solid.desk.paper.pointed import Pointed
from lathed_solid.desk.paper.printing import print_on, set_page

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture
def issue(desk, tmp_path, monkeypatch):
    """SKP-02 in the Issue stage, entered by its key, with the sheet that is laid out of it."""
    monkeypatch.chdir(tmp_path)
    desk.window.session.open(EXAMPLES / "skp-02.lathed")
    desk.window.session.edit(lambda c: msgspec.structs.replace(c, sheets=()), "no sheet yet")
    desk.wait(lambda: desk.window.session.current.proof is not None, 60)
    desk.press(desk.window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    room = desk.window.issue
    desk.click(room.side.board.fields.new)
    _drawn(desk, room)
    return room


def _drawn(desk, room):
    desk.wait(lambda: room.drawing.composed is not None and not room.drawing.is_late, 60)
    QTest.qWait(60)


def _pixel(room, view, place):
    drawing = room.drawing
    placing = Placing(drawing.sheet, drawing.sheet.view(view), drawing.seen.views[view])
    return room.canvas.pixel_of(placing.at(place)).toPoint()


def _hole(room, radius):
    """A view with a round line of that radius, and a place on it."""
    for view, shown in room.drawing.seen.views.items():
        for s in shown.strokes:
            if s.visible and s.arc is not None and abs(s.arc.radius - radius) < 1e-6:
                return view, s.arc.center, s.arc.at(0.0)
    raise AssertionError(radius)


def _text(room, number):
    return next(s.box for s in room.drawing.composed.scene.spots if s.of == f"label:{number}")


def test_a_sheet_is_laid_out_cut_open_changed_and_written(desk, issue, tmp_path, monkeypatch):
    window, drawing = desk.window, issue.drawing
    assert len(drawing.sheet.labels) == 15 and not issue.side.board.missing.list.isVisible()
    assert any(w.text == "15 of 15 callouts in limits" for w in drawing.composed.scene.texts())

    # a section through a hole that is clicked, and a detail of it
    view, middle, rim = _hole(issue, 9.0)
    QTest.mouseClick(issue.canvas, Qt.MouseButton.LeftButton, pos=_pixel(issue, view, rim))
    assert drawing.pointed.place == pytest.approx(middle) and drawing.chosen_view.id == view
    window.run(window.actions_.get("issue.upright"))
    _drawn(desk, issue)
    section = drawing.sheet.views[-1]
    assert section.letter == "A" and section.base == view and drawing.seen.views[section.id].areas
    assert [w.text for w in drawing.composed.scene.texts()].count("A-A") == 1
    QTest.mouseClick(issue.canvas, Qt.MouseButton.LeftButton, pos=_pixel(issue, view, rim))
    window.run(window.actions_.get("issue.detail"))
    _drawn(desk, issue)
    detail = drawing.sheet.views[-1]
    assert detail.letter == "B" and drawing.sheet.scale_of(detail) == 2.0

    # a callout dragged stays where it was put, whatever else changes
    left, bottom, right, top = _text(issue, 10)
    start = issue.canvas.pixel_of(((left + right) / 2, (bottom + top) / 2)).toPoint()
    end = start + issue.canvas.pixel_of((0.0, -25.0)).toPoint() - issue.canvas.pixel_of((0.0, 0.0)).toPoint()
    QTest.mousePress(issue.canvas, Qt.MouseButton.LeftButton, pos=start)
    for k in range(1, 6):
        QTest.mouseMove(issue.canvas, start + (end - start) * k / 5)
        QTest.qWait(10)
    QTest.mouseRelease(issue.canvas, Qt.MouseButton.LeftButton, pos=end)
    moved = _text(issue, 10)
    assert moved[1] - bottom == pytest.approx(-25.0, abs=1.0)
    assert window.session.callout == 10
    window.session.edit(lambda c: edits.edit_callout(c, 1, "dia 120"), "callout 1 changed")
    assert drawing.is_late
    assert not any("in limits" in w.text for w in drawing.composed.scene.texts()), "nothing is proved of what is late"
    _drawn(desk, issue)
    assert _text(issue, 10) == pytest.approx(moved)
    assert len(drawing.composed.unseen) == 0 and len(drawing.sheet.labels) == 15
    window.undo()
    _drawn(desk, issue)
    assert _text(issue, 10) == pytest.approx(moved)

    # taken off, told, put on again
    QTest.mouseClick(issue.canvas, Qt.MouseButton.LeftButton, pos=end)
    QTest.keyClick(issue.canvas, Qt.Key.Key_Delete)
    missing = issue.side.board.missing.list
    desk.wait(lambda: missing.isVisible() and missing.count() == 1)
    assert drawing.sheet.label(10) is None
    desk.click(issue.side.board.missing.put)
    desk.wait(lambda: not missing.isVisible())
    assert drawing.sheet.label(10) is not None

    for form in ("pdf", "dxf", "svg", "png"):
        monkeypatch.setattr(
            QFileDialog, "getSaveFileName", lambda *a, form=form, **k: (str(tmp_path / f"out.{form}"), "")
        )
        desk.click(issue.side.board.out.files[form])
        desk.wait(lambda form=form: (tmp_path / f"out.{form}").exists() and not window.session.is_working, 60)
    assert len(pypdfium2.PdfDocument(tmp_path / "out.pdf")) == 1


def test_a_sheet_is_printed_to_scale_and_gone_through_by_keys(desk, issue, tmp_path):
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    set_page(printer, issue.drawing.composed.scene)
    print_on(printer, issue.drawing.composed.scene)
    page = pypdfium2.PdfDocument(tmp_path / "printed.pdf")[0]
    assert page.get_size() == pytest.approx((420 / 25.4 * 72, 297 / 25.4 * 72), abs=2)
    assert "Drum end flange" in page.get_textpage().get_text_range()
    issue.canvas.setFocus()
    chosen = []
    for _ in range(4):
        QTest.keyClick(issue.canvas, Qt.Key.Key_PageDown)
        chosen.append(issue.drawing.pointed.of)
    assert len(set(chosen)) == 4 and chosen[0].startswith("view:")
    before = next(v.at for v in issue.drawing.sheet.views if f"view:{v.id}" == chosen[0])
    issue.drawing.point(Pointed(chosen[0]))
    QTest.keyClick(issue.canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    after = next(v.at for v in issue.drawing.sheet.views if f"view:{v.id}" == chosen[0])
    assert after[0] - before[0] == pytest.approx(10.0)
    menu = issue.board.doings.menu_for(issue.canvas)
    assert "Remove this view" in [a.text() for a in menu.actions()]


def test_the_preview_is_gone_once_it_is_left(desk, issue):
    """It holds the printer, which does not outlive the asking: whatever stayed of it would write into freed memory."""
    seen = []

    def leave():
        shown = issue.board.out.findChildren(QPrintPreviewDialog)
        seen.extend(d.windowTitle() for d in shown)
        shown[0].reject()

    for _ in range(2):
        QTimer.singleShot(300, leave)
        desk.click(issue.side.board.out.print)
        assert issue.board.out.findChildren(QPrintPreviewDialog) == []
    assert seen == ["Print the sheet"] * 2


def test_a_revision_is_issued_with_all_that_goes_with_it(desk, issue, tmp_path, monkeypatch):
    window, session = desk.window, desk.session
    target = tmp_path / "out.zip"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    session.edit(lambda c: edits.edit_callout(c, 2, "9.5"), "a face moved")
    desk.settled()
    desk.click(issue.side.pack)
    assert not target.exists() and session.current.history.state.revisions == ()
    assert "nothing was issued" in desk.said[-1][0], "the stated mass does not agree"
    window.undo()
    desk.settled()
    desk.click(issue.side.pack)
    desk.wait(lambda: target.exists() and not session.is_working, 120)
    (frozen,) = session.current.history.state.revisions
    assert frozen.label == "A" and session.content.header.revision == "B"
    with zipfile.ZipFile(target) as archive:
        assert {Path(n).suffix for n in archive.namelist()} == {".pdf", ".step", ".png", ".dxf", ".lathed", ".json"}
    assert issue.side.revision.count() == 2


def _picture(data: bytes | QImage, size: QSize) -> np.ndarray:
    image = data if isinstance(data, QImage) else QImage.fromData(data)
    image = image.convertToFormat(QImage.Format.Format_Grayscale8).scaled(size)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bytes(bits), np.uint8).reshape(image.height(), image.bytesPerLine())[:, : image.width()]


def _near(dark: np.ndarray) -> np.ndarray:
    """Dark places made two pixels wider on all sides."""
    grown = dark.copy()
    for dx in range(-2, 3):
        for dy in range(-2, 3):
            grown |= np.roll(np.roll(dark, dx, 1), dy, 0)
    return grown


def test_screen_paper_and_svg_show_the_same(desk, issue):
    """Drawn by three hands (the window's, the PDF's, the SVG's) every dark place of one is dark in the others."""
    whole = issue.drawing.composed.scene
    _same(whole, ("screen", "pdf"))
    # Qt's SVG reader rounds the size of small letters: lines only.
    _same(
        msgspec.structs.replace(whole, marks=tuple(m for m in whole.marks if not isinstance(m, Words | Sized))),
        ("screen", "svg"),
    )


def _same(scene, names):
    size = QSize(round(scene.width * 6), round(scene.height * 6))
    screen = QImage(size, QImage.Format.Format_RGB32)
    screen.fill(Qt.GlobalColor.white)
    painter = QPainter(screen)
    painter.scale(6, 6)
    Painted(scene).paint(painter)
    painter.end()
    svg = QImage(size, QImage.Format.Format_RGB32)
    svg.fill(Qt.GlobalColor.white)
    renderer = QSvgRenderer(to_svg(scene).encode())
    painter = QPainter(svg)
    renderer.render(painter)
    painter.end()
    out = io.BytesIO()
    pypdfium2.PdfDocument(to_pdf([scene]))[0].render(scale=6 * 25.4 / 72).to_pil().save(out, "PNG")
    dark = {name: _picture(p, size) < 110 for name, p in (("screen", screen), ("svg", svg), ("pdf", out.getvalue()))}
    for a, b in (names, names[::-1]):
        missing = dark[a] & ~_near(dark[b])
        assert missing.sum() < 0.005 * dark[a].sum(), (a, b, missing.sum(), dark[a].sum())


def test_views_are_seen_as_they_are_drawn_when_a_sheet_is_opened(desk, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    desk.window.session.open(EXAMPLES / "skp-02.lathed")
    desk.wait(lambda: desk.window.session.current.proof is not None, 60)
    desk.press(desk.window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    room, views = desk.window.issue, []

    def note():
        grown = room.drawing.growing
        if grown is not None:
            assert room.drawing.composed is None and room.drawing.is_late
            own = [s.of for s in grown.scene.spots]
            assert all(of.startswith("view:") for of in own), "callouts come when all views are there"
            assert room.canvas._painted.scene is grown.scene
            views.append(len(own))

    room.drawing.changed.connect(note)
    _drawn(desk, room)
    many = len(room.drawing.sheet.views)
    assert views == [*range(1, many)] and room.drawing.growing is None
    assert any(s.of.startswith("label:") for s in room.drawing.composed.scene.spots)
    assert room.canvas._painted.scene is room.drawing.composed.scene
