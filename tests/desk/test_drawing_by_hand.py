"""A drawing read as at the bench: opened, clicked, typed, offers accepted, scaled, until its ledger is that of SKP-02."""

import math

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QToolButton

from lathed_solid.core.callout import Callout, Ledger
from lathed_solid.core.job import storage

from ..conftest import EXAMPLES


def open_drawing(desk, path):
    glass = desk.window.glass
    glass.open_file(path)
    desk.wait(lambda: glass.drawing is not None and glass.drawing.name == path.name and glass.paper is not None)
    QTest.qWait(250)  # until it is asked for
    settled(desk)
    return glass


def settled(desk):
    """All that is read off the sheet is there, and every balloon has its cut-out."""
    side = desk.window.read_side
    desk.wait(lambda: not any("being read" in panel.state.text() for panel in (side.offers, side.outline)))
    desk.wait(lambda: all(c.place is None or c.place.cutout for c in desk.session.content.callouts))


def click_sheet(desk, x, y, button=Qt.MouseButton.LeftButton):
    canvas = desk.window.glass.canvas
    QTest.mouseClick(canvas, button, Qt.KeyboardModifier.NoModifier, canvas.to_screen(x, y).toPoint())
    QTest.qWait(20)


def meanings(content):
    """What a ledger says, whatever the order and the labels."""
    ledger = content.ledger()
    found = []
    for c in content.callouts:
        reading = ledger.reading(c.number)
        found.append((reading.shape, reading.fit, tuple((k.key, round(k.nominal, 6)) for k in reading.characteristics)))
    return sorted(found)


@pytest.mark.parametrize("name", ["skp-02.pdf", "skp-02.dxf"])
def test_the_drawing_gives_the_ledger_of_skp_02(desk, flange, name):
    glass, offers = open_drawing(desk, EXAMPLES / name), desk.window.read_side.offers
    assert desk.session.content.callouts == (), "nothing is taken by itself"
    assert len(offers.offers) == 15
    # One by a click on its place and Enter: the text that stands there is offered.
    first = next(o for o in offers.offers if o.note == "R2")
    canvas = glass.canvas
    canvas.offers = []
    click_sheet(desk, first.x, first.y)
    assert glass.slip.isVisible()
    assert glass.slip.line.text() == "R2"
    desk.press(glass.slip.line, Qt.Key.Key_Escape)
    assert not glass.slip.isVisible()
    click_sheet(desk, first.x, first.y)
    desk.retype(glass.slip.line, "R2 ; hub foot")
    desk.wait(lambda: len(desk.session.content.callouts) == 1)
    made = desk.session.content.callouts[0]
    assert (made.note, made.label, made.origin) == ("R2", "hub foot", "drawing")
    assert (made.place.x, made.place.y) == pytest.approx((first.x, first.y), abs=0.01)
    settled(desk)
    made = next(c for c in desk.session.content.callouts if c.number == made.number)
    assert desk.session.store.get(made.place.cutout).startswith(b"\x89PNG")
    assert len(offers.offers) == 14
    # One by its tag on the sheet: the first click chooses, the second takes.
    nine = next(i for i, o in enumerate(offers.offers) if o.note == "9")
    where = offers.offers[nine]
    click_sheet(desk, where.x, where.y)
    assert offers.list.currentRow() == nine
    click_sheet(desk, where.x, where.y)
    assert [c.note for c in desk.session.content.callouts] == ["R2", "9"]
    # The rest together; undo takes them back in one.
    desk.click(offers.all)
    assert len(desk.session.content.callouts) == 15
    desk.session.undo()
    assert len(desk.session.content.callouts) == 2
    desk.session.redo()
    assert meanings(desk.session.content) == meanings(flange)
    assert offers.offers == []
    # The sheet and the ledger point at each other.
    desk.choose_callout(5)
    assert canvas.chosen == 5
    seat = canvas.balloon_places()[3]
    desk.click(canvas, seat.toPoint())
    assert desk.session.callout == 3


def test_a_wrong_note_on_the_slip_places_nothing(desk):
    glass = open_drawing(desk, EXAMPLES / "skp-02.pdf")
    click_sheet(desk, 0.5, 0.9)
    desk.retype(glass.slip.line, "Ø20 H7 z")
    assert glass.slip.isVisible()
    assert "does not fit here" in glass.slip.words.text()
    assert glass.slip.line.cursorPosition() == 7
    assert desk.session.content.callouts == ()


