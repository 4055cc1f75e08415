"""What goes into something else, and what is to be said of it: screws, shafts, keys and tapers in one table."""

from __future__ import annotations

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHeaderView, QLabel, QVBoxLayout, QWidget

from ...core.fit.joined import Joined, joined
from ..lists import fill_row, plain_table
from ..theme.palette import Palette
from .document import FitDocument

_HEADS = ("What", "In", "How much", "Said of it")
#: Which colour of the palette a mark is written in.
_COLORS = {"bad": "out", "look": "warn", "good": "good"}


class Fits(QWidget):
    def __init__(self, document: FitDocument, palette: Palette) -> None:
        super().__init__()
        self._document, self._palette = document, palette
        self._of: object = None
        self.table = plain_table("Screws, shafts and keys in what they go into", _HEADS, wide=3)
        header = self.table.horizontalHeader()
        assert header is not None
        for column, wide in enumerate((140, 118, 104)):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Interactive)
            header.resizeSection(column, wide)
        self.state = QLabel()
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.state)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        self._found: tuple[Joined, ...] = ()
        document.changed.connect(self.refresh)

    def dress(self, palette: Palette) -> None:
        self._palette, self._of = palette, None
        self.refresh()

    def showEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        if document.tried is not None or document.assembly is self._of or not self.isVisible():
            return
        assembly = self._of = document.assembly
        self._found = joined(assembly)
        self.table.blockSignals(True)
        self.table.setRowCount(len(self._found))
        for row, joint in enumerate(self._found):
            fill_row(self.table, row, (*joint.words, joint.much, joint.says))
            self._paint(row, joint)
        self.table.setCurrentCell(-1, 0)
        self.table.blockSignals(False)
        self._tell(-1)

    def _tell(self, row: int) -> None:
        """The chosen joint's whole sentence, else what all of it goes by."""
        if 0 <= row < len(self._found):
            joint = self._found[row]
            self.state.setText(f"{joint.words[0]} in {joint.words[1]}: {joint.much}; {joint.says}.")
            return
        self.state.setText(
            "By the limits that the callouts of both parts state; a negative clearance is interference. How far a "
            "screw has to go in is shop practice in round figures, not a design of the joint."
            if self._found
            else "No screw stands in a thread and no shaft in a hole of its size yet."
        )

    def _paint(self, row: int, joint: Joined) -> None:
        """The mark, as the colour of the sentence."""
        item = self.table.item(row, 3)
        if item is not None:
            item.setForeground(QColor(self._palette.color(_COLORS.get(joint.mark, "ink"))))

    def _on_row(self, row: int) -> None:
        if 0 <= row < len(self._found):
            self._document.choose_instance(self._found[row].inner)
            self._tell(row)
