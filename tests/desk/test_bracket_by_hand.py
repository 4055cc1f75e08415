"""A bracket like SKP-07 from an empty job, with mouse and keys: base, wall, gusset, fillet, holes by screw, a row."""

import math

import pytest
from PyQt6.QtTest import QTest

CALLOUTS = ["70", "44", "8", "48", "6", "R3"]
BASE, WALL, GUSSET = 70 * 44 * 8, 70 * 8 * 40, 24 * 24 / 2 * 6


def done(desk):
    desk.settled()
    report = desk.session.current.reports[desk.session.step]
    assert report.state == "done", report.message
    return report.volume


def fill(desk, **fields):
    for label, text in fields.items():
        desk.retype(desk.field(label.replace("_", " ")), text)
        desk.settled()


def to_depth(desk, direction, depth):
    """An extrude that goes to a depth one way or both; the part's volume after it."""
    desk.choose("How far", "to a depth")
    desk.choose("Direction", direction)
    fill(desk, Depth=depth)
    return done(desk)


def pick_edge(desk, point, faces):
    """Click an edge from the first side it is seen from."""
    for key in "IKFTBRL":
        desk.look(key)
        if desk.edge_shows(point, faces):
            desk.pick(point)
            desk.settled()
            return
    raise AssertionError("the edge shows nowhere")


def test_the_bracket_by_mouse_and_keyboard(desk):
    for note in CALLOUTS:
        desk.enter(note)
    # The base: the first extrude of a part adds, to a depth, without being told.
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("rect #1 x #2 at #1/2,#2/2")
    desk.choose("Direction", "backward")
    fill(desk, Depth="#3")
    assert done(desk) == pytest.approx(BASE)
    # The wall: drawn on the base's top, because that was picked.
    desk.look("T")
    desk.pick((20, 20, 0))
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.plane.on == "s1/end")
    desk.enter("rect #1 x #3 at #1/2,#2-#3/2")
    desk.choose("Material", "add")
    desk.choose("How far", "to a depth")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#4-#3")
    assert done(desk) == pytest.approx(BASE + WALL)
    # The gusset: a line on the right end, set off to the middle of the length.
    desk.look("I")
    figure = next(
        s
        for s, n in zip(desk.session.current.built.surfaces, desk.session.current.built.names, strict=True)
        if "s1/l2/side" in n
    )
    desk.window.picking.faces = [figure.index]
    desk.enter("add: rib or gusset")
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.plane.on.startswith("s"))
    desk.enter("line 12,0 36,24")
    fill(desk, Offset="-#1/2", Thickness="#5")
    assert done(desk) == pytest.approx(BASE + WALL + GUSSET)
    # The foot of the wall is rounded: its edge is clicked on the part as it was before the fillet.
    desk.enter("add: fillet")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    for x in (10, 60):
        pick_edge(desk, (x, 36, 0), {"s1/end", "s2/l1/side"})
    assert len(desk.session.content.step(desk.session.step).edges) == 2
    desk.click(desk.field("Pick Edges"))
    fill(desk, Radius="#6")
    rounded = done(desk)
    assert rounded - (BASE + WALL + GUSSET) == pytest.approx((70 - 6) * 9 * (1 - math.pi / 4), rel=1e-4)
    # A hole for a flat head screw, sizes from the table, and a second one.
    desk.look("T")
    desk.pick((12, 6, 0))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "at a point of the face")
    desk.choose("Seat", "countersink")
    fill(desk, Clears_screw="M5", X="12", Y="14")
    one = done(desk)
    assert one < rounded
    hole = desk.session.step
    desk.enter("add: row or grid")
    desk.settled()
    fill(desk, Count="2", Pitch="46")
    assert one - done(desk) == pytest.approx(rounded - one)
    assert desk.session.content.steps[-1].of == (hole,)
    # Everything is undone step by step, and done again.
    before = desk.session.content
    for _ in range(4):
        desk.session.undo()
    desk.settled()
    for _ in range(4):
        desk.session.redo()
    desk.settled()
    QTest.qWait(50)
    assert desk.session.content == before
    assert desk.session.current.proof.mark_of(5) == "in"
