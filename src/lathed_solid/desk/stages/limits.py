"""The tab Limits: what the callouts' limits leave of a stack, a clearance, the mass, a measurement."""

from __future__ import annotations

import math

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QTableWidgetItem, QVBoxLayout, QWidget

from ...core.callout.words import pretty
from ...core.job.carried import Carried, What, chains
from ...core.job.measures import figure_text
from ...core.job.model import Content
from ...core.quantity import Style
from ...core.quantity.style import mass
from ..lists import plain_table
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call
from ..theme.palette import Palette
from ..timing import one_shot

_HOW = (
    "Write what is to be watched: a stack as #6-#2-#4, the clearance of a fit as #8-#3; or choose the volume, the "
    "mass, or a measurement that is kept. Every callout's limits are carried through to it."
)
_HEADS = ("No.", "Note", "Limits", "Moves it from", "to", "Share")
_ROLE = Qt.ItemDataRole.UserRole


class Histogram(QWidget):
    """How often the draws came to what, with the worst cases as dashed lines."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.palette_ = palette
        self.shown: Carried | None = None
        self.setMinimumSize(170, 70)
        self.setAccessibleName("How often it comes to what")

    def show_figure(self, carried: Carried | None) -> None:
        self.shown = carried
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        c = self.shown
        if c is None or not c.bars:
            return
        painter, p = QPainter(self), self.palette_
        low, high = min(c.worst[0], c.least), max(c.worst[1], c.most)
        span, wide, high_px = max(high - low, 1e-12), self.width() - 8, self.height() - 6

        def x(value: float) -> float:
            return float(4 + (value - low) / span * wide)

        step, top = (c.most - c.least) / len(c.bars), max(c.bars)
        for at, count in enumerate(c.bars):
            tall = count / top * (high_px - 6)
            left, right = x(c.least + at * step), x(c.least + (at + 1) * step)
            painter.fillRect(QRectF(left, high_px - tall, max(1.0, right - left - 0.5), tall), p.color("brass"))
        painter.setPen(QPen(p.color("rule"), 1))
        painter.drawLine(4, high_px, self.width() - 4, high_px)
        painter.setPen(QPen(p.color("ink"), 1.2, Qt.PenStyle.DashLine))
        for value in c.worst:
            painter.drawLine(round(x(value)), 2, round(x(value)), high_px)
        painter.setPen(QPen(p.color("ink"), 1.2))
        painter.drawLine(round(x(c.made)), 2, round(x(c.made)), high_px)
        painter.end()


class LimitsPanel(SeenPanel):
    """What came counts only for the part it was worked out for."""

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__(session)
        self._found = OfPart[Carried](session)
        self.what, self.go = QComboBox(), QPushButton("Carry through")
        self.what.setEditable(True)
        self.what.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.what.setAccessibleName("What is watched")
        line = self.what.lineEdit()
        assert line is not None
        line.setObjectName("formula")
        line.setPlaceholderText("#6-#2-#4")
        self._soon = one_shot(self, 0)
        self._soon.timeout.connect(self.carry)
        line.returnPressed.connect(self._soon.start)  # Enter comes twice through a box that can be typed into
        self.go.clicked.connect(self.carry)
        self.state, self.figures = QLabel(_HOW), QLabel()
        self.state.setWordWrap(True)
        self.figures.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.bars = Histogram(palette)
        self.table = plain_table("Which sizes move it", _HEADS, wide=1)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        self._lay_out()
        session.carried.connect(self._on_carried)

    def _lay_out(self) -> None:
        bar = QHBoxLayout()
        bar.addWidget(self.what, 1)
        bar.addWidget(self.go)
        left = QVBoxLayout()
        left.addWidget(self.figures)
        left.addWidget(self.bars, 1)
        halves = QHBoxLayout()
        halves.setSpacing(14)
        halves.addLayout(left, 2)
        halves.addWidget(self.table, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addLayout(halves, 1)

    def dress(self, palette: Palette) -> None:
        self.bars.palette_ = palette
        self.bars.update()

    # --- asking
    def carry(self) -> None:
        text = self.what.currentText().strip()
        at = self.what.findText(text)
        chosen: tuple[What, str] = self.what.itemData(at) if at >= 0 else ("formula", text)
        what, of = chosen
        if not of and what == "formula":
            self._session.say("Write what is to be watched first, as #6-#2-#4.", "warn")
            return
        self._session.carry(what, of)
        self.state.setText("The limits are carried through. You can go on working.")

    def _on_carried(self, job: OpenJob, content: Content, found: Carried | None) -> None:
        self._found.keep(job, content, found)
        self._refresh_seen()

    @property
    def carried(self) -> Carried | None:
        """What came of the part as it is now."""
        return self._found.now

    # --- what is shown
    def _on_chosen(self) -> None:
        c, row = self.carried, self.table.currentRow()
        if c is not None and 0 <= row < len(c.shares):
            self._session.select_callout(c.shares[row].number)

    def refresh(self) -> None:
        self._fill_choices(self._session.content)
        c, style = self.carried, self._session.content.header.style
        self.bars.show_figure(c)
        self.table.blockSignals(True)
        self.table.setRowCount(len(c.shares) if c is not None else 0)
        for at, s in enumerate(c.shares if c is not None else ()):
            assert c is not None
            angle = "°" in s.note and c.kind == "angle"
            limits = " … ".join(_told(v, "angle" if angle else "length", style) for v in (s.lower, s.upper))
            ends = [_told(v, c.kind, style) for v in sorted((s.at_lower, s.at_upper))]
            for column, text in enumerate((str(s.number), pretty(s.note), limits, *ends, f"{s.share:.0%}")):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.table.setItem(at, column, item)
        self.table.blockSignals(False)
        self.figures.setText(_figures(c, style) if c is not None else "")
        call(self.state, "plain" if c is not None else "faint")
        self.state.setText(_words(c) if c is not None else _HOW)

    def _fill_choices(self, content: Content) -> None:
        choices: list[tuple[str, tuple[What, str]]] = [(f, ("formula", f)) for f in chains(content)]
        choices += [("volume", ("volume", "")), ("mass", ("mass", ""))]
        choices += [(f"kept: {k.what} ({k.id})", ("kept", k.id)) for k in content.kept]
        if [self.what.itemText(k) for k in range(self.what.count())] == [text for text, _ in choices]:
            return
        text = self.what.currentText()
        self.what.clear()
        for words, data in choices:
            self.what.addItem(words, data)
        self.what.setEditText(text)


def _told(value: float, kind: str, style: Style) -> str:
    if kind == "angle":
        return f"{math.degrees(value):.3f}°"
    if kind in ("volume", "mass"):
        return style.volume(value) if kind == "volume" else mass(value)
    return style.fixed(value) if kind == "length" else figure_text(value, kind, style)


def _figures(c: Carried, style: Style) -> str:
    def pair(ends: tuple[float, float]) -> str:
        return " … ".join(_told(v, c.kind, style) for v in ends)

    rows = (
        ("As made", _told(c.made, c.kind, style)), ("Worst case", pair(c.worst)), ("Root sum square", pair(c.squares)),
        ("Monte Carlo, 99.73 %", pair(c.drawn)),
    )  # fmt: skip
    cells = "".join(f"<tr><td style='padding-right:12px'>{a}</td><td align='right'>{b}</td></tr>" for a, b in rows)
    return f"<table>{cells}</table>"


def _words(c: Carried) -> str:
    """What the limits mean for a clearance or a stack, and what of them is not in it."""
    said = [_meant(c)]
    if c.left_out:
        said.append(f"Not in it: callouts {_numbers(c.left_out)}, at whose limits the part cannot be built.")
    if c.others:
        said.append(f"Of callouts {_numbers(c.others)} only the main size is carried.")
    return " ".join(said)


def _numbers(numbers: tuple[int, ...]) -> str:
    return ", ".join(map(str, numbers))


def _meant(c: Carried) -> str:
    if c.what != "formula" or c.kind != "length":
        return "Worst case: every size at the limit that moves it most. The sizes are ranked by what they do to it."
    low, high = c.worst
    if low > 0:
        return "There is always room: even at the worst it stays above zero."
    if high < 0:
        return "It always interferes: even at the best it stays below zero."
    if low < 0 < high:
        return "Between room and interference: parts within their limits may do either."
    return "At the worst it just touches zero."
