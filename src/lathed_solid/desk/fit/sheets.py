"""The assembly's drawing sheets: the canvas in the middle, what stands beside it; made when first looked at."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtWidgets import QFileDialog, QWidget

from ...core.issue.drawing.files import FILES
from ..paper.board import Board
from ..paper.fields import Tick
from ..theme.palette import Palette
from .document import FitDocument
from .drawing import AssemblyDrawing

_CAUTION = "A drawn assembly is not an approved one: have it checked by whoever answers for its use."
_TICKS = {
    "balloons": Tick(
        "Item numbers in circles",
        "Each number of the bill in a circle at its leader",
        lambda sheet, on: replace(sheet, balloons=on),
    )
}


class FitSheets:
    """The board's canvas takes the place of the view, ``side`` that of the relations."""

    def __init__(self, document: FitDocument, palette: Palette) -> None:
        self._document = document
        self.drawing = AssemblyDrawing(document)
        self.board = Board(self.drawing, palette, _TICKS, self.write)
        self.side = QWidget()
        self.board.stand_in(self.side, _CAUTION)

    def begin(self) -> None:
        """Lay a sheet out where there is none."""
        if self.drawing.sheet is None:
            self.drawing.propose()

    def dress(self, palette: Palette) -> None:
        self.board.canvas.dress(palette)

    def write(self, form: str) -> None:
        """Ask where to, and write: all sheets as PDF, this one as anything else."""
        sheet, document = self.drawing.sheet, self._document
        if sheet is None:
            return
        beside = document.path.parent if document.path is not None else Path.cwd()
        proposed = str(beside / f"{document.title.replace(' ', '-').lower()}.{form}")
        name, _ = QFileDialog.getSaveFileName(self.side, f"Write {FILES[form]}", proposed, f"*.{form}")
        if name:
            path = Path(name)
            path = path if path.suffix.lower() == f".{form}" else path.with_name(f"{path.name}.{form}")
            document.session.fitting.write(document.assembly, path, "" if form == "pdf" else sheet.id)
