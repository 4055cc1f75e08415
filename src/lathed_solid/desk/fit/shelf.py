"""Bought parts from their tables: put into the assembly, or straight into the hole that is picked."""

from __future__ import annotations

from contextlib import suppress

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.fit.model import End
from ...core.job.bought.made import bought
from ...core.job.model import Content
from ...core.kernel.ground.figures import Surface
from ...core.refusal import Refusal
from ...core.standards.fasteners import CATALOGUE, LENGTHS, Kind, nearest, sizes
from ...core.standards.tables import NotTabled
from .document import FitDocument


class Shelf(QWidget):
    """``wanted``: the job of a bought part, what it is called, and the face it is for (None: none)."""

    wanted = pyqtSignal(object, str, object)

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.kind, self.of_size, self.length = QComboBox(), QComboBox(), QComboBox()
        for box, name in ((self.kind, "Kind of part"), (self.of_size, "Size"), (self.length, "Length")):
            box.setAccessibleName(name)
        for kind, what in CATALOGUE.items():
            self.kind.addItem(what.title, kind)
        self.length.setEditable(True)
        self.length.addItems([f"{v:g}" for v in LENGTHS])
        self.length.setCurrentText("16")
        self.modelled = QCheckBox("Threads modelled")
        self.modelled.setToolTip("Cut into the solid, to be looked at in section; it takes some seconds")
        self.modelled.toggled.connect(lambda _: self._tell())
        self.put = QPushButton("Put it in")
        self.words = QLabel()
        self.words.setObjectName("faint")
        self.words.setWordWrap(True)
        row = QHBoxLayout()
        for widget in (self.kind, self.of_size, QLabel("length"), self.length, self.modelled, self.put):
            row.addWidget(widget)
        row.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(row)
        layout.addWidget(self.words)
        layout.addStretch()
        self.kind.currentIndexChanged.connect(lambda _: self._on_kind())
        self.of_size.currentIndexChanged.connect(lambda _: self._tell())
        self.put.clicked.connect(self.make)
        document.selected.connect(self._on_kind)
        self._on_kind()

    @property
    def chosen(self) -> Kind:
        kind: Kind = self.kind.currentData()
        return kind

    def _picked(self) -> tuple[End, Surface] | None:
        """The one round face that is picked."""
        picks, assembly = self._document.picks, self._document.assembly
        if len(picks) != 1:
            return None
        surface = assembly.part_of(picks[0].instance).surface(picks[0].face)
        return (picks[0], surface) if surface is not None and surface.kind == "cylinder" else None

    def _on_kind(self) -> None:
        """Its sizes; the one that goes into the picked hole, or onto the picked shaft."""
        kept = self.of_size.currentText()
        names = sizes(self.chosen)
        if [self.of_size.itemText(i) for i in range(self.of_size.count())] != list(names):
            self.of_size.clear()
            self.of_size.addItems(names)
            self.of_size.setCurrentText(kept if kept in names else names[len(names) // 2])
        self.length.setEnabled(CATALOGUE[self.chosen].has_length)
        self.modelled.setEnabled(CATALOGUE[self.chosen].has_thread)
        if (picked := self._picked()) is not None:
            with suppress(NotTabled):
                self.of_size.setCurrentText(nearest(self.chosen, 2 * picked[1].radius))
        self._tell()

    def _tell(self) -> None:
        what, picked = CATALOGUE[self.chosen], self._picked()
        where = "Pick a hole, and it goes there. " if picked is None else ""
        if picked is not None:
            where = "It goes into the picked hole. " if picked[1].hollow else "It goes onto the picked shaft. "
        threads = " Threads are cosmetic." if what.has_thread and not self.modelled.isChecked() else ""
        self.words.setText(f"{where}{what.source}; steel, sizes without limits are nominal.{threads}")

    def make(self) -> None:
        kind, size = self.chosen, self.of_size.currentText()
        try:
            length = float(self.length.currentText().replace(",", ".")) if CATALOGUE[kind].has_length else 0.0
        except ValueError:
            self._document.session.say("Write the length in millimetres, such as 16.", "bad")
            return
        try:
            content: Content = bought(kind, size, length, self.modelled.isChecked())
        except Refusal as error:
            self._document.session.refuse(error)
            return
        picked = self._picked()
        self.wanted.emit(content, content.header.number, picked[0] if picked is not None else None)
