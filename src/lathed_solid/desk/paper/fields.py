"""What a drawing sheet says of itself: which one, its paper, scale and notes; and the view chosen on it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import NamedTuple

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
)

from ...core.drafting.sheet.changing import set_sheet
from ...core.drafting.sheet.model import Sheet
from ...core.drafting.sheet.paper import INCH_SCALES, SCALES, SIZES
from ..lists import titled
from ..pages import Form
from .card import ViewCard
from .doing import Doings
from .drawing import SheetDrawing


class Tick(NamedTuple):
    """Something that a sheet has or not: its label, what it means, and how it is switched."""

    label: str
    words: str
    switch: Callable[[Sheet, bool], Sheet]


class SheetFields(Form):
    """``focus_wanted``: the sheet itself is to have the keyboard. ``ticks`` are what else can be switched, by the field
    of the sheet.
    """

    focus_wanted = pyqtSignal()

    def __init__(self, drawing: SheetDrawing, doings: Doings, ticks: Mapping[str, Tick]) -> None:
        super().__init__()
        self._drawing = drawing
        self.which, self.paper, self.scale, self.notes = QComboBox(), QComboBox(), QComboBox(), QLineEdit()
        self.new, self.remove = QPushButton("New sheet"), QPushButton("Remove")
        self.ticks = {name: QCheckBox(tick.label) for name, tick in ticks.items()}
        for name, tick in ticks.items():
            self.ticks[name].setToolTip(tick.words)
            self.ticks[name].toggled.connect(partial(self._switch, tick))
        self.view = ViewCard(drawing, doings)
        self._set_up()
        self._lay_out()
        drawing.changed.connect(self.refresh)
        self.refresh()

    def _set_up(self) -> None:
        for field, name in (
            (self.which, "Which sheet"), (self.paper, "Paper"), (self.scale, "Scale of the sheet"),
            (self.notes, "Notes on the sheet"),
        ):  # fmt: skip
            field.setAccessibleName(name)
        self.paper.addItems(list(SIZES))
        self.scale.setEditable(True)
        self.notes.setPlaceholderText("one note; more with a bar | between")
        self.which.activated.connect(lambda at: self._drawing.look_at(self._drawing.sheets[at].id))
        self.new.clicked.connect(self._on_new)
        self.remove.clicked.connect(self._drawing.remove_sheet)
        self.paper.textActivated.connect(lambda text: self._set("paper", size=text))
        self.scale.textActivated.connect(lambda text: self._set("scale of the sheet", scale=text.strip()))
        line = self.scale.lineEdit()
        assert line is not None
        line.editingFinished.connect(lambda: self._set("scale of the sheet", scale=self.scale.currentText().strip()))
        self.notes.editingFinished.connect(lambda: self._set("notes", notes=_lines(self.notes.text())))

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.addWidget(self.new)
        top.addWidget(self.remove)
        top.addStretch()
        form = QFormLayout()
        for label, field in (
            ("Shown", self.which), ("Paper", self.paper), ("Scale", self.scale), ("Notes", self.notes),
        ):  # fmt: skip
            form.addRow(label, field)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(titled("Sheet"))
        layout.addLayout(form)
        boxes = list(self.ticks.values())
        for few in (boxes[:2], *([box] for box in boxes[2:])):
            row = QHBoxLayout()
            for box in few:
                row.addWidget(box)
            row.addStretch()
            form.addRow("", row)
        layout.addLayout(top)
        layout.addWidget(self.view)

    # --- what is done
    def _set(self, words: str, **fields: object) -> None:
        sheet = self._drawing.sheet
        if sheet is None or all(getattr(sheet, name) == value for name, value in fields.items()):
            return
        if not self._drawing.edit(lambda s: set_sheet(s, **fields), f"{words} changed"):
            self.refresh()

    def _switch(self, tick: Tick, on: bool) -> None:
        said = tick.label.lower()
        self._drawing.edit(lambda s: tick.switch(s, on), said if on else f"no {said}")

    def _on_new(self) -> None:
        """While one is being laid out the button rests: the focus must not fall to the next, which writes a file."""
        self.focus_wanted.emit()
        self._drawing.propose()

    # --- what is shown
    def refresh(self) -> None:
        drawing, sheet = self._drawing, self._drawing.sheet
        self.which.clear()
        self.which.addItems([_titled(n, s) for n, s in enumerate(drawing.sheets, 1)])
        for widget in (self.which, self.remove, self.paper, self.scale, self.notes, *self.ticks.values()):
            widget.setEnabled(sheet is not None)
        self.new.setEnabled(not drawing.is_proposing and drawing.is_there)
        if sheet is None:
            return
        self.which.setCurrentIndex(drawing.sheets.index(sheet))
        self.paper.setCurrentText(sheet.size)
        scales = INCH_SCALES if drawing.style.unit == "in" else SCALES
        if self.scale.itemText(0) != scales[0]:
            self.scale.clear()
            self.scale.addItems(scales)
        self.scale.setCurrentText(sheet.scale)
        if not self.notes.hasFocus():
            self.notes.setText(" | ".join(sheet.notes.splitlines()))
        for name, box in self.ticks.items():
            box.blockSignals(True)
            box.setChecked(bool(getattr(sheet, name)))
            box.blockSignals(False)


def _titled(number: int, sheet: Sheet) -> str:
    return f"{number}   {sheet.name or sheet.size}, {sheet.scale}"


def _lines(text: str) -> str:
    return "\n".join(part.strip() for part in text.split("|") if part.strip())
