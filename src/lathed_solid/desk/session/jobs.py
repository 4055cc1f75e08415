"""The open jobs: opened, switched, saved, closed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job import storage
from ...core.job.attachments import Store
from ...core.job.files import CannotWrite
from ...core.job.journal import Journal
from ...core.job.model import Content, Job
from .documents import OpenJob
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
        self._journals = journals or state_folder() / "journals"
        self.store = Store(self._journals.parent / "attachments")
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
        """Open a file; says what was lost or why it cannot be opened."""
        for index, job in enumerate(self.open_jobs):
            if job.path == path:
                self.switch(index)
                return True
        try:
            opened = storage.load(path, self.store)
        except storage.CannotOpen as error:
            self.talk.refuse(error)
            return False
        self.add(opened.job, path, unsaved=bool(opened.lost))
        if opened.lost:
            lost = "; ".join(opened.lost)
            self.talk.say(f"{path.name} was damaged. Lost: {lost}. Save it under a new name.", "warn")
        return True

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
        del self.open_jobs[index]
        self._current = min(self._current, len(self.open_jobs) - 1)
        if not self.open_jobs:
            self.add(Job())
        else:
            self.switch(self._current)
        self.changed.emit()

    def save(self, path: Path | None = None) -> bool:
        job = self.current
        target = path or job.path
        if target is None:
            return False
        try:
            storage.save(job.history.state, target, self.store, self.picture())
        except CannotWrite as error:
            self.talk.refuse(error)
            return False
        job.path = target
        job.history.mark_saved()
        job.journal.close()
        self.talk.say(f"Saved {target.name}.", "good")
        self.saved.emit()
        return True

    def close_journals(self) -> None:
        """At the end: work that is saved needs no journal."""
        for job in self.open_jobs:
            if job.history.is_saved:
                job.journal.close()
