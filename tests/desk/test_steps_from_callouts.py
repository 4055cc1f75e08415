"""Steps begun from a callout and a picked face: a stop screw, and a block with a pad, a pocket and a hole."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QToolButton

from lathed_solid.core.job import edits

from .test_areas_by_hand import marks
from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import pick_face


def turned(desk, *cells):
    """A turned profile, its table filled in by (row, column, text); the part's volume."""
    desk.enter("add: turned")
    for row, column, text in cells:
        desk.cell(row, column, text)
    return done(desk)


def bored(desk, at, number):
    """A callout's hole on the axis of the left face, which is picked at a place; the part's volume."""
    desk.look("L")
    desk.pick(at)
    step_of(desk, number)
    desk.choose("Where", "on the face's axis")
    return done(desk)


def step_of(desk, number):
    """Ctrl+Enter on a callout; the new step."""
    desk.choose_callout(number)
    desk.press(desk.window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    return desk.session.content.step(desk.session.step)


def pick_round(desk, radius, length):
    part = desk.session.current.built
    index = next(s.index for s in part.surfaces if s.kind == "cylinder" and abs(s.radius - radius) < 1e-6)
    desk.look("I")
    pick_face(desk, index, radius, length)


def test_a_stop_screw_by_its_callouts(desk):
    for note in ("Ø20", "8", "38", "Ø10", "HEX 17 A/F", "M10", "3 KEYWAY x 1.8 DEEP"):
        desk.enter(note)
    desk.enter("add: turned")
    for row, column, text in ((0, 1, "#2"), (0, 2, "#1"), (1, 0, "#3"), (1, 2, "#4")):
        desk.cell(row, column, text)
    blank = done(desk)
    pick_round(desk, 10, 8)
    hexagon = step_of(desk, 5)
    assert (hexagon.sides, hexagon.across) == ("6", "#5")
    assert blank > done(desk)
    pick_round(desk, 5, 38)
    keyway = step_of(desk, 7)
    assert (keyway.form, keyway.width, keyway.depth) == ("round", "#7", "#7.depth")
    fill(desk, Length="12", Middle_at="20")
    slotted = done(desk)
    # The route is rolled back to the hexagon: what is added now goes in after it.
    desk.window.route._roll(hexagon.id)
    desk.settled()
    pick_round(desk, 5, 38)
    thread = step_of(desk, 6)
    assert (thread.note, thread.length) == ("#6", "")
    assert [s.id for s in desk.session.content.steps][1:] == [hexagon.id, thread.id, keyway.id]
    desk.window.route._roll("")
    desk.settled()
    assert desk.session.current.reports[keyway.id].volume == pytest.approx(slotted)
    found = marks(desk)
    # The blank's Ø20 is milled away whole (17 across flats is 19.63 across corners): open, and why.
    blank_line = next(line for line in desk.session.current.proof.lines if line.number == 1)
    assert (found.pop(1), blank_line.mark) == ("open", "open")
    assert "cut away" in blank_line.message
    assert set(found.values()) == {"in"}, found


def test_a_block_begins_its_pad_outwards_and_its_pocket_inwards(desk):
    for note in ("80", "50", "20", "40", "30", "6", "15", "10", "Ø6 THRU"):
        desk.enter(note)
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    block = done(desk)
    desk.look("T")
    desk.pick((30, 20, 20))
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None and not desk.window.plate.sketch.entities)
    desk.enter("rect #4 x #5")
    fill(desk, Depth="#6")
    assert done(desk) - block == pytest.approx(40 * 30 * 6), "a boss stands on the face without being told"
    desk.look("T")
    desk.pick((15, 12, 26))
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None and not desk.window.plate.sketch.entities)
    desk.enter("circle Ø#7 at 0,0")
    desk.choose("Material", "cut away")
    fill(desk, Depth="#8")
    pocketed = done(desk)
    assert pocketed - block == pytest.approx(40 * 30 * 6 - math.pi * 7.5**2 * 10), "a pocket goes into the body"
    desk.look("T")
    desk.pick((-35, 20, 20))
    hole = step_of(desk, 9)
    assert (hole.placement, hole.x, hole.y) == ("point", "", "")
    assert desk.session.current.reports[hole.id].unfinished, "its place is asked for"
    fill(desk, X="-30", Y="15")
    assert pocketed - done(desk) == pytest.approx(math.pi * 9 * 20)
    found = marks(desk)
    assert set(found.values()) == {"in"}, found


def test_routes_are_compared_in_the_window(desk):
    desk.open_example("skp-01")
    button = next(b for b in desk.window.findChildren(QToolButton) if b.accessibleName() == "Routes of this part")
    desk.session.edit(edits.copy_route, "route copied")
    desk.session.edit(lambda c: edits.change_step(c, "s3", diameter="8"), "a larger hole")
    desk.settled()
    button.fill()
    button.menu().actions()[[a.text() for a in button.menu().actions()].index("Compare the routes")].trigger()
    panel = desk.window.plan.routes
    desk.wait(lambda: panel.found is not None)
    assert desk.window.stage == "Plan" and panel.isVisible()
    assert "Route B has" in panel.state.text()
    assert "Callout 20 is in limits on route A, open on route B." in panel.state.text()

    def row(words):
        at = next(r for r in range(panel.table.rowCount()) if panel.table.item(r, 0).text() == words)
        return [panel.table.item(at, column).text() for column in range(1, panel.table.columnCount())]

    assert row("Steps") == ["5", "5"], "alike: nothing is marked"
    assert row("Sketches") == ["2", "2"]
    assert row("Callouts used") == ["24", "24"], "the slip names it still, by where it is"
    assert row("In limits") == ["24  ◂", "23"]
    desk.session.edit(lambda c: edits.set_header(c, remarks="other"), "remarks")
    desk.settled()
    assert panel.found is None, "it tells of the part as it was"
    desk.wait(lambda: desk.session.busy.task is None, 20)  # nothing more is built of it, nor said to be


def test_a_hole_asks_on_its_face_and_a_row_repeats_what_is_picked(desk):
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("rect 80 x 50")
    desk.choose("Direction", "forward")
    editor = desk.window.route.editor

    def told():
        return [w.text() for w in editor.findChildren(QLabel) if w.isVisible() and "not written yet" in w.text()]

    desk.settled()
    assert told() == ["Depth is not written yet."]
    desk.retype(desk.field("Depth"), "0")
    desk.settled()
    fault = next(w for w in editor.findChildren(QLabel) if w.isVisible() and "above zero" in w.text())
    assert fault.palette().windowText().color().name() == desk.window.palette_.out.lower(), "a fault is not a hint"
    fill(desk, Depth="12")
    assert told() == [], "a complaint goes with its cause"
    desk.look("T")
    desk.pick((30, 20, 12))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "at the points of a sketch")
    desk.click(desk.field("Draw Points"))
    desk.wait(lambda: desk.window.plate.sketch is not None and not desk.window.plate.sketch.entities)
    assert (desk.window.plate.sketch.plane.base, desk.window.plate.sketch.plane.on) == ("face", "s1/end")
    desk.enter("point -30,15")
    fill(desk, Drill_Ø="6")
    one = done(desk)
    hole = desk.session.step
    part = desk.session.current.built
    wall = next(i for i, names in enumerate(part.names, 1) if any(n.startswith(f"{hole}/") for n in names))
    desk.window.picking.faces = [wall]
    desk.enter("add: row or grid")
    desk.settled()
    assert desk.session.content.steps[-1].of == (hole,)
    fill(desk, Count="3", Pitch="20")
    assert one - done(desk) == pytest.approx(2 * math.pi * 9 * 12)
