"""Drawings on paper: scanned or photographed, read, accepted and reviewed by mouse and keys until the ledger stands; a
stranger's plate drawn over its scan.
"""

from __future__ import annotations

import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from trials.drawn import Drawn, lacking
from trials.office import made

from lathed_solid.core.drawing.scan import needs
from lathed_solid.core.drawing.scan.judging import meaning
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.desk.glass import pictures

from ..conftest import EXAMPLES
from .scans import laid_flat, laid_under, opened, picture_only, pictured, read_through, reviewed
from .test_drawing_by_hand import click_sheet, meanings


@pytest.fixture(autouse=True)
def _kept_for_all(monkeypatch, readings):
    monkeypatch.setattr(pictures, "user_cache_path", lambda _: readings)


@pytest.mark.parametrize("kind", ["scan", "photo"])
def test_a_picture_of_skp_02_ends_in_its_ledger(desk, flange, tmp_path, kind):
    path = tmp_path / ("flange.jpg" if kind == "photo" else "flange.png")
    offers = opened(desk, pictured((EXAMPLES / "skp-02.pdf").read_bytes(), kind, path))
    assert desk.session.content.callouts == (), "nothing is taken by itself"
    if kind == "photo":
        offers = laid_flat(desk)
    ledger = desk.session.content.ledger()
    truth = [c.note for c in flange.callouts]
    wanted = {meaning(t, ledger) for t in truth}
    right = [o for o in offers.offers if meaning(o.note, ledger) in wanted]
    read = {meaning(o.note, ledger) for o in right}
    assert len(read) == 15 == len(truth), [t for t in truth if meaning(t, ledger) not in read]
    sure = [o for o in offers.offers if o.sure]
    assert len(sure) >= 10 and all(meaning(o.note, ledger) in wanted for o in sure)
    assert offers.all.text() == f"Accept {len(sure)} sure" or len(sure) == len(offers.offers)
    desk.click(offers.all)
    assert len(desk.session.content.callouts) == len(sure)
    assert reviewed(desk, truth) == 0, "what is to be looked at was read right too"
    assert meanings(desk.session.content) == meanings(flange)
    assert all(c.source == "read from the picture" for c in desk.session.content.callouts)
    desk.wait(lambda: all(c.place.cutout for c in desk.session.content.callouts), 60)
    assert "settled" in offers.state.text()


def test_a_note_corrected_in_the_review_says_so(desk, tmp_path):
    offers = opened(desk, pictured((EXAMPLES / "skp-02.pdf").read_bytes(), "clean", tmp_path / "flange.png"))
    row = next(i for i, o in enumerate(offers.offers) if o.note == "R2")
    at = offers.offers[row]
    click_sheet(desk, at.x, at.y)
    assert offers.list.currentRow() == row and offers.review.line.text() == "R2"
    desk.wait(lambda: not offers.review.crop.pixmap().isNull())
    line = offers.review.line
    desk.press(line, Qt.Key.Key_Down)
    assert offers.list.currentRow() == row + 1
    desk.press(line, Qt.Key.Key_Up)
    desk.retype(line, "R2 z")
    assert desk.session.content.callouts == () and "Type what the picture says" in offers.review.words.text()
    desk.retype(line, "R2.5")
    (callout,) = desk.session.content.callouts
    assert (callout.note, callout.source) == ("R2.5", "read from the picture, corrected")
    count = len(offers.offers)
    desk.session.undo()
    assert desk.session.content.callouts == () and len(offers.offers) == count + 1, "undone, it is offered again"
    # In another unit what was read is judged anew, not read anew.
    desk.session.edit(lambda c: edits.set_header(c, units="in"), "inches")
    read_through(desk, offers)
    assert any(o.note.startswith("M5") for o in offers.offers)


def test_a_page_that_holds_only_a_picture_is_read_too_and_can_be_stopped(desk, tmp_path):
    path = tmp_path / "only.pdf"
    path.write_bytes(picture_only((EXAMPLES / "skp-02.pdf").read_bytes()))
    glass, offers = desk.window.glass, desk.window.read_side.offers
    glass.open_file(path)
    desk.wait(lambda: "being read" in offers.state.text() and offers.reading.button.isVisible(), 60)
    assert offers.reading.button.text() == "Stop"
    desk.click(offers.reading.button)
    desk.wait(lambda: offers.reading.button.text() == "Read again")
    assert "stopped" in offers.state.text()
    desk.click(offers.reading.button)
    read_through(desk, offers)
    assert len(offers.offers) >= 15


