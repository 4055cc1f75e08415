"""Right column of Read: the chosen callout in words, and how notes are written."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFormLayout, QFrame, QLabel, QVBoxLayout, QWidget

from ...core.callout import in_words
from ...core.callout.words import limits_text, pretty, value_text
from ...core.job import walk
from ...core.refusal import Refusal
from ..session import Session

_NOTES = (
    ("22    142 - 38.5    #2/2", "a length, a sum, half of callout 2"),
    ("Ø12 h6    .500/.498 DIA", "a diameter with a fit, with limits"),
    ("9 ±0.1  30 +0.2/-0.1  R0.4 MAX", "own limits"),
    ("148 REF    98 BASIC    12 TYP", "also (148) and [98]"),
    ("R1    1 x 45°    CHAM 1 x 2", "radius, chamfers"),
    ("2 5/8   30°15'   1:10   13 A/F", "inches, angle, taper, flats"),
    ("M6x1 - 6H 14 deep    G1/4", "threads; the drill is completed"),
    ("10-24 UNC-2B .38 deep", "unified threads"),
    ("6x Ø5.5 THRU cbore 10 dp 5.4", "counterbored holes"),
    ("M6 clearance THRU cbore M6", "sizes from the screw"),
    ("4x Ø7 THRU EQ SP on 60 PCD", "on a pitch circle"),
    ("keyway 5 x 22.3 across bore", "a keyway"),
    ("Ø30 g6 Ra 0.8 runout 0.02 A", "finish, form and place"),
    ("datum A    flatness 0.02", "put on a face: Prove, Measure"),
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
        self.cutout = QLabel()
        self.cutout.setAccessibleName("The number on the drawing")
        self._sizes = QFormLayout()
        self._sizes.setSpacing(4)
        rule = QFrame()
        rule.setObjectName("rule")
        how = QLabel("How notes are written")
        how.setObjectName("title")
        layout.addWidget(title)
        layout.addWidget(self._words)
        layout.addWidget(self.cutout)
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
        self.cutout.hide()
        if number is None or not any(c.number == number for c in content.callouts):
            self._words.setText("Choose a callout to see it in words, or type a new one in the entry line.")
            return
        try:
            reading = content.ledger().reading(number)
        except Refusal as error:
            self._words.setText(str(error))
            return
        style = content.header.style
        used = walk.where_used(content, number)
        callout = next(c for c in content.callouts if c.number == number)
        note = callout.note
        if callout.place is not None and callout.place.cutout:
            picture = QPixmap(str(self._session.store.folder / callout.place.cutout))
            if not picture.isNull():
                self.cutout.setPixmap(picture.scaledToWidth(230, Qt.TransformationMode.SmoothTransformation))
                self.cutout.show()
        self._words.setText(
            f"{number}   {pretty(note)}\n{in_words(reading, style)}.\n"
            f"Used by {', '.join(used) if used else 'nothing yet'}."
            + (f"\n{callout.source[:1].upper()}{callout.source[1:]}." if callout.source else "")
        )
        for c in reading.characteristics:
            if c.key in ("count", "thru"):
                continue
            value = QLabel(f"{value_text(c, style)}   {limits_text(c, style)}")
            value.setObjectName("figures")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setToolTip(c.basis)
            self._sizes.addRow((c.key or c.kind).replace("_", " "), value)
