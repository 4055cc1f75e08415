"""The operation sheet by mouse and keys: read off, dragged, seated, measured, and written to go with the work."""

import csv

import pypdfium2
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragMoveEvent, QDropEvent
from PyQt6.QtTest import QTest

from lathed_solid.core.job import edits
from lathed_solid.core.plan.sheet.model import OperationSheet

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch
from .test_families_of_strangers import drilled
from .test_plan_by_hand import choose_in, go_plan, own_shop  # noqa: F401 -- a fixture for all of this file
from .test_strangers_by_hand import IN3, all_in, inch


def go_setups(desk):
    go_plan(desk)
    room = desk.window.plan
    bar = room.tabBar()
    at = next(k for k in range(room.count()) if room.tabText(k) == "Set-ups")
    desk.click(bar, bar.tabRect(at).center())
    desk.settled()
    return room.setups.tree


def rows(tree):
    """Set-ups with their operations, as they are read off the screen."""
    tops = [tree.topLevelItem(k) for k in range(tree.topLevelItemCount())]
    return [(t.text(0), [t.child(n).text(0) for n in range(t.childCount())]) for t in tops]


def row(tree, words):
    found = tree.findItems(words, Qt.MatchFlag.MatchContains | Qt.MatchFlag.MatchRecursive)
    assert len(found) == 1, (words, [i.text(0) for i in found])
    return found[0]


def click(desk, item, modifier=Qt.KeyboardModifier.NoModifier):
    tree = item.treeWidget()
    tree.scrollToItem(item)
    QTest.qWait(20)
    spot = tree.visualItemRect(item)
    desk.click(tree.viewport(), spot.center(), modifier)
    desk.settled()


