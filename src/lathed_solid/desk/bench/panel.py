"""The calipers: instrument, way of touching, readings as they come in, and what size was meant."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.caliper.device import ports
from ...core.caliper.instrument import WAYS, Way
from ...core.caliper.nominal import Suggestion, What
from ...core.quantity import ExpressionError, evaluate
from ...core.quantity.expression import Plain
from ..session import Session
from ..theme.palette import Palette
from .capture import Capture
from .pictures import Picture
from .standin import StandIn

_WHAT: dict[str, What] = {
    "diameter": "diameter", "length, width": "length", "bore": "bore", "across flats": "flats", "thread": "thread",
    "ball": "ball",
}  # fmt: skip
SIMULATED = (("Simulated caliper", "sim:caliper"), ("Simulated bench scale", "sim:scale"))


class _PortBox(QComboBox):
    """Looks for instruments each time it is opened: one may have been plugged in since."""

    def __init__(self, fill: Callable[[], None]) -> None:
        super().__init__()
        self._fill = fill

    def showPopup(self) -> None:
        chosen = self.currentData()
        self._fill()
        self.setCurrentIndex(max(0, self.findData(chosen)))
        super().showPopup()


class CaliperPanel(QWidget):
    def __init__(self, session: Session, capture: Capture, palette: Palette) -> None:
        super().__init__()
        self._session, self.capture = session, capture
        self.stand_in = StandIn(capture, self)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 10, 14, 8)
        row.setSpacing(16)
        row.addLayout(self._touch_column(palette), 5)
        row.addLayout(self._reading_column(), 4)
        row.addLayout(self._meaning_column(), 5)
        capture.changed.connect(self.refresh)
        capture.said.connect(self._on_said)
        session.edited.connect(self.refresh)
        self.refresh()

    def dress(self, palette: Palette) -> None:
        self.picture.dress(palette)

    # --- columns
    def _touch_column(self, palette: Palette) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(5)
        self.port = _PortBox(self.fill_ports)
        self.port.setAccessibleName("Instrument")
        self.plug = QPushButton("Connect")
        self.plug.clicked.connect(self.toggle_connection)
        top = QHBoxLayout()
        top.addWidget(self.port, 1)
        top.addWidget(self.plug)
        column.addLayout(top)
        self.status = QLabel("Type readings, or connect an instrument.")
        self.status.setObjectName("faint")
        self.status.setWordWrap(True)
        column.addWidget(self.status)
        grid = QGridLayout()
        grid.setSpacing(4)
        self.ways: dict[Way, QPushButton] = {}
        for at, (way, touch) in enumerate(WAYS.items()):
            button = QPushButton(touch.title.replace("Outside jaws over thread crests", "Thread crests"))
            button.setCheckable(True)
            button.setToolTip(f"{touch.gives}. {touch.mind}")
            button.clicked.connect(lambda _, w=way: self.capture.set_way(w))
            grid.addWidget(button, at // 2, at % 2)
            self.ways[way] = button
        column.addLayout(grid)
        shown = QHBoxLayout()
        self.picture = Picture(palette)
        self.advice = QLabel()
        self.advice.setObjectName("faint")
        self.advice.setWordWrap(True)
        self.advice.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.caution = QLabel()
        self.caution.setObjectName("faint")
        self.caution.setWordWrap(True)
        shown.addWidget(self.picture, 0, Qt.AlignmentFlag.AlignTop)
        shown.addWidget(self.advice, 1)
        column.addLayout(shown)
        column.addWidget(self.caution)
        column.addStretch()
        self.fill_ports()
        return column

    def _reading_column(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(5)
        row = QHBoxLayout()
        self.field = QLineEdit()
        self.field.setObjectName("formula")
        self.field.setAccessibleName("Reading")
        self.field.setPlaceholderText("reading, Enter")
        self.field.returnPressed.connect(self._on_typed)
        self.ask = QPushButton("Read")
        self.ask.setToolTip("Ask the connected instrument for a reading (its own data button does the same)")
        self.ask.clicked.connect(self.capture.ask_reading)
        row.addWidget(self.field, 1)
        row.addWidget(self.ask)
        column.addLayout(row)
        self.list = QListWidget()
        self.list.setAccessibleName("Readings")
        column.addWidget(self.list, 1)
        buttons = QHBoxLayout()
        self.drop = QPushButton("Drop chosen")
        self.drop.clicked.connect(self._on_drop)
        again = QPushButton("Start over")
        again.clicked.connect(self.capture.forget)
        buttons.addWidget(self.drop)
        buttons.addWidget(again)
        buttons.addStretch()
        column.addLayout(buttons)
        self.figures = QLabel()
        self.figures.setWordWrap(True)
        column.addWidget(self.figures)
        return column

    def _meaning_column(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(5)
        row = QHBoxLayout()
        self.what = QComboBox()
        self.what.setAccessibleName("What was measured")
        self.what.addItems(list(_WHAT))
        self.what.activated.connect(self._on_what)
        self.pitch = QLineEdit()
        self.pitch.setObjectName("formula")
        self.pitch.setAccessibleName("Pitch gauge")
        self.pitch.setPlaceholderText("pitch gauge")
        self.pitch.editingFinished.connect(self._on_pitch)
        row.addWidget(self.what, 1)
        row.addWidget(self.pitch, 1)
        column.addLayout(row)
        self.meant = QListWidget()
        self.meant.setAccessibleName("What was meant")
        self.meant.setWordWrap(True)
        self.meant.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.meant.itemDoubleClicked.connect(lambda _: self.accept())
        column.addWidget(self.meant, 1)
        names = QHBoxLayout()
        self.feature = QLineEdit()
        self.feature.setAccessibleName("Feature")
        self.feature.setPlaceholderText("feature, as in journal")
        self.operator = QLineEdit()
        self.operator.setAccessibleName("Initials")
        self.operator.setPlaceholderText("initials")
        self.operator.setMaximumWidth(72)
        names.addWidget(self.feature, 1)
        names.addWidget(self.operator)
        column.addLayout(names)
        row = QHBoxLayout()
        self.as_read = QPushButton("Keep as read")
        self.as_read.setToolTip("A callout with the mean itself, when none of the suggestions is right")
        self.as_read.clicked.connect(self.keep_as_read)
        self.take = QPushButton("Accept as callout")
        self.take.clicked.connect(self.accept)
        row.addWidget(self.as_read)
        row.addStretch()
        row.addWidget(self.take)
        column.addLayout(row)
        return column

    # --- the instrument
    def fill_ports(self) -> None:
        """Ports with something plugged in, then the stand-ins, then bare ports."""
        self.port.clear()
        found = ports()
        for plugged in (True, False):
            for path, words in found:
                if bool(words) == plugged:
                    self.port.addItem(words or path, path)
            if plugged:
                for words, path in SIMULATED:
                    self.port.addItem(words, path)

    def toggle_connection(self) -> None:
        if self.capture.connected:
            self.capture.disconnect_device()
            self.capture.unplug_simulated()
            self.status.setText("Put away. Readings are kept.")
            return
        path = self.port.currentData()
        if str(path).startswith("sim:"):
            if self.capture.connect_simulated(str(path)[4:]):
                self.stand_in.open()
        else:
            self.capture.connect_to(path)
        self.field.setFocus()

    def _on_said(self, words: str, tone: str) -> None:
        self.status.setText(words)
        self._session.say(words, tone)  # type: ignore[arg-type]

    # --- hands
    def _on_typed(self) -> None:
        """A typed reading, or one that a keyboard-wedge instrument typed."""
        text = self.field.text().strip()
        if not text:
            self.capture.ask_reading() if self.capture.connected else None
            return
        try:
            unit = "g" if self.capture.way == "weight" else self._session.content.header.units
            value = float(text.rstrip(" g")) if unit == "g" else evaluate(text, Plain(unit))
        except (ExpressionError, ValueError) as error:
            words = error.message if isinstance(error, ExpressionError) else "This is no number of grams."
            self._on_said(f"“{text}” is no reading: {words}", "bad")
            self.field.selectAll()
            return
        self.field.clear()
        self.capture.add(value)

    def _on_drop(self) -> None:
        if self.list.currentRow() >= 0:
            self.capture.drop(self.list.currentRow())

    def _on_what(self, index: int) -> None:
        self.capture.what = list(_WHAT.values())[index]
        self.capture.changed.emit()

    def _on_pitch(self) -> None:
        text = self.pitch.text().strip()
        try:
            self.capture.pitch = evaluate(text, Plain(self._session.content.header.units)) if text else None
        except ExpressionError as error:
            self._on_said(f"Pitch gauge: {error.message}", "bad")
            return
        self.capture.changed.emit()

    def _names(self) -> None:
        self.capture.feature, self.capture.operator = self.feature.text().strip(), self.operator.text().strip()

    def chosen(self) -> Suggestion | None:
        item = self.meant.currentItem()
        return item.data(Qt.ItemDataRole.UserRole) if item is not None else None

    def accept(self) -> None:
        """The chosen suggestion becomes a callout; a weight becomes the stated mass."""
        self._names()
        if self.capture.way == "weight":
            if self.capture.take_mass():
                self._session.say(
                    "The weighed mass is now the stated mass; the proof compares the model with it.", "good"
                )
            return
        suggestion = self.chosen()
        if suggestion is None:
            self._on_said("Choose what was meant, or keep the reading as it is.", "warn")
            return
        self._taken(self.capture.accept(suggestion.note))

    def keep_as_read(self) -> None:
        """The mean itself as a callout, or a weight into the logbook only."""
        self._names()
        summary = self.capture.summary
        if self.capture.way == "weight":
            self.capture.note_only()
        elif summary is not None:
            text = self._session.content.header.typed_style.length(summary.mean)
            prefix = {"diameter": "Ø", "bore": "Ø", "thread": "Ø", "ball": "SØ"}.get(self.capture.what, "")
            suffix = " A/F" if self.capture.what == "flats" else ""
            self._taken(self.capture.accept(f"{prefix}{text}{suffix}"))

    def _taken(self, number: int | None) -> None:
        if number is not None:
            self.feature.clear()
            self.pitch.clear()
            self._session.say(f"Callout {number} measured and logged.", "good")
            self.field.setFocus()

    # --- showing
    def refresh(self) -> None:
        c = self.capture
        for way, button in self.ways.items():
            button.setChecked(way == c.way)
        touch = WAYS[c.way]
        self.picture.show_picture(c.way)
        self.advice.setText(touch.mind)
        self.caution.setText(touch.caution)
        self.plug.setText("Put away" if c.connected else "Connect")
        self.ask.setEnabled(c.connected)
        self.what.setCurrentIndex(list(_WHAT.values()).index(c.what))
        self.what.setEnabled(c.way != "weight")
        self.pitch.setVisible(c.what == "thread")
        self.take.setText("Accept as stated mass" if c.way == "weight" else "Accept as callout")
        self.as_read.setText("Log only" if c.way == "weight" else "Keep as read")
        self._show_readings()
        self._show_meant()

    def _show_readings(self) -> None:
        c, style = self.capture, self._session.content.header.style
        summary = c.summary
        self.list.clear()
        for i, value in enumerate(c.values):
            shown = f"{value:.2f} g" if c.way == "weight" else f"{style.fixed(value)} {style.unit}"
            out = summary is not None and i in summary.outliers
            self.list.addItem(f"{i + 1}    {shown}" + ("    far off, left out" if out else ""))
        self.list.scrollToBottom()
        if summary is None:
            self.figures.setText("No reading yet.")
            return
        if c.way == "weight":
            self.figures.setText(f"mean {summary.mean:.3f} ± {summary.U:.3f} g (k = {summary.k:.2f})")
            return
        lean = ""
        if summary.high > 0.004 or summary.low < -0.004:
            worst = summary.high if summary.high > -summary.low else summary.low
            lean = f"; by this way of touching the part may be {style.length(worst)} off"
        self.figures.setText(
            f"mean {style.fixed(summary.mean)} ± {style.length(summary.U)} {style.unit} (95 %, k = {summary.k:.2f}), "
            f"spread {style.length(summary.spread)}{lean}"
        )

    def _show_meant(self) -> None:
        chosen = self.chosen()
        self.meant.clear()
        style = self._session.content.header.style
        for s in self.capture.suggestions():
            fits = f"; within {', '.join(s.fits)}" if s.fits else ""
            share = f"{s.share:.0%}" if s.share >= 0.01 else "under 1%"
            text = f"{s.note}    {share}\n{s.reason}, off by {style.length(s.off)}{fits}"
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, s)
            self.meant.addItem(item)
            if chosen is not None and s.note == chosen.note:
                self.meant.setCurrentItem(item)
        if self.meant.currentRow() < 0 and self.meant.count():
            self.meant.setCurrentRow(0)
