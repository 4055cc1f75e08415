"""What the program says to its user, in one place; everything said goes to the log as well."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from typing import Literal

from platformdirs import user_state_path
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.refusal import Refusal

log = logging.getLogger(__name__)
Tone = Literal["plain", "good", "warn", "bad"]


def state_folder() -> Path:
    """Where journals and the log live."""
    return Path(user_state_path("lathed-solid"))


class Talk(QObject):
    """``unit`` is that of the job being worked on, for the figures in refusals."""

    said = pyqtSignal(str, str)
    withdrawn = pyqtSignal(str)

    def __init__(self, unit: Callable[[], str]) -> None:
        super().__init__()
        self._unit = unit

    def say(self, text: str, tone: Tone = "plain") -> None:
        log.info("%s: %s", tone, text)
        self.said.emit(text, tone)

    def withdraw(self, text: str) -> None:
        """What was said is over: it goes, unless something else has been said since."""
        self.withdrawn.emit(text)

    def refuse(self, error: Refusal) -> None:
        self.say(self.words_of(error), "bad")

    def words_of(self, error: Refusal) -> str:
        """A refusal in the present job's unit."""
        return error.said_in(self._unit())
