"""The Shape stage worked by hand: previews, picks on the part as it was, numbers on the part, bodies, groups, routes."""

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QListWidget, QPushButton

from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.files.step import write_step
from lathed_solid.core.route.steps.bodies import Split
from lathed_solid.core.route.steps.datum import DatumPlane
from lathed_solid.core.route.steps.edges import Fillet
from lathed_solid.core.route.steps.foreign import Foreign

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture
def bracket(desk):
    desk.session.open(EXAMPLES / "skp-07.lathed")
    desk.window.show_stage("Shape")
    desk.settled()
    return desk


def named(desk, kind, name):
    return next(w for w in desk.window.route.editor.findChildren(kind) if w.accessibleName() == name)


def choose_step(desk, id_):
    desk.session.select_step(id_)
    QTest.qWait(50)


def face_of(part, name):
    return next(s for s, names in zip(part.surfaces, part.names, strict=True) if name in names)


def test_a_size_being_typed_is_previewed_and_given_up_without_a_trace(bracket):
    session = bracket.session
    before, content, words = session.current.built, session.content, session.current.history.undo_words
    choose_step(bracket, "s4")
    field = named(bracket, QLineEdit, "Radius")
    bracket.click(field)
    field.selectAll()
    bracket.keys(field, "6")
    bracket.wait(lambda: session.current.glimpse is not None and session.current.glimpse.part is not None)
    shown = session.current.shown
    assert shown is not before
    assert face_of(shown, "s4/e0/side").radius == pytest.approx(6)
    assert session.content is content
    assert session.current.history.undo_words == words
    bracket.press(field, Qt.Key.Key_Escape)
    assert session.current.shown is before
    assert not session.is_working
    assert field.text() == "#16"
    # The same typed and taken is the same solid, built once.
    bracket.retype(field, "6")
    bracket.settled()
    assert face_of(session.current.built, "s4/e0/side").radius == pytest.approx(6)
    assert session.content.step("s4").radius == "6"


def test_edges_are_picked_on_the_part_as_it_was_before_the_step(bracket):
    session, window = bracket.session, bracket.window
    choose_step(bracket, "s4")
    assert "s1/end" in session.content.step("s4").edges[0].a
    bracket.click(named(bracket, QPushButton, "Pick Edges"))
    bracket.wait(lambda: session.current.glimpse is not None and session.current.glimpse.part is not None)
    names = {n for found in session.current.shown.names for n in found}
    assert not any(n.startswith(("s4/", "s5/", "s7/")) for n in names)
    bracket.look("F")
    # The two pieces of the edge lie either side of the gusset; the one that is there is taken out, one is put in.
    window.part.edge_picked.emit("s1/end", "s2/l1/side", False, 1, 2)
    bracket.settled()
    kept = session.content.step("s4").edges
    assert [e.take for e in kept] == ["pair", "edge"]
    assert kept[1].piece == 1
    bracket.click(named(bracket, QPushButton, "Pick Edges"))
    bracket.settled()
    assert session.current.glimpse is None
    assert any(n.startswith("s7/") for found in session.current.shown.names for n in found)


def test_a_click_takes_more_than_the_edge_when_asked_to(bracket):
    window, session = bracket.window, bracket.session
    window.run(window.actions_.get("step.fillet"))
    bracket.settled()
    id_ = session.step
    assert isinstance(session.content.step(id_), Fillet)
    bracket.click(named(bracket, QPushButton, "Pick Edges"))
    bracket.settled()
    bracket.choose("A click takes", "all edges of the face clicked")
    bracket.settled()
    top = window.picking.index_of("s2/end")
    window.part.hovered.emit(top)
    assert "preview" in window.part.scene._extra and "edges of" in window.part._hint.text(), "lit before it is taken"
    window.part.face_picked.emit(top, False)
    bracket.settled()
    (edge,) = session.content.step(id_).edges
    assert (edge.take, edge.a) == ("face", "s2/end")
    window.picking.done()
    bracket.retype(bracket.field("Radius"), "0.5")
    bracket.settled()
    report = session.current.reports[id_]
    assert report.state == "done", report.message
    show = next(b for b in window.route.editor.findChildren(QPushButton) if b.text() == "Show sharp" and b.isVisible())
    bracket.click(show)
    listed = next(w for w in window.route.editor.findChildren(QListWidget) if w.isVisible())
    assert listed.count() > 10
    assert f"{listed.count()} sharp edges" in window.part._hint.text()
    listed.setCurrentRow(2)
    words = listed.item(2).text()
    listed.item(2).setCheckState(Qt.CheckState.Checked)
    bracket.settled()
    assert len(session.content.step(id_).edges) == 2
    assert words == window.picking.told_edge(session.content.step(id_).edges[1])
    assert "s2/" not in words
    # The list stays open, so that the next edge is one click away.
    listed = next(w for w in window.route.editor.findChildren(QListWidget) if w.isVisible())
    assert listed.item(2).checkState() == Qt.CheckState.Checked and listed.currentRow() == 2
    listed.item(3).setCheckState(Qt.CheckState.Checked)
    bracket.settled()
    listed = next(w for w in window.route.editor.findChildren(QListWidget) if w.isVisible())
    listed.item(2).setCheckState(Qt.CheckState.Unchecked)
    bracket.settled()
    listed = next(w for w in window.route.editor.findChildren(QListWidget) if w.isVisible())
    assert [listed.item(k).checkState() == Qt.CheckState.Checked for k in (2, 3)] == [False, True]
    bracket.click(next(b for b in window.route.editor.findChildren(QPushButton) if b.text() == "Close list"))
    assert not listed.isVisible()


