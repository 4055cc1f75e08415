"""The power fails: what was not synced is gone, or there in part, or in another order. What was told as kept is kept.

The strictest disk the standard allows stands in for a real one: bytes are safe once their file was synced, names once
their folder was; all else may have reached the disk or not, each by itself.
"""

from __future__ import annotations

import os
import random
import stat
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from lathed_solid.core.job import edits, journal, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.damaged import CannotOpen
from lathed_solid.core.job.model import Content, Job

from .outcome import Outcome


class Cut(BaseException):
    """The power is gone."""


class Disk:
    """A folder on such a disk. While it is entered, calls that change it are seen, and may be the last ones."""

    def __init__(self, rng: random.Random, folder: Path, chance: float) -> None:
        self._rng, self._folder, self._chance = rng, folder, chance
        #: Files by number and age, what of them is safe; the names that are safe; how often a number was used.
        self._bytes: dict[tuple[int, int], bytes] = {}
        self._names: dict[str, tuple[int, int]] = {}
        self._ages: dict[int, int] = {}
        self._kept: dict[str, Any] = {}

    def __enter__(self) -> Disk:
        self._kept = {name: getattr(os, name) for name in ("fsync", "replace", "unlink", "link")}
        os.fsync = self._fsync  # type: ignore[assignment]
        for name in ("replace", "unlink", "link"):
            setattr(os, name, self._seen(self._kept[name]))
        return self

    def __exit__(self, *_: object) -> None:
        for name, call in self._kept.items():
            setattr(os, name, call)

    def _perhaps_cut(self) -> None:
        if self._rng.random() < self._chance:
            raise Cut

    def _fsync(self, handle: int) -> None:
        self._perhaps_cut()
        self._kept["fsync"](handle)
        found = os.fstat(handle)
        if stat.S_ISDIR(found.st_mode):
            self._names = self._listed()
        else:
            self._bytes[self._file(found)] = Path(f"/proc/self/fd/{handle}").read_bytes()
        self._perhaps_cut()

    def _seen(self, call: Callable[..., object]) -> Callable[..., object]:
        def done(*paths: Any, **how: Any) -> object:
            self._perhaps_cut()
            last = os.lstat(paths[-1]) if os.path.lexists(paths[-1]) and call is not self._kept["link"] else None
            result = call(*paths, **how)
            if last is not None and last.st_nlink == 1:
                self._ages[last.st_ino] = self._ages.get(last.st_ino, 0) + 1  # the next file of its number is another
            return result

        return done

    def _file(self, found: os.stat_result) -> tuple[int, int]:
        return found.st_ino, self._ages.get(found.st_ino, 0)

    def _listed(self) -> dict[str, tuple[int, int]]:
        return {p.name: self._file(p.stat()) for p in self._folder.iterdir() if p.is_file()}

    def after(self, folder: Path) -> None:
        """What is found there when the power is back."""
        now = self._listed()
        whole = {self._file(p.stat()): p.read_bytes() for p in self._folder.iterdir() if p.is_file()}
        for name in {*now, *self._names}:
            file = self._rng.choice((self._names.get(name), now.get(name)))
            if file is not None:
                safe = self._bytes.get(file, b"")
                all_ = whole.get(file, safe)
                more = self._rng.randrange(len(all_) - len(safe) + 1) if all_.startswith(safe) else 0
                (folder / name).write_bytes(all_[: len(safe) + more])


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Journals and saves in turn."""
    found = Outcome()
    room = journal.COMPACT_ABOVE
    try:
        while going():
            journal.COMPACT_ABOVE = rng.choice((2_000, 20_000, 10**9))
            for trial in (_journal, _save):
                with tempfile.TemporaryDirectory() as before, tempfile.TemporaryDirectory() as after:
                    found.count += 1
                    trial(rng, Path(before), Path(after), found)
    finally:
        journal.COMPACT_ABOVE = room
    return found


def _journal(rng: random.Random, before: Path, after: Path, found: Outcome) -> None:
    kept, content = 0, Content()
    with Disk(rng, before, rng.choice((0.02, 0.1, 0.3))) as disk:
        log = journal.Journal(before, "gone")
        try:
            for _ in range(30):
                content, number = edits.add_callout(content, "22")
                log.record(Job(content=content), "/a.lathed")
                if not log.trouble:
                    kept = number
        except Cut:
            pass
    disk.after(after)
    work = journal.recoverable(after).work
    there = len(work[0].job.content.callouts) if work else 0
    if there < kept:
        found.fault("an edit that was kept is lost", (kept, there, sorted(p.name for p in after.iterdir())))


def _save(rng: random.Random, before: Path, after: Path, found: Outcome) -> None:
    kept, content, path = 0, Content(), before / "part.lathed"
    store = Store(before / "files")
    with Disk(rng, before, rng.choice((0.02, 0.1, 0.3))) as disk:
        try:
            for _ in range(6):
                content, number = edits.add_callout(content, "22")
                storage.save(Job(content=content), path, store)
                kept = number
        except Cut:
            pass
    disk.after(after)
    if not kept:
        return
    try:
        there = len(storage.load(after / path.name).job.content.callouts)
    except CannotOpen:
        there = -1
    if there < kept:
        found.fault("a save is lost", (kept, there, sorted(p.name for p in after.iterdir())))
