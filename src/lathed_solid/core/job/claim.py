"""Who works on a file: a lock beside it that names its holder, and the state a file was in when it was read.

A lock is a courtesy among programs that ask; what was changed on disk all the same shows by the file's stamp.
"""

from __future__ import annotations

import fcntl
import os
import pwd
import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
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
        self._mine = _me()
        self._held = self._take()

    def _take(self) -> bool:
        """Where no lock can be laid (a folder that may only be read), nothing is claimed, and nothing said."""
        with _in_turn(self._lock.parent):
            holder = holder_of(self._lock)
            if holder is not None and _still_there(holder):
                self.other = holder
                return False
            self.stale = holder
            return self._lay()

    def _lay(self) -> bool:
        """The lock comes to be whole, or not at all: nobody may find one that does not say whose it is."""
        made = self._lock.with_name(f"{self._lock.name}.{os.getpid()}.{time.monotonic_ns()}")
        try:
            self._write(made)
            self._lock.unlink(missing_ok=True)
            try:
                os.link(made, self._lock)
            except FileExistsError:
                raise
            except OSError:  # a disk without links, as of a memory stick
                self._write(self._lock)
        except FileExistsError:  # another machine was quicker
            self.other = holder_of(self._lock)
            return False
        except OSError:
            return False
        finally:
            with suppress(OSError):
                made.unlink(missing_ok=True)
        return True

    def _write(self, path: Path) -> None:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o644)
        with os.fdopen(handle, "wb") as stream:
            stream.write(msgspec.json.encode(self._mine))

    def release(self) -> None:
        """The file is anyone's again."""
        if self._held:
            with _in_turn(self._lock.parent), suppress(OSError):
                if holder_of(self._lock) == self._mine:
                    self._lock.unlink()
            self._held = False


@contextmanager
def _in_turn(folder: Path) -> Iterator[None]:
    """One program of this machine after the other: to look at a lock and to lay one must be one thing."""
    try:
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    except OSError:
        yield  # where nothing can be looked at nothing will be laid either
        return
    try:
        with suppress(OSError):  # a file system without such locks
            fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    finally:
        os.close(handle)


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
