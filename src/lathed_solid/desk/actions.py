"""Actions as records: one declaration feeds the shortcut, the search and the buttons."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple


class Action(NamedTuple):
    """``id`` never changes; ``keys`` is a Qt shortcut text; ``enabled`` says whether it can run just now."""

    id: str
    title: str
    keys: str
    run: Callable[[], object]
    icon: str = ""
    enabled: Callable[[], bool] = lambda: True


class ActionList:
    """All actions of the window, found by id or by searching their titles."""

    def __init__(self) -> None:
        self._actions: dict[str, Action] = {}

    def add(self, action: Action) -> None:
        if action.id in self._actions:
            raise ValueError(f"action {action.id} is declared twice")
        self._actions[action.id] = action

    def __iter__(self) -> Iterator[Action]:
        return iter(self._actions.values())

    def get(self, id_: str) -> Action:
        return self._actions[id_]

    def search(self, text: str) -> list[Action]:
        """Actions whose title holds all words of ``text``: that very title first, then those that begin with it."""
        words = text.lower().split()
        if not words:
            return []
        found = [a for a in self if all(w in a.title.lower() for w in words)]
        whole = " ".join(words)

        def order(action: Action) -> tuple[bool, bool, bool, str]:
            title = action.title.lower()
            return title != whole, not title.startswith(whole), not title.startswith(words[0]), action.title

        return sorted(found, key=order)
