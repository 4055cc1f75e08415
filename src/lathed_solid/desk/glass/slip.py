"""The slip that opens where the sheet was clicked: the note is typed there, its meaning shown under it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLabel, QLineEdit, QVBoxLayout, QWidget

from ...core.callout import NoteError, asks, in_words, odd
from ..session import Session


class Slip(QFrame):
    """``taken`` carries the text (note ; label); Escape closes."""

    taken = pyqtSignal(str)

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("popup")
        self._session = session
        self.title = QLabel()
        self.title.setObjectName("faint")
        self.line = QLineEdit()
        self.line.setObjectName("formula")
        self.line.setAccessibleName("Note at this place")
        self.line.setPlaceholderText("note ; label")
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setObjectName("faint")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 8)
        layout.setSpacing(4)
        for widget in (self.title, self.line, self.words):
            layout.addWidget(widget)
        self.setFixedWidth(330)
        self.line.textChanged.connect(self._on_text)
        self.line.returnPressed.connect(lambda: self.taken.emit(self.line.text()))
        self.hide()

    def open(self, at: QPointF, title: str, text: str = "") -> None:
        """Show beside a place of the parent, inside it."""
        self.title.setText(title)
        self.line.setText(text)
        self._on_text(text)
        self.adjustSize()
        parent = self.parentWidget()
        assert parent is not None
        x = min(max(6, round(at.x()) + 16), parent.width() - self.width() - 6)
        y = min(max(6, round(at.y()) + 14), parent.height() - self.height() - 6)
        self.move(x, y)
        self.show()
        self.raise_()
        self.line.setFocus()
        self.line.selectAll()

    def refuse(self, words: str, position: int = -1) -> None:
        """Say why the text was not taken, and put the cursor at the place."""
        self._say(words, "bad")
        if position >= 0:
            self.line.setCursorPosition(min(position, len(self.line.text())))

    def _on_text(self, text: str) -> None:
        note = text.partition(";")[0].strip()
        if not note:
            self._say("Type what stands here, as in Ø12 h6. Enter places its balloon.", "faint")
            return
        try:
            reading = self._session.content.ledger().try_note(note)
        except NoteError as error:
            self._say(error.message, "bad")
            return
        style = self._session.content.header.style
        warn = [*asks(reading), *odd(reading, style, self._session.part_size)]
        self._say(f"{in_words(reading, style)}." + (f"\n! {warn[0]}" if warn else ""), "bad" if warn else "faint")

    def _say(self, words: str, name: str) -> None:
        self.words.setObjectName(name)
        style = self.words.style()
        assert style is not None
        style.unpolish(self.words)
        style.polish(self.words)
        self.words.setText(words)
        self.adjustSize()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
            parent = self.parentWidget()
            if parent is not None:
                parent.setFocus()
        else:
            super().keyPressEvent(event)
