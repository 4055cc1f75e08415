"""A job on disk: its file, damaged and whole, its journal, claims, earlier saves; nothing of it is lost."""

import errno
import os
import random
import socket
import time
import zipfile
from pathlib import Path

import msgspec
import pytest

from lathed_solid.core.job import (
    attachments,
    claim,
    damaged,
    earlier,
    edits,
    journal,
    migrate,
    revisions,
    storage,
)
from lathed_solid.core.job.files import CannotBeRead, CannotWrite, read_whole, sweep, write_atomic
from lathed_solid.core.job.migrate import NoJob
from lathed_solid.core.job.model import Content, Job, StatedFigures


# --- files
def test_jobs_come_back_as_they_were(arbor, flange, tmp_path):
    for content in (arbor, flange, Content()):
        job = revisions.issue(Job(content=content), "2026-11-23", 1.0, 2.0)
        storage.save(job, tmp_path / "a.lathed")
        opened = storage.load(tmp_path / "a.lathed")
        assert opened.job == job
        assert opened.lost == ()
    with zipfile.ZipFile(tmp_path / "a.lathed") as archive:
        assert archive.namelist() == ["job.json"]
        assert b'\n "content": {' in archive.read("job.json")


def test_damaged_files_open_as_far_as_they_can_be_read(arbor, tmp_path):
    path = tmp_path / "a.lathed"
    storage.save(Job(content=arbor), path)
    whole = path.read_bytes()
    kept = []
    for share in (0.3, 0.5, 0.7, 0.9, 0.99):
        path.write_bytes(whole[: int(len(whole) * share)])
        opened = storage.load(path)
        assert opened.lost
        kept.append(len(opened.job.content.callouts))
    assert kept == sorted(kept)
    assert kept[2] == 24
    for seed in range(60):  # cut anywhere or with bytes overwritten: opened or refused, never anything else
        noise = random.Random(seed)
        data = bytearray(whole[: noise.randrange(len(whole))] if seed % 2 else whole)
        for _ in range(seed % 7):
            if data:
                data[noise.randrange(len(data))] = noise.randrange(256)
        path.write_bytes(bytes(data))
        try:
            storage.load(path)
        except damaged.CannotOpen as error:
            assert path.name in str(error)


def test_one_unreadable_part_does_not_cost_the_others(arbor):
    plain = msgspec.json.decode(storage.to_json(Job(content=arbor)))
    plain["content"]["callouts"][2]["note"] = 7
    plain["content"]["routes"][0]["steps"][1]["type"] = "unheard-of"
    opened = storage.decode(msgspec.json.encode(plain), "x")
    assert opened.lost == ("step s1tf", "callout 3")
    assert len(opened.job.content.callouts) == 23
    assert len(opened.job.content.steps) == 4


def test_what_is_no_job_is_refused(tmp_path):
    for data, words in ((b"", "not a Lathed Solid job"), (b"hello" * 99, "not a Lathed Solid job")):
        (tmp_path / "x.lathed").write_bytes(data)
        with pytest.raises(damaged.CannotOpen, match=words):
            storage.load(tmp_path / "x.lathed")
    with pytest.raises(damaged.CannotOpen, match="could not be read"):
        storage.load(tmp_path / "missing.lathed")
    with pytest.raises(damaged.CannotOpen, match="format 99"):
        storage.decode(b'{"format": 99}', "x")


def test_a_zip_bomb_is_refused(tmp_path, monkeypatch):
    monkeypatch.setattr(damaged, "MAX_JSON", 10_000)
    with zipfile.ZipFile(tmp_path / "x.lathed", "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", b" " * 1_000_000)
    with pytest.raises(damaged.CannotOpen, match="more than a Lathed Solid job can"):
        storage.load(tmp_path / "x.lathed")


def test_migration_runs_the_steps_in_order(monkeypatch):
    monkeypatch.setattr(migrate, "FORMAT", 3)
    monkeypatch.setattr(migrate, "STEPS", {1: lambda d: d | {"one": 1}, 2: lambda d: d | {"two": d["one"] + 1}})
    assert migrate.migrated({"format": 1}) == {"format": 3, "one": 1, "two": 2}
    with pytest.raises(NoJob, match="which format"):
        migrate.migrated({})


def test_a_full_disk_keeps_the_old_file(tmp_path, monkeypatch):
    path = tmp_path / "a.lathed"
    storage.save(Job(), path)
    before = path.read_bytes()

    def full(_):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(CannotWrite, match="disk is full"):
        write_atomic(path, b"new")
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["a.lathed"]


def test_a_folder_that_cannot_be_written_says_so(tmp_path, monkeypatch):
    with pytest.raises(CannotWrite, match="does not exist"):
        write_atomic(tmp_path / "no" / "a.lathed", b"x")

    def read_only(*_, **__):
        raise OSError(errno.EROFS, "Read-only file system")

    monkeypatch.setattr("tempfile.mkstemp", read_only)
    with pytest.raises(CannotWrite, match="read-only"):
        write_atomic(tmp_path / "a.lathed", b"x")


