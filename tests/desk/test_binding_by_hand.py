"""A solid from somebody else's file is bound to the drawing's callouts and proved, by mouse and keys."""

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits
from lathed_solid.core.job.storage import load

from ..conftest import EXAMPLES
from ..core.strangers import milled
from .test_inspecting_by_hand import go


def theirs(desk, content, tmp_path, form="step"):
    """The callouts typed, the file taken as a body."""
    path = tmp_path / f"theirs.{form}"
    issue(content, path, FORMATS[form])
    desk.session.edit(lambda c: edits.set_header(c, units=content.header.units), "unit")
    for callout in content.callouts:
        desk.enter(callout.note)
    desk.window.run(desk.window.actions_.get("step.foreign"))
    desk.settled()
    desk.window.take_file(desk.session.step, path)
    desk.settled()
    assert {x.mark for x in desk.session.current.proof.lines} == {"open"}
    panel = go(desk, desk.window.match)
    desk.click(panel.go)
    desk.wait(lambda: panel.table.rowCount() > 0, 60)
    return panel


def rows(panel):
    return [tuple(panel.table.item(r, c).text() for c in (0, 2, 4, 5)) for r in range(panel.table.rowCount())]


def test_a_flange_from_a_file_is_bound_and_proved(desk, tmp_path):
    panel = theirs(desk, load(EXAMPLES / "skp-02.lathed").job.content, tmp_path)
    assert ("10", "diameter", "5.500", "sure") in rows(panel)
    assert panel.state.text() == "31 sizes are open; 24 of them are found, 23 surely."
    at = next(r for r, row in enumerate(rows(panel)) if row[:2] == ("10", "diameter"))
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(at, 1)).center())
    assert len(desk.window.picking.faces) == 6 and desk.session.callout == 10
    desk.click(panel.every)
    desk.settled()
    marks = [x.mark for x in desk.session.current.proof.lines]
    assert marks.count("in") + marks.count("near") == 26 and "out" not in marks
    left = rows(panel)
    assert len(left) == 1 and left[0][3].startswith("one of"), "what is not sure waits to be looked at"
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 1)).center())
    desk.click(panel.one)
    desk.settled()
    assert "out" not in [x.mark for x in desk.session.current.proof.lines]
    assert "Nothing more is found" in panel.state.text() and panel.table.rowCount() == 0


def test_an_inch_bar_from_a_file_that_differs_from_its_drawing_is_found_out(desk, tmp_path):
    """The drawing says Ø.375; their hole is Ø.312: it is not found, and stays open. Bound by hand, it is red."""
    content = edits.edit_callout(milled.inch_clamp_bar()[0].content, 7, "Ø.312 THRU")
    panel = theirs(desk, content, tmp_path)
    desk.click(panel.every)
    desk.settled()
    desk.session.edit(lambda c: edits.edit_callout(c, 7, "Ø.375 THRU"), "as the drawing has it")
    desk.settled()
    lines = {(x.number, x.key): x for x in desk.session.current.proof.lines}
    assert lines[7, ""].mark == "out" and lines[7, "thru"].mark == "in"
    assert desk.session.undo() is None
    desk.settled()
    assert {x.mark for x in desk.session.current.proof.lines if x.number == 7} == {"in"}


def test_an_inch_bar_that_came_as_a_mesh_is_bound_and_proved(desk, tmp_path):
    """Its faces are found again in the triangles: the step says which, and its sizes are bound like any other."""
    panel = theirs(desk, milled.inch_clamp_bar()[0].content, tmp_path, "stl")
    report = desk.session.current.reports[desk.session.step]
    assert "found in its triangles were 8 flat faces, 3 cylinders" in report.message
    desk.click(panel.every)
    desk.settled()
    marks = {x.number: x.mark for x in desk.session.current.proof.lines}
    assert "out" not in marks.values() and list(marks.values()).count("in") >= 5
    # a file that holds no solid is refused in words, and the part stays
    bad = tmp_path / "open.stl"
    bad.write_bytes((tmp_path / "theirs.stl").read_bytes()[:80] + (1).to_bytes(4, "little") + b"\0" * 50)
    desk.window.take_file(desk.session.step, bad)
    desk.settled()
    assert "open.stl" in desk.session.current.reports[desk.session.step].message
