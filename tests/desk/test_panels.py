"""The panels one by one: every field refuses what it cannot take, every list can be worked by keyboard."""

import math

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.job import edits
from lathed_solid.core.sketch.model import Plane
from lathed_solid.desk.plate.intents import CalloutDropped
from lathed_solid.desk.plate.screen import Transform
from lathed_solid.desk.route.cards import CardDelegate
from lathed_solid.desk.sheet.model import ERROR, LABEL, LIMITS


def test_the_title_block_keeps_the_old_value_of_a_wrong_one(desk):
    block, header = desk.window.title_block, lambda: desk.session.content.header
    desk.retype(block.density, "-3")
    assert header().material.density == 7.85
    assert "must be above zero" in block._error.text()
    assert block.density.text() == "7.85"
    desk.retype(block.density, "7.8")
    assert (header().material.density, header().material.source) == (7.8, "entered by hand")
    desk.retype(block.mass, "about 300")
    assert header().stated.mass is None
    assert "The old value (none) stays" in block._error.text()
    desk.retype(block.mass, "2*156.1")
    assert header().stated.mass == pytest.approx(312.2)
    assert block.mass.text() == "2*156.1"  # as typed, the value beside it
    assert block._values["mass"].text() == "= 312.2"
    desk.retype(block.mass, "")
    assert header().stated.mass is None
    desk.retype(block.tolerance, "0.5")
    assert header().stated.tolerance == pytest.approx(0.005)
    block.material.setFocus()
    for _ in range(6):
        desk.press(block.material, Qt.Key.Key_Down)
    assert header().material.name == "Aluminium"
    block.units.setFocus()
    desk.press(block.units, Qt.Key.Key_Down)
    assert (header().units, header().fractions) == ("in", False)
    desk.press(block.units, Qt.Key.Key_Down)
    assert (header().units, header().fractions) == ("in", True)
    desk.retype(block.volume, "2")
    assert header().stated.volume == pytest.approx(2 * 25.4**3)
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert header().stated.volume is None


def test_inch_jobs_with_fractions(desk):
    desk.session.edit(lambda c: edits.set_header(c, units="in", fractions=True), "inches")
    for note in ("2 5/8", "dia 1 1/4", "Ø25 mm"):
        desk.enter(note)
    assert [desk.session.content.ledger().reading(n).main.nominal for n in (1, 2, 3)] == pytest.approx(
        [66.675, 31.75, 25]
    )
    desk.enter("add: turned")
    desk.cell(0, 0, "#1")
    desk.cell(0, 2, "#2")
    desk.settled()
    high = desk.session.current.proof.mass.high
    assert (high[0], high[2]) == pytest.approx((31.75 / 2, 66.675))
    assert "Size" in desk.window.proof_figures._figures.itemAt(6).widget().text()
    assert desk.window.proof_figures._figures.itemAt(7).widget().text() == "1 1/4 × 1 1/4 × 2 5/8"


