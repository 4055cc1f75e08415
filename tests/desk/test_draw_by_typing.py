"""Drawing on the plate from the entry line: the base plate's outline and slot, in inches, as its drawing states them."""

import pytest
from PyQt6.QtTest import QTest

from lathed_solid.core.job import edits
from lathed_solid.core.sketch.region import find_regions


@pytest.fixture
def plate(desk):
    desk.session.edit(lambda c: edits.set_header(c, units="in"), "inches")
    desk.window.run(desk.window.actions_.get("step.extrude"))
    desk.wait(lambda: desk.window.plate.sketch is not None)
    return desk.window.plate


def test_outline_and_slot_are_typed_and_fully_pinned(desk, plate):
    line, bar = desk.window.entry.line, desk.window.entry
    line.setFocus()
    desk.keys(line, "rect 7.5 x 4.75 at 3.75,2.375")
    assert bar.preview.text() == "Draws a rectangle 7.5 x 4.75 about 3.75, 2.375."
    line.clear()
    desk.enter("rect 7.5 x 4.75 at 3.75,2.375")
    desk.enter("slot 5/16 x 1 1/4 at 5 3/4, 2 3/8")
    sketch = plate.sketch
    assert [d.text for d in sketch.dimensions] == [
        "3.75", "2.375", "7.5", "4.75", "5 3/4", "2 3/8", "1 1/4", "5/16",
    ]  # fmt: skip
    (region,) = (r for r in find_regions(sketch).regions if r.holes)
    assert abs(region.outer.area) == pytest.approx(7.5 * 4.75 * 25.4**2)
    assert plate.canvas.look.freedom.ways == 0
    desk.session.undo()
    assert len(plate.sketch.dimensions) == 4, "a command is one gesture"
    desk.enter("polygon 6 A/F 1/2 at 1,1")
    assert plate.canvas.look.freedom.ways == 0


def test_a_command_that_does_not_fit_draws_nothing(desk, plate):
    before = plate.sketch
    desk.enter("circle 20 at 1,1")
    assert "needs its size" in desk.window.entry.preview.text()
    assert desk.window.entry.line.cursorPosition() == 7
    desk.window.entry.line.clear()
    desk.enter("polygon 99 A/C 5")
    assert "3 to 64" in desk.said[-1][0]
    assert plate.sketch == before
    desk.window.show_stage("Read")
    desk.enter("circle Ø1 at 1,1")
    assert "needs a sketch on the plate" in desk.window.entry.preview.text()
    desk.window.entry.line.clear()
    QTest.qWait(10)


def test_the_first_word_alone_still_finds_actions(desk, plate):
    line = desk.window.entry.line
    line.setFocus()
    desk.keys(line, "line")
    assert desk.window.entry._popup.isVisible()
    found = [desk.window.entry._list.item(i).text().lower() for i in range(desk.window.entry._list.count())]
    assert any("plate: line" in words for words in found)


def test_what_is_loose_is_pinned_and_what_was_assumed_is_dropped(desk, plate):
    desk.enter("line 1,1 4,1 4,3 1,3 close")
    advice = plate.advice
    assert advice.pin.isVisible() and advice.assumed.text() == "4 assumed"
    assert plate.canvas.look.freedom.ways == 4
    menu = advice.pin.menu()
    menu.aboutToShow.emit()
    first, *_, everything = menu.actions()
    assert first.text() == "3    the length of the level line at 1"
    first.hover()
    assert plate.canvas.look.blamed == set(advice.proposed()[0].item.of)
    first.trigger()
    assert plate.canvas.look.freedom.ways == 3
    menu.aboutToShow.emit()
    everything = menu.actions()[-1]
    assert everything.text() == "All 3 of them"
    everything.trigger()
    assert plate.canvas.look.freedom.ways == 0
    assert not advice.pin.isVisible()
    desk.session.undo()
    assert plate.canvas.look.freedom.ways == 3
    menu = advice.assumed.menu()
    menu.aboutToShow.emit()
    group = next(a.menu() for a in menu.actions() if a.text().startswith("horizontal"))
    next(a for a in group.actions() if a.text() == "Drop all of them").trigger()
    assert plate.canvas.look.freedom.ways == 5
    assert advice.assumed.text() == "2 assumed"
    menu.aboutToShow.emit()
    group = next(a.menu() for a in menu.actions() if a.text().startswith("vertical"))
    next(a for a in group.actions() if a.text() == "Accept all of them").trigger()
    assert not advice.assumed.isVisible()
