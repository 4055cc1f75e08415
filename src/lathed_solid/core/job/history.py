"""Undo and redo without limit: documents are immutable, so every state is kept as it was."""

from __future__ import annotations

from typing import Generic, NamedTuple, TypeVar

State = TypeVar("State")


class Entry(NamedTuple, Generic[State]):
    """A state and the words for the edit that led to it."""

    state: State
    what: str


class History(Generic[State]):
    """States in order with a cursor. States share all unchanged parts, so keeping them is cheap."""

    def __init__(self, state: State) -> None:
        self._entries = [Entry(state, "opened")]
        self._at = 0
        self._saved: State | None = state

    @property
    def state(self) -> State:
        return self._entries[self._at].state

    @property
    def is_saved(self) -> bool:
        return self.state is self._saved

    def mark_saved(self) -> None:
        self._saved = self.state

    def mark_unsaved(self) -> None:
        """The state on disk is not this one (a recovered job)."""
        self._saved = None

    def do(self, state: State, what: str) -> bool:
        """Make ``state`` the present state; what had been undone is dropped. False when nothing changed."""
        if state == self.state:
            return False
        del self._entries[self._at + 1 :]
        self._entries.append(Entry(state, what))
        self._at += 1
        return True

    def extend(self, state: State) -> bool:
        """Make ``state`` the present state as part of the edit before: one undo takes both back. False when nothing
        changed.
        """
        if not self._at or self.is_saved:
            return self.do(state, self._entries[self._at].what)
        if state == self.state:
            return False
        what = self._entries[self._at].what
        del self._entries[self._at :]
        self._entries.append(Entry(state, what))
        return True

    @property
    def before(self) -> State | None:
        """The state that undo would go back to."""
        return self._entries[self._at - 1].state if self._at else None

    def amend(self, state: State) -> None:
        """Put ``state`` in place of the present state: something that follows from it was worked out."""
        saved = self.is_saved
        self._entries[self._at] = self._entries[self._at]._replace(state=state)
        if saved:
            self._saved = state

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
