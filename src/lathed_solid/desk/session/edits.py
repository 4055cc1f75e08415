"""Edits of the job being worked on: each a pure change of its content, refused whole or taken whole."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job import edits
from ...core.job.model import Content, Job
from ...core.job.settle import settle
from ...core.refusal import Refusal
from .jobs import Jobs

Made = TypeVar("Made")


class Edits(QObject):
    """``changed`` comes first, so that the kernel works while the window draws; ``edited`` once all is recorded."""

    changed = pyqtSignal()
    edited = pyqtSignal()

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs, self._talk = jobs, jobs.talk

    def edit(self, change: Callable[[Content], Content], what: str, further: bool = False) -> bool:
        """Carry out an edit, or say why not; a refused edit changes nothing. ``further`` makes it a part of the one
        before: a size just drawn gets its number.
        """
        return self.make(lambda content: (change(content), True), what, further) is not None

    def make(self, change: Callable[[Content], tuple[Content, Made]], what: str, further: bool = False) -> Made | None:
        """Carry out an edit that makes something; what it made, or None when it was refused."""
        try:
            content, made = change(self._jobs.content)
        except Refusal as error:
            self._talk.refuse(error)
            return None
        self.take(content, what, further)
        return made

    def take(self, content: Content, what: str, further: bool = False) -> None:
        """Make ``content`` the present state: settle its sketches, journal it, build it."""
        settled = settle(content)
        current = self._jobs.current
        job = msgspec.structs.replace(current.history.state, content=settled.content)
        current.problems = dict(settled.problems)
        if current.history.extend(job) if further else current.history.do(job, what):
            self._tell()
        for problem in settled.problems.values():
            self._talk.say(problem, "bad")

    def take_route(self, at: int) -> None:
        """Work on another route of the part; nothing is edited by that, so nothing is to be undone."""
        self.amend(edits.take_route(self._jobs.content, at))
        self._tell()

    def take_job(self, job: Job, what: str) -> None:
        """Make a whole job the present state (revisions)."""
        if self._jobs.current.history.do(job, what):
            self._tell()

    def amend(self, content: Content) -> None:
        """Put ``content`` in place of the present state: something that follows from it was worked out."""
        history = self._jobs.current.history
        history.amend(msgspec.structs.replace(history.state, content=content))

    def follow(self, content: Content) -> None:
        """Like ``amend`` for what changes no shape: recorded and shown, not built."""
        if content is not self._jobs.content:
            self.amend(content)
            self._jobs.current.record()
            self.edited.emit()

    def undo(self) -> None:
        history = self._jobs.current.history
        words = history.undo_words
        if history.undo():
            self._talk.say(f"Took back: {words}.")
            self._tell()

    def redo(self) -> None:
        history = self._jobs.current.history
        words = history.redo_words
        if history.redo():
            self._talk.say(f"Did again: {words}.")
            self._tell()

    def _tell(self) -> None:
        job = self._jobs.current
        self.changed.emit()
        job.record()
        if job.journal.trouble:
            self._talk.say(job.journal.trouble, "warn")
        self.edited.emit()
