"""Working sizes out from readings: named conversions whose formula stays with the callout."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFormLayout, QHBoxLayout, QLabel, QLineEdit, QListWidget, QPushButton, QVBoxLayout, QWidget

from ...core.caliper.convert import CONVERSIONS, Conversion, Unanswered
from ...core.callout import NoteError, in_words
from ...core.job import edits
from ..session import Session
from ..theme.palette import Palette
from .pictures import Picture


class ConvertPanel(QWidget):
    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self.list = QListWidget()
        self.list.setAccessibleName("Conversions")
        self.list.addItems([c.title for c in CONVERSIONS])
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._on_row)
        self.picture = Picture(palette)
        self.why = QLabel()
        self.why.setWordWrap(True)
        self._form = QFormLayout()
        self._form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        self.fields: dict[str, QLineEdit] = {}
        self.label = QLineEdit()
        self.label.setAccessibleName("Label")
        self.label.setPlaceholderText("label, as in wall at the rim")
        self.result = QLabel()
        self.result.setWordWrap(True)
        self.take = QPushButton("Add as derived callout")
        self.take.clicked.connect(self.accept)
        middle = QVBoxLayout()
        middle.addWidget(self.picture, 0, Qt.AlignmentFlag.AlignHCenter)
        middle.addWidget(self.why)
        middle.addStretch()
        right = QVBoxLayout()
        right.addLayout(self._form)
        right.addWidget(self.label)
        right.addWidget(self.result)
        right.addStretch()
        right.addWidget(self.take, 0, Qt.AlignmentFlag.AlignRight)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 10, 14, 8)
        row.setSpacing(16)
        row.addWidget(self.list, 6)
        row.addLayout(middle, 3)
        row.addLayout(right, 5)
        session.edited.connect(self._show_result)
        self.list.setCurrentRow(0)

    def dress(self, palette: Palette) -> None:
        self.picture.dress(palette)

    @property
    def conversion(self) -> Conversion:
        return CONVERSIONS[max(0, self.list.currentRow())]

    def _on_row(self, row: int) -> None:
        while self._form.rowCount():
            self._form.removeRow(0)
        self.fields.clear()
        for wanted in self.conversion.inputs:
            field = QLineEdit()
            field.setObjectName("formula")
            field.setAccessibleName(wanted.label)
            field.setPlaceholderText("a number" if wanted.counted else "a size, or #12")
            field.textChanged.connect(self._show_result)
            self._form.addRow(wanted.label + (" (if any)" if wanted.optional else ""), field)
            self.fields[wanted.key] = field
        self.picture.show_picture(self.conversion.id)
        self.why.setText(self.conversion.why)
        self._show_result()

    def _note(self) -> str:
        unit = self._session.content.header.units
        return self.conversion.note({k: f.text() for k, f in self.fields.items()}, unit)

    def _show_result(self) -> None:
        try:
            reading = self._session.content.ledger().try_note(self._note())
        except (Unanswered, NoteError) as error:
            self.result.setText(error.message)
            self.take.setEnabled(False)
            return
        self.result.setText(f"{self._note()}\n{in_words(reading, self._session.content.header.style)}.")
        self.take.setEnabled(True)

    def accept(self) -> None:
        """Add the derived callout; its formula goes on following the callouts it names."""
        try:
            note = self._note()
            source = f"{self.conversion.title}: {self.conversion.why}"
            content, number = edits.add_callout(self._session.content, note, self.label.text(), "derived", None, source)
        except (Unanswered, NoteError) as error:
            self._session.say(error.message, "bad")
            return
        self._session.take(content, f"callout {number} worked out")
        self._session.select_callout(number)
        self._session.say(f"Callout {number} worked out.", "good")
        for field in (*self.fields.values(), self.label):
            field.clear()