def test_numbers_stand_on_the_part_and_are_changed_there(bracket):
    session, tags = bracket.session, bracket.window.part.tags
    choose_step(bracket, "s8")
    words = [label.text() for label in tags._labels]
    assert "Thread M4x0.7 - 6H" in words
    assert "Drill tip 118°" in words
    at = next(k for k, w in enumerate(words) if w.startswith("Depth"))
    QTest.mouseDClick(tags._labels[at], Qt.MouseButton.LeftButton)
    assert tags._edit is not None
    tags._edit.setText("10 + 4")
    bracket.press(tags._edit, Qt.Key.Key_Return)
    bracket.settled()
    assert session.content.step("s8").depth == "10 + 4"
    choose_step(bracket, "s8")
    QTest.mouseDClick(tags._labels[at], Qt.MouseButton.LeftButton)
    tags._edit.setText("deep")
    bracket.press(tags._edit, Qt.Key.Key_Return)
    assert session.content.step("s8").depth == "10 + 4"
    assert bracket.said[-1][1] == "bad"
    bracket.click(named(bracket, QPushButton, "Pick Starts in"))
    assert not tags._labels  # they might lie over what is to be picked
    bracket.window.picking.done()
    assert len(tags._labels) == len(words)
    bracket.window.show_stage("Prove")
    assert not tags._labels


