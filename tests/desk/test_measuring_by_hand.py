"""Measuring by picking: figures read off the part, made callouts, bound, kept; milled and turned, mm and inch."""

import pytest
from OCP.BRep import BRep_Tool
from OCP.TopoDS import TopoDS
from PyQt6.QtCore import Qt

from lathed_solid.core.job import edits
from lathed_solid.core.kernel.ground.placing import triple
from lathed_solid.core.kernel.ground.topology import EDGE, VERTEX, subshapes
from lathed_solid.desk.viewport.referring import named_edge

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_inspecting_by_hand import go
from .test_strangers_by_hand import inch


def figures(panel):
    return {panel.table.item(r, 0).text(): panel.table.item(r, 1).text() for r in range(panel.table.rowCount())}


def choose(desk, panel, what):
    row = list(figures(panel)).index(what)
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(row, 0)).center())
    assert panel.chosen.what == what


def kept(panel):
    return [tuple(panel.kept.item(r, c).text() for c in (0, 1)) for r in range(panel.kept.rowCount())]


def test_a_drilled_strap_is_measured_and_two_of_its_figures_become_callouts(desk):
    for note in ("80", "30", "12", "Ø8 THRU", "Ø6 THRU"):
        desk.enter(note)
    slab(desk)
    drilled(desk, (10, 3, 12), 4, "-25", "0")
    drilled(desk, (10, 3, 12), 5, "25", "0")
    panel = go(desk, desk.window.measure)
    desk.look("I")
    desk.look("T")
    desk.pick((0, 10, 12))
    assert figures(panel)["face, Z"] == "12", panel.state.text()
    desk.window.picking.on_face(round_face(desk, 4.0), False)
    assert figures(panel)["diameter"] == "Ø8" and figures(panel)["length"] == "12"
    desk.window.picking.on_face(round_face(desk, 3.0), True)
    assert figures(panel) == {
        "between the axes": "50", "between the near sides": "43", "over the far sides": "57", "along X": "50",
        "along Y": "0", "nearest": "43",
    }  # fmt: skip
    choose(desk, panel, "between the axes")
    assert [label.text() for label in desk.window.part.pins._labels if label.isVisible()] == ["between the axes 50"]
    desk.click(panel.exact)
    assert figures(panel)["between the axes"] == "50"
    desk.click(panel.exact)
    desk.click(panel.keep)
    desk.settled()
    assert [figure for _, figure in kept(panel)] == ["50"]
    desk.click(panel.keep)
    assert desk.said[-1] == ("This measurement is kept already.", "bad")
    desk.click(panel.callout)
    desk.settled()
    assert desk.said[-1] == ("Callout 6: 50, bound to what is picked.", "good")
    line = next(x for x in desk.session.current.proof.lines if x.number == 6)
    assert line.mark == "in" and line.measured == pytest.approx(50.0) and len(line.faces) == 2
    # it is measured, not echoed: a hole that is moved is noticed, and what was kept follows
    hole = next(s for s in desk.session.content.steps if getattr(s, "diameter", "") == "#5")
    desk.session.edit(lambda c: edits.change_step(c, hole.id, x="26.5"), "moved")
    desk.settled()
    assert next(x for x in desk.session.current.proof.lines if x.number == 6).mark == "out"
    assert [figure for _, figure in kept(panel)] == ["51.5"]
    desk.session.edit(lambda c: edits.change_step(c, hole.id, suppressed=True), "no second hole")
    desk.settled()
    assert [figure for _, figure in kept(panel)] == ["not on the part"]
    desk.click(panel.kept.viewport(), panel.kept.visualItemRect(panel.kept.item(0, 0)).center())
    panel.kept.setFocus()
    desk.press(panel.kept, Qt.Key.Key_Delete)
    desk.settled()
    assert kept(panel) == [] and desk.session.content.kept == ()


def round_face(desk, radius):
    surfaces = desk.session.current.shown.surfaces
    return next(k for k, s in enumerate(surfaces, 1) if s.kind == "cylinder" and abs(s.radius - radius) < 1e-6)


