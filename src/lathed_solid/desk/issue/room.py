"""The room of the Issue stage: the sheet on its paper, what stands beside it, printing; made when first entered."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6 import sip
from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog

from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ..paper.canvas import SheetCanvas
from ..paper.doing import Doings
from ..paper.paint import Painted
from ..picking import Picking
from ..session import Session
from ..theme.palette import Palette
from .drawing import PartDrawing
from .side import IssueSide


class IssueRoom:
    """``canvas`` stands in the middle, ``side`` on the right."""

    def __init__(
        self, session: Session, picking: Picking, palette: Palette, shop: Callable[[], tuple[Shop, ToolMaterial]]
    ) -> None:
        self._session = session
        self.drawing = PartDrawing(session, picking)
        self.doings = Doings(self.drawing)
        self.canvas = SheetCanvas(self.drawing, palette)
        self.side = IssueSide(session, self.drawing, self.doings, self.preview, shop)
        self.side.focus_wanted.connect(self.canvas.setFocus)
        self.canvas.menu_wanted.connect(lambda at: self.doings.menu(self.canvas, at))

    def look(self, on: bool) -> None:
        self.drawing.look(on)

    def dress(self, palette: Palette) -> None:
        self.canvas.dress(palette)

    # --- printing
    def preview(self) -> None:
        """The sheet as it will be printed, and from there to the printer."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        self._set_page(printer)
        dialog = QPrintPreviewDialog(printer, self.canvas)
        dialog.setWindowTitle("Print the sheet")
        dialog.paintRequested.connect(self.print_on)
        dialog.exec()
        sip.delete(dialog)  # it holds the printer, which goes with this function

    def _set_page(self, printer: QPrinter) -> None:
        if (composed := self.drawing.composed) is None:
            return
        scene = composed.scene
        wide = scene.width > scene.height
        size = QSizeF(min(scene.width, scene.height), max(scene.width, scene.height))
        printer.setPageSize(QPageSize(size, QPageSize.Unit.Millimeter))
        printer.setPageOrientation(QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait)
        printer.setPageMargins(QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Millimeter)

    def print_on(self, printer: QPrinter) -> None:
        """Paint the sheet on a printer's page: true to scale where it fits, else made smaller."""
        if (composed := self.drawing.composed) is None:
            return
        scene = composed.scene
        page = printer.pageRect(QPrinter.Unit.Millimeter)
        fits = min(1.0, page.width() / scene.width, page.height() / scene.height)
        painter = QPainter(printer)
        painter.scale(*(2 * (printer.resolution() / 25.4 * fits,)))
        Painted(scene).paint(painter)
        painter.end()
