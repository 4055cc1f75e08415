"""What the plate explains and offers, worked by mouse and keys: limits, ghosts, motions, gaps, marks, areas, lines from
the solid, letters, texts put by hand, paper.
"""

import math
from xml.etree import ElementTree

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from lathed_solid.core.job import edits
from lathed_solid.core.sketch.model import Arc, Circle, Spline, Text
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.desk.plate.printing import write_svg


def choose(plate, *ids):
    plate.canvas.choose(*ids)
    plate._on_chosen()


def tell(plate):
    return plate.strip.words.text()


def give(desk, plate, id_, text):
    """Double-click a size and type another one."""
    plate.canvas.edit_dimension(id_)
    editor = plate.canvas._editor
    desk.press(editor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    desk.keys(editor, text)
    desk.press(editor, Qt.Key.Key_Return)
    QTest.qWait(20)


def blend(desk, plate):
    desk.enter("circle R10 at 0,0")
    desk.enter("circle R7 at 60,0")
    plate.canvas.fit()
    desk.tool("arc")
    for at in ((1, 9.95), (59, 6.93), (24, 20)):
        desk.plate_click(*at)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    for eye in ("c1", "c2"):
        choose(plate, "a1", eye)
        desk.click(desk.plate_button("tangent"))
    choose(plate, "a1")
    desk.size("70", "size R")
    assert plate.canvas.look.freedom.ways == 0


def test_an_impossible_size_is_refused_with_the_value_from_which_on_it_works(desk, plate):
    blend(desk, plate)
    before = desk.session.content
    waist = next(d.id for d in plate.sketch.dimensions if d.text == "70")
    give(desk, plate, waist, "20")
    assert "can be at least 38.5, not 20" in tell(plate)
    assert "radius 10" in tell(plate)
    assert "radius 7" in tell(plate)
    assert desk.session.content is before, "refused input changes nothing"
    desk.press(plate.canvas._editor, Qt.Key.Key_Escape)
    assert plate.canvas._editor is None


def test_other_solutions_are_ghosts_to_step_through_and_take(desk, plate):
    blend(desk, plate)
    choose(plate, "a1")
    plate.canvas.setFocus()
    before = plate.sketch
    desk.press(plate.canvas, Qt.Key.Key_V)
    many = len(plate.canvas.ways)
    assert many >= 7
    assert tell(plate).startswith(f"Other solution 1 of {many}")
    desk.press(plate.canvas, Qt.Key.Key_V)
    assert plate.canvas.way == 1
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    assert plate.canvas.ways == ()
    assert plate.sketch == before
    desk.press(plate.canvas, Qt.Key.Key_V)
    shown = plate.canvas.ways[0]
    desk.press(plate.canvas, Qt.Key.Key_Return)
    assert plate.sketch.points() == shown.points()
    # The one chosen is kept when its number changes.
    center = plate.sketch.points()[plate.sketch.get("a1").center]
    give(desk, plate, next(d.id for d in plate.sketch.dimensions if d.text == "70"), "72")
    now = plate.sketch.points()[plate.sketch.get("a1").center]
    assert math.hypot(now.x - center.x, now.y - center.y) < 5
    desk.session.undo()
    desk.session.undo()
    assert plate.sketch == before, "taking a solution is one undo"


def test_what_can_move_is_played_and_nothing_is_changed(desk, plate):
    desk.enter("line 0,0 30,0 30,20 0,20 close")
    before = desk.session.content
    assert plate.canvas.look.freedom.ways == 2
    desk.click(plate.advice.wiggle)
    desk.wait(lambda: "Motion 1 of 2" in tell(plate))
    desk.wait(lambda: plate.canvas.sketch.points() != plate.sketch.points())
    desk.wait(lambda: "Motion 2 of 2" in tell(plate))
    desk.wait(lambda: not plate.player.is_playing)
    assert desk.session.content is before
    assert plate.canvas.sketch == plate.sketch
    assert "2 ways to move" in tell(plate)


def test_a_gap_is_shown_told_and_closed(desk, plate):
    desk.enter("line 0,0 30,0 30,20 0.3,0.4")
    plate.canvas.fit()
    assert "a gap of 0.5 mm" in tell(plate)
    desk.click(desk.plate_button("Close the gap of 0.5 mm"))
    assert find_regions(plate.sketch).problem(plate.sketch) == ""
    assert "open" not in tell(plate)


def test_assumed_relations_have_marks_to_accept_or_drop(desk, plate):
    desk.enter("line 5,5 30,5 30,20")
    plate.canvas.grab()
    marks = plate.canvas.picture.marks
    assert len(marks) == 2
    level = next(r.id for r in plate.sketch.relations if r.kind == "horizontal")
    desk.click(plate.canvas, marks[level].center().toPoint())
    assert plate.canvas.chosen == (level,)
    desk.click(desk.plate_button("accept horizontal"))
    assert not next(r for r in plate.sketch.relations if r.id == level).assumed
    upright = next(r.id for r in plate.sketch.relations if r.kind == "vertical")
    choose(plate, upright)
    desk.click(desk.plate_button("drop vertical"))
    assert [r.kind for r in plate.sketch.relations] == ["horizontal"]


def test_keep_both_shows_the_mismatch(desk, plate):
    desk.enter("rect 40 x 20")
    choose(plate, "l1")
    desk.click(plate.tools["dimension"])
    assert "already pinned by" in tell(plate)
    plate.relating.dimension("45")
    assert "contradicts" in tell(plate)
    assert plate.canvas.look.blamed
    desk.click(desk.plate_button("Keep both"))
    last = plate.sketch.dimensions[-1]
    assert last.reference
    assert plate.canvas.look.texts[last.id] == "40 ≠ 45"
    assert plate.canvas.look.freedom.ways == 0
    choose(plate, "l1")
    assert "already pinned" in tell(plate)


def test_values_typed_beside_the_cursor_lead_the_line(desk, plate):
    desk.tool("line")
    canvas = plate.canvas
    desk.plate_click(0, 0)
    QTest.mouseMove(canvas, desk.on_plate(20, 9))
    for letter in "7/32 in + 4 mm":
        QTest.keyClicks(QApplication.focusWidget(), letter)
    desk.press(QApplication.focusWidget(), Qt.Key.Key_Tab)
    desk.keys(QApplication.focusWidget(), "30")
    assert canvas.hand.preview is not None
    desk.press(QApplication.focusWidget(), Qt.Key.Key_Return)
    texts = [(d.kind, d.text) for d in plate.sketch.dimensions]
    assert texts == [("distance", "7/32 in + 4 mm"), ("angle", "30")]
    p = plate.sketch.points()[plate.sketch.get("l1").b]
    size = 7 / 32 * 25.4 + 4
    assert (p.x, p.y) == pytest.approx((size * math.cos(math.pi / 6), size * math.sin(math.pi / 6)))
    # X from one point, Y from another: hold X over the first, then click level with the second.
    desk.press(canvas, Qt.Key.Key_Escape)
    desk.press(canvas, Qt.Key.Key_Escape)
    desk.enter("point 31,17")
    desk.tool("point")
    QTest.qWait(50)
    QTest.mouseMove(canvas, desk.on_plate(p.x, p.y))
    desk.wait(lambda: canvas.hand.snap.spot.point != "")
    desk.press(canvas, Qt.Key.Key_X)
    QTest.mouseMove(canvas, desk.on_plate(31, 17))
    desk.wait(lambda: canvas.cursor_at.toPoint() == desk.on_plate(31, 17))
    desk.press(canvas, Qt.Key.Key_Y)
    assert canvas.hand.held.keys() == {"x", "y"}
    desk.press(canvas, Qt.Key.Key_Return)
    last = list(plate.sketch.points().values())[-1]
    assert (last.x, last.y) == pytest.approx((p.x, 17), abs=0.2)


def test_snaps_are_told_before_the_click_and_held_off_with_alt(desk, plate):
    desk.enter("circle Ø20 at 0,0")
    plate.canvas.fit()
    desk.tool("line")
    QTest.mouseMove(plate.canvas, desk.on_plate(7.07, 7.07))
    assert plate.canvas.hand.snap.words == ("on c1",)
    desk.plate_click(7.07, 7.07, Qt.KeyboardModifier.AltModifier)
    desk.plate_click(20, 15)
    assert not any(r.kind == "on" and r.of[1] == "c1" for r in plate.sketch.relations)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    desk.plate_click(-7.07, 7.07)
    desk.plate_click(-20, 15)
    assert any(r.kind == "on" and r.of[1] == "c1" for r in plate.sketch.relations)


def test_areas_are_clicked_for_a_step(desk, plate):
    desk.enter("rect 40 x 30")
    desk.enter("circle Ø10 at 0,0")
    step = desk.session.step
    desk.session.edit(lambda c: edits.change_step(c, step, mode="add", extent="depth", depth="5"), "a block")
    desk.settled()
    whole = desk.session.current.proof.mass.volume
    assert whole == pytest.approx(5 * (1200 - math.pi * 25), rel=1e-6)
    plate.canvas.fit()
    desk.tool("areas")
    desk.plate_click(15, 10)
    desk.plate_click(15, 10)
    assert len(desk.session.content.step(step).regions) == 1, "the last one cannot be left out"
    desk.plate_click(0, 3)
    desk.settled()
    assert desk.session.current.proof.mass.volume == pytest.approx(6000, rel=1e-6)
    desk.plate_click(15, 10)
    desk.settled()
    assert desk.session.current.proof.mass.volume == pytest.approx(125 * math.pi, rel=1e-6)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    assert plate.canvas.tool == "select"


def test_lines_are_taken_from_the_solid_and_follow_it(desk, plate):
    desk.enter("rect 40 x 30")
    desk.enter("circle Ø12 at 6,0")
    block = desk.session.step
    desk.session.edit(
        lambda c: edits.change_step(c, block, mode="add", extent="depth", depth="10", direction="forward"), "a block"
    )
    desk.window.run(desk.window.actions_.get("step.extrude"))
    desk.settled()
    second = plate.sketch_id
    assert plate.sketch.entities == ()
    desk.session.say("")
    desk.tool("edge")
    assert "Pick an edge" in desk.said[-1][0]
    part = desk.session.current.built
    rim = next(i for i, names in enumerate(part.names, 1) if any("c1/side" in n for n in names))
    desk.window.picking.on_face(rim, False)
    desk.tool("outline")
    desk.wait(lambda: any(e.id.startswith("j1.") for e in plate.sketch.entities))
    circle = next(e for e in plate.sketch.entities if isinstance(e, Circle))
    assert circle.radius == pytest.approx(6)
    assert desk.session.current.history.undo_words.endswith("taken from the solid")
    base = next(s for s in desk.session.content.sketches if s.id != second)
    bore = next(d for d in base.dimensions if d.kind == "diameter")
    desk.window.plate.show_sketch(base.id)
    give(desk, plate, bore.id, "14")
    desk.settled()
    desk.window.plate.show_sketch(second)
    desk.wait(lambda: next(e for e in plate.sketch.entities if isinstance(e, Circle)).radius == pytest.approx(7))


def test_letters_and_free_edges(desk, plate):
    desk.enter("line -20,0 20,0")
    plate.canvas.fit()
    choose(plate, "l1")
    desk.tool("text")
    for letter in "SKP-04":
        QTest.keyClicks(QApplication.focusWidget(), letter)
    desk.press(QApplication.focusWidget(), Qt.Key.Key_Tab)
    desk.keys(QApplication.focusWidget(), "4")
    desk.plate_click(3, 0)
    (text,) = plate.sketch.texts()
    assert (text.text, text.height, text.align) == ("SKP-04", 4, "middle")
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    choose(plate, text.id)
    desk.click(desk.plate_button("bold letters"))
    desk.click(desk.plate_button("retype"))
    plate.canvas._editor.setText("SKP-05")
    desk.press(plate.canvas._editor, Qt.Key.Key_Return)
    (text,) = (e for e in plate.sketch.entities if isinstance(e, Text))
    assert (text.text, text.font) == ("SKP-05", "bold")
    desk.tool("spline")
    for at in ((-20, 10), (-5, 16), (8, 8)):
        desk.plate_click(*at)
    desk.press(plate.canvas, Qt.Key.Key_Return)
    spline = next(e for e in plate.sketch.entities if isinstance(e, Spline))
    assert len(spline.through) == 3
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    choose(plate, spline.id)
    desk.click(desk.plate_button("direction at its end"))
    assert next(e for e in plate.sketch.entities if isinstance(e, Spline)).end


def test_a_text_put_by_hand_stays_and_can_be_let_go(desk, plate):
    desk.enter("rect 40 x 20")
    canvas = plate.canvas
    canvas.grab()
    size = plate.sketch.dimensions[0]
    start = canvas.picture.boxes[size.id].center().toPoint()
    desk.click(canvas, start)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for k in range(1, 8):
        QTest.mouseMove(canvas, start + QPoint(6 * k, -9 * k), 5)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(42, -63))
    placed = next(d for d in plate.sketch.dimensions if d.id == size.id)
    assert placed.place is not None
    canvas.grab()
    assert (canvas.picture.boxes[size.id].center() - canvas.t.px(*placed.place)).manhattanLength() < 2
    choose(plate, size.id)
    desk.click(desk.plate_button("place it by itself"))
    assert plate.sketch.dimensions[0].place is None
    canvas.grab()
    boxes = list(canvas.picture.boxes.values())
    assert not any(a.intersects(b) for k, a in enumerate(boxes) for b in boxes[k + 1 :])


