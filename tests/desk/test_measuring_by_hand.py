"""Measuring by picking: figures read off the part, made callouts, bound, kept; milled and turned, mm and inch."""

import pytest
from PyQt6.QtCore import Qt

from lathed_solid.core.job import edits

from .test_bracket_by_hand import done
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
    reference = scene.named_edge(straight[1], straight[0])
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