def test_zoom_pan_turn_and_a_balloon_dragged(desk):
    glass = open_drawing(desk, EXAMPLES / "skp-02.pdf")
    canvas = glass.canvas
    desk.click(desk.window.read_side.offers.all)
    settled(desk)
    before = canvas.to_sheet(QPointF(200, 100))
    canvas.zoom_by(3.0, QPointF(200, 100))
    assert canvas.to_sheet(QPointF(200, 100)) == pytest.approx(before, abs=1e-9), "the place under the pointer stays"
    QTest.mousePress(canvas, Qt.MouseButton.RightButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 150))
    for k in range(1, 9):
        QTest.mouseMove(canvas, QPoint(300 - 10 * k, 150), 5)
    QTest.mouseRelease(canvas, Qt.MouseButton.RightButton, Qt.KeyboardModifier.NoModifier, QPoint(220, 150))
    moved = canvas.to_sheet(QPointF(200, 100))
    assert moved[0] > before[0] + 0.01
    desk.press(canvas, Qt.Key.Key_Home)
    desk.click(next(b for b in glass.findChildren(QToolButton) if b.toolTip().startswith("Turn the sheet")))
    assert glass.drawing.turned == 1
    QTest.qWait(200)
    a, b = canvas.to_screen(0, 0), canvas.to_screen(1, 0)
    assert abs(b.x() - a.x()) < 1e-6 < b.y() - a.y(), "the sheet's top edge now runs down"
    mark = canvas.balloons[0]
    seat = canvas.balloon_places()[mark.number].toPoint()
    old = desk.session.content.callouts[0].place
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, seat)
    for k in range(1, 6):
        QTest.mouseMove(canvas, seat + QPoint(0, 8 * k), 5)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, seat + QPoint(0, 40))
    settled(desk)
    new = desk.session.content.callouts[0].place
    assert (new.x, new.y) != (old.x, old.y)
    assert new.cutout != old.cutout


def test_sizes_scaled_from_the_picture_are_never_stated(desk):
    glass = open_drawing(desk, EXAMPLES / "skp-02.pdf")
    glass.canvas.offers = []
    desk.click(glass.tools["measure"])
    click_sheet(desk, 0.2, 0.5)
    click_sheet(desk, 0.3, 0.5)
    assert "Set the scale first" in desk.said[-1][0]
    # The rim's Ø118 stands upright at the left: from y 150-59 to 150+59 mm of a sheet 297 mm high.
    desk.click(glass.tools["scale"])
    click_sheet(desk, 73 / 420, 1 - 209 / 297)
    click_sheet(desk, 73 / 420, 1 - 91 / 297)
    desk.retype(glass.slip.line, "118")
    assert glass.drawing.scale(1) == pytest.approx(25.4 / 72, rel=0.01)
    # Then the hub's Ø42, which a machinist might miss.
    assert glass.canvas.tool == "measure"
    click_sheet(desk, 135 / 420, 1 - 171 / 297)
    click_sheet(desk, 135 / 420, 1 - 129 / 297)
    assert glass.slip.line.text().startswith(("42", "41.", "42."))
    desk.press(glass.slip.line, Qt.Key.Key_Return)
    made = desk.session.content.callouts[0]
    assert made.origin == "scaled"
    main = desk.session.content.ledger().reading(1).main
    assert main.nominal == pytest.approx(42, abs=0.7)
    assert main.basis == "scaled from the drawing"
    model = desk.window.sheet.model
    assert "scaled, not stated" in model.data(model.index(0), model_label())


def model_label():
    from lathed_solid.desk.sheet.model import LABEL

    return LABEL


def test_the_dxf_outline_becomes_a_sketch(desk):
    open_drawing(desk, EXAMPLES / "skp-02.dxf")
    side = desk.window.read_side
    side.setCurrentWidget(side.outlines)
    assert side.outline.layer.currentText() == "OUTLINE"
    assert side.outline.kinds["tangent"].isEnabled() or side.outline.kinds["horizontal"].isEnabled()
    settled(desk)
    side.outline.use.setCurrentIndex(2)
    settled(desk)
    desk.click(side.outline.take)
    sketch = desk.session.content.sketches[0]
    assert sum(e.__class__.__name__ == "Circle" for e in sketch.entities) == 22
    assert {r.kind for r in sketch.relations} >= {"horizontal", "vertical", "equal"}
    assert all(r.assumed for r in sketch.relations)
    assert desk.window.stage == "Shape"
    assert [s.sketch for s in desk.session.content.steps] == [sketch.id]
    # The completeness look says what it still owes.
    desk.window.show_read(desk.window.read_lower.complete)
    panel = desk.window.read_lower.complete
    desk.wait(lambda: any("sizes missing" in f.words for f in panel.findings if f.sketch == sketch.id))


