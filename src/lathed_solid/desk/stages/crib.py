"""Right column of Read: the chosen callout in words, and how notes are written."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFormLayout, QFrame, QLabel, QVBoxLayout, QWidget

from ...core.callout import NoteError, in_words
from ...core.callout.words import limits_text, pretty, value_text
from ...core.job import edits
from ..session import Session

_NOTES = (
    ("22    142 - 38.5    #2/2", "a length, a sum, half of callout 2"),
    ("Ø12 h6    dia 20 H7", "a diameter with a fit"),
    ("9 ±0.1    30 +0.2/-0.1", "own limits"),
    ("R1    1 x 45°    C0.5", "radius, chamfers"),
    ("2 5/8    7/32 in + 4 mm", "inches and millimetres"),
    ("M6x1 - 6H 14 deep drill 5 dp 18", "a tapped hole"),
    ("6x Ø5.5 THRU cbore 10 dp 5.4", "counterbored holes"),
    ("6x Ø18 THRU on Ø66 first at 30°", "on a pitch circle"),
    ("Ø5 12 deep csk Ø10 x 90°", "a countersunk hole"),
)


class Crib(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 9, 12, 10)
        layout.setSpacing(6)
        title = QLabel("What it says")
        title.setObjectName("title")
        self._words = QLabel()
        self._words.setWordWrap(True)
        self._sizes = QFormLayout()
        self._sizes.setSpacing(4)
        rule = QFrame()
        rule.setObjectName("rule")
        how = QLabel("How notes are written")
        how.setObjectName("title")
        layout.addWidget(title)
        layout.addWidget(self._words)
        layout.addLayout(self._sizes)
        layout.addSpacing(8)
        layout.addWidget(rule)
        layout.addSpacing(4)
        layout.addWidget(how)
        for note, meaning in _NOTES:
            example, words = QLabel(note), QLabel(meaning)
            example.setObjectName("figures")
            example.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            words.setObjectName("faint")
            layout.addWidget(example)
            layout.addWidget(words)
        layout.addStretch()
        session.selected.connect(self.refresh)
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)

    def refresh(self) -> None:
        while self._sizes.rowCount():
            self._sizes.removeRow(0)
        content, number = self._session.content, self._session.callout
        if number is None or not any(c.number == number for c in content.callouts):
            self._words.setText("Choose a callout to see it in words, or type a new one in the entry line.")
            return
        try:
            reading = content.ledger().reading(number)
        except (NoteError, LookupError) as error:
            self._words.setText(str(error))
            return
        style = content.header.style
        used = edits.where_used(content, number)
        note = next(c.note for c in content.callouts if c.number == number)
        self._words.setText(
            f"{number}   {pretty(note)}\n{in_words(reading, style)}.\n"
            f"Used by {', '.join(used) if used else 'nothing yet'}."
        )
        for c in reading.characteristics:
            if c.key in ("count", "thru"):
                continue
            value = QLabel(f"{value_text(c, style)}   {limits_text(c, style)}")
            value.setObjectName("figures")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setToolTip(c.basis)
            self._sizes.addRow((c.key or c.kind).replace("_", " "), value)