def test_without_the_extra_everything_else_works_and_one_button_fetches_it(desk, tmp_path, monkeypatch):
    monkeypatch.setattr(needs, "missing", lambda: ("cv2",))
    path = pictured((EXAMPLES / "skp-02.pdf").read_bytes(), "clean", tmp_path / "flange.png")
    glass, offers = desk.window.glass, desk.window.read_side.offers
    glass.open_file(path)
    desk.wait(lambda: offers.reading.button.isVisible() and offers.reading.button.text() == "Fetch it")
    assert "125 MB" in offers.state.text() and not offers.offers
    click_sheet(desk, 0.3, 0.3)
    desk.retype(glass.slip.line, "Ø12 h6")
    assert [c.note for c in desk.session.content.callouts] == ["Ø12 h6"], "a size is still clicked and typed"
    desk.click(glass.straight)
    assert "extra" in desk.said[-1][0] and not glass.straightening.is_on
    fetched = []

    class Fetching:
        def run(self, tell):
            tell("loading onnxruntime")
            fetched.append(True)
            monkeypatch.setattr(needs, "missing", lambda: ())

        def stop(self):
            pass

    monkeypatch.setattr(pictures, "Fetching", Fetching)
    desk.click(offers.reading.button)
    read_through(desk, offers)
    assert fetched and len(offers.offers) >= 14


def test_corners_are_dragged_and_the_photograph_comes_back(desk, tmp_path):
    path = pictured((EXAMPLES / "skp-02.pdf").read_bytes(), "photo", tmp_path / "flange.jpg")
    glass = desk.window.glass
    opened(desk, path)
    photograph = glass.drawing.blob
    desk.click(glass.straight)
    canvas = glass.canvas
    desk.wait(lambda: len(canvas.corners) == 4, 60)
    found = canvas.corners[2]
    at = canvas.to_screen(found.x(), found.y()).toPoint()
    for end in (at + QPoint(-30, -20), at):  # away, and back onto its corner
        start = canvas.to_screen(canvas.corners[2].x(), canvas.corners[2].y()).toPoint()
        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        QTest.mouseMove(canvas, (start + end) / 2, 10)
        QTest.mouseMove(canvas, end, 10)
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
        assert canvas.to_screen(canvas.corners[2].x(), canvas.corners[2].y()).toPoint() == end
    desk.press(canvas, Qt.Key.Key_Escape)
    assert not canvas.corners and glass.drawing.blob == photograph, "left, nothing has changed"
    offers = laid_flat(desk)
    desk.click(offers.all)
    place = desk.session.content.callouts[0].place
    # Saved and opened again, the photograph is still there, and the balloons go back with it.
    saved = tmp_path / "flange.lathed"
    assert desk.session.save(saved)
    again = storage.load(saved, Store(tmp_path / "again")).job.content
    assert again.drawings[0].original == photograph
    assert Store(tmp_path / "again").get(photograph) == path.read_bytes()
    desk.click(glass.straight)
    desk.wait(lambda: glass.straightening.bar.back.isVisible())
    desk.click(glass.straightening.bar.back)
    assert glass.drawing.blob == photograph and not glass.drawing.original
    back = desk.session.content.callouts[0].place
    assert abs(back.x - place.x) + abs(back.y - place.y) > 0.005
    desk.session.undo()
    assert desk.session.content.callouts[0].place.x == pytest.approx(place.x)


def test_a_photograph_that_came_as_a_pdf_is_laid_flat_and_a_drawn_sheet_is_not(desk, tmp_path):
    glass = desk.window.glass
    glass.open_file(EXAMPLES / "skp-02.pdf")
    desk.wait(lambda: glass.paper is not None and glass.paper.has_read(1))
    desk.click(glass.straight)
    assert "lies straight" in desk.said[-1][0] and not glass.straightening.is_on
    photograph = pictured((EXAMPLES / "skp-02.pdf").read_bytes(), "photo", tmp_path / "flange.jpg")
    path = tmp_path / "photographed.pdf"
    Image.open(photograph).save(path, "PDF", resolution=200)
    laid_under(desk, path)
    assert glass.drawing.kind == "pdf"
    whole = glass.drawing.blob
    offers = laid_flat(desk)
    assert glass.drawing.kind == "picture" and sum(o.sure for o in offers.offers) >= 10
    desk.click(glass.straight)
    desk.wait(lambda: glass.straightening.bar.back.isVisible())
    desk.click(glass.straightening.bar.back)
    assert (glass.drawing.kind, glass.drawing.blob) == ("pdf", whole)