def test_an_inch_stepped_pin_is_bound_to_its_callouts(desk):
    inch(desk, "Ø.500", "1.000", "Ø.750", ".250", "1.000")
    desk.enter("add: turned")
    for row, column, text in ((0, 1, "#4"), (0, 2, "#3"), (1, 0, "1.250"), (1, 2, "#1")):
        desk.cell(row, column, text)
    done(desk)
    panel = go(desk, desk.window.measure)
    desk.window.picking.on_face(round_face(desk, 6.35), False)
    assert figures(panel)["diameter"] == "Ø0.5" and figures(panel)["length"] == "1"
    # the shank's length, shoulder to end: callout 5 is bound to both faces
    surfaces = desk.session.current.shown.surfaces
    flats = [k for k, s in enumerate(surfaces, 1) if s.kind == "plane" and s.origin[2] > 1]
    assert len(flats) == 2
    desk.session.select_callout(5)
    assert next(x for x in desk.session.current.proof.lines if x.number == 5).mark == "open"
    desk.window.picking.on_face(flats[0], False)
    desk.window.picking.on_face(flats[1], True)
    choose(desk, panel, "one below the other")
    assert panel.bind.text() == "Bind to callout 5"
    desk.click(panel.bind)
    desk.settled()
    line = next(x for x in desk.session.current.proof.lines if x.number == 5)
    assert line.mark == "in" and line.measured == pytest.approx(25.4)
    # an area is stated by no callout
    desk.window.picking.on_face(flats[0], False)
    choose(desk, panel, "area")
    assert not panel.callout.isEnabled() and not panel.bind.isEnabled() and panel.keep.isEnabled()


def test_edges_are_measured_and_a_callout_of_an_edge_says_that_it_is_not_bound(desk):
    desk.open_example("skp-07")
    panel = go(desk, desk.window.measure)
    picking, scene = desk.window.picking, desk.window.part.scene
    straight = next(
        (names, e) for sides, e in scene.body.sides
        if len(sides) == 2 and (names := scene.body.edge_names(e)) and "s1/end" in names
    )  # fmt: skip
    reference = named_edge(scene.body, straight[1], straight[0])
    picking.on_edge(reference.a, reference.b, False, reference.piece, 2 if reference.take == "edge" else 1)
    assert "length" in figures(panel) or "diameter" in figures(panel)
    what = next(iter(figures(panel)))
    choose(desk, panel, what)
    desk.click(panel.callout)
    desk.settled()
    assert "not bound" in desk.said[-1][0]
    assert desk.session.content.callouts[-1].source == f"taken off the solid: {what}"
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    picking.on_nothing()
    assert "Pick a face" in panel.state.text() and figures(panel) == {}


def middle_of(edge):
    (ax, ay, az), (bx, by, bz) = (triple(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in subshapes(edge, VERTEX))
    return (0.7 * ax + 0.3 * bx, 0.7 * ay + 0.3 * by, 0.7 * az + 0.3 * bz)


def test_a_stop_plate_is_measured_from_its_corners_and_from_a_plane_of_a_step(desk):
    """Milled, in inch: corner to corner, a corner from a plane laid over the top, and the plane alone; both are kept."""
    inch(desk, "3.000", "2.000", ".500", "1.250")
    slab(desk)
    desk.pick((10, 10, 12.7))
    desk.enter("add: plane")
    fill(desk, Offset="#4")
    done(desk)
    panel = go(desk, desk.window.measure)
    desk.look("I")
    desk.pick((38.1, -25.4, 12.7))
    assert len(desk.window.picking.corners) == 1, panel.state.text()
    assert panel.state.text().startswith("corner of ")
    assert figures(panel) == {"corner, X": "1.5", "corner, Y": "-1", "corner, Z": "0.5"}
    assert [x.text() for x in desk.window.part.pins._labels if x.isVisible()] == ["corner, X 1.5"], (
        "on the part as well"
    )
    desk.pick((-38.1, 25.4, 12.7), more=True)
    assert figures(panel)["between the places"] == "3.6056", "the diagonal"
    assert figures(panel)["along X"] == "3" and figures(panel)["along Y"] == "2"
    choose(desk, panel, "between the places")
    desk.click(panel.keep)
    desk.settled()
    border = next(iter(desk.window.part.scene.datums._shapes.values()))
    desk.pick(middle_of(subshapes(border, EDGE)[0]))
    assert figures(panel) == {"plane, Z": "1.75"}, panel.state.text()
    desk.pick((38.1, -25.4, 12.7), more=True)
    assert figures(panel)["corner from the plane"] == "1.25"
    desk.click(panel.keep)
    desk.settled()
    assert [figure for _, figure in kept(panel)] == ["3.6056", "1.25"]
    desk.session.edit(lambda c: edits.edit_callout(edits.edit_callout(c, 2, "2.500"), 4, "1.500"), "wider, higher")
    desk.settled()
    assert [figure for _, figure in kept(panel)] == ["3.9051", "1.5"]
    # where nothing is measured, corners and planes are not in the way
    go(desk, desk.window.in_hand)
    assert desk.window.picking.picked().many == 0 and not desk.window.picking.measures
    # a list may still speak of faces that another part does not have
    desk.window.picking.show((999,))
    assert desk.window.picking.picked().many == 0
