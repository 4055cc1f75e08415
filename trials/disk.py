"""A disk that fails at any call, once or from then on: what is on it is whole, and what could not be kept is told."""

from __future__ import annotations

import errno
import os
import random
import tempfile
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from unittest import mock

from lathed_solid.core.job import edits, journal, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import Job

from .outcome import Outcome

#: The calls through which everything reaches the disk.
_CALLS = ("fsync", "open", "link", "ftruncate", "rename", "replace", "mkdir", "unlink", "chmod", "chown")


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Every call in turn, then at random."""
    found, at = Outcome(), 0
    while going():
        at += 1
        nth = at if at <= 200 else rng.randrange(1, 60)
        with tempfile.TemporaryDirectory() as folder:
            _one(Path(folder), nth, rng.choice((errno.ENOSPC, errno.EIO, errno.EDQUOT)), rng.random() < 0.5, found)
    return found


def _one(folder: Path, nth: int, reason: int, stays: bool, found: Outcome) -> None:
    found.count += 1
    jobs = [_noted(range(20, 22 + k)) for k in range(3)]
    path, log, store = folder / "a.lathed", journal.Journal(folder / "journals", "999999-1"), Store(folder / "store")
    storage.save(jobs[0], path, store, earlier=folder / "earlier")
    log.record(jobs[0], str(path))
    case = (nth, errno.errorcode[reason], stays)
    with mock.patch.object(journal, "COMPACT_ABOVE", 10 if nth % 2 else 10**9), failing(nth, reason, stays):
        log.record(jobs[1], str(path))
        journaled = not log.trouble
        try:
            storage.save(jobs[2], path, store, earlier=folder / "earlier")
            saved = True
        except CannotWrite as error:
            saved = False
            if "Nothing was lost" not in error.message and "was not saved" not in error.message:
                found.fault("a save that failed is told oddly", (case, error.message))
    there = storage.load(path)
    if there.lost or there.job != jobs[2 if saved else 0]:
        found.fault("the file is neither the old one nor the new one", case)
    work = journal.recoverable(folder / "journals").work
    if not work or work[0].job not in jobs[:2] or (journaled and work[0].job != jobs[1]):
        found.fault("the journal has lost work", case)


def _noted(sizes: range) -> Job:
    content = Job().content
    for size in sizes:
        content, _ = edits.add_callout(content, str(size))
    return Job(content=content)


@contextmanager
def failing(nth: int, reason: int, stays: bool) -> Iterator[None]:
    """The ``nth`` call to the disk fails, and all after it when it ``stays`` so."""
    count = 0

    def guarded(call: Callable[..., object]) -> Callable[..., object]:
        def called(*given: object, **how: object) -> object:
            nonlocal count
            count += 1
            if count == nth or (stays and count > nth):
                raise OSError(reason, os.strerror(reason))
            return call(*given, **how)

        return called

    with ExitStack() as patches:
        for name in _CALLS:
            patches.enter_context(mock.patch.object(os, name, guarded(getattr(os, name))))
        yield
