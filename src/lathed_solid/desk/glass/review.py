"""The review of one offer by keys alone: its piece of the picture, what was read there, why it is not sure.

Enter takes the note as it stands in the line, up and down go through the list, Ctrl+Delete says that it is no size.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QPixmap, QTransform
from PyQt6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from ...core.callout import NoteError, in_words
from ...core.drawing.paper import Raster
from ...core.drawing.proposals import Proposal
from ..session import Session

#: Height of the shown piece, pixels.
_HIGH = 62


class _Line(QLineEdit):
    """A line in which the keys that go through a list mean that."""

    stepped = pyqtSignal(int)
    dropped = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event.key() in steps:
            self.stepped.emit(steps[Qt.Key(event.key())])
        elif event.key() == Qt.Key.Key_Delete and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.dropped.emit()
        else:
            super().keyPressEvent(event)


class Review(QWidget):
    """``taken`` carries the note as it stands."""

    taken = pyqtSignal(str)
    stepped = pyqtSignal(int)
    dropped = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.crop = QLabel()
        self.crop.setFixedHeight(_HIGH)
        self.crop.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.crop.setAccessibleName("The piece of the picture")
        self.line = _Line()
        self.line.setObjectName("formula")
        self.line.setAccessibleName("What it says")
        self.line.setToolTip("Enter takes it and goes on; up and down go through the list; Ctrl+Delete: not a size")
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setObjectName("faint")
        self.words.setMinimumHeight(46)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        for widget in (self.crop, self.line, self.words):
            layout.addWidget(widget)
        self.line.textChanged.connect(self._on_text)
        self.line.returnPressed.connect(lambda: self.taken.emit(self.line.text()))
        self.line.stepped.connect(self.stepped)
        self.line.dropped.connect(self.dropped)
        self._shown: Proposal | None = None

    def show_offer(self, offer: Proposal | None) -> None:
        """Another offer, or none; a note that is being typed for the same one stays."""
        self.setEnabled(offer is not None)
        if offer == self._shown:
            return
        self._shown = offer
        self.crop.clear()
        self.line.setText(" ".join(offer.note.split("\n")) if offer is not None else "")
        self.line.selectAll()
        self._on_text(self.line.text())

    def show_piece(self, raster: Raster, turns: int) -> None:
        image = QImage(raster.rgb, raster.width, raster.height, 3 * raster.width, QImage.Format.Format_RGB888)
        image = image.transformed(QTransform().rotate(90 * turns))
        room = self.crop.size() * self.devicePixelRatioF()
        piece = QPixmap.fromImage(image).scaled(
            room, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        piece.setDevicePixelRatio(self.devicePixelRatioF())
        self.crop.setPixmap(piece)

    @property
    def offer(self) -> Proposal | None:
        return self._shown

    def refuse(self, words: str) -> None:
        self.words.setText(words)

    def _on_text(self, text: str) -> None:
        if not text.strip() or self._shown is None:
            self.words.setText("")
            return
        try:
            reading = self._session.content.ledger().try_note(text)
            means = f"{in_words(reading, self._session.content.header.style)}."
        except NoteError as error:
            means = error.message
        doubts = "; ".join(self._shown.doubts)
        self.words.setText(f"{means}\nLook at it: {doubts}." if doubts else means)
