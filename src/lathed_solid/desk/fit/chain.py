"""A stack-up between two picked flats: the chain through parts and relations, its limits, who contributes most."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.fit.model import Assembly, End
from ...core.fit.stack import Link, Stack, stack
from ...core.quantity import Style
from ...core.refusal import Refusal
from ..lists import fill_row, plain_table
from .csvfile import write_csv
from .document import FitDocument

_HEADS = ("Length", "Nominal", "Least", "Most", "Share")
_PICK = "Pick a flat, then a flat of another part: their distance is added up through the chain between them."


class Chain(QWidget):
    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self._of: tuple[Assembly, tuple[End, ...]] | None = None
        self.found: Stack | None = None
        self.words = QLabel(_PICK)
        self.words.setWordWrap(True)
        self.table = plain_table("The chain of lengths", _HEADS, wide=0)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        self.write = QPushButton("Write as CSV")
        self.write.clicked.connect(self._write)
        head, layout = QHBoxLayout(), QVBoxLayout(self)
        head.addWidget(self.words, 1)
        head.addWidget(self.write)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(head)
        layout.addWidget(self.table, 1)
        document.changed.connect(self.refresh)
        document.selected.connect(self.refresh)
        self.refresh()

    def showEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        if not self.isVisible() or (document.tried is not None and len(document.picks) != 2):
            return  # what is only led or played is not added up
        assembly, picks = document.assembly, document.picks
        if self._of is not None and assembly is self._of[0] and picks in ((), self._of[1]):
            return  # what was added up is still so
        self._of, self.found, words = (assembly, picks), None, _PICK
        if len(picks) == 2:
            try:
                self.found = stack(assembly, *picks)
                words = told(self.found, Style(assembly.unit))
            except Refusal as error:
                words = error.said_in(assembly.unit)
        self.words.setText(words)
        self._fill()

    def _fill(self) -> None:
        rows = rows_of(self.found, Style(self._document.assembly.unit))
        self.table.blockSignals(True)
        self.table.setRowCount(len(rows))
        for at, row in enumerate(rows):
            fill_row(self.table, at, row, right=(1, 2, 3, 4))
        self.table.setCurrentCell(-1, 0)
        self.table.blockSignals(False)
        self.write.setEnabled(self.found is not None)

    def _on_row(self, row: int) -> None:
        """The part whose length it is, without letting the chain go."""
        if self.found is not None and 0 <= row < len(self.found.links):
            self._document.light((_ranked(self.found)[row].instance,))

    def _write(self) -> None:
        if self.found is not None:
            write_csv(
                self, self._document, "stack-up", _HEADS, rows_of(self.found, Style(self._document.assembly.unit))
            )


def _ranked(found: Stack) -> list[Link]:
    return sorted(found.links, key=lambda k: (k.limits is not None, -k.share))


def rows_of(found: Stack | None, style: Style) -> list[tuple[str, ...]]:
    """The links as they are shown and written, what is not limited and what contributes most first."""
    made: list[tuple[str, ...]] = []
    for k in _ranked(found) if found is not None else ():
        low, high = (style.fixed(v) for v in k.limits) if k.limits else ("not stated", "")
        made.append((k.what, style.fixed(k.nominal), low, high, f"{100 * k.share:.0f} %" if k.limits else ""))
    return made


def told(found: Stack, style: Style) -> str:
    """What the chain comes to, in a sentence."""
    worst, squares = (f"{style.fixed(a)} to {style.fixed(b)}" for a, b in (found.worst, found.squares))
    words = (
        f"As the parts stand {style.length(found.nominal, unit=True)}; worst case {worst}, "
        f"root sum square {squares} {style.unit}."
    )
    if many := len(found.unlimited):
        words += f" {many} {'lengths have' if many > 1 else 'length has'} no limits stated, and may be off as well."
    return words
