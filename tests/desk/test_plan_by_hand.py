"""The Plan stage by mouse and keys: from callouts alone to a blank, a route cut from it, a price, and machine zero."""

import csv
import math

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.job import edits
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.plan.zero import Mark, Zero
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.stock import Stock
from lathed_solid.worker.protocol import Fallen

from ..conftest import EXAMPLES
from .test_bracket_by_hand import done, fill
from .test_drawing_by_hand import open_drawing
from .test_drum_by_hand import new_sketch
from .test_strangers_by_hand import IN3, all_in, inch


@pytest.fixture(autouse=True)
def own_shop(desk, tmp_path):
    """The tables of the one who runs the tests are left alone."""
    desk.window.plan.planning._file = tmp_path / "shop.json"


def go_plan(desk):
    desk.press(desk.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    desk.settled()
    return desk.window.plan.planning


def retype(desk, name, text):
    """A field of the blank: replaced, Enter."""
    desk.retype(desk.window.plan.blank.fields[name].field, text)
    desk.settled()


def row_of(desk, words):
    table = desk.window.plan.blank.table
    return next(r for r in range(table.rowCount()) if table.item(r, 0).text() == words)


def click_row(desk, table, row):
    item = table.item(row, 0)
    table.scrollToItem(item)
    desk.click(table.viewport(), table.visualItemRect(item).center())
    desk.settled()


def choose_in(desk, box, words):
    """An entry of a list, by keys."""
    aim = box.findText(words)
    assert aim >= 0, words
    box.setFocus()
    box.setCurrentIndex(aim - 1 if aim else 1)
    desk.press(box, Qt.Key.Key_Down if aim else Qt.Key.Key_Up)
    box.activated.emit(box.currentIndex()) if box.currentText() != words else None
    desk.settled()


def shown(desk):
    """The figures of the chosen blank, as they are read off the screen."""
    values = desk.window.plan.figures.values
    return {name: label.text() for name, label in values.items() if label.isVisible()}


def test_from_callouts_alone_to_a_blank_and_a_route_cut_from_it(desk):
    """A flanged bush: nothing is drawn yet."""
    for note in ("Ø48", "Ø30", "9", "42", "Ø16 H7 THRU"):
        desk.enter(note)
    planning = go_plan(desk)
    assert planning.plan.turned and planning.plan.part.words == "from callouts 1 and 4"
    click_row(desk, desk.window.plan.blank.table, row_of(desk, "Round bar Ø50"))
    retype(desk, "quantity", "25")
    retype(desk, "facing", "1.5")
    figures = shown(desk)
    assert figures["Length"] == "45 mm" and figures["Least section"] == "50"
    assert figures["Mass"] == f"{math.pi * 25**2 * 45 * 7.85e-3:.2f} g"
    pieces = 3002 // 47
    assert figures["From a bar"] == f"{pieces}, {3000 - 47 * pieces} mm left"
    assert "Chips" not in figures, "there is no part yet"
    desk.click(desk.window.plan.figures.begin)
    desk.settled()
    assert desk.window.stage == "Shape"
    content = desk.session.content
    assert [type(s) for s in content.steps] == [Stock] and len(content.routes) == 2 and content.turned
    assert desk.session.current.proof.mass.volume == pytest.approx(math.pi * 25**2 * 45)
    low, high = desk.session.current.proof.mass.low, desk.session.current.proof.mass.high
    assert (low[2], high[2]) == pytest.approx((-1.5, 43.5))
    go_plan(desk)
    retype(desk, "facing", "2")
    assert desk.session.content.steps[0].length == "(42) + 2*(2) + (0)"
    assert desk.session.current.proof.mass.volume == pytest.approx(math.pi * 25**2 * 46), "kept in step"
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.current.proof.mass.volume == pytest.approx(math.pi * 25**2 * 45), "one edit, one undo"


def test_every_panel_is_found_by_typing(desk):
    desk.open_example("skp-01")
    for typed, panel in (
        ("what the part is cut from", "blank"), ("machine zero", "zero"), ("what the part is like", "strategy"),
        ("tools and speeds", "tools"), ("stock lists", "stock"),
    ):  # fmt: skip
        desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
        desk.enter(typed)
        desk.settled()
        assert desk.window.stage == "Plan" and desk.window.plan.currentWidget() is getattr(desk.window.plan, panel)


def test_a_wrong_allowance_is_refused_and_stock_that_became_too_small_is_told(desk):
    for note in ("Ø48", "42", "Ø20"):
        desk.enter(note)
    planning = go_plan(desk)
    click_row(desk, desk.window.plan.blank.table, row_of(desk, "Round bar Ø50"))
    before = desk.session.content
    retype(desk, "diameter", "-2")
    assert desk.session.content.blank == before.blank and "no allowance" in desk.said[-1][0]
    retype(desk, "diameter", "5")
    assert planning.plan.way is None
    assert "Round 50 is too small now: it must be at least 53" in desk.window.plan.blank.state.text()
    assert not desk.window.plan.figures.begin.isEnabled()
    assert not desk.window.plan.figures.values["Mass"].isVisible()


def test_an_inch_clamp_block_is_priced_and_its_zero_set(desk, tmp_path, monkeypatch):
    """Milled, inch: planned before and after it is drawn."""
    inch(desk, "2 1/2", "1 1/4", "3/4", "Ø.375 THRU", "5/8", "1/4")
    planning = go_plan(desk)
    assert not planning.plan.turned and "type the size under Finished size" in planning.plan.trouble
    for axis, number in zip("xyz", (1, 2, 3), strict=True):
        retype(desk, axis, f"#{number}")
    desk.window.plan.setCurrentWidget(desk.window.plan.stock)
    desk.click(desk.window.plan.stock.add)
    type_price(desk, 0, "3.5")
    desk.window.plan.setCurrentWidget(desk.window.plan.blank)
    flat = row_of(desk, "Flat bar 1 x 1 1/2")
    click_row(desk, desk.window.plan.blank.table, flat)
    taken = (2.5 + 2 / 32 + 1 / 16) * 1.0 * 1.5 * IN3
    density = desk.session.content.header.material.density
    assert desk.window.plan.blank.table.item(flat, 5).text() == f"{3.5 * taken * density * 1e-6:.2f}"
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    new_sketch(desk, "extrude")
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "backward")
    fill(desk, Depth="#3")
    assert done(desk) == pytest.approx(2.5 * 1.25 * 0.75 * IN3)
    from .test_families_of_strangers import drilled

    drilled(desk, (-20, 10, 0), 4, "#5", "#6")
    all_in(desk)
    go_plan(desk)
    assert planning.plan.part.words == "as typed" and planning.plan.part.short == "" and shown(desk)["Chips"]
    desk.window.plan.setCurrentWidget(desk.window.plan.zero)
    desk.settled()
    panel = desk.window.plan.zero
    choose_in(desk, panel.usual, "top, back right corner")
    assert [panel.words[n].text() for n in "xyz"] == ["right side, X 0", "back, Y 0", "top, Z 0"]
    places = {p.words: p.at for p in panel._places}
    hole = next(words for words in places if words.startswith("hole"))
    assert [c / 25.4 for c in places[hole]] == pytest.approx([0.625 - 1.25, 0.25 - 0.625, 0.0])
    out = tmp_path / "places.csv"
    monkeypatch.setattr("lathed_solid.desk.plan.zero.QFileDialog.getSaveFileName", lambda *_: (str(out), ""))
    desk.click(panel.write)
    rows = list(csv.reader(out.read_text().splitlines()))
    assert ["hole Ø0.375", "-0.6250", "-0.3750", "0.0000"] in rows
    assert desk.session.current.proof.all_in, "zero changes nothing of the part"
    desk.click(panel.own)
    desk.settled()
    assert desk.session.content.zero == Zero()


