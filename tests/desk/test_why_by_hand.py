"""A stated figure that does not agree: the suspect is found, tried on the part, and taken, by mouse and keys."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from lathed_solid.core.job import edits
from lathed_solid.worker.protocol import Fallen


def why_button(desk):
    """The one beside the red figure."""
    found = [b for b in desk.window.proof_figures.findChildren(QPushButton) if b.text() == "Why?" and b.isVisible()]
    return found[0] if found else None


def choose(desk, panel, row):
    table = panel.table
    desk.click(table.viewport(), table.visualItemRect(table.item(row, 0)).center())


def test_a_search_that_is_broken_off_says_so(desk):
    """The kernel fell meanwhile, or the user cancelled: nobody waits for ever, and it can be asked anew."""
    desk.open_example("skp-07")
    desk.session.edit(lambda c: edits.edit_callout(c, 5, "12"), "misread")
    desk.settled()
    builds, asked = desk.session._builds, []
    real, builds.client.study = builds.client.study, asked.append
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    desk.click(why_button(desk))
    panel = desk.window.why
    assert len(asked) == 1 and "Looking" in panel.state.text()
    builds._on_reply(Fallen(asked[0].ticket, "", False))
    assert panel.is_done and panel.state.text() == "The search was broken off; ask again."
    builds.client.study = real
    desk.click(panel.go)
    desk.wait(lambda: panel.is_done and panel.table.rowCount() > 0, 120)


def test_a_gusset_twice_too_thick_is_found_tried_and_taken(desk):
    desk.open_example("skp-07")
    right = desk.session.current.proof.mass.volume
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert why_button(desk) is None, "all agrees"
    desk.session.edit(lambda c: edits.edit_callout(c, 5, "12"), "the gusset's thickness misread")
    desk.settled()
    wrong = desk.session.current.proof.mass.volume
    desk.click(why_button(desk))
    panel = desk.window.why
    assert panel.isVisible()
    desk.wait(lambda: panel.is_done, 120)
    assert "1 716.4" in panel.state.text() and "too much" in panel.state.text()
    assert panel.table.item(0, 0).text().startswith("Callout 5, 12 as 6")
    assert panel.table.item(0, 3).text() == "nothing: it closes"
    before = desk.session.content
    choose(desk, panel, 0)
    desk.click(panel.attempt)
    desk.settled()
    assert desk.session.content is before and desk.session.current.glimpse is not None
    lit = [desk.session.current.shown.surfaces[i - 1] for i in desk.window.picking.faces]
    assert sorted(round(abs(s.axis[0])) for s in lit) == [1, 1], "the gusset's two sides, where they would be"
    choose(desk, panel, 1)
    desk.settled()
    assert desk.session.current.glimpse is None, "another row: the part as it is"
    choose(desk, panel, 0)
    desk.click(panel.take)
    desk.settled()
    proof = desk.session.current.proof
    assert proof.mass.volume == pytest.approx(right, rel=1e-12) and {c.mark for c in proof.stated} == {"in"}
    assert panel.table.rowCount() == 0 and why_button(desk) is None, "it told of the part as it was"
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert desk.session.current.proof.mass.volume == pytest.approx(wrong, rel=1e-12)
    assert panel.table.item(0, 0).text().startswith("Callout 5, 12 as 6"), "it is the part that was asked about again"
