"""A stated figure that does not agree: the suspect is found, tried on the part, and taken, by mouse and keys."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from lathed_solid.core.job import edits
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.plan.zero import Mark, Zero
from lathed_solid.worker.protocol import Fallen

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_steps_from_callouts import bored, turned
from .test_strangers_by_hand import IN3, all_in, inch


def why_button(desk):
    """The one beside the red figure."""
    found = [b for b in desk.window.proof_figures.findChildren(QPushButton) if b.text() == "Why?" and b.isVisible()]
    return found[0] if found else None


def state(desk, volume):
    """The stated volume, typed into the title block."""
    desk.press(desk.window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    desk.window.show_read(desk.window.title_block)
    desk.retype(desk.window.title_block.volume, volume)
    desk.settled()


def explained(desk):
    """Why? in Prove, until all is looked through; the first suspect."""
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    desk.settled()
    desk.click(why_button(desk))
    panel = desk.window.why
    desk.wait(lambda: panel.is_done, 120)
    return panel.table.item(0, 0).text()


def take_first(desk):
    choose(desk, desk.window.why, 0)
    desk.click(desk.window.why.take)
    desk.settled()
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.settled()


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


def test_an_inch_bush_misread_in_its_bore(desk):
    """Turned, in inches: a collar bush drawn with the bore's radius for its diameter; the drawing states 2.033 in³."""
    inch(desk, "Ø1.250", "1.500", "Ø2.000", ".250", "Ø.3125 THRU")
    turned(desk, (0, 1, "#4"), (0, 2, "#3"), (1, 0, "#2"), (1, 2, "#1"))
    volume = bored(desk, (20, 12, 0), 5)
    solid = math.pi / 4 * (1.25**2 * 1.25 + 2.0**2 * 0.25)
    assert volume == pytest.approx((solid - math.pi / 4 * 0.3125**2 * 1.5) * IN3)
    true = (solid - math.pi / 4 * 0.625**2 * 1.5) * IN3
    state(desk, f"{true / IN3:.4f}")
    first = explained(desk)
    assert first.startswith("Callout 5, .3125 as 0.625: twice, a radius for a diameter"), first
    take_first(desk)
    assert desk.session.current.proof.mass.volume == pytest.approx(true, rel=1e-9)
    all_in(desk)


def pocketed(desk, long, wide, high, inner_long, inner_wide, deep):
    """A block with a pocket in its middle, from the top."""
    for note in (long, wide, high, inner_long, inner_wide, deep):
        desk.enter(f"{note}")
    slab(desk)
    desk.look("T")
    desk.pick((long / 2 - 4, wide / 2 - 4, high))
    new_sketch(desk, "extrude")
    desk.enter("rect #4 x #5")
    desk.choose("Material", "cut away")
    fill(desk, Depth="#6")
    assert done(desk) == pytest.approx(long * wide * high - inner_long * inner_wide * deep)


def test_a_clamp_foot_with_a_pocket_too_shallow(desk):
    """Milled, in millimetres: the pocket's depth typed with its digits exchanged."""
    pocketed(desk, 64, 36, 21, 40, 20, 12)
    state(desk, f"{64 * 36 * 12 - 40 * 20 * 12:.2f}")
    first = explained(desk)
    assert first.startswith("Callout 3, 21 as 12"), first
    take_first(desk)
    assert [c.mark for c in desk.session.current.proof.stated] == ["in"]


def test_a_lever_with_a_hole_that_is_missing_from_the_figure(desk):
    """Milled with a turned boss: its cross hole is switched off, and that is the first suspect; what was planned
    meanwhile is kept.
    """
    for note in ("80", "20", "10", "Ø8 THRU", "Ø6 THRU"):
        desk.enter(note)
    slab(desk, "slot #2 from 0,0 #1,0")
    drilled(desk, (40, 3, 10), 4, "0", "0")
    whole = drilled(desk, (40, 3, 10), 5, "#1", "0")
    state(desk, f"{whole:.2f}")
    hole = desk.session.content.steps[-1].id
    desk.session.edit(lambda c: edits.change_step(c, hole, suppressed=True), "switched off")
    desk.settled()
    first = explained(desk)
    assert first == "“Hole”, step 30 switched on", "there are two of that name"
    desk.session.edit(lambda c: set_zero(c, Zero(z=Mark(shift="2"))), "zero moved while it was looked at")
    desk.settled()
    take_first(desk)
    assert desk.session.content.zero.z.shift == "2", "planned after the question, and there after the answer"
    assert desk.session.current.proof.mass.volume == pytest.approx(whole, rel=1e-9)
    all_in(desk)


def test_a_fault_in_the_flange_is_found_and_mended(desk):
    """SKP-02's counterbores not deep enough: a typed note, the red figure, its button, the first suspect, taken."""
    desk.open_example("skp-02")
    right = desk.session.current.proof.mass.volume
    desk.session.select_callout(10)
    note = next(c.note for c in desk.session.content.callouts if c.number == 10)
    assert "5.4" in note
    desk.session.edit(lambda c: edits.edit_callout(c, 10, note.replace("5.4", "4.5")), "misread")
    desk.settled()
    assert {c.mark for c in desk.session.current.proof.stated} == {"out"}
    first = explained(desk)
    assert first.startswith("Callout 10, 4.5 as 5.4: two digits exchanged"), first
    take_first(desk)
    assert desk.session.current.proof.mass.volume == pytest.approx(right, rel=1e-12)
    assert desk.session.current.proof.all_in


def test_a_callout_that_is_out_is_asked_about_from_its_row(desk):
    """A gauge block's height is bound to a wall that was drawn by another size."""
    for note in ("50", "30", "20", "24"):
        desk.enter(note)
    slab(desk)
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    table, figures = desk.window.proof_table, desk.window.proof_figures
    row = next(r for r, line in enumerate(table.model.lines) if line.number == 4)
    desk.click(table.view.viewport(), table.view.visualRect(table.model.index(row, 1)).center())
    assert not table.why.isVisible(), "it is open, not out"
    desk.look("T")
    desk.pick((10, 5, 20))
    desk.look("B")
    desk.pick((10, 5, 0), Qt.KeyboardModifier.ControlModifier)
    desk.click(figures._bind)
    desk.settled()
    assert table.current_line().mark == "out" and table.why.isVisible()
    desk.click(table.why)
    panel = desk.window.why
    desk.wait(lambda: panel.is_done, 60)
    assert panel.isVisible() and panel.of.currentText() == "Callout 4: out"
    assert panel.state.text().startswith("By callout 4 the solid measures 4.000 mm too little.")
    words = [panel.table.item(r, 0).text() for r in range(panel.table.rowCount()) if panel.chosen is None]
    closing = [w for r, w in enumerate(words) if panel.table.item(r, 3).text().startswith("nothing")]
    assert any(w.startswith("Callout 3, 20 as 24") for w in closing), words
