"""The open jobs: opened, switched, saved, closed."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job import storage
from ...core.job.attachments import Store
from ...core.job.claim import Claim, stamp_of
from ...core.job.damaged import CannotOpen
from ...core.job.earlier import Earlier, earlier_saves, when
from ...core.job.files import CannotWrite, sweep
from ...core.job.journal import Journal
from ...core.job.model import Content, Job
from ...core.job.recent import worked_on
from .documents import OpenJob
from .filed import read_as_it_lies, words_of_copy, words_of_held, words_of_stale
from .talk import Talk, state_folder


class Jobs(QObject):
    """``changed`` tells that the list did, ``saved`` that a file is new. Another job to work on is told twice:
    ``begun`` for what must be ready first, then ``switched``.
    """

    changed = pyqtSignal()
    begun = pyqtSignal()
    switched = pyqtSignal()
    saved = pyqtSignal()

    def __init__(self, journals: Path | None = None) -> None:
        super().__init__()
        #: Where work that is not saved is kept.
        self.folder = self._journals = journals or state_folder() / "journals"
        #: Where the program keeps what is its own: unsaved work, attachments, earlier saves, recent jobs.
        self.state = self._journals.parent
        self.store = Store(self.state / "attachments")
        self.earlier_folder = self.state / "earlier"
        sweep(self.store.folder, time.time())
        self.open_jobs: list[OpenJob] = []
        self._blank = OpenJob(Job(), None, Journal(self._journals, "blank"))
        self._current = -1
        #: A small picture (PNG) of the job worked on, for its file; empty for none. Set by whoever shows it.
        self.picture: Callable[[], bytes] = bytes
        self.talk = Talk(lambda: self.content.header.style.unit)

    @property
    def current(self) -> OpenJob:
        """The job being worked on; a blank one, never saved, before any is open."""
        return self.open_jobs[self._current] if self.open_jobs else self._blank

    @property
    def content(self) -> Content:
        return self.current.content

    def add(self, job: Job, path: Path | None = None, unsaved: bool = False) -> OpenJob:
        opened = OpenJob(job, path, Journal(self._journals))
        if unsaved:
            opened.history.mark_unsaved()
        self.open_jobs.append(opened)
        self.switch(len(self.open_jobs) - 1)
        self.changed.emit()
        return opened

    def open(self, path: Path) -> bool:
        """Open a file; says what was lost, who else holds it, or why it cannot be opened."""
        for index, job in enumerate(self.open_jobs):
            if job.path is not None and job.path.resolve() == path.resolve():
                self.switch(index)
                return True
        claim = Claim(path)
        try:
            opened = storage.load(path, self.store)
        except CannotOpen as error:
            claim.release()
            self.talk.refuse(error)
            return False
        if claim.other is not None:
            self.add(opened.job, None)
            self.talk.say(words_of_copy(path, claim), "warn")
        else:
            self.add(opened.job, path, unsaved=bool(opened.lost)).claim = claim
            if words := words_of_stale(path, claim):
                self.talk.say(words)
            worked_on(self.state, path)
        if opened.lost:
            lost = "; ".join(opened.lost)
            self.talk.say(f"{path.name} was damaged. Lost: {lost}. Save it under a new name.", "warn")
        return True

    def open_earlier(self, saved: Earlier) -> bool:
        """Open an earlier save beside the present one, as a job without a file."""
        try:
            opened = storage.load(saved.path, self.store)
        except CannotOpen as error:
            self.talk.refuse(error)
            return False
        self.add(opened.job, None)
        self.talk.say(f"This is how it was saved on {when(saved)}. Save it under another name to keep it.")
        return True

    def earlier(self) -> list[Earlier]:
        """Earlier saves of the job worked on, the newest first."""
        path = self.current.path
        return earlier_saves(path, self.earlier_folder) if path is not None else []

    def switch(self, index: int) -> None:
        self._current = index
        self.begun.emit()
        self.switched.emit()

    def take_up(self) -> None:
        """Tell all listeners of jobs that were open before they listened."""
        self.changed.emit()
        self.switched.emit()

    def close_job(self, index: int, keep: bool = False) -> None:
        """Close a job; with ``keep`` its unsaved work is offered again at the next start."""
        job = self.open_jobs[index]
        if keep and not job.history.is_saved:
            job.record()
            job.journal.keep()
        else:
            job.journal.close()
        job.let_go()
        del self.open_jobs[index]
        self._current = min(self._current, len(self.open_jobs) - 1)
        if not self.open_jobs:
            self.add(Job())
        else:
            self.switch(self._current)
        self.changed.emit()

    def save(self, path: Path | None = None) -> bool:
        """Save the job worked on. A file held by another program is not touched."""
        job = self.current
        target = path or job.path
        if target is None:
            return False
        claim = job.claim_for(target)
        if claim.other is not None:
            self.talk.say(words_of_held(target, claim), "bad")
            return False
        try:
            storage.save(job.history.state, target, self.store, self.picture(), self.earlier_folder)
        except CannotWrite as error:
            if claim is not job.claim:
                claim.release()
            self.talk.refuse(error)
            return False
        job.taken(target, claim)
        sweep(target.parent, time.time(), target.name)
        job.history.mark_saved()
        job.journal.close()
        worked_on(self.state, target)
        self.talk.say(f"Saved {target.name}.", "good")
        self.saved.emit()
        return True

    def theirs(self) -> Job | None:
        """What is in the file of the job worked on just now; None when it cannot be read."""
        path = self.current.path
        opened = read_as_it_lies(path, lambda p: storage.load(p, self.store), self.talk) if path is not None else None
        return opened.job if opened is not None else None

    def follow_disk(self, theirs: Job) -> None:
        """The state worked on is the one on disk."""
        job = self.current
        if job.path is not None and job.history.state == theirs:
            job.stamp = stamp_of(job.path)
            job.history.mark_saved()
            job.journal.close()
            self.saved.emit()

    def beside(self, name: str) -> Path:
        """Where a file that goes with the job worked on is proposed: beside it, or here while it has none."""
        path = self.current.path
        return (path.parent if path is not None else Path.cwd()) / name

    def close_journals(self) -> None:
        """At the end: work that is saved needs no journal."""
        for job in self.open_jobs:
            job.let_go()
            if job.history.is_saved:
                job.journal.close()
