"""What is selected in the job being worked on: one callout, one step."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal


class Selection(QObject):
    selected = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.callout: int | None = None
        self.step = ""

    def select_callout(self, number: int | None) -> None:
        if number != self.callout:
            self.callout = number
            self.selected.emit()

    def select_step(self, id_: str) -> None:
        if id_ != self.step:
            self.step = id_
            self.selected.emit()

    def forget(self) -> None:
        """Another job is worked on; it will say so itself."""
        self.callout, self.step = None, ""
