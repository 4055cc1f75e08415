"""A part family by mouse and keys: columns, members, sizes typed, built, judged cell by cell, kept in the job."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit

from lathed_solid.core.job import edits, storage


def family(desk):
    desk.open_example("skp-02")
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    desk.window.proof_lower.setCurrentWidget(desk.window.family)
    return desk.window.family


def type_in(desk, panel, row, column, text):
    view = panel.view
    index = panel.model.index(row, column)
    view.scrollTo(index)
    desk.click(view.viewport(), view.visualRect(index).center())
    desk.press(view, Qt.Key.Key_F2)

    def editing():
        focus = QApplication.focusWidget()
        return isinstance(focus, QLineEdit) and view.isAncestorOf(focus)

    desk.wait(editing)
    editor = QApplication.focusWidget()
    desk.press(editor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    desk.keys(editor, text)
    desk.press(editor, Qt.Key.Key_Return)
    desk.wait(lambda: not editing())


def shown(panel):
    model = panel.model
    return [[model.data(model.index(r, c)) for c in range(model.columnCount())] for r in range(model.rowCount())]


def test_a_family_is_told_built_judged_and_kept(desk, tmp_path):
    panel = family(desk)
    assert not panel.column.isEnabled() or desk.session.callout is not None
    for number in (1, 6):
        desk.choose_callout(number)
        desk.click(panel.column)
    for _ in range(3):
        desk.click(panel.member)
    type_in(desk, panel, 0, 1, "116")
    type_in(desk, panel, 1, 1, "20")  # smaller than its own hub: it cannot be made
    type_in(desk, panel, 2, 0, "plain")
    table = desk.session.content.family
    assert table.columns == (1, 6)
    assert [(m.name, m.text(1), m.text(6)) for m in table.members] == [
        ("V1", "116", ""), ("V2", "20", ""), ("plain", "", "")
    ]  # fmt: skip
    said = len(desk.said)
    type_in(desk, panel, 2, 1, "pears")
    assert desk.said[said:][-1][1] == "bad" and "#1" in desk.said[-1][0]
    type_in(desk, panel, 2, 0, "V1")
    assert "a member called V1 already" in desk.said[-1][0]
    assert desk.session.content.family == table, "what is refused changes nothing"
    desk.settled()
    desk.click(panel.go)
    assert panel.go.text() == "Cancel"
    desk.wait(lambda: not panel.is_running, 90)
    rows = shown(panel)
    assert [row[3] for row in rows] == ["proved", "not made", "proved"]
    assert "step “" in rows[1][8]
    drawn = desk.session.current.proof.mass.volume
    style = desk.session.content.header.style
    assert rows[2][4] == style.volume(drawn)
    mark = panel.model.data(panel.model.index(0, 1), Qt.ItemDataRole.ToolTipRole)
    assert mark.startswith("In limits")
    assert panel.model.data(panel.model.index(0, 1), Qt.ItemDataRole.DecorationRole) is not None
    # What came counts only for the part and cells it came of.
    type_in(desk, panel, 0, 1, "118")
    assert [row[3] for row in shown(panel)] == ["to be built", "not made", "proved"]
    desk.session.undo()
    assert [row[3] for row in shown(panel)] == ["proved", "not made", "proved"]
    desk.session.edit(lambda c: edits.edit_callout(c, 6, "13"), "thicker")
    assert {row[3] for row in shown(panel)} == {"to be built"}
    desk.session.undo()
    # It is kept in the job, follows renumbering and deletion, and goes out and in as a table.
    path = tmp_path / "family.lathed"
    assert desk.session.save(path)
    assert storage.load(path).job.content.family == table
    assert desk.session.edit(lambda c: edits.delete_callout(c, 6, anyway=True), "deleted")
    assert desk.session.content.family.columns == (1,)
    desk.session.undo()
    (tmp_path / "t.csv").write_text("name,#1\na,116\nb,118\n")
    panel.take_file(tmp_path / "t.csv")
    assert [m.name for m in desk.session.content.family.members] == ["a", "b"]
    panel.take_file(path)
    assert desk.said[-1][0].startswith("family.lathed: This is no table.")
    panel.view.selectRow(0)
    desk.click(panel.remove)
    assert [m.name for m in desk.session.content.family.members] == ["b"]
