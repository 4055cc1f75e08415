"""What the routes of a part take and give, side by side, and where they disagree."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.job.routes import RouteFigures, disagreements
from ...core.quantity import Style
from ...core.quantity.style import mass

_HEADS = ("Route", "Steps", "Built in", "Volume", "Mass", "In limits", "Out", "Open")


class Comparison(QDialog):
    """One line a route, and beneath them what is not alike."""

    def __init__(self, found: Sequence[RouteFigures], style: Style, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Routes of this part")
        layout, grid = QVBoxLayout(self), QGridLayout()
        layout.setContentsMargins(18, 16, 18, 14)
        layout.setSpacing(14)
        grid.setHorizontalSpacing(22)
        for row, texts in enumerate((_HEADS, *(_row(f, style) for f in found))):
            for column, text in enumerate(texts):
                label = QLabel(text)
                label.setObjectName("faint" if row == 0 else "figures" if column else "title")
                side = Qt.AlignmentFlag.AlignRight if column else Qt.AlignmentFlag.AlignLeft
                grid.addWidget(label, row, column, side)
        layout.addLayout(grid)
        words = disagreements(tuple(found), style)
        self.verdict = QLabel("\n".join(words) or "All routes make the same part, as far as it is measured.")
        self.verdict.setObjectName("warn" if words else "faint")
        self.verdict.setWordWrap(True)
        layout.addWidget(self.verdict)
        close = QPushButton("Close")
        close.clicked.connect(self.reject)
        layout.addWidget(close, alignment=Qt.AlignmentFlag.AlignRight)


def _row(f: RouteFigures, style: Style) -> tuple[str, ...]:
    volume = "no solid" if f.volume is None else style.volume(f.volume)
    good = f.count("in") + f.count("near")
    return (
        f.name, str(f.steps), f"{f.seconds:.2f} s", volume, mass(f.grams), str(good), str(f.count("out")),
        str(f.count("open")),
    )  # fmt: skip
