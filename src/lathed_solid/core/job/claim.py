"""Who works on a file: a lock beside it that names its holder, and the state a file was in when it was read.

A lock is a courtesy among programs that ask; what was changed on disk all the same shows by the file's stamp.
"""

from __future__ import annotations

import os
import pwd
import socket
import time
from contextlib import suppress
from pathlib import Path
from typing import TypeAlias

import msgspec

from .alive import alive, started


class Holder(msgspec.Struct, frozen=True):
    """Whoever holds a file: user, machine, process and when it was started (the system's ticks), since when."""

    user: str
    machine: str
    process: int
    started: str
    since: float

    @property
    def words(self) -> str:
        clock = time.strftime("%Y-%m-%d %H:%M", time.localtime(self.since))
        return f"{self.user} on {self.machine}, since {clock}"


def _me() -> Holder:
    try:
        user = pwd.getpwuid(os.getuid()).pw_name
    except KeyError:  # a user the system has no name for
        user = f"user {os.getuid()}"
    return Holder(user, socket.gethostname(), os.getpid(), started(os.getpid()), time.time())


def lock_of(path: Path) -> Path:
    """Where the lock of a file lies."""
    target = path.resolve()
    return target.with_name(f".{target.name}.lock")


class Claim:
    """A file held by this program until it is let go; ``other`` holds it instead, ``stale`` did and is gone."""

    def __init__(self, path: Path) -> None:
        self._lock = lock_of(path)
        self.other: Holder | None = None
        self.stale: Holder | None = None
        self._held = self._take()

    def _take(self) -> bool:
        """Where no lock can be laid (a folder that may only be read), nothing is claimed, and nothing said."""
        for _ in range(3):
            try:
                handle = os.open(self._lock, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o644)
            except FileExistsError:
                holder = holder_of(self._lock)
                if holder is not None and _still_there(holder):
                    self.other = holder
                    return False
                self.stale = holder
                with suppress(OSError):
                    self._lock.unlink()
                continue
            except OSError:
                return False
            with os.fdopen(handle, "wb") as stream:
                stream.write(msgspec.json.encode(_me()))
            return True
        return False

    def release(self) -> None:
        if self._held:
            with suppress(OSError):
                self._lock.unlink()
            self._held = False


def holder_of(lock: Path) -> Holder | None:
    """Who wrote a lock; None when it does not say."""
    try:
        return msgspec.json.decode(lock.read_bytes()[:4096], type=Holder)
    except (OSError, msgspec.DecodeError):
        return None


def _still_there(holder: Holder) -> bool:
    """Whether a holder may still be at work. Of another machine nothing is known: it is taken to be."""
    if holder.machine != socket.gethostname():
        return True
    return alive(holder.process, holder.started)


#: What tells one state of a file from another without reading it: when it was changed (ns), its size, its node.
Stamp: TypeAlias = tuple[int, int, int]


def stamp_of(path: Path) -> Stamp | None:
    """The present stamp of a file; None when it is not there."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size, found.st_ino
