"""The autosave journal: every edit is on disk before the next one, whatever happens to the program.

One journal a running window. A line is one state of the job; the last whole line counts. A journal whose program is
no longer alive, and that was not closed, is offered for recovery.
"""

from __future__ import annotations

import os
import time
from pathlib import Path
from typing import NamedTuple

import msgspec

from .model import Job
from .storage import CannotOpen, decode

#: A journal larger than this is written anew with the last state only, bytes.
COMPACT_ABOVE = 8 * 1024 * 1024


class Record(msgspec.Struct):
    """One line: when (seconds since 1970), the file the job belongs to, and the job."""

    at: float
    path: str
    job: msgspec.Raw


class Recovered(NamedTuple):
    """Unsaved work: the journal it is in, the file it belongs to (may be empty), when, and the job."""

    journal: Path
    path: str
    at: float
    job: Job


class Journal:
    """Appends states to one file; trouble with the disk is returned in words, never raised."""

    def __init__(self, folder: Path, name: str = "") -> None:
        self._path = folder / f"{name or f'{os.getpid()}-{_started(os.getpid())}-{time.monotonic_ns()}'}.journal"
        self.trouble = ""

    def record(self, job: Job, path: str) -> None:
        line = msgspec.json.encode(Record(time.time(), path, msgspec.Raw(msgspec.json.encode(job)))) + b"\n"
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            big = self._path.exists() and self._path.stat().st_size > COMPACT_ABOVE
            with self._path.open("wb" if big else "ab") as stream:
                stream.write(line)
                stream.flush()
                os.fsync(stream.fileno())
            self.trouble = ""
        except OSError as error:
            self.trouble = f"Autosave is not working: {error.strerror}. Save the job by hand."

    def close(self) -> None:
        """The work is saved or given up: nothing to recover."""
        self._path.unlink(missing_ok=True)


def recoverable(folder: Path) -> list[Recovered]:
    """Unsaved work of programs that are gone, the newest first."""
    found = []
    for path in folder.glob("*.journal") if folder.is_dir() else ():
        if _alive(path.stem):
            continue
        if state := last_state(path):
            found.append(state)
        else:
            path.unlink(missing_ok=True)
    return sorted(found, key=lambda r: -r.at)


def last_state(path: Path) -> Recovered | None:
    """The last whole state of a journal; a line cut short by a crash is passed over."""
    try:
        lines = path.read_bytes().splitlines()
    except OSError:
        return None
    for line in reversed(lines):
        try:
            record = msgspec.json.decode(line, type=Record)
            return Recovered(path, record.path, record.at, decode(bytes(record.job), path.name).job)
        except (msgspec.DecodeError, CannotOpen):
            continue
    return None


def _alive(name: str) -> bool:
    """Whether the program that wrote a journal still runs; a number given to another process meanwhile is not it."""
    pid, _, rest = name.partition("-")
    return pid.isdigit() and _started(int(pid)) == rest.partition("-")[0]


def _started(pid: int) -> str:
    """When a process was started, in the system's ticks; empty when there is no such process."""
    try:
        # The second field, the program's name in brackets, may hold anything; the start is the 20th after it.
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[19]
    except (OSError, IndexError):
        return ""
