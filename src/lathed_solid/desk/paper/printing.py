"""A drawing sheet on a printer."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QWidget

from ...core.drafting.sheet.scene import Scene
from ...core.units import INCH
from .paint import Painted


def preview(parent: QWidget, scene: Scene) -> None:
    """The sheet as it will be printed, and from there to the printer."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    set_page(printer, scene)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.setWindowTitle("Print the sheet")
    dialog.paintRequested.connect(lambda on: print_on(on, scene))
    dialog.exec()
    sip.delete(dialog)  # it holds the printer, which goes with this function


def set_page(printer: QPrinter, scene: Scene) -> None:
    """Paper of the sheet's size, lying or standing as it does."""
    wide = scene.width > scene.height
    size = QSizeF(min(scene.width, scene.height), max(scene.width, scene.height))
    printer.setPageSize(QPageSize(size, QPageSize.Unit.Millimeter))
    printer.setPageOrientation(QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait)
    printer.setPageMargins(QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Millimeter)


def print_on(printer: QPrinter, scene: Scene) -> None:
    """Paint the sheet on a printer's page: true to scale where it fits, else made smaller."""
    page = printer.pageRect(QPrinter.Unit.Millimeter)
    fits = min(1.0, page.width() / scene.width, page.height() / scene.height)
    painter = QPainter(printer)
    painter.scale(*(2 * (printer.resolution() / INCH * fits,)))
    Painted(scene).paint(painter)
    painter.end()
