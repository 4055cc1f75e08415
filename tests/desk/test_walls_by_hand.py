"""The thinnest walls of parts nobody had built, looked for and read, by mouse and keys."""

import pytest

from lathed_solid.core.job import edits

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_inspecting_by_hand import go
from .test_strangers_by_hand import inch


def looked(desk):
    panel = go(desk, desk.window.walls)
    desk.click(panel.go)
    desk.wait(lambda: bool(panel.every), 60)
    return panel


def test_a_hole_too_near_an_edge(desk):
    for note in ("60", "30", "10", "Ø8 THRU"):
        desk.enter(note)
    slab(desk)
    drilled(desk, (10, 3, 10), 4, "-20", "9.2")
    panel = looked(desk)
    assert panel.every[0].thick == pytest.approx(1.8, abs=1e-9) and panel.every[0].exact
    assert "The thinnest wall is 1.8 mm." in panel.state.text()
    desk.retype(panel.least, "2")
    assert panel.state.text() == "1 place thinner than 2 mm." and panel.table.rowCount() == 1
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 1)).center())
    assert len(desk.window.picking.faces) == 2
    assert [x.text() for x in desk.window.part.pins._labels if x.isVisible()] == ["wall 1.8"]
    # what is written on the part goes with its panel, and only with that
    measure = go(desk, desk.window.measure)
    written = [x.text() for x in desk.window.part.pins._labels if x.isVisible()]
    assert len(written) == 1 and measure.chosen is not None and written[0].startswith(measure.chosen.what)
    go(desk, panel)
    assert [x.text() for x in desk.window.part.pins._labels if x.isVisible()] == ["wall 1.8"]
    # an edit elsewhere leaves the picks alone
    desk.window.picking.forget()
    desk.session.edit(lambda c: edits.set_header(c, remarks="later"), "remarks")
    desk.settled()
    assert desk.window.picking.faces == []
    # moved inwards it is no longer the thinnest, and what was found counts no more
    hole = desk.session.content.steps[-1].id
    desk.session.edit(lambda c: edits.change_step(c, hole, y="2"), "moved inwards")
    desk.settled()
    assert panel.every == () and panel.table.rowCount() == 0
    assert [x for x in desk.window.part.pins._labels if x.isVisible()] == []


def test_an_inch_bush_whose_wall_the_report_tells(desk):
    inch(desk, "Ø1.000", "1.500", "Ø.875 THRU")
    desk.enter("add: turned")
    desk.cell(0, 0, "#2")
    desk.cell(0, 2, "#1")
    done(desk)
    desk.look("L")
    desk.pick((8, 6, 0))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "on the face's axis")
    fill(desk, Drill_Ø="#3")
    done(desk)
    panel = looked(desk)
    assert panel.every[0].thick == pytest.approx(0.0625 * 25.4, abs=1e-9)
    assert panel.words[0].startswith("0.0625 in between")
