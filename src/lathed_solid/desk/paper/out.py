"""The files a drawing sheet goes into, and the printer."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from ...core.issue.drawing.files import FILES
from .drawing import SheetDrawing
from .printing import preview


class Out(QWidget):
    """``write`` asks where a form is to go to; ``more`` are buttons besides."""

    def __init__(self, drawing: SheetDrawing, write: Callable[[str], object], *more: QPushButton) -> None:
        super().__init__()
        self._drawing = drawing
        self.files, self.print = {form: QPushButton(words) for form, words in FILES.items()}, QPushButton("Print …")
        for form, button in self.files.items():
            button.clicked.connect(partial(write, form))
        self.print.clicked.connect(self.preview)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        for at, button in enumerate((*self.files.values(), self.print, *more)):
            grid.addWidget(button, at // 3, at % 3)
        drawing.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        for button in (*self.files.values(), self.print):
            button.setEnabled(self._drawing.sheet is not None)

    def preview(self) -> None:
        """The sheet as it will be printed."""
        if (composed := self._drawing.composed) is not None:
            preview(self, composed.scene)
