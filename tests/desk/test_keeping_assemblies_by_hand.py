"""An assembly's file: who holds it, what was written to it meanwhile, how it is left, and what it was before."""

from __future__ import annotations

import shutil
import time
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.job import claim
from lathed_solid.core.job.assembling import keeping
from lathed_solid.core.job.assembling.files import load_assembly, save_assembly
from lathed_solid.desk import window_files, window_fit

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture
def drum(desk, tmp_path):
    """SKP-00 open in Fit: its document."""
    path = Path(shutil.copy(EXAMPLES / "skp-00.lathed", tmp_path / "drum.lathed"))
    assert desk.window.open_file(path) and desk.window.stage == "Fit"
    return desk.window.fit.document


def answered(monkeypatch, answer):
    """Every question is answered so; what was asked."""
    asked = []
    for room in (window_files, window_fit):
        monkeypatch.setattr(room, "ask", lambda *given: asked.append(given) or answer)
    return asked


def hidden(document):
    """An edit of it, by its own means."""
    document.choose_instance(document.assembly.instances[-1].id)
    document.hide(True)
    assert not document.is_saved


@pytest.mark.parametrize("answer", ["Keep both", "Take theirs", "Save over it", "Go back"])
def test_an_assembly_changed_on_disk_is_not_written_over_unasked(desk, drum, tmp_path, monkeypatch, answer):
    path, store = tmp_path / "drum.lathed", desk.session.fitting.store
    hidden(drum)
    mine = drum.assembly
    theirs = msgspec.structs.replace(load_assembly(path, store).assembly, title="another drum")
    save_assembly(theirs, path, store)
    asked = answered(monkeypatch, answer)
    desk.window.run(desk.window.actions_.get("job.save"))
    assert "title: another drum → " in asked[0][3] and "shown → hidden" in asked[0][3]
    on_disk = load_assembly(path, store).assembly
    if answer == "Keep both":
        assert on_disk == theirs and load_assembly(tmp_path / "drum-2.lathed", store).assembly == mine
        assert drum.path == tmp_path / "drum-2.lathed" and drum.is_saved
    elif answer == "Take theirs":
        assert on_disk == drum.assembly == theirs and drum.is_saved
        drum.undo()
        assert drum.assembly == mine, "mine can be had back"
    elif answer == "Save over it":
        assert on_disk == mine
        (kept,) = drum.earlier()
        assert load_assembly(kept.path, store).assembly == theirs, "theirs is among the earlier saves"
    else:
        assert on_disk == theirs and not drum.is_saved and drum.assembly == mine


def test_an_assembly_that_another_program_holds_is_a_copy_and_is_not_written(desk, tmp_path, monkeypatch):
    path = Path(shutil.copy(EXAMPLES / "skp-00.lathed", tmp_path / "drum.lathed"))
    claim.lock_of(path).write_bytes(
        msgspec.json.encode(claim.Holder("anna", "the other bench", 4711, "1", time.time()))
    )
    before = path.read_bytes()
    assert desk.window.open_file(path)
    document = desk.window.fit.document
    assert document.path is None and any("anna on the other bench" in text for text, _ in desk.said)
    hidden(document)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    desk.window.run(desk.window.actions_.get("job.save"))
    assert path.read_bytes() == before and not document.is_saved
    assert "was not saved: it is open elsewhere" in desk.said[-1][0]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "mine.lathed"), ""))
    desk.window.run(desk.window.actions_.get("job.save"))
    assert document.is_saved and claim.lock_of(tmp_path / "mine.lathed").exists()
    document.begin()
    assert not claim.lock_of(tmp_path / "mine.lathed").exists(), "its file is anyone's again"


def test_work_left_for_recovery_is_there_at_the_next_start(desk, drum, tmp_path, monkeypatch):
    hidden(drum)
    mine = drum.assembly
    asked = answered(monkeypatch, "Close, keep for recovery")
    desk.window.run(desk.window.actions_.get("job.assembly"))
    assert asked and not drum.assembly.instances, "another one is begun"
    (work,) = keeping.unsaved(desk.session.folder)
    assert work.assembly == mine
    (desk.session.folder / "999999-1-1.assembly").write_bytes(b"{")
    assert drum.recover() and drum.assembly == mine and not drum.is_saved
    assert drum.path == tmp_path / "drum.lathed" and not drum.is_changed_on_disk
    assert not work.kept.exists() and (desk.session.folder / "999999-1-1.assembly").exists()
    assert any("cannot be read. It was left as it is" in text for text, _ in desk.said)
    save_assembly(load_assembly(drum.path, desk.session.fitting.store).assembly, drum.path, desk.session.fitting.store)
    assert drum.is_changed_on_disk, "what was written meanwhile is met when it is saved"


def test_what_cannot_be_kept_is_not_left(desk, drum, monkeypatch):
    """The disk takes nothing more: neither the assembly nor the job goes, and why is told."""

    def full(*_given, **_how):
        raise OSError(28, "No space left on device")

    answered(monkeypatch, "Close, keep for recovery")
    monkeypatch.setattr("lathed_solid.core.job.files.os.fsync", full)
    hidden(drum)
    mine = drum.assembly
    desk.window.run(desk.window.actions_.get("job.assembly"))
    assert drum.assembly is mine and any("Autosave is not working" in text for text, _ in desk.said)
    desk.window.show_stage("Read")
    desk.enter("23")
    job = desk.session.current
    desk.window.close_current()
    assert desk.session.current is job and "cannot be kept" in desk.said[-1][0]


def test_an_assembly_goes_back_to_how_it_was_saved_before(desk, drum, monkeypatch):
    first = drum.assembly
    hidden(drum)
    desk.window.run(desk.window.actions_.get("job.save"))
    assert drum.is_saved
    answered(monkeypatch, "Go back")
    monkeypatch.setattr(window_files, "ask", lambda *given: next(iter(given[4])))
    desk.window.run(desk.window.actions_.get("job.earlier"))
    QTest.qWait(50)
    assert drum.assembly == first and drum.path is None and not drum.is_saved
    assert "This is how it was saved" in desk.said[-1][0]
