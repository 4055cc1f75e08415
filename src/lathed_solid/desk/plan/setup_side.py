"""Right column while set-ups are looked at: one of them, how it is held, its picture, and what to measure there."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QFormLayout,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.kernel.ground.figures import Vector
from ...core.plan.sheet.approach import LEVEL_WAYS, is_same
from ...core.plan.sheet.cautions import GENERAL
from ...core.plan.sheet.telling import limits, what, with_what
from ...core.plan.sheet.worked import WorkedSetUp, side
from ...core.quantity import evaluate
from ...core.quantity.expression import Plain
from ...core.refusal import Refusal
from ..lists import plain_table
from ..picking import Picking
from ..session import Session
from .sheet import PICTURE, Sheet, holding_words

#: Height of a row of two lines, and so many are seen at once.
_ROW, _ROWS = 38, 6


class SetUpSide(QScrollArea):
    """Nothing is worked out here."""

    def __init__(self, session: Session, picking: Picking, sheet: Sheet) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._session, self._picking, self._sheet = session, picking, sheet
        self._ways: list[Vector] = []
        inside = QWidget()
        inside.setObjectName("panel")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(inside)
        layout.setContentsMargins(14, 9, 12, 10)
        layout.setSpacing(6)
        self.title = QLabel("Set-up")
        self.title.setObjectName("title")
        self.title.setWordWrap(True)
        self.picture = QLabel()
        self.picture.setFixedHeight(PICTURE[1])
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.checks = plain_table("What to measure here", ("", "Measure, and with what"), wide=1, height=_ROW)
        self.checks.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.checks.cellClicked.connect(self._on_check)
        self.burrs, self.cautions = _words("faint"), _words("faint")
        layout.addWidget(self.title)
        layout.addWidget(self.picture)
        layout.addLayout(self._form())
        for widget in (_words("", "Measure before it comes out"), self.checks, self.burrs, self.cautions):
            layout.addWidget(widget)
        layout.addStretch()
        self.setWidget(inside)
        sheet.changed.connect(self.refresh)
        sheet.pictured.connect(self._show_picture)
        picking.changed.connect(self._show_able)

    def _form(self) -> QFormLayout:
        form = QFormLayout()
        form.setSpacing(4)
        self.held, self.way = QComboBox(), QComboBox()
        self.held.setAccessibleName("Held in")
        for combo in (self.held, self.way):
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(8)
        for id_, words in holding_words():
            self.held.addItem(words, id_)
        self.held.activated.connect(lambda at: self._sheet.change("how it is held", holding=self.held.itemData(at)))
        self.way.setAccessibleName("Tool comes from")
        self.way.activated.connect(self._on_way)
        self.seat = _words("")
        self.on_picked = QPushButton("Picked face")
        self.on_picked.setToolTip("It lies or stops on the face picked on the part")
        self.on_picked.clicked.connect(self._on_seat)
        self.free = QPushButton("Usual")
        self.free.setToolTip("On the flat face that lies farthest from the tool")
        self.free.clicked.connect(lambda: self._sheet.change("seat as usual", seat=None))
        self.minutes = QLineEdit()
        self.minutes.setAccessibleName("Minutes to set up")
        self.minutes.editingFinished.connect(self._on_minutes)
        self.note = QLineEdit()
        self.note.setAccessibleName("Note")
        self.note.setPlaceholderText("soft jaws, parallels, stop …")
        self.note.editingFinished.connect(self._on_note)
        seats = QHBoxLayout()
        seats.addWidget(self.on_picked)
        seats.addWidget(self.free)
        seats.addStretch()
        form.addRow("Held in", self.held)
        form.addRow("Tool from", self.way)
        form.addRow("Seats on", self.seat)
        form.addRow("", seats)
        form.addRow("Setting up, min", self.minutes)
        form.addRow("Note", self.note)
        return form

    # --- what is changed
    def _on_way(self, at: int) -> None:
        if 0 <= at < len(self._ways):
            self._sheet.change("where the tool comes from", up=self._ways[at])

    def _on_seat(self) -> None:
        picks = self._picking.faces
        if len(picks) == 1:
            self._sheet.change("seat", seat=self._picking.reference(picks[0]))

    def _on_minutes(self) -> None:
        chosen, text = self._sheet.chosen, self.minutes.text().strip()
        if chosen is None or text == f"{chosen.setup.minutes:g}":
            return
        try:
            value = evaluate(text, Plain("mm"), "number") if text else 0.0
        except Refusal as error:
            self._session.refuse(error)
        else:
            self._sheet.change("time of setting up", minutes=value)
        if (chosen := self._sheet.chosen) is not None:
            self.minutes.setText(f"{chosen.setup.minutes:g}")  # what was refused stays no longer

    def _on_note(self) -> None:
        chosen, text = self._sheet.chosen, self.note.text().strip()
        if chosen is not None and text != chosen.setup.note:
            self._sheet.change("note of a set-up", note=text)

    def _on_check(self, row: int, _: int) -> None:
        chosen = self._sheet.chosen
        if chosen is not None and row < len(chosen.checks):
            sized = chosen.checks[row].sized
            self._session.select_callout(sized.number)
            self._picking.show(sized.faces)

    # --- what is shown
    def refresh(self) -> None:
        chosen = self._sheet.chosen
        inside = self.widget()
        assert inside is not None
        inside.setEnabled(chosen is not None)
        if chosen is None or self._sheet.built is None:
            self.title.setText("Set-up")
            self.checks.setRowCount(0)
            for label in (self.burrs, self.cautions, self.seat):
                label.clear()
            self.picture.clear()
            return
        self.title.setText(f"{self._sheet.at + 1}  {chosen.title}")
        self.held.setCurrentIndex(self.held.findData(chosen.setup.holding))
        self._show_ways(chosen)
        style, turned = self._session.content.header.style, self._sheet.built.turned
        at = self._session.current.machine
        seat = at.seen(chosen.seat).describe(style, turned) if chosen.seat is not None else "no flat face there"
        self.seat.setText(chosen.lost_seat or seat)
        if not self.minutes.hasFocus():
            self.minutes.setText(f"{chosen.setup.minutes:g}")
        if not self.note.hasFocus():
            self.note.setText(chosen.setup.note)
        self._show_checks(chosen)
        self.burrs.setText(f"Deburr: {'; '.join(chosen.burrs)}." if chosen.burrs else "")
        self.cautions.setText("\n".join(f"⚠ {c}" for c in (*chosen.cautions, GENERAL)))
        self._show_picture()
        self._show_able()

    def _show_ways(self, chosen: WorkedSetUp) -> None:
        built = self._sheet.built
        assert built is not None
        ways = list(LEVEL_WAYS)
        for way in (chosen.setup.up, *(w for s in self._sheet.setups for line in s.lines for w in line.operation.ways)):
            if not any(is_same(way, other) for other in ways):
                ways.append(way)
        self._ways = ways
        self.way.clear()
        self.way.addItems([side(w, built, self._session.current.machine) for w in ways])
        self.way.setCurrentIndex(next(k for k, w in enumerate(ways) if is_same(w, chosen.setup.up)))

    def _show_checks(self, chosen: WorkedSetUp) -> None:
        style, before = self._session.content.header.style, 0
        self.checks.setRowCount(len(chosen.checks))
        for row, check in enumerate(chosen.checks):
            number, again = check.sized.number, check.sized.number == before
            low, high = limits(check, style)
            text = f"{what(check, again)}: {low} … {high}"
            told = f"{'⚠ ' if check.chain else ''}{text}\n{with_what(check)}"
            for column, cell in enumerate(("" if again else str(number), told)):
                item = QTableWidgetItem(cell)
                item.setToolTip(f"{text}. {check.chain}".rstrip(". "))
                self.checks.setItem(row, column, item)
            before = number
        rows = min(len(chosen.checks), _ROWS)
        self.checks.setFixedHeight(32 + _ROW * max(1, rows))

    def _show_picture(self) -> None:
        pixels = QPixmap()
        data = self._sheet.picture()
        if data and pixels.loadFromData(data):
            self.picture.setPixmap(pixels)
        else:
            self.picture.setText("drawing …" if self._sheet.chosen is not None else "")

    def _show_able(self) -> None:
        chosen = self._sheet.chosen
        self.on_picked.setEnabled(len(self._picking.faces) == 1)
        self.free.setEnabled(chosen is not None and chosen.setup.seat is not None)


def _words(name: str, text: str = "") -> QLabel:
    label = QLabel(text)
    label.setObjectName(name)
    label.setWordWrap(True)
    return label