def type_price(desk, row, text):
    table = desk.window.plan.stock.table
    item = table.item(row, 3)
    table.setCurrentItem(item)
    table.editItem(item)
    editor = desk.window.focusWidget()
    editor.selectAll()
    desk.keys(editor, text)
    desk.press(editor, Qt.Key.Key_Return)
    QTest.qWait(30)
    assert desk.window.plan.stock.table.item(row, 3).text() == text


def test_a_part_drawn_lying_down_is_stood_up_by_a_pick(desk):
    """The bracket: its right side picked, laid on top; the views, the words and the readout follow."""
    desk.open_example("skp-07")
    go_plan(desk)
    desk.window.plan.setCurrentWidget(desk.window.plan.zero)
    desk.look("R")
    desk.pick((70, 20, -4))
    assert desk.window.picking.words(desk.window.picking.faces[0]) == "right side, X 70"
    proof = desk.session.current.proof
    desk.click(desk.window.plan.zero.on_top)
    desk.settled()
    assert desk.window.plan.zero.up.currentText() == "a picked face"
    assert desk.session.current.machine.frame.normal == pytest.approx((1, 0, 0))
    assert desk.window.picking.words(desk.window.picking.faces[0]) == "top, Z 70"
    desk.click(desk.window.plan.zero.picked)
    desk.settled()
    assert desk.window.picking.words(desk.window.picking.faces[0]) == "top, Z 0"
    after = desk.session.current.proof
    assert (after.lines, after.mass) == (proof.lines, proof.mass)
    desk.look("T")
    desk.pick((70, 20, -4))
    assert desk.window.picking.words(desk.window.picking.faces[0]) == "top, Z 0", "seen from its new top"
    desk.window._part_cursor((70.0, 20.0, -4.0))
    assert "Z 0.000" in desk.window.entry._readout.text()