def test_a_part_is_split_at_a_plane_picked_through_it_and_its_bodies_differ(bracket):
    session, window = bracket.session, bracket.window
    part = session.current.built
    left, right = (next(i for i, n in enumerate(part.names, 1) if name in n) for name in ("s1/l4/side", "s1/l2/side"))
    choose_step(bracket, "s8")
    window.picking.faces = [left]
    window.run(window.actions_.get("step.plane"))
    bracket.settled()
    plane = session.step
    assert isinstance(session.content.step(plane), DatumPlane)
    bracket.choose("Lies", "midway between two faces")
    bracket.click(named(bracket, QPushButton, "Pick Second face"))
    bracket.settled()
    window.part.face_picked.emit(right, False)
    bracket.settled()
    assert session.current.reports[plane].state == "done"
    assert tuple(window.part.scene.datums.kinds) == (plane,)
    window.run(window.actions_.get("step.part_off"))
    bracket.settled()
    split = session.step
    assert isinstance(session.content.step(split), Split)
    bracket.click(named(bracket, QPushButton, "Pick Face"))
    bracket.settled()
    window.part.datum_picked.emit(plane, False)
    bracket.settled()
    assert [b.id for b in session.current.built.bodies] == ["s1", split]
    bodies = window.route.bodies
    assert bodies.isVisible()
    boxes = bodies.findChildren(QCheckBox)
    assert [b.text() for b in boxes] == ["Base", "Split"]
    grams = session.current.proof.grams
    brass = next(a for a in bodies.menu(split).actions() if a.text() == "Material").menu().actions()
    next(a for a in brass if a.text() == "Brass, free-cutting").trigger()
    bracket.settled()
    assert session.current.proof.grams > 1.5 * grams
    box = [b for b in bodies.findChildren(QCheckBox) if b.isVisible()][1]
    bracket.click(box, QPoint(8, box.height() // 2))
    bracket.settled()
    assert not session.content.body(split).shown
    assert session.current.proof.grams > 1.5 * grams


def test_steps_of_a_group_go_out_and_come_in_together(bracket):
    session, route = bracket.session, bracket.window.route
    for id_ in ("s4", "s7"):
        choose_step(bracket, id_)
        route._set_group(id_, "edges")
    bracket.settled()
    route.take_group("edges", False)
    bracket.settled()
    # The hole stands in the angled face, which is gone: it says so instead of moving.
    assert [session.current.reports[i].state for i in ("s4", "s7", "s8")] == ["suppressed", "suppressed", "failed"]
    assert "is gone" in session.current.reports["s8"].message
    session.undo()
    bracket.settled()
    assert all(r.state == "done" for r in session.current.reports.values())


def test_routes_stand_side_by_side(bracket):
    session, button = bracket.session, bracket.window.route.routes
    button.copy()
    bracket.settled()
    assert button.text() == "B"
    choose_step(bracket, "s4")
    bracket.retype(named(bracket, QLineEdit, "Radius"), "5")
    bracket.settled()
    thicker = session.current.proof.mass.volume
    button.fill()
    other = next(a for a in button.menu().actions() if a.text().startswith("A"))
    other.trigger()
    bracket.settled()
    assert session.content.step("s4").radius == "#16"
    assert session.current.proof.mass.volume < thicker
    button._take(1)
    button.remove()
    assert [r.name for r in session.content.routes] == ["A"]
    button.remove()
    assert "one route at least" in bracket.said[-1][0]


def test_the_route_is_rolled_back_and_a_step_put_in_there(bracket):
    session, window = bracket.session, bracket.window
    choose_step(bracket, "s3")
    window.run(window.actions_.get("step.until"))
    bracket.settled()
    assert "built up to 30" in window.route._state.text()
    assert session.current.reports["s4"].state == "beyond"
    part = session.current.built
    window.picking.faces = [next(i for i, n in enumerate(part.names, 1) if "s1/end" in n)]
    window.run(window.actions_.get("step.hole"))
    bracket.settled()
    assert [s.id for s in session.content.steps][3] == session.step
    window.run(window.actions_.get("step.all"))
    bracket.settled()
    assert session.current.reports["s8"].state in ("done", "waiting")


def test_a_body_from_a_file_is_drilled_and_proved(desk, tmp_path):
    session, window = desk.session, desk.window
    from lathed_solid.core.job.proving import build_and_prove

    source = build_and_prove(load(EXAMPLES / "skp-07.lathed").job.content).result.body
    path = tmp_path / "casting.step"
    write_step(source, path, "casting", (0.5, 0.5, 0.5))
    window.run(window.actions_.get("step.foreign"))
    desk.settled()
    step = session.step
    assert isinstance(session.content.step(step), Foreign)
    assert "Choose the STEP, BREP or STL file" in session.current.reports[step].message
    window.take_file(step, path)
    desk.settled()
    assert session.current.reports[step].state == "done"
    assert session.current.proof.mass.volume == pytest.approx(source.volume, rel=1e-6)
    top = next(i for i, n in enumerate(session.current.built.references, 1) if "flat 0,0,1 at 0" in n)
    window.picking.faces = [top]
    window.run(window.actions_.get("step.hole"))
    desk.settled()
    desk.choose("Where", "at a point of the face")
    for label, text in (("X", "8"), ("Y", "6"), ("Drill Ø", "4")):
        desk.retype(desk.field(label), text)
        desk.settled()
    assert session.current.reports[session.step].state == "done", session.current.reports[session.step].message
    saved = tmp_path / "job.lathed"
    assert session.save(saved)
    again = load(saved, session.store)
    assert not again.lost
    assert again.job.content == session.content


def test_every_step_kind_can_be_added_and_says_what_it_needs(desk):
    from lathed_solid.core.route.registry import KINDS

    window, session = desk.window, desk.session
    window.show_stage("Shape")
    for kind in KINDS.values():
        window.run(window.actions_.get(f"step.{kind.icon}"))
        QTest.qWait(20)
        step = session.content.step(session.step)
        assert type(step) is kind.struct
        shown = {w.accessibleName() for w in window.route.editor.findChildren(QComboBox)}
        assert shown >= {p.label for p in kind.params if p.want == "choice" and p.applies(step) and not p.more}
        window.route.remove()
    desk.settled()
    assert session.content.steps == ()
