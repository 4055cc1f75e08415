"""The assembly's drawing sheets: the canvas in the middle, what stands beside it; made when first looked at."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtWidgets import QWidget

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
        self.board = Board(self.drawing, palette, _TICKS, self._beside, self._send)
        self.side = QWidget()
        self.board.stand_in(self.side, _CAUTION)

    def begin(self) -> None:
        """Lay a sheet out where there is none."""
        if self.drawing.sheet is None and not self.drawing.is_proposing:
            self.drawing.propose()

    def dress(self, palette: Palette) -> None:
        self.board.canvas.dress(palette)

    def _beside(self) -> Path:
        document = self._document
        folder = document.path.parent if document.path is not None else Path.cwd()
        return folder / document.title.replace(" ", "-").lower()

    def _send(self, path: Path, which: str) -> None:
        self._document.session.fitting.write(self._document.assembly, path, which)