def test_a_sentence_lights_its_faces_and_begins_the_work(desk):
    """The flange: what repeats is lit, and its button adds the step; from callouts alone it tells as much as it can."""
    for note in ("Ø60", "Ø30", "25", "4x Ø6 THRU on Ø45"):
        desk.enter(note)
    go_plan(desk)
    panel = desk.window.plan.strategy
    desk.window.plan.setCurrentWidget(panel)
    told = [panel.list.item(k).text() for k in range(panel.list.count())]
    assert told == ["2 of 4 callouts are outer diameters: a turned part.", "Callout 4 is there 4 times."]
    desk.open_example("skp-02")
    planning = go_plan(desk)
    desk.window.plan.setCurrentWidget(panel)
    desk.wait(lambda: planning.solid is not None)
    at = next(k for k, a in enumerate(panel.advice) if a.words.startswith("6 holes Ø18"))
    item = panel.list.item(at)
    desk.click(panel.list.viewport(), panel.list.visualItemRect(item).center())
    assert len(desk.window.picking.faces) == 6
    assert panel.rule.text().startswith("One is made and repeated in a ring")
    assert panel.go.text() == "Begin: Ring pattern"
    before = len(desk.session.content.steps)
    desk.click(panel.go)
    desk.settled()
    assert desk.window.stage == "Shape" and len(desk.session.content.steps) == before + 1
    assert type(desk.session.content.step(desk.session.step)).__name__ == "Ring"


def test_a_recognised_profile_is_drafted_beside_the_present_route(desk):
    """The flange, as if it had come from elsewhere: its turned body comes back with every size written."""
    desk.open_example("skp-02")
    planning, panel = go_plan(desk), desk.window.plan.strategy
    desk.window.plan.setCurrentWidget(panel)
    desk.wait(lambda: planning.solid is not None)
    at = next(k for k, a in enumerate(panel.advice) if a.start == "turned")
    assert panel.advice[at].words == "Its turned profile is recognised: 11 pieces; 28 faces are no part of it."
    desk.click(panel.list.viewport(), panel.list.visualItemRect(panel.list.item(at)).center())
    before = desk.session.content
    desk.click(panel.go)
    desk.settled()
    content = desk.session.content
    assert desk.window.stage == "Shape" and content.routes[0] == before.routes[0] and len(content.routes) == 2
    assert desk.session.current.proof.mass.volume == pytest.approx(147_126.058, abs=1e-2)
    sketch = content.sketch(content.steps[0].sketch)
    assert len(sketch.dimensions) == 15 and desk.window.plate.sketch_id == sketch.id
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.content.routes == before.routes


