"""The autosave journal: every edit is on disk before the next one, whatever happens to the program.

One journal a running window. A line is one state of the job with its checksum; the last whole line counts. A journal
whose program is no longer alive, and that was not closed, is offered for recovery. Nothing is removed before what
takes its place has been read back, and what cannot be read is never removed.
"""

from __future__ import annotations

import os
import time
import zlib
from pathlib import Path
from typing import NamedTuple

import msgspec

from .alive import alive, started
from .claim import Stamp
from .damaged import CannotOpen
from .files import private_folder, sync_folder
from .model import Job
from .storage import decode

#: A journal larger than this is written anew with the last state only, bytes.
COMPACT_ABOVE = 8 * 1024 * 1024
#: What the journal before a compaction is called, until the next one.
OLDER = ".older"


class Record(msgspec.Struct):
    """One line: when (seconds since 1970), the file the job belongs to and the state that file was in, and the job."""

    at: float
    path: str
    job: msgspec.Raw
    stamp: Stamp | None = None


class Recovered(NamedTuple):
    """Unsaved work: the journal it is in, the file it belongs to (may be empty), when, the job, and the state that file
    was in when the work began.
    """

    journal: Path
    path: str
    at: float
    job: Job
    stamp: Stamp | None = None


class Journal:
    """Appends states to one file; trouble with the disk is returned in words, never raised."""

    def __init__(self, folder: Path, name: str = "") -> None:
        self._path = folder / f"{name or f'{os.getpid()}-{started(os.getpid())}-{time.monotonic_ns()}'}.journal"
        self.trouble = ""

    def record(self, job: Job, path: str, stamp: Stamp | None = None) -> None:
        text = msgspec.json.encode(Record(time.time(), path, msgspec.Raw(msgspec.json.encode(job)), stamp))
        line = b"%08x %s\n" % (zlib.crc32(text), text)
        try:
            private_folder(self._path.parent)
            if self._path.exists() and self._path.stat().st_size > COMPACT_ABOVE:
                self._compact(line)
            else:
                self._append(line)
            self.trouble = ""
        except OSError as error:
            self.trouble = f"Autosave is not working: {error.strerror}. Save the job by hand."

    def _append(self, line: bytes) -> None:
        """Add a line; one that could not be written whole is taken off again, so that the next stands by itself."""
        is_new = not self._path.exists()
        handle = os.open(self._path, os.O_WRONLY | os.O_CREAT | os.O_APPEND | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "ab") as stream:
            before = stream.tell()
            try:
                stream.write(line)
                stream.flush()
                os.fsync(stream.fileno())
            except OSError:
                os.ftruncate(stream.fileno(), before)
                raise
        if is_new:
            sync_folder(self._path.parent)

    def _compact(self, line: bytes) -> None:
        """The last state in a new file, put in place of the old one when it has been read back."""
        fresh, older = self._path.with_suffix(".part"), self._path.with_name(self._path.name + OLDER)
        try:
            fresh.unlink(missing_ok=True)
            handle = os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600)
            with os.fdopen(handle, "wb") as stream:
                stream.write(line)
                stream.flush()
                os.fsync(stream.fileno())
            if fresh.read_bytes() != line:
                raise OSError(5, "what was written cannot be read back")
            older.unlink(missing_ok=True)
            os.link(self._path, older)
            fresh.replace(self._path)
            sync_folder(self._path.parent)
        except OSError:
            fresh.unlink(missing_ok=True)
            raise

    def holds(self, job: Job) -> bool:
        """Whether the last state on disk is this job, read back."""
        state = last_state(self._path)
        return state is not None and state.job == job

    def keep(self) -> None:
        """Leave the work to be offered at the next start: the journal is no longer that of this program."""
        for path in (self._path, self._path.with_name(self._path.name + OLDER)):
            if path.exists():
                path.replace(path.with_name(f"kept-{path.name}"))

    def close(self) -> None:
        """The work is saved or given up: nothing to recover."""
        forget(self._path)


def forget(path: Path) -> None:
    """Remove a journal and what it was before its last compaction."""
    path.unlink(missing_ok=True)
    path.with_name(path.name + OLDER).unlink(missing_ok=True)


class Found(NamedTuple):
    """What journals hold: work to be offered, the newest first, and journals that cannot be read (left as they are)."""

    work: tuple[Recovered, ...]
    unreadable: tuple[Path, ...]


def recoverable(folder: Path) -> Found:
    """Unsaved work of programs that are gone."""
    work, unreadable = [], []
    for path in sorted(folder.glob("*.journal")) if folder.is_dir() else ():
        if _alive(path.stem):
            continue
        state = last_state(path) or last_state(path.with_name(path.name + OLDER))
        if state is not None:
            work.append(state._replace(journal=path))
        elif path.stat().st_size:
            unreadable.append(path)
        else:
            path.unlink(missing_ok=True)  # nothing was ever written
    return Found(tuple(sorted(work, key=lambda r: -r.at)), tuple(unreadable))


def last_state(path: Path) -> Recovered | None:
    """The last whole state of a journal; a line cut short by a crash, or damaged since, is passed over."""
    try:
        lines = path.read_bytes().splitlines()
    except OSError:
        return None
    for line in reversed(lines):
        text = _checked(line)
        if text is None:
            continue
        try:
            record = msgspec.json.decode(text, type=Record)
            return Recovered(path, record.path, record.at, decode(bytes(record.job), path.name).job, record.stamp)
        except (msgspec.DecodeError, CannotOpen):
            continue
    return None


def _checked(line: bytes) -> bytes | None:
    """The text of a line whose checksum is right; lines of earlier versions have none."""
    if line.startswith(b"{"):
        return line
    mark, _, text = line.partition(b" ")
    return text if mark == b"%08x" % zlib.crc32(text) else None


def _alive(name: str) -> bool:
    """Whether the program that wrote a journal still runs."""
    pid, _, rest = name.partition("-")
    return pid.isdigit() and alive(int(pid), rest.partition("-")[0])
