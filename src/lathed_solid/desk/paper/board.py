"""A drawing board: the sheet on its paper, what can be done to it, and what stands beside it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from ...core.issue.drawing.files import FILES
from ..lists import titled
from ..theme.palette import Palette
from .canvas import SheetCanvas
from .doing import Doings
from .drawing import SheetDrawing
from .fields import SheetFields, Tick
from .missing import Missing
from .out import Out


class Board:
    """``beside`` tells where a file would go, but for its ending; ``send`` writes a file, of all sheets or of one;
    ``more`` are buttons beside those of the forms.
    """

    def __init__(
        self, drawing: SheetDrawing, palette: Palette, ticks: Mapping[str, Tick], beside: Callable[[], Path],
        send: Callable[[Path, str], object], *more: QPushButton,
    ) -> None:  # fmt: skip
        self.drawing, self._beside, self._send = drawing, beside, send
        self.doings = Doings(drawing)
        self.canvas = SheetCanvas(drawing, palette)
        self.fields = SheetFields(drawing, self.doings, ticks)
        self.missing, self.out = Missing(drawing), Out(drawing, self.write, *more)
        self.canvas.menu_wanted.connect(lambda at: self.doings.menu(self.canvas, at))
        self.fields.focus_wanted.connect(self.canvas.setFocus)

    def write(self, form: str) -> None:
        """Ask where to, and write: all sheets as PDF, this one as anything else."""
        sheet = self.drawing.sheet
        if sheet is None:
            return
        proposed = f"{self._beside()}.{form}"
        name, _ = QFileDialog.getSaveFileName(self.canvas, f"Write {FILES[form]}", proposed, f"*.{form}")
        if name:
            path = Path(name)
            path = path if path.suffix.lower() == f".{form}" else path.with_name(f"{path.name}.{form}")
            self._send(path, "" if form == "pdf" else sheet.id)

    def stand_in(self, panel: QWidget, caution: str, *more: QLayout) -> None:
        """Put all that stands beside the sheet into a panel, with ``more`` under the files and a caution."""
        panel.setObjectName("panel")
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        told = QLabel(caution)
        told.setObjectName("faint")
        told.setWordWrap(True)
        layout = QVBoxLayout(panel)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.addWidget(self.fields)
        layout.addWidget(self.missing)
        layout.addStretch()
        layout.addWidget(titled("Out"))
        layout.addWidget(self.out)
        for row in more:
            layout.addLayout(row)
        layout.addWidget(told)