def plate_sheet() -> Drawn:
    """A stranger's plate, 90 x 54 x 12 with four holes and a bore, drawn 1:1 on A4."""
    sheet = Drawn((297.0, 210.0), "dejavu", 3.5)
    sheet.box(10, 10, 287, 200, 0.7)
    left, top, right, bottom = 70.0, 60.0, 160.0, 114.0
    sheet.box(left, top, right, bottom)
    for x, y in ((82.0, 70.0), (148.0, 70.0), (148.0, 104.0), (82.0, 104.0)):
        sheet.circle((x, y), 3.3)
    sheet.circle((115.0, 87.0), 11.0)
    sheet.level((82, 104), (148, 104), bottom + 12, "66", 0.9)
    sheet.level((left, bottom), (right, bottom), bottom + 22, "90", 0.9)
    sheet.upright((82, 70), (82, 104), left - 10, "34", 0.9)
    sheet.upright((left, top), (left, bottom), left - 20, "54", 0.9)
    assert sheet.leader((178, 50), (150.3, 67.7), "4x Ø6.6 THRU")
    assert sheet.leader((178, 84), (125.5, 84.0), "Ø22 THRU")
    sheet.box(200, 60, 212, 114)
    sheet.level((200, 114), (212, 114), bottom + 12, "12", 0.9)
    return sheet


def test_a_strangers_plate_is_drawn_over_its_scan(desk, tmp_path):
    offers = opened(desk, pictured(plate_sheet().pdf(), "scan", tmp_path / "plate.png"))
    side, session = desk.window.read_side, desk.session
    desk.actions = 0
    desk.click(offers.all)
    reviewed(desk, ["66", "90", "34", "54", "4x Ø6.6 THRU", "Ø22 THRU", "12"])
    notes = {c.note: c.number for c in session.content.callouts}
    assert sorted(notes) == sorted(["66", "90", "34", "54", "4x Ø6.6 THRU", "Ø22 THRU", "12"])
    outlined(desk)
    ticks = {alike.number: box for box, alike in side.traced._alike}
    assert set(ticks) == {notes["4x Ø6.6 THRU"], notes["Ø22 THRU"]}, side.traced.state.text()
    for box in ticks.values():
        desk.click(box, QPoint(8, box.height() // 2))
    desk.click(side.traced.take)
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.name == "Over the scan")
    desk.settled()
    plate, canvas = desk.window.plate, desk.window.plate.canvas
    assert len(plate.sketch.curves()) in (4, 5), "a hole that noise has broken is drawn by hand"
    assert canvas.look.traces is not None
    # The outline by two clicks near corners of the scan, which they snap to.
    canvas.take_tool("rectangle")
    for x, y in ((0.6, 0.5), (89.3, 53.4)):
        at = canvas.t.px(x, y)
        QTest.mouseMove(canvas, at.toPoint(), 20)
        assert any("scan" in w or "origin" in w for w in canvas.hand.snap.words), canvas.hand.snap
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at.toPoint())
    corners = plate.sketch.points().values()
    a_pixel = 297 / 700  # mm: the scale was clicked on the whole sheet, at either end of the 90
    assert min(abs(p.x - 90) + abs(p.y - 54) for p in corners) < 3 * a_pixel, "within what a scan can tell"
    assert session.content.traces[0].sketch == plate.sketch.id
    saved = tmp_path / "plate.lathed"
    assert session.save(saved)
    assert storage.load(saved).job.content.traces == session.content.traces


def outlined(desk):
    """The plate's scale from one known length, both ends of its 90; then its outline, by a box round the view."""
    glass, side = desk.window.glass, desk.window.read_side
    desk.click(glass.tools["scale"])
    for x, y in ((70, 114), (160, 114)):
        click_sheet(desk, x / 297, y / 210)
    desk.retype(glass.slip.line, "90")
    side.setCurrentWidget(side.outlines)
    desk.click(side.traced.search)
    for x, y in ((64, 54), (166, 118)):
        click_sheet(desk, x / 297, y / 210)
    desk.wait(lambda: side.traced.take.isEnabled(), 60)


@pytest.mark.skipif(bool(lacking()), reason=f"lettering that offices use is not installed: {lacking()}")
def test_a_strangers_sheet_in_inches_ends_in_its_ledger(desk, tmp_path):
    sheet = made(19)
    assert sheet.unit == "in"
    desk.session.edit(lambda c: edits.set_header(c, units="in"), "inches")
    laid_under(desk, pictured(sheet.pdf, "photo", tmp_path / "s.jpg", 19))
    offers = laid_flat(desk)
    ledger = desk.session.content.ledger()
    truth = [n.text for n in sheet.notes]
    sure = [o for o in offers.offers if o.sure]
    assert all(meaning(o.note, ledger) in {meaning(t, ledger) for t in truth} for o in sure), "none sure and wrong"
    desk.click(offers.all)
    typed = reviewed(desk, truth)
    stated = [meaning(c.note, ledger) for c in desk.session.content.callouts]
    missing = [t for t in truth if meaning(t, ledger) not in stated]
    assert len(missing) + typed <= 0.15 * len(truth), (missing, typed)
