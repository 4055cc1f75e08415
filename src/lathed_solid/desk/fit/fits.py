"""Shafts in holes, by the limits of both: a table."""

from __future__ import annotations

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ...core.fit.fits import Fitted, fits
from ...core.quantity import Style
from ..lists import fill_row, plain_table
from .document import FitDocument

_HEADS = ("Shaft", "In", "Clearance", "Class")


class Fits(QWidget):
    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self._of: object = None
        self.table = plain_table("Shafts in holes", _HEADS, wide=3)
        self.state = QLabel()
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.state)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        self._found: tuple[Fitted, ...] = ()
        document.changed.connect(self.refresh)

    def showEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        if document.tried is not None or document.assembly is self._of or not self.isVisible():
            return
        assembly = self._of = document.assembly
        style = Style(assembly.unit)
        self._found = fits(assembly)
        self.table.blockSignals(True)
        self.table.setRowCount(len(self._found))
        for row, fit in enumerate(self._found):
            ends = (fit.shaft, fit.hole)
            said = [
                f"{assembly.called(name)} {note or 'Ø' + style.length(size)}"
                for name, note, size in zip(ends, fit.notes, fit.diameters, strict=True)
            ]
            fill_row(self.table, row, (*said, _clearance(fit, style), fit.words))
        self.table.setCurrentCell(-1, 0)
        self.table.blockSignals(False)
        self.state.setText(
            "By the limits that the callouts of both parts state; a negative clearance is interference."
            if self._found
            else "No shaft stands in a hole of its size yet."
        )

    def _on_row(self, row: int) -> None:
        if 0 <= row < len(self._found):
            self._document.choose_instance(self._found[row].shaft)


def _clearance(fit: Fitted, style: Style) -> str:
    if fit.least is None or fit.most is None:
        return f"nominal {style.length(fit.diameters[1] - fit.diameters[0], unit=True)}"
    return f"{style.fixed(fit.least)} to {style.fixed(fit.most)} {style.unit}"
