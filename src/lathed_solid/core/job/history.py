"""Undo and redo without limit: the job is immutable, so every state is kept as it was."""

from __future__ import annotations

from typing import NamedTuple

from .model import Content, Job


class Entry(NamedTuple):
    """A state and the words for the edit that led to it."""

    job: Job
    what: str


class History:
    """States in order with a cursor. States share all unchanged parts, so keeping them is cheap."""

    def __init__(self, job: Job) -> None:
        self._entries = [Entry(job, "opened")]
        self._at = 0
        self._saved: Job | None = job

    @property
    def job(self) -> Job:
        return self._entries[self._at].job

    @property
    def content(self) -> Content:
        return self.job.content

    @property
    def is_saved(self) -> bool:
        return self.job is self._saved

    def mark_saved(self) -> None:
        self._saved = self.job

    def mark_unsaved(self) -> None:
        """The state on disk is not this one (a recovered job)."""
        self._saved = None

    def do(self, job: Job, what: str) -> bool:
        """Make ``job`` the present state; what had been undone is dropped. False when nothing changed."""
        if job == self.job:
            return False
        del self._entries[self._at + 1 :]
        self._entries.append(Entry(job, what))
        self._at += 1
        return True

    def extend(self, job: Job) -> bool:
        """Make ``job`` the present state as part of the edit before: one undo takes both back. False when nothing
        changed.
        """
        if not self._at or self.is_saved:
            return self.do(job, self._entries[self._at].what)
        if job == self.job:
            return False
        what = self._entries[self._at].what
        del self._entries[self._at :]
        self._entries.append(Entry(job, what))
        return True

    @property
    def before(self) -> Content | None:
        """The state that undo would go back to."""
        return self._entries[self._at - 1].job.content if self._at else None

    def amend(self, job: Job) -> None:
        """Put ``job`` in place of the present state: something that follows from it was worked out."""
        saved = self.is_saved
        self._entries[self._at] = self._entries[self._at]._replace(job=job)
        if saved:
            self._saved = job

    @property
    def undo_words(self) -> str:
        """What undo would take back; empty when there is nothing."""
        return self._entries[self._at].what if self._at else ""

    @property
    def redo_words(self) -> str:
        return self._entries[self._at + 1].what if self._at + 1 < len(self._entries) else ""

    def undo(self) -> bool:
        if not self._at:
            return False
        self._at -= 1
        return True

    def redo(self) -> bool:
        if self._at + 1 >= len(self._entries):
            return False
        self._at += 1
        return True