def test_drawings_are_saved_with_the_job_and_come_back(desk, tmp_path):
    open_drawing(desk, EXAMPLES / "skp-02.pdf")
    desk.click(desk.window.read_side.offers.all)
    settled(desk)
    path = tmp_path / "a.lathed"
    assert desk.session.save(path)
    from lathed_solid.core.job.attachments import Store

    fresh = Store(tmp_path / "elsewhere")
    opened = storage.load(path, fresh)
    assert opened.lost == ()
    assert opened.job == desk.session.current.history.state
    assert fresh.get(opened.job.content.drawings[0].blob) == (EXAMPLES / "skp-02.pdf").read_bytes()
    assert all(fresh.get(c.place.cutout) for c in opened.job.content.callouts)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [("note.txt", b"just words", "is no PDF, PNG, JPEG, TIFF or DXF"), ("empty.pdf", b"", "is empty"),
     ("bad.pdf", b"%PDF-1.7\nnothing of the sort", "damaged"), ("bad.png", b"\x89PNG\r\n\x1a\nxxxx", "damaged"),
     ("bad.dxf", b"  0\nSECTION\n  2\nENTITIES\n  0\nLINE\nrubbish", "no DXF that can be read")],
)  # fmt: skip
def test_a_file_that_is_no_drawing_is_refused_and_changes_nothing(desk, tmp_path, name, data, words):
    (tmp_path / name).write_bytes(data)
    before = desk.session.content
    desk.window.glass.open_file(tmp_path / name)
    desk.wait(lambda: any(words in text for text, tone in desk.said if tone == "bad"), 10)
    assert desk.session.content is before


def test_a_job_whose_ledger_is_read_shows_the_cutout_beside_the_words(desk):
    desk.session.open(EXAMPLES / "skp-02.lathed")
    desk.settled()
    desk.window.show_stage("Read")
    assert desk.window.upper_stack.currentWidget() is desk.window.glass
    desk.wait(lambda: desk.window.glass.paper is not None)
    desk.choose_callout(8)
    crib = desk.window.read_side.crib
    assert crib.cutout.pixmap().width() == 230
    desk.press(desk.window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert desk.window.upper_stack.currentWidget() is desk.window.part
    proof = desk.session.current.proof
    assert proof.all_in


def test_callouts_of_a_ledger_can_be_scaled_without_being_stated():
    ledger = Ledger([Callout(number=1, note="Ø20", origin="scaled")])
    assert ledger.reading(1).main.basis == "scaled from the drawing"


def test_a_turned_half_profile_from_a_dxf_becomes_a_solid(desk, tmp_path):
    """Ø20 x 10 with a Ø30 collar 5 long, drawn as its upper half somewhere on a foreign sheet."""
    import ezdxf

    document = ezdxf.new("R2010")
    document.units = 4
    half = [(50, 70), (65, 70), (65, 85), (60, 85), (60, 80), (50, 80)]
    for a, b in zip(half, [*half[1:], half[0]], strict=True):
        document.modelspace().add_line(a, b)
    document.saveas(tmp_path / "half.dxf")
    open_drawing(desk, tmp_path / "half.dxf")
    side = desk.window.read_side
    side.setCurrentWidget(side.outlines)
    assert side.outline.use.currentIndex() == 0
    settled(desk)
    desk.click(side.outline.take)
    desk.settled()
    volume = desk.session.current.proof.mass.volume
    assert volume == pytest.approx(math.pi * (10**2 * 10 + 15**2 * 5))
    assert desk.session.content.steps[0].name == "Turn profile"


def test_a_drawing_in_inches_is_not_read_into_a_job_in_millimetres(desk, tmp_path):
    import ezdxf

    from lathed_solid.core.job import edits

    document = ezdxf.new("R2010")
    document.units = 1
    document.modelspace().add_line((0, 0), (4, 0))
    document.modelspace().add_linear_dim((0, 1), (0, 0), (2.5, 0), dimstyle="Standard").render()
    document.saveas(tmp_path / "inch.dxf")
    open_drawing(desk, tmp_path / "inch.dxf")
    offers = desk.window.read_side.offers
    desk.wait(lambda: bool(offers.offers))
    assert "in inches, but the job reads millimetres" in offers.state.text()
    assert not offers.all.isEnabled()
    offers.accept_all()
    assert desk.session.content.callouts == ()
    desk.session.edit(lambda c: edits.set_header(c, units="in"), "inches")
    settled(desk)
    desk.click(offers.all)
    assert desk.session.content.ledger().reading(1).main.nominal == pytest.approx(63.5)


def test_offers_do_not_stay_behind_when_the_job_is_switched(desk, tmp_path):
    """Both jobs call their drawing d1."""
    from lathed_solid.core.job.model import Job

    open_drawing(desk, EXAMPLES / "skp-02.dxf")
    offers = desk.window.read_side.offers
    assert len(offers.offers) == 15
    desk.session.add(Job())
    import ezdxf

    document = ezdxf.new("R2010")
    document.units = 4
    document.modelspace().add_text("Ø7 THRU", height=3).set_placement((0, 0))
    document.saveas(tmp_path / "one.dxf")
    open_drawing(desk, tmp_path / "one.dxf")
    assert [o.note for o in offers.offers] == ["Ø7 THRU"]
    desk.session.switch(0)
    assert len(offers.offers) == 15
    desk.session.switch(1)
    assert [o.note for o in offers.offers] == ["Ø7 THRU"]
