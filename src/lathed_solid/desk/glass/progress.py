"""How the reading of a picture goes: in words, with a bar and a stop; or what it needs, with a button that fetches
it.
"""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ...core.drawing.paper import Drawing
from ...core.drawing.scan import needs
from ...core.drawing.scan.model import SheetText, Step
from ..session import Session
from .pictures import Pictures, SheetKey


class ReadingState(QWidget):
    """``again``: the shown sheet should be asked for once more."""

    again = pyqtSignal()

    def __init__(self, session: Session, pictures: Pictures) -> None:
        super().__init__()
        self._session, self._pictures = session, pictures
        self._steps: dict[SheetKey, Step] = {}
        self._failed: dict[SheetKey, str] = {}
        self._shown: SheetKey | None = None
        #: Words while something is going on or stands in the way of the shown sheet; empty when it is read.
        self.at_work = ""
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setObjectName("faint")
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.button = QPushButton()
        self.button.clicked.connect(self._on_button)
        row = QHBoxLayout()
        row.addWidget(self.bar, 1)
        row.addWidget(self.button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.words)
        layout.addLayout(row)
        pictures.progressed.connect(self._on_step)
        pictures.read.connect(self._on_read)
        pictures.failed.connect(self._on_failed)
        pictures.fetching.connect(lambda words: self._say(f"Fetching what reading pictures needs: {words} …"))
        pictures.fetched.connect(self._on_fetched)
        self.show_for(None)

    def ask(self, drawing: Drawing, sheet: int) -> None:
        """Have a sheet read, where that can be done."""
        key = SheetKey(drawing.blob, sheet, drawing.turned)
        self._failed.pop(key, None)
        if needs.is_here():
            self._steps[key] = Step("opening the picture", 0, 1)
            self._pictures.want(drawing, sheet)
        self.show_for(key)

    def show_for(self, key: SheetKey | None) -> None:
        """What there is to say of a sheet; nothing for one that says its sizes itself."""
        self._shown = key
        step, failed = (self._steps.get(key), self._failed.get(key)) if key is not None else (None, None)
        self.at_work, button, far = "", "", -1.0
        if key is not None and failed is not None:
            self.at_work, button = failed or "Reading was stopped. Click each size and type it.", "Read again"
        elif self._pictures.is_fetching:
            self.at_work, button = self.at_work or self.words.text(), "Stop"
        elif key is not None and step is not None:
            count = f" {step.done} of {step.of}" if step.of > 2 else ""
            self.at_work, button = f"The picture is being read: {step.words}{count} …", "Stop"
            far = step.done / max(1, step.of)
        elif key is not None and needs.missing():
            self.at_work = (
                f"Sizes on pictures can be read for you. That needs {needs.DOWNLOAD} MB more to load once "
                f"({needs.ON_DISK} MB on the disk); without it, click each size and type it."
            )
            button = "Fetch it"
        self.bar.setVisible(bool(button) and button != "Read again" and button != "Fetch it")
        self.bar.setRange(0, 100 if far >= 0 else 0)
        self.bar.setValue(round(100 * far))
        self.button.setVisible(bool(button))
        self.button.setText(button)
        if self.at_work:
            self.words.setText(self.at_work)

    def _on_button(self) -> None:
        if self.button.text() == "Fetch it":
            self._pictures.fetch()
            self._say("Fetching what reading pictures needs …")
        elif self.button.text() == "Read again":
            if self._shown is not None:
                self._failed.pop(self._shown, None)
            self.again.emit()
        elif self._pictures.is_fetching:
            self._pictures.stop_fetching()
        else:
            self._pictures.stop()

    def _say(self, words: str) -> None:
        self.words.setText(words)
        self.show_for(self._shown)

    def _on_step(self, key: SheetKey, step: Step) -> None:
        self._steps[key] = step
        if key == self._shown:
            self.show_for(key)

    def _on_read(self, key: SheetKey, text: SheetText) -> None:
        if text.is_whole:
            self._steps.pop(key, None)
            self.show_for(self._shown)

    def _on_failed(self, key: object, words: str) -> None:
        if isinstance(key, SheetKey):
            self._steps.pop(key, None)
            if words or key == self._shown:  # else it was let go for another sheet
                self._failed[key] = words
            self.show_for(self._shown)
            if words:
                self._session.say(words, "warn")

    def _on_fetched(self, words: str) -> None:
        if words:
            self._session.say(words, "bad")
        else:
            self._session.say("Pictures can be read now.", "good")
            self.again.emit()
        self.show_for(self._shown)