def test_the_sketch_prints_to_svg(desk, plate, tmp_path):
    desk.enter("rect 40 x 20")
    desk.enter("circle Ø8 at 5,0")
    write_svg(tmp_path / "a.svg", plate.canvas, desk.session)
    root = ElementTree.parse(tmp_path / "a.svg").getroot()
    texts = {"".join(t.itertext()).strip() for t in root.iter("{http://www.w3.org/2000/svg}text")}
    assert {"40", "20", "Ø8"} <= texts
    assert len(list(root.iter("{http://www.w3.org/2000/svg}path"))) > 4
    write_svg(tmp_path / "no" / "where.svg", plate.canvas, desk.session)
    assert desk.said[-1][1] == "bad"


def test_moving_what_is_held_says_by_what(desk, plate):
    desk.enter("circle Ø10 at 20,10")
    choose(plate, "c1", plate.sketch.get("c1").center)
    desk.enter("move 5,0")
    point = plate.sketch.points()[plate.sketch.get("c1").center]
    assert point.x == pytest.approx(20)
    desk.enter("line 0,30 40,30")
    choose(plate, "c1")
    desk.enter("mirror about axis of c1")
    assert sum(isinstance(c, Circle) for c in plate.sketch.curves()) == 2
    assert plate.canvas.look.freedom.ways == 2, "the line's length and its place, nothing else"
    desk.enter("row 3 x 6 of c1")
    assert sum(isinstance(c, Circle) for c in plate.sketch.curves()) == 4
    assert not any(isinstance(c, Arc) for c in plate.sketch.curves())


def test_points_for_holes_need_no_closed_outline(desk):
    desk.open_example("skp-07")
    words = desk.window.plate.strip.words
    holes = next(s for s in desk.session.content.steps if s.name == "Fixing holes")
    desk.session.select_step(holes.id)
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.id == holes.sketch)
    assert words.text().startswith("Nothing can move") and "outline" not in words.text()