def test_the_journal_gives_back_the_last_whole_state(tmp_path):
    log = journal.Journal(tmp_path, "999999-1")
    job = Job()
    for note in ("22", "Ø12 h6"):
        content, _ = edits.add_callout(job.content, note)
        job = Job(content=content)
        log.record(job, "/somewhere/a.lathed")
    file = tmp_path / "999999-1.journal"
    file.write_bytes(file.read_bytes() + b'{"at": 1, "path": "cut of')
    (found,) = journal.recoverable(tmp_path).work
    assert found.job == job
    assert found.path == "/somewhere/a.lathed"
    live = journal.Journal(tmp_path)  # the journal of a living program is not offered
    live.record(job, "")
    assert len(journal.recoverable(tmp_path).work) == 1
    # The same number, but another process since: its journal is an orphan.
    journal.Journal(tmp_path, f"{os.getpid()}-1-2").record(job, "")
    assert len(journal.recoverable(tmp_path).work) == 2
    (tmp_path / f"{os.getpid()}-1-2.journal").unlink()
    log.close()
    assert journal.recoverable(tmp_path) == ((), ())


def test_a_journal_on_a_full_disk_warns_and_goes_on(tmp_path, monkeypatch):
    log = journal.Journal(tmp_path, "1-1")

    def full(_):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    log.record(Job(), "")
    assert "Autosave is not working" in log.trouble


def noted(*notes):
    content = Content()
    for note in notes:
        content, _ = edits.add_callout(content, note)
    return Job(content=content)


def test_compaction_never_leaves_the_disk_without_a_whole_state(tmp_path, monkeypatch):
    """Killed at any call of the system while the journal is written anew, the last state but one is still there."""
    monkeypatch.setattr(journal, "COMPACT_ABOVE", 10)
    first, second = noted("22"), noted("22", "Ø12")
    calls = ("replace", "link", "fsync")

    class Killed(BaseException):
        pass

    for name in calls:
        folder = tmp_path / name
        log = journal.Journal(folder, "999999-1")
        log.record(first, "/a.lathed")
        owner = os if name != "replace" else type(folder)

        def killed(*_, **__):
            raise Killed

        with monkeypatch.context() as patch:
            patch.setattr(owner, name, killed)
            with pytest.raises(Killed):
                log.record(second, "/a.lathed")
        (found,) = journal.recoverable(folder).work
        assert found.job == first
        log.record(second, "/a.lathed")
        assert journal.recoverable(folder).work[0].job == second


def test_after_a_full_disk_the_next_edit_stands_by_itself(tmp_path, monkeypatch):
    log = journal.Journal(tmp_path, "999999-1")
    log.record(noted("22"), "")
    with monkeypatch.context() as patch:
        patch.setattr(os, "fsync", lambda _: (_ for _ in ()).throw(OSError(errno.ENOSPC, "No space left on device")))
        log.record(noted("22", "23"), "")
        assert log.trouble
    last = noted("22", "23", "24")
    log.record(last, "")
    assert journal.recoverable(tmp_path).work[0].job == last and log.holds(last)


def test_a_journal_that_cannot_be_read_is_left_as_it_is(tmp_path):
    path = tmp_path / "999999-1.journal"
    path.write_bytes(b"deadbeef {}\nnothing to be read\n")
    assert journal.recoverable(tmp_path) == ((), (path,))
    assert path.exists()


def test_a_damaged_line_is_known_by_its_checksum(tmp_path):
    log = journal.Journal(tmp_path, "999999-1")
    for notes in (("22",), ("22", "23")):
        log.record(noted(*notes), "")
    path = tmp_path / "999999-1.journal"
    path.write_bytes(path.read_bytes().replace(b'"23"', b'"29"'))
    assert journal.recoverable(tmp_path).work[0].job == noted("22")


def test_work_kept_at_closing_is_offered_again(tmp_path):
    log = journal.Journal(tmp_path)  # of this very program, which lives
    log.record(noted("22"), "")
    assert journal.recoverable(tmp_path).work == ()
    log.keep()
    assert journal.recoverable(tmp_path).work[0].job == noted("22")


# --- nothing is lost on disk
def test_a_save_keeps_the_files_mode_and_goes_through_its_link(tmp_path):
    real, link = tmp_path / "real.lathed", tmp_path / "link.lathed"
    storage.save(noted("22"), real)
    real.chmod(0o640)
    link.symlink_to(real)
    storage.save(noted("22", "23"), link)
    assert link.is_symlink()
    assert real.stat().st_mode & 0o777 == 0o640
    assert storage.load(real).job == noted("22", "23")


def test_earlier_saves_are_kept_and_the_oldest_goes(tmp_path):
    path, room = tmp_path / "a.lathed", tmp_path / "earlier"
    jobs = [noted(*map(str, range(20, 21 + k))) for k in range(6)]
    for k, job in enumerate(jobs):
        storage.save(job, path, earlier=room)
        os.utime(path, ns=(10**18 + k, 10**18 + k))
    kept = [storage.load(e.path).job for e in earlier.earlier_saves(path, room)]
    assert kept == [jobs[4], jobs[3], jobs[2]]
    assert all(p.stat().st_mode & 0o077 == 0 for p in (room, *room.rglob("*")))