def test_a_turned_part_is_cut_from_its_bar_and_both_routes_compared(desk):
    """The arbor once more, out of its bar: read off the table of routes, nothing differs but what each takes."""
    desk.open_example("skp-01")
    go_plan(desk)
    desk.click(desk.window.plan.figures.rewrite)
    desk.settled()
    assert desk.window.stage == "Shape"
    assert [type(s).__name__ for s in desk.session.content.steps][:2] == ["Stock", "Revolve"]
    assert desk.session.current.proof.all_in
    go_plan(desk)
    panel = desk.window.plan.routes
    desk.window.plan.setCurrentWidget(panel)
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None and len(panel.found.endured) == 2, 120)
    assert panel.state.text() == "All routes make the same part, as far as it is measured."
    rows = {panel.table.item(r, 0).text(): r for r in range(panel.table.rowCount())}
    shown_ = [panel.table.item(rows["Steps"], column).text() for column in (1, 2)]
    assert shown_ == ["5  ◂", "6"]
    volumes = {panel.table.item(rows["Volume"], column).text() for column in (1, 2)}
    assert volumes == {"39 774.28 mm³"}
    tried = [panel.found.endured[name] for name in "AB"]
    assert all(0 < e.followed <= e.tried for e in tried)
    told_ = [panel.table.item(rows["Survives ±10 %"], column).text() for column in (1, 2)]
    assert all(t.startswith(f"{e.followed} of {e.tried}") for t, e in zip(told_, tried, strict=True))