def test_rows_are_inserted_and_removed_and_unfinished_ones_wait(desk):
    desk.enter("add: turned")
    desk.cell(0, 0, "20")
    assert desk.session.content.sketches[0].stations == ()  # no diameter yet
    assert "A row needs" in desk.window.plate.table._note.text()
    desk.cell(0, 2, "12")
    desk.cell(1, 1, "15")
    desk.cell(1, 2, "30")
    stations = desk.session.content.sketches[0].stations
    assert [(s.to, s.length, s.diameter) for s in stations] == [("20", "", "12"), ("", "15", "30")]
    desk.cell(1, 2, "0")
    assert desk.session.content.sketches[0].stations == stations
    QTest.qWait(20)
    grid, table = desk.window.plate.table.grid, desk.window.plate.table
    assert "Row 2: the diameter must be above zero" in table._note.text()
    assert grid.item(1, 2).text() == "0"  # what was typed is not wiped away
    grid.setFocus()
    desk.press(grid, Qt.Key.Key_Escape)
    assert grid.item(1, 2).text() == "30" and "above zero" not in table._note.text()
    grid.setCurrentCell(0, 0)
    desk.press(grid, Qt.Key.Key_Insert)
    desk.cell(0, 0, "5")
    desk.cell(0, 2, "8")
    assert [s.diameter for s in desk.session.content.sketches[0].stations] == ["8", "12", "30"]
    assert len({s.id for s in desk.session.content.sketches[0].stations}) == 3
    grid.setCurrentCell(0, 0)
    desk.press(grid, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert [s.diameter for s in desk.session.content.sketches[0].stations] == ["12", "30"]
    desk.settled()


def test_a_cone_after_a_cylinder_is_typed_left_to_right(desk):
    """For a moment the cone has the cylinder's diameter: nothing that was typed is lost, and the complaint goes."""
    desk.enter("add: turned")
    table = desk.window.plate.table
    for row, column, text in ((0, 1, "20"), (0, 2, "30"), (1, 1, "15"), (1, 2, "30")):
        desk.cell(row, column, text)
    QTest.qWait(20)
    assert "same diameter where they meet" in table._note.text()
    assert table.grid.item(1, 1).text() == "15"
    desk.cell(1, 3, "18")
    desk.settled()
    found = [(s.length, s.diameter, s.diameter2) for s in desk.session.content.sketches[0].stations]
    assert found == [("20", "30", ""), ("15", "30", "18")]
    assert "same diameter" not in table._note.text()


def test_a_profile_changed_on_the_plate_leaves_its_table(desk):
    desk.enter("add: turned")
    for column, text in ((0, "20"), (2, "12")):
        desk.cell(0, column, text)
    desk.settled()
    desk.click(desk.window.plate.table_button)
    desk.plate_click(10, 6)
    assert desk.window.plate.canvas.chosen == ("a.od",)
    desk.press(desk.window.plate.canvas, Qt.Key.Key_Delete)
    assert desk.session.content.sketches[0].stations is None
    assert "no longer leads it" in desk.said[-1][0]
    desk.settled()
    assert "open" in desk.session.current.reports["s1"].message
    assert "open" in desk.window.plate.strip.words.text()
    assert desk.window.part.scene.body is not None
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.content.sketches[0].stations is not None


def test_steps_are_ticked_moved_renamed_and_removed(desk):
    desk.open_example("skp-02")
    panel, cards = desk.window.route, desk.window.route.list
    index = panel.model.index(3)
    cards.scrollTo(index)
    card = cards.visualRect(index).adjusted(8, 3, -8, -3)
    desk.click(cards.viewport(), CardDelegate.tick_box(card).center())
    assert desk.session.content.step("s4").suppressed
    desk.settled()
    assert desk.session.current.reports["s4"].state == "suppressed"
    assert desk.session.current.proof.mark_of(7) == "open"
    desk.press(cards, Qt.Key.Key_Space)
    assert not desk.session.content.step("s4").suppressed
    desk.press(cards, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [s.id for s in desk.session.content.steps][3:5] == ["s5", "s4"]
    desk.settled()
    assert desk.session.current.proof.all_in
    desk.retype(desk.field("Step name"), "Foot")
    assert desk.session.content.step("s4").name == "Foot"
    desk.press(cards, Qt.Key.Key_Delete)
    assert "s4" not in [s.id for s in desk.session.content.steps]
    desk.settled()
    data = panel.model.mimeData([panel.model.index(1)])
    assert panel.model.dropMimeData(data, Qt.DropAction.MoveAction, 9, 0, panel.model.index(-1))
    assert [s.id for s in desk.session.content.steps][-1] == "s2"
    desk.settled()
    assert desk.session.current.reports["s3"].state == "failed"  # its edges came from the bore, now later


def test_building_up_to_a_step_leaves_the_rest_for_later(desk):
    desk.open_example("skp-02")
    desk.session.select_step("s4")
    desk.enter("build up to")
    desk.settled()
    states = [r.state for r in desk.session.current.reports.values()]
    assert states == ["done"] * 4 + ["beyond"] * 6
    assert desk.session.current.proof.mass.volume == pytest.approx(147_126.06, rel=1e-6)
    desk.enter("build the whole")
    desk.settled()
    assert desk.session.current.proof.all_in


def test_a_wrong_formula_stays_in_its_field_and_changes_nothing(desk):
    desk.open_example("skp-01")
    desk.session.select_step("s3")
    field = desk.field("Drill Ø")
    desk.retype(field, "4 + * 2")
    assert desk.session.content.step("s3").diameter == "#20"
    holder = field.parentWidget()
    assert "does not fit here" in holder._error.text()
    assert "The old value #20 stays." in holder._error.text()
    assert field.property("bad")
    desk.press(field, Qt.Key.Key_Escape)
    assert field.text() == "#20"
    desk.retype(field, "#20 + 1")
    desk.settled()
    assert holder._value.text() == "= 5"
    assert desk.session.current.proof.mark_of(20) == "open"


def test_the_sheet_model_says_what_is_wrong_and_moves_by_drop(desk):
    for note in ("22 ; first", "Ø12 h6", "#1 + #2"):
        desk.enter(note)
    model = desk.window.sheet.model
    assert (model.index(0).data(LABEL), model.index(1).data(LIMITS)) == ("first", "11.989 / 12")
    assert "Used by callout 3" in model.index(0).data(Qt.ItemDataRole.ToolTipRole)
    data = QMimeData()
    data.setText("#3")
    assert model.dropMimeData(data, Qt.DropAction.CopyAction, 0, 0, model.index(-1))
    assert [c.number for c in desk.session.content.callouts] == [3, 1, 2]
    desk.choose_callout(3)
    desk.press(desk.window.sheet.list, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [c.number for c in desk.session.content.callouts] == [1, 3, 2]
    desk.session.edit(lambda c: edits.delete_callout(c, 1, anyway=True), "gone")
    assert "no callout #1" in model.index(0).data(ERROR)


def test_a_balloon_dropped_on_the_plate_sizes_what_it_hits(desk):
    desk.enter("Ø18")
    content, k = edits.add_sketch(desk.session.content, "circle", Plane("end"))
    desk.session.take(content, "sketch")
    desk.window.open_sketch(k)
    plate = desk.window.plate
    desk.click(plate.tools["circle"])
    desk.plate_click(20, 10)
    desk.plate_click(26, 10)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    rim = desk.pixel(20, 16)
    assert plate.canvas.under(rim).startswith("c")
    plate.canvas.wanted.emit(CalloutDropped("#1", rim))
    (dimension,) = plate.sketch.dimensions
    assert (dimension.kind, dimension.text) == ("diameter", "#1")
    assert plate.sketch.get("c1").radius == pytest.approx(9)
    assert plate.canvas.look.texts[dimension.id] == "Ø18"


def _where_it_shows(desk, name):
    """A place on the cross hole's wall that is not hidden just now."""
    part = desk.window.part
    for _ in range(6):  # as the wheel does it: nearer, the hole staying under the cursor
        part.surface.zoom(*part.surface.view.Convert(10.0, 0.0, 70.0), 1)
    QTest.qWait(200)
    for depth in (9.6, 9.2, 8.8):
        for k in range(24):
            point = (depth, 2 * math.cos(k * math.pi / 12), 70 + 2 * math.sin(k * math.pi / 12))
            found = part.scene.hover(*part.surface.view.Convert(*point))
            if (
                found is not None
                and part.scene.is_face(found)
                and name in part.scene.body.names[part.scene.body.index(found)]
            ):
                return point
    raise AssertionError("the wall shows nowhere")


def test_unexplained_faces_are_shown_and_bound_by_hand(desk):
    desk.open_example("skp-01")
    desk.session.edit(lambda c: edits.change_step(c, "s3", diameter="4"), "typed by hand")
    desk.settled()
    desk.window.show_stage("Prove")
    figures = desk.window.proof_figures
    words = [figures._loose.item(i).text() for i in range(figures._loose.count())]
    assert words == ["Every face has a callout, every callout is used."]  # the hole's place is still claimed
    desk.choose_callout(20)
    line = desk.window.proof_table.current_line()
    assert (line.number, line.mark) == (20, "open")
    desk.look("I")
    wall = _where_it_shows(desk, "s3/0/side")
    desk.pick(wall)
    assert desk.window.picking.figure(desk.window.picking.faces[0]).radius == pytest.approx(2)
    rows = desk.window.proof_table.model.lines
    desk.window.proof_table.view.selectRow(next(i for i, x in enumerate(rows) if (x.number, x.key) == (20, "")))
    desk.pick(wall)
    desk.press(desk.window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.content.bindings[0].gauge.face == "s3/0/side"
    found = next(x for x in desk.session.current.proof.lines if (x.number, x.key) == (20, ""))
    assert (found.mark, found.measured) == ("in", pytest.approx(4))


def test_zooming_keeps_the_place_under_the_cursor():
    t = Transform()
    at = QPointF(123, 77)
    before = t.mm(at)
    t.zoom(at, 3.7)
    assert t.mm(at) == pytest.approx(before)


def test_the_view_sheet_follows_the_projection(desk):
    desk.open_example("skp-02")
    sheet = desk.window.part.sheet
    first = sheet._boxes()
    assert first["T"].center().y() > first["F"].center().y()
    desk.session.edit(lambda c: edits.set_header(c, projection="third"), "third angle")
    third = sheet._boxes()
    assert third["T"].center().y() < third["F"].center().y()
    assert third["L"].center().x() < third["F"].center().x() < third["R"].center().x()
    sheet.setFocus()
    sheet.mark("F")
    desk.press(sheet, Qt.Key.Key_Right)
    assert sheet._now == "K"


def test_several_jobs_stand_side_by_side(desk):
    desk.open_example("skp-01")
    desk.open_example("skp-02")
    assert [j.title for j in desk.session.jobs] == ["New part", "SKP-01", "SKP-02"]
    desk.window.rail.jobs.setCurrentIndex(1)
    desk.window.rail.jobs.activated.emit(1)
    desk.settled()
    assert desk.session.current.title == "SKP-01"
    assert desk.window.rail._mass.text() == "312.23 g"
    desk.press(desk.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    assert len(desk.session.jobs) == 4
    assert desk.window.stage == "Read"
    assert desk.window.part.scene.body is None
    desk.press(desk.window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert len(desk.session.jobs) == 3


def test_nothing_said_makes_the_window_wider(desk):
    wide = desk.window.minimumSizeHint().width()
    desk.session.say("m" * 5000, "bad")
    desk.enter("(" + " + ".join(["1"] * 110) + ")")
    desk.session.edit(lambda c: edits.set_header(c, name="N" * 400, number="P" * 300), "named")
    for stage in ("Read", "Shape", "Prove"):
        desk.window.show_stage(stage)
        desk.session.select_callout(1)
        assert desk.window.minimumSizeHint().width() <= wide
    assert desk.window.width() == 1280