def drop_on(desk, tree, item):
    """Let what is chosen fall on a row, as at the end of a drag."""
    tree.scrollToItem(item)
    QTest.qWait(20)
    at = QPointF(tree.visualItemRect(item).center())
    mime: QMimeData = tree.mimeData(tree.selectedItems())
    how = (Qt.DropAction.MoveAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    tree.dragMoveEvent(QDragMoveEvent(at.toPoint(), *how))
    tree.dropEvent(QDropEvent(at, *how))
    desk.settled()


def test_the_flange_is_planned_set_up_by_set_up(desk, tmp_path, monkeypatch):
    desk.open_example("skp-02")
    tree, room = go_setups(desk), desk.window.plan
    before = rows(tree)
    assert [t.partition(":")[0] for t, _ in before] == [
        "1  chuck, right end out", "2  chuck, left end out", "3  dividing head or rotary table, left end up",
        "4  dividing head or rotary table, X- up",
    ]  # fmt: skip
    side = room.setup_side
    assert side.isVisible() and not room.figures.isVisible()
    desk.wait(lambda: not side.picture.pixmap().isNull())
    click(desk, row(tree, "counterbore 6x Ø10"))
    assert len(desk.window.picking.faces) == 18 and side.title.text().startswith("3  ")
    measured = [side.checks.item(r, 1).text() for r in range(side.checks.rowCount())]
    assert any("seat: 9.800 … 10.200" in text and "calipers, inside jaws" in text for text in measured)
    # carried to where it cannot be done, it says so; one undo, and it is back
    drop_on(desk, tree, tree.topLevelItem(1))
    assert "⚠ counterbore 6x Ø10, 5.4 deep" in rows(tree)[1][1]
    assert "held in the lathe" in room.setups.state.text()
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert rows(tree) == before
    # the keyway before the holes: dropped on the first row of the same set-up
    click(desk, row(tree, "cut keyway"))
    drop_on(desk, tree, row(tree, "3  dividing"))
    assert rows(tree)[2][1][-1] == "cut keyway"
    # by the keyboard: the menu moves several at once
    drills = [row(tree, "drill 6x Ø5.5"), row(tree, "counterbore 6x Ø10")]
    click(desk, drills[0])
    click(desk, row(tree, "counterbore 6x Ø10"), Qt.KeyboardModifier.ControlModifier)
    menu = room.setups.moves()
    assert [a.text().partition(":")[0] for a in menu.actions()] == [f"Into set-up {k}" for k in (1, 2, 3, 4)]
    menu.actions()[1].trigger()
    desk.settled()
    assert [w for w in rows(tree)[1][1] if "Ø5.5" in w or "counterbore" in w] == [
        "⚠ drill 6x Ø5.5", "⚠ counterbore 6x Ø10, 5.4 deep"
    ]  # fmt: skip
    desk.click(room.setups.buttons["again"])
    desk.settled()
    assert desk.session.content.sheet == OperationSheet() and room.sheet.is_proposed
    assert desk.session.current.proof.all_in, "a sheet changes nothing of the part"
    out = tmp_path / "flange.pdf"
    monkeypatch.setattr("lathed_solid.desk.plan.setups.QFileDialog.getSaveFileName", lambda *_: (str(out), ""))
    desk.click(room.setups.write)
    desk.wait(out.exists)
    desk.wait(lambda: desk.said[-1] == ("Wrote flange.pdf.", "good"))
    text = " ".join(p.get_textpage().get_text_range() for p in pypdfium2.PdfDocument(out))
    assert "SKP-02 Drum end flange" in text and "ream Ø20 H7" in text and "20.021" in text
    out = tmp_path / "flange.csv"
    desk.click(room.setups.write)
    table = list(csv.DictReader(out.read_text().splitlines()))
    assert [r["text"] for r in table if r["what"] == "operation"] == [w for _, words in rows(tree) for w in words]


def test_how_it_is_held_and_what_it_seats_on_is_chosen(desk):
    """The arbor, turned round: between centres, on the shoulder that is picked, with a note for the next shift."""
    desk.open_example("skp-01")
    tree, side = go_setups(desk), desk.window.plan.setup_side
    click(desk, tree.topLevelItem(1))
    assert side.title.text() == "2  chuck, right end out" and side.seat.text() == "left end, Z 0"
    choose_in(desk, side.held, "between centres (lathe)")
    assert rows(tree)[1][0].startswith("2  between centres, right end out")
    index = next(
        i for i, s in enumerate(desk.session.current.shown.surfaces, 1) if s.kind == "plane" and s.origin[2] == 92
    )
    assert not side.on_picked.isEnabled()
    desk.window.picking.show([index])
    desk.click(side.on_picked)
    desk.settled()
    assert side.seat.text() == "left end, Z 92", "the shoulder is named as it looks"
    desk.retype(side.minutes, "3*4")
    desk.retype(side.note, "soft jaws; =2+3")
    setup = desk.session.content.sheet.setups[1]
    assert (setup.holding, setup.minutes, setup.note) == ("centres", 12.0, "soft jaws; =2+3")
    desk.retype(side.minutes, "-3")
    assert "0 to 10000 minutes" in desk.said[-1][0] and desk.session.content.sheet.setups[1] == setup
    assert side.minutes.text() == "12"
    desk.click(side.free)
    desk.settled()
    assert side.seat.text() == "left end, Z 0"
    room = desk.window.plan
    desk.click(room.setups.buttons["add"])
    desk.settled()
    assert len(rows(tree)) == 5 and rows(tree)[2][1] == [] and side.title.text().startswith("3  ")
    desk.click(room.setups.buttons["earlier"])
    desk.settled()
    assert rows(tree)[1][1] == [] and side.title.text().startswith("2  ")
    desk.click(room.setups.buttons["remove"])
    desk.settled()
    assert len(rows(tree)) == 4


def test_an_inch_lever_is_built_and_its_sheet_follows_it(desk):
    """Milled, inch: a lever with a boss hole and a slot; a changed number is another drill."""
    inch(desk, "4", "1", "3/8", "Ø.375 THRU", "1/2", "1/8")
    new_sketch(desk, "extrude")
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "backward")
    fill(desk, Depth="#3")
    assert done(desk) == pytest.approx(4 * 1 * 0.375 * IN3)
    drilled(desk, (-40, 4, 0), 4, "#5", "#6")
    all_in(desk)
    tree = go_setups(desk)
    (first, square), (second, holes) = rows(tree)
    assert first.startswith("1  vise, top up") and square == ["square up to 4 x 1 x 0.375"]
    assert second.startswith("2  vise, top up") and holes == ["centre", "drill Ø0.375"]
    assert tree.topLevelItem(1).child(1).text(1) == "drill Ø0.375"
    desk.session.edit(lambda c: edits.edit_callout(c, 4, "Ø.3125 THRU"), "another drill")
    desk.settled()
    assert rows(tree)[1][1] == ["centre", "drill Ø0.3125"]


def test_the_plate_reads_in_machine_axes(desk):
    """The pocket's sketch on the plate's top: with zero at the back right corner the cursor counts from there."""
    desk.open_example("skp-03")
    go_plan(desk)
    panel = desk.window.plan.zero
    desk.window.plan.setCurrentWidget(panel)
    desk.settled()
    choose_in(desk, panel.usual, "top, back right corner")
    pocket = desk.session.content.steps[1]
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.window.open_sketch(pocket.sketch)
    desk.settled()
    at = desk.on_plate(25.4, 50.8)
    QTest.mouseMove(desk.window.plate.canvas, at)
    desk.wait(lambda: desk.window.entry._readout.text().startswith("X "))
    read = [float(word) for word in desk.window.entry._readout.text().split()[1::2]]
    assert read == pytest.approx([1 - 7.5, 2 - 4.75, 0], abs=0.05)


def test_half_a_part_has_no_sheet_and_says_why(desk):
    for note in ("Ø30", "40"):
        desk.enter(note)
    tree = go_setups(desk)
    assert rows(tree) == [] and "Build the part in Shape" in desk.window.plan.setups.state.text()
    assert not desk.window.plan.setups.write.isEnabled() and not desk.window.plan.setup_side.widget().isEnabled()
