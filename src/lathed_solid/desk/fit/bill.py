"""The bill of materials, and what all of it weighs."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.fit.mass import bill, weigh
from ...core.fit.model import Assembly
from ...core.quantity import Style
from ...core.quantity.style import mass as mass_text
from ..lists import fill_row, plain_table
from .csvfile import write_csv
from .document import FitDocument

_HEADS = ("Item", "Number", "Name", "Material", "How many", "Mass of one", "Together")


class Bill(QWidget):
    """``drawn``: the drawing sheet of the assembly is wanted; ``pictured``: a rendered picture of it."""

    drawn = pyqtSignal()
    pictured = pyqtSignal()

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.table = plain_table("Bill of materials", _HEADS, wide=2)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        self.total = QLabel()
        self.total.setWordWrap(True)
        self.write, self.draw = QPushButton("Write as CSV"), QPushButton("Drawing sheet")
        self.picture = QPushButton("Picture …")
        self.picture.clicked.connect(self.pictured)
        self.draw.setToolTip("The assembly cut open and whole, with item numbers and this list")
        self.write.clicked.connect(self._write)
        self.draw.clicked.connect(self.drawn)
        foot = QHBoxLayout()
        foot.addWidget(self.total, 1)
        foot.addWidget(self.picture)
        foot.addWidget(self.draw)
        foot.addWidget(self.write)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.table, 1)
        layout.addLayout(foot)
        document.changed.connect(self.refresh)
        document.selected.connect(self._weigh)
        self.refresh()

    def refresh(self) -> None:
        if self._document.tried is not None:
            return
        rows = rows_of(self._document.assembly)
        self.table.blockSignals(True)
        self.table.setRowCount(len(rows))
        for at, row in enumerate(rows):
            fill_row(self.table, at, row, right=(0, 4, 5, 6))
        self.table.setCurrentCell(-1, 0)
        self.table.blockSignals(False)
        self.write.setEnabled(bool(rows))
        for button in (self.draw, self.picture):
            button.setEnabled(bool(self._document.assembly.instances))
        self._weigh()

    def _on_row(self, row: int) -> None:
        """All parts of that line."""
        item = self.table.item(row, 0)
        wanted = item.text().partition(".")[0] if item is not None else ""
        assembly = self._document.assembly
        own = next((line.part.id for line in bill(assembly) if str(line.item) == wanted), "")
        if own:
            self._document.choose_instance(*(i.id for i in assembly.instances if i.part == own))

    def _weigh(self) -> None:
        """All of it, or the instance that is chosen."""
        document = self._document
        assembly, chosen = document.shown, document.chosen
        if not assembly.instances:
            self.total.setText("")
            return
        found, style = weigh(assembly, chosen), Style(assembly.unit)
        what = document.names_of(chosen) if chosen else "All together"
        at = ", ".join(f"{axis} {style.length(v)}" for axis, v in zip("XYZ", found.center, strict=True))
        xx, yy, zz = (v / 1e6 for v in found.inertia[:3])
        turning = f"{xx:.4g}, {yy:.4g}, {zz:.4g}"
        words = f"{what}: {mass_text(found.grams)}, centre of mass {at}; inertia there X, Y, Z {turning} kg·m² · 10⁻³"
        if found.unweighed:
            words += f". Not weighed, material unknown: {', '.join(found.unweighed)}"
        self.total.setText(words)

    def _write(self) -> None:
        write_csv(self, self._document, "parts", _HEADS, rows_of(self._document.assembly))


def rows_of(assembly: Assembly) -> list[tuple[str, ...]]:
    """The bill's lines as they are shown and written."""
    made: list[tuple[str, ...]] = []
    for line in bill(assembly):
        one = mass_text(line.grams) if line.grams is not None else "unknown"
        all_ = mass_text(line.grams * line.many) if line.grams is not None else "unknown"
        part = line.part
        made.append((str(line.item), part.number, part.listed, part.material, str(line.many), one, all_))
        for k, own in enumerate(part.members, 1):
            one, all_ = (mass_text(own.grams * n) if own.grams else "unknown" for n in (1, own.many * line.many))
            many = str(own.many * line.many)
            made.append((f"{line.item}.{k}", own.number, own.title, own.material, many, one, all_))
    return made
