"""A route made another way by mouse and keys: halved, made whole, carried on with another's steps, and compared."""

import pytest
from PyQt6.QtCore import Qt

from lathed_solid.core.job import edits
from lathed_solid.core.route.steps.mirror import Mirror

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_plan_by_hand import go_plan, own_shop  # noqa: F401 -- a fixture for all of this file
from .test_strangers_by_hand import all_in, inch


def go_routes(desk):
    go_plan(desk)
    panel = desk.window.plan.routes
    desk.window.plan.setCurrentWidget(panel)
    desk.settled()
    return panel


def press(desk, button):
    """A way to rewrite; done when the route has come and is built."""
    before = desk.session.content
    assert button.isEnabled()
    desk.click(button)
    desk.wait(lambda: desk.session.content is not before, 60)
    desk.settled()


def take_over(desk, panel, route, words):
    """From the menu: so many steps of another route."""
    (its,) = [a.menu() for a in panel.over.menu().actions() if a.text() == f"Route {route}"]
    before = desk.session.content
    next(a for a in its.actions() if a.text().startswith(words)).trigger()
    desk.wait(lambda: desk.session.content is not before, 60)
    desk.settled()


def drill_jig(desk):
    """An inch drill jig plate: a block with a slot across it, and a bushing hole beside it."""
    inch(desk)
    for note in ("3.000", "2.000", ".625", ".500", ".250", "Ø.375 THRU"):
        desk.enter(note)
    slab(desk)
    desk.look("T")
    desk.pick((25.4, 12.7, 0.625 * 25.4))
    new_sketch(desk, "extrude")
    desk.enter("rect #4 x 4")
    desk.choose("Material", "cut away")
    fill(desk, Depth="#5")
    done(desk)
    return drilled(desk, (25.4, 12.7, 0.625 * 25.4), 6, "1", ".5")


def test_an_inch_drill_jig_is_halved_made_whole_and_carried_on(desk):
    volume = drill_jig(desk)
    first = desk.session.content
    all_in(desk)
    panel = go_routes(desk)
    assert not panel.whole.isEnabled() and not panel.over.isEnabled()
    press(desk, panel.half)
    half = desk.session.content
    assert half.routes[0] == first.routes[0] and half.route == 1
    names = [s.name or type(s).__name__ for s in half.steps]
    assert names[1] == "Half" and names[-2] == "Other half", "the bushing hole breaks it, and comes after"
    assert desk.session.current.proof.mass.volume == pytest.approx(volume, rel=1e-9)
    press(desk, panel.whole)
    assert [type(s).__name__ for s in desk.session.content.steps] == ["Extrude", "Extrude", "Hole"]
    assert desk.session.current.proof.all_in
    # once more, by the sentence that says what it is alike about
    strategy = desk.window.plan.strategy
    desk.window.plan.setCurrentWidget(strategy)
    desk.wait(lambda: any(a.start == "half" for a in strategy.advice))
    strategy.list.setCurrentRow(next(k for k, a in enumerate(strategy.advice) if a.start == "half"))
    assert strategy.go.text() == "Begin: half and mirror"
    asked = strategy.chosen.about
    press(desk, strategy.go)
    assert [s.about for s in desk.session.content.steps if isinstance(s, Mirror)] == [asked]
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    # each is one edit
    for left in (2, 1):
        desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        desk.settled()
        assert len(desk.session.content.routes) == left
    # another beginning: a larger block milled down, then the steps that are there already
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.session.edit(edits.begin_route, "route begun")
    new_sketch(desk, "extrude")
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "backward")
    fill(desk, Depth="1")
    done(desk)
    desk.look("B")
    desk.pick((0, 0, -25.4))
    panel = go_routes(desk)
    menu = panel.over.menu().actions()[0].menu()
    assert [a.text().partition(":")[2].strip() for a in menu.actions()] == ["2 steps", "1 step"]
    before = desk.session.content
    menu.actions()[0].trigger()
    desk.wait(lambda: "cannot be taken over" in desk.said[-1][0])
    assert desk.session.content == before, "its top is not where the other's is"
    # made up to where that is: slot and hole come over, and every callout is met
    desk.session.edit(lambda c: edits.change_step(c, c.steps[0].id, direction="forward", depth="#3"), "upwards")
    desk.settled()
    panel = go_routes(desk)
    take_over(desk, panel, "A", "after")
    assert [type(s).__name__ for s in desk.session.content.steps] == ["Extrude", "Extrude", "Hole"]
    assert desk.session.current.proof.mass.volume == pytest.approx(volume, rel=1e-9)
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.settled()
    all_in(desk)


def test_where_routes_differ_is_lit_and_a_part_changed_meanwhile_is_left_alone(desk):
    desk.open_example("skp-01")
    desk.session.edit(edits.copy_route, "route copied")
    desk.session.edit(lambda c: edits.change_step(c, "s3", diameter="8"), "a larger hole")
    desk.settled()
    panel = go_routes(desk)
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None, 60)
    told = [panel.where.item(k).text() for k in range(panel.where.count())]
    assert told == [
        "Route B has 1 face where route A has nothing.",
        "Route A has 1 face where route B has nothing. Work on it to see where.",
    ]
    assert panel.where.isVisible()
    desk.click(panel.where.viewport(), panel.where.visualItemRect(panel.where.item(0)).center())
    (face,) = desk.window.picking.faces
    assert desk.session.current.shown.surfaces[face - 1].radius == pytest.approx(4.0)
    desk.session.edit(lambda c: edits.set_header(c, remarks="later"), "remarks")  # nothing more is built of it
    # what is asked about has changed when the answer comes
    desk.open_example("skp-07")
    panel = go_routes(desk)
    desk.click(panel.half)
    desk.session.edit(lambda c: edits.set_header(c, remarks="later"), "remarks")
    desk.wait(lambda: any("changed meanwhile" in text for text, _ in desk.said), 60)
    assert len(desk.session.content.routes) == 1
    assert not any(isinstance(s, Mirror) for s in desk.session.content.steps)
