"""A job's file: saved, held by one, changed on disk, as it was before, recovered."""

import signal
import subprocess
import sys

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.job import claim, edits, journal, storage
from lathed_solid.core.job.model import Job
from lathed_solid.desk import window_files
from lathed_solid.desk.app import recover

from ..conftest import EXAMPLES

CRASHING = """
import os, signal, sys
from pathlib import Path
from PyQt6.QtWidgets import QApplication
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Job
app = QApplication([])
from lathed_solid.desk.session import Session
session = Session(Path(sys.argv[1]))
session.add(Job())
for note in ("22", "Ø12 h6", "R1"):
    session.edit(lambda c: edits.add_callout(c, note)[0], "added")
os.kill(os.getpid(), signal.SIGKILL)
"""


def test_work_is_recovered_after_kill_9(desk, tmp_path):
    folder = tmp_path / "others"
    done = subprocess.run([sys.executable, "-c", CRASHING, str(folder)], check=False, timeout=60)
    assert done.returncode == -signal.SIGKILL
    assert recover(desk.session, folder) == 1
    assert [c.note for c in desk.session.content.callouts] == ["22", "Ø12 h6", "R1"]
    assert not desk.session.current.history.is_saved
    assert any("Recovered unsaved work" in text for text, _ in desk.said)
    assert recover(desk.session, folder) == 0


def test_saving_goes_through_the_dialog_and_a_bad_folder_says_so(desk, tmp_path, monkeypatch):
    desk.enter("22 ; length")
    target = tmp_path / "part"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    saved = storage.load(tmp_path / "part.lathed").job
    assert saved.content.callouts[0].note == "22"
    assert desk.session.current.history.is_saved
    desk.enter("23")
    desk.session.current.path = tmp_path / "gone" / "part.lathed"
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert "does not exist. Nothing was lost" in desk.said[-1][0]
    assert not desk.session.current.history.is_saved


def test_damaged_and_foreign_files_are_refused_in_words(desk, tmp_path):
    (tmp_path / "x.lathed").write_bytes(b"not a job")
    assert not desk.session.open(tmp_path / "x.lathed")
    assert "not a Lathed Solid job" in desk.said[-1][0]
    data = (EXAMPLES / "skp-01.lathed").read_bytes()
    (tmp_path / "half.lathed").write_bytes(data[: len(data) * 2 // 3])
    assert desk.session.open(tmp_path / "half.lathed")
    assert any("was damaged. Lost" in text for text, _ in desk.said)
    desk.settled()


def test_a_file_open_elsewhere_is_opened_as_a_copy(desk, tmp_path):
    path = tmp_path / "a.lathed"
    storage.save(Job(), path)
    held = claim.Claim(path)
    desk.session.open(path)
    assert desk.session.current.path is None
    assert "open elsewhere" in desk.said[-1][0]
    assert desk.session.current.history.is_saved
    assert not desk.session._jobs.save(path)
    assert "was not saved: it is open elsewhere" in desk.said[-1][0]
    held.release()
    desk.session.open(path)
    assert desk.session.current.path == path
    link = tmp_path / "b.lathed"
    link.symlink_to(path)
    many = len(desk.session.jobs)
    desk.session.open(link)
    assert len(desk.session.jobs) == many, "one file is one tab, whatever it is called"
    desk.session.close_job(desk.session.jobs.index(desk.session.current))
    assert not claim.lock_of(path).exists()


@pytest.mark.parametrize("answer", ["Keep both", "Take theirs", "Save over it", "Go back"])
def test_a_file_changed_on_disk_is_not_written_over_unasked(desk, tmp_path, monkeypatch, answer):
    path = tmp_path / "a.lathed"
    storage.save(Job(), path)
    desk.session.open(path)
    desk.enter("22")
    theirs = Job(content=edits.add_callout(Job().content, "Ø40")[0])
    storage.save(theirs, path)
    asked = []
    monkeypatch.setattr(window_files, "ask", lambda *given: asked.append(given) or answer)
    mine = desk.session.current.history.state
    desk.window.run(desk.window.actions_.get("job.save"))
    assert "callout 1: Ø40 → 22" in asked[0][3]
    on_disk = storage.load(path).job
    if answer == "Keep both":
        assert on_disk == theirs
        assert storage.load(tmp_path / "a-2.lathed").job == mine
    elif answer == "Take theirs":
        assert on_disk == desk.session.current.history.state == theirs
        assert desk.session.current.history.is_saved
        desk.session.undo()
        assert desk.session.current.history.state == mine, "mine can be had back"
    elif answer == "Save over it":
        assert on_disk == mine
        (kept,) = desk.session.earlier()
        assert storage.load(kept.path).job == theirs, "theirs is among the earlier saves"
    else:
        assert on_disk == theirs
        assert not desk.session.current.history.is_saved


def test_an_earlier_save_is_opened_beside_the_present_one(desk, tmp_path, monkeypatch):
    path = tmp_path / "a.lathed"
    desk.enter("22")
    assert desk.session.save(path)
    first = desk.session.current.history.state
    desk.enter("23")
    assert desk.session.save()
    monkeypatch.setattr(window_files, "ask", lambda *given: next(iter(given[4])))
    desk.window.run(desk.window.actions_.get("job.earlier"))
    assert desk.session.current.history.state == first
    assert desk.session.current.path is None


def test_recovered_work_does_not_write_over_what_was_saved_meanwhile(desk, tmp_path):
    path = tmp_path / "a.lathed"
    storage.save(Job(), path)
    log = journal.Journal(tmp_path / "others", "999999-1")
    mine = Job(content=edits.add_callout(Job().content, "22")[0])
    log.record(mine, str(path), claim.stamp_of(path))
    theirs = Job(content=edits.add_callout(Job().content, "40")[0])
    storage.save(theirs, path)
    assert recover(desk.session, tmp_path / "others") == 1
    assert desk.session.current.history.state == mine
    assert desk.session.current.is_changed_on_disk