def test_what_could_not_be_opened_again_is_not_saved(tmp_path, monkeypatch):
    path = tmp_path / "a.lathed"
    storage.save(noted("22"), path)
    before = path.read_bytes()
    with monkeypatch.context() as patch:
        patch.setattr(storage, "MAX_JSON", 100)
        with pytest.raises(CannotWrite, match="can be opened again"):
            storage.save(noted("22", "23"), path)
    never = msgspec.structs.replace(Content().header, stated=StatedFigures(volume=float("nan")))
    with pytest.raises(CannotWrite, match="read back"):
        storage.save(Job(content=msgspec.structs.replace(Content(), header=never)), path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["a.lathed"]


def test_a_damaged_attachment_is_told_and_healed_by_the_sound_file(tmp_path):
    store = attachments.Store(tmp_path / "store")
    name = store.put(b"%PDF sound")
    assert (tmp_path / "store" / name).stat().st_mode & 0o777 == 0o600
    (tmp_path / "store" / name).write_bytes(b"%PDF spoiled")
    with pytest.raises(attachments.NoAttachment, match="damaged"):
        store.get(name)
    assert store.put(b"%PDF sound") == name
    assert store.get(name) == b"%PDF sound"


def test_a_claim_needs_no_links_and_lets_go_only_of_its_own(tmp_path, monkeypatch):
    path = tmp_path / "a.lathed"

    def no_links(*paths, **how):
        raise PermissionError(1, "no links here")

    monkeypatch.setattr(os, "link", no_links)
    mine = claim.Claim(path)
    assert mine.other is None and claim.lock_of(path).exists()
    assert claim.Claim(path).other is not None
    assert [p.name for p in tmp_path.iterdir()] == [claim.lock_of(path).name]
    theirs = msgspec.structs.replace(claim.holder_of(claim.lock_of(path)), process=1)
    claim.lock_of(path).write_bytes(msgspec.json.encode(theirs))
    mine.release()
    assert claim.holder_of(claim.lock_of(path)) == theirs, "whoever has taken it over keeps it"


def test_a_file_is_claimed_by_one_and_a_dead_claim_is_taken_over(tmp_path):
    path = tmp_path / "a.lathed"
    storage.save(Job(), path)
    mine = claim.Claim(path)
    theirs = claim.Claim(path)
    assert mine.other is None
    assert theirs.other is not None and str(os.getpid()) not in theirs.other.words
    theirs.release()  # what is not held is not let go
    assert claim.lock_of(path).exists()
    mine.release()
    assert not claim.lock_of(path).exists()
    gone = claim.Holder("anna", socket.gethostname(), 999_999, "1", 0.0)
    claim.lock_of(path).write_bytes(msgspec.json.encode(gone))
    after = claim.Claim(path)
    assert after.other is None and after.stale == gone
    after.release()
    claim.lock_of(path).write_bytes(msgspec.json.encode(msgspec.structs.replace(gone, machine="elsewhere")))
    assert claim.Claim(path).other is not None, "of another machine nothing is known"


def test_a_lock_that_is_a_link_is_not_followed(tmp_path):
    victim = tmp_path / "victim"
    victim.write_text("mine")
    (tmp_path / ".a.lathed.lock").symlink_to(victim)
    claim.Claim(tmp_path / "a.lathed").release()
    assert victim.read_text() == "mine"


def test_the_journal_and_its_folder_are_for_their_owner_only(tmp_path):
    folder = tmp_path / "journals"
    journal.Journal(folder, "1-1").record(Job(), "")
    assert all(p.stat().st_mode & 0o077 == 0 for p in (folder, *folder.iterdir()))


def test_half_written_files_of_dead_programs_are_swept(tmp_path):
    old, new = tmp_path / ".a.lathed.x1.part", tmp_path / ".b.lathed.x2.part"
    for path in (old, new, tmp_path / "a.part"):
        path.write_bytes(b"x")
    os.utime(old, (0, 0))
    assert sweep(tmp_path, time.time()) == 1
    assert not old.exists() and new.exists()


@pytest.mark.timeout(20)
def test_what_is_no_plain_file_is_not_waited_for(tmp_path):
    pipe = tmp_path / "pipe.lathed"
    os.mkfifo(pipe)
    for path in (pipe, Path("/dev/zero"), tmp_path):
        with pytest.raises(damaged.CannotOpen, match=r"it is no file|Is a directory"):
            storage.load(path)
    large = tmp_path / "large"
    with large.open("wb") as stream:
        stream.truncate(10_000)
    with pytest.raises(CannotBeRead, match="larger than"):
        read_whole(large, 5_000)
    assert len(read_whole(large, 10_000)) == 10_000
