"""Jobs taken up again, and files dropped onto the window."""

from __future__ import annotations

import shutil
import threading
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job.recent import recent
from lathed_solid.core.job.storage import load, read_preview
from lathed_solid.desk.app import _of_last_time
from lathed_solid.desk.glass.papers import Papers
from lathed_solid.desk.recent import RecentJobs
from lathed_solid.desk.session import Session

EXAMPLES = Path(__file__).parents[2] / "examples"


def drop(window, *paths):
    """Files let go over the window."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    none, left = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton
    entered = QDragEnterEvent(QPointF(50, 50).toPoint(), Qt.DropAction.CopyAction, data, left, none)
    QApplication.sendEvent(window, entered)
    assert entered.isAccepted()
    QApplication.sendEvent(window, QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, left, none))


@pytest.fixture
def mine(tmp_path):
    """Two jobs of one's own."""
    for name in ("skp-02", "skp-07"):
        shutil.copy(EXAMPLES / f"{name}.lathed", tmp_path / f"{name}.lathed")
    return tmp_path


def test_recent_jobs_have_pictures_and_are_opened_by_enter(desk, mine, monkeypatch):
    """An assembly among them too: it is saved with its picture."""
    desk.window.open_file(EXAMPLES / "skp-00.lathed")
    room = desk.window.fit
    desk.wait(lambda: room.view.is_ready and bool(room.document.assembly.instances), 60)
    QTest.qWait(300)
    saved = mine / "drum.lathed"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(saved), ""))
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    seen = QImage.fromData(read_preview(saved))
    colours = {seen.pixel(x, y) for x in range(0, seen.width(), 8) for y in range(0, seen.height(), 8)}
    assert seen.width() == 640 and len(colours) > 50, "the drum is seen, and no empty ground"
    for name in ("skp-02", "skp-07"):
        desk.window.open_file(mine / f"{name}.lathed")
    assert [Path(p).stem for p in recent(desk.session.state).worked[:3]] == ["skp-07", "skp-02", "drum"]
    desk.session.close_job(desk.session.jobs.index(desk.session.current))
    shown = []

    def by_keys(dialog):
        shown.append(dialog)
        dialog.show()
        dialog.list.setFocus()
        desk.wait(lambda: not dialog._unseen)  # one picture a turn of the event loop
        for k in range(3):
            picture = dialog.list.item(k).icon().pixmap(150, 112).toImage()
            across, down = range(0, picture.width(), 3), range(0, picture.height(), 3)
            assert len({picture.pixel(x, y) for x in across for y in down}) > 20, dialog.list.item(k).text()
        desk.press(dialog.list, Qt.Key.Key_Return)
        return dialog.result()

    monkeypatch.setattr(RecentJobs, "exec", by_keys)
    desk.enter("Recent jobs")
    assert shown and shown[0].chosen == mine / "skp-07.lathed"
    assert desk.session.content.header.number == "SKP-07"


def test_the_program_opens_as_it_was_left(desk, mine):
    desk.window.open_file(mine / "skp-02.lathed")
    desk.wait(lambda: desk.session.current.proof is not None, 60)
    session = desk.session
    session.current.history.mark_saved()
    from lathed_solid.core.job.recent import left_open

    left_open(session.state, [j.path for j in session.jobs if j.path is not None])
    assert _of_last_time(session) == [mine / "skp-02.lathed"]
    assert "As you left it: skp-02" in desk.said[-1][0]


def test_files_that_are_dropped_go_where_they_belong(desk, mine, tmp_path):
    window = desk.window
    solid = tmp_path / "bought.step"
    issue(load(EXAMPLES / "skp-07.lathed").job.content, solid, FORMATS["step"])
    drop(window, mine / "skp-02.lathed", tmp_path / "notes.txt")
    assert desk.session.content.header.number == "SKP-02"
    assert "notes.txt" in desk.said[-1][0] and desk.said[-1][1] == "warn"
    drop(window, EXAMPLES / "skp-02.pdf")
    desk.wait(lambda: any(d.name == "skp-02.pdf" for d in desk.session.content.drawings), 60)
    desk.press(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    drop(window, solid)
    desk.wait(lambda: desk.session.current.proof is not None, 60)
    (step,) = desk.session.content.steps
    assert step.file == "bought.step" and desk.session.current.built.bodies


def test_what_is_on_its_way_when_the_window_is_shut_reaches_nobody(desk, qtbot, tmp_path):
    """A drawing was read just before: whoever listened may be gone when the word arrives."""
    papers, told = Papers(Session(tmp_path / "other")), []
    papers.ready.connect(lambda blob: told.append(blob))
    for shut in (False, True):
        thread = threading.Thread(target=lambda: papers.ready.emit("blob"))
        thread.start()
        thread.join()
        if shut:
            papers.shut()
        QTest.qWait(30)
    assert told == ["blob"], "the first, and not the second"
    papers._session.shut()


def test_what_another_question_takes_the_place_of_is_not_told_as_cancelled(desk):
    desk.window.open_file(EXAMPLES / "skp-00.lathed")
    document = desk.window.fit.document
    desk.wait(lambda: bool(document.assembly.instances), 60)
    fitting, told = desk.session.fitting, []
    fitting.judged.connect(lambda assembly, found: told.append(found))
    fitting.judge(document.assembly)
    desk.wait(lambda: desk.session.is_working)
    QTest.qWait(200)
    fitting.judge(document.assembly)
    desk.wait(lambda: any(found is not None for found in told), 90)
    QTest.qWait(100)
    assert not any("Cancelled" in text for text, _ in desk.said)