def test_tools_are_ticked_in_the_crib_and_the_machine_caps_their_speed(desk):
    """A flange of aluminium: what its sizes ask for, the tick and the machine's speed kept for all jobs."""
    desk.open_example("skp-02")
    planning = go_plan(desk)
    panel = desk.window.plan.tools
    desk.window.plan.setCurrentWidget(panel)
    rows = {panel.table.item(r, 1).text(): r for r in range(panel.table.rowCount())}
    assert {"drill Ø19.75", "reamer Ø20 H7", "drill Ø4.2", "tap M5x0.8", "counterbore Ø10", "turning tool"} <= set(rows)
    assert panel.table.item(rows["drill Ø18"], 3).text() == "1300"
    assert panel.table.item(rows["tap M5x0.8"], 3).text() == "", "led by hand"
    desk.retype(panel.top, "1000")
    assert panel.table.item(rows["drill Ø18"], 3).text() == "1000 (machine)"
    item = panel.table.item(rows["drill Ø18"], 0)
    box = panel.table.visualItemRect(item)
    desk.click(panel.table.viewport(), box.topLeft() + QPoint(9, box.height() // 2))
    assert planning.shop.crib == ("drill Ø18",) and planning.shop.top_speed == 1000.0
    assert panel.state.text().startswith(f"{len(rows) - 1} of {len(rows)} are not ticked")
    assert desk.session.callout == 11, "the callout that asks for it is shown"
    desk.retype(panel.top, "-3")
    assert "no spindle" in desk.said[-1][0] and planning.shop.top_speed == 1000.0


def test_a_flat_part_is_drafted_with_its_holes_by_their_callouts(desk):
    """The base plate: outline, thickness and ten holes come back as three steps; the pocket is told as no part of it."""
    desk.open_example("skp-03")
    planning, panel = go_plan(desk), desk.window.plan.strategy
    desk.window.plan.setCurrentWidget(panel)
    desk.wait(lambda: planning.solid is not None)
    at = next(k for k, a in enumerate(panel.advice) if a.start == "flat")
    told = "Its outline (8 pieces), thickness and 10 holes are recognised; 13 faces are no part of it."
    assert panel.advice[at].words == told
    desk.click(panel.list.viewport(), panel.list.visualItemRect(panel.list.item(at)).center())
    desk.click(panel.go)
    desk.settled()
    content = desk.session.content
    assert desk.window.stage == "Shape" and len(content.routes) == 4
    assert [type(s).__name__ for s in content.steps] == ["Extrude", "Hole", "Hole"]
    assert desk.window.plate.sketch_id == content.steps[0].sketch
    proof = desk.session.current.proof
    assert {n: proof.mark_of(n) for n in (14, 17)} == {14: "in", 17: "in"}


def test_a_survey_that_comes_to_nothing_leaves_what_the_proof_tells(desk):
    """The kernel fell, or was cancelled, while the part was looked over: nobody waits for ever, and it can be asked anew."""
    desk.open_example("skp-01")
    builds, asked = desk.session._builds, []
    real, builds.client.study = builds.client.study, asked.append
    desk.press(desk.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    planning = desk.window.plan.planning
    assert planning.is_looking and len(asked) == 1
    builds._on_reply(Fallen(asked[0].ticket, "", False))
    assert not planning.is_looking and planning.solid is None
    assert planning.plan.part.words == "from the solid" and planning.plan.part.envelope.along[2].round.size == 34.0
    builds.client.study = real
    desk.session.edit(lambda c: edits.change_step(c, "s3", diameter="5"), "a larger hole")
    desk.settled()
    desk.wait(lambda: planning.solid is not None)
    said = len(desk.said)
    builds.studies._let_go.add(10**6)
    builds._on_reply(Fallen(10**6, "", True))
    assert len(desk.said) == said, "one that nobody waits for is not told"


def test_a_zero_that_the_part_loses_is_told_at_once(desk):
    """The flange's zero on the back of its rim; then its profile is taken out."""
    desk.open_example("skp-02")
    go_plan(desk)
    desk.window.plan.setCurrentWidget(desk.window.plan.zero)
    choose_in(desk, desk.window.plan.zero.usual, "right face, on the axis")
    assert desk.window.plan.zero.words["z"].text() == "right end, Z 0" and desk.window.plan.zero.write.isEnabled()
    name = desk.session.content.zero.z.faces[0].name
    gone = FaceRef("s99/gone", "right end, Z 0")
    desk.session.edit(lambda c: set_zero(c, replace(c.zero, z=Mark(faces=(gone,)))), "zero on a face that goes")
    desk.settled()
    assert any(
        "right end, Z 0, which is not on the part any more" in text and tone == "warn" for text, tone in desk.said
    )
    assert not desk.window.plan.zero.write.isEnabled() and "not on the part" in desk.window.plan.zero.told.text()
    assert name.startswith("s1/")


def test_a_drawing_tells_how_to_begin_before_there_is_anything(desk):
    """An empty job and a DXF: its sentences are lit on the sheet, and the first step begins from one."""
    open_drawing(desk, EXAMPLES / "skp-02.dxf")
    assert desk.session.content.callouts == () and desk.session.content.steps == ()
    go_plan(desk)
    window, strategy = desk.window, desk.window.plan.strategy
    window.plan.setCurrentWidget(strategy)
    desk.wait(lambda: len(strategy.advice) == 4)
    assert window.upper_stack.currentWidget() is not window.glass
    row = next(k for k, a in enumerate(strategy.advice) if a.start == "revolve")
    desk.click(strategy.list.viewport(), strategy.list.visualItemRect(strategy.list.item(row)).center())
    assert window.upper_stack.currentWidget() is window.glass and window.stage == "Plan"
    assert window.glass.canvas.lit == strategy.advice[row].boxes and len(window.glass.canvas.lit) == 2
    box = window.glass.canvas.lit[0]
    inside = window.glass.canvas.to_screen(box[0], (box[1] + box[3]) / 2).toPoint() + QPoint(3, 0)
    shot = window.glass.canvas.grab().toImage()
    assert shot.pixelColor(inside).blue() < 225 < shot.pixelColor(inside).red(), "lit in gold on white"
    desk.click(strategy.go)
    desk.settled()
    assert window.stage == "Shape" and type(desk.session.content.steps[-1]).__name__ == "Revolve"
    assert window.glass.canvas.lit == ()
