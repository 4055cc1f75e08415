"""Proof marks and balloons, drawn. Marks differ by shape as well as by colour."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from ..theme.palette import Palette
from ..theme.style import figure_font

WORDS = {
    "in": "in limits",
    "near": "in limits, over 80 % of the band used",
    "out": "out of limits",
    "open": "not measured",
}


def draw_mark(painter: QPainter, center: QPointF, mark: str, palette: Palette, radius: float = 7.0) -> None:
    """Disc with tick (in), half disc (near), diamond with cross (out), open ring (not measured)."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    box = QRectF(center.x() - radius, center.y() - radius, 2 * radius, 2 * radius)
    white = QPen(QColor("#FFFFFF") if palette.raised == "#FFFFFF" else palette.color("panel"), 1.7)
    if mark == "in":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(palette.color("good"))
        painter.drawEllipse(box)
        painter.setPen(white)
        x, y = center.x(), center.y()
        painter.drawPolyline(QPolygonF([QPointF(x - 3.2, y), QPointF(x - 0.8, y + 2.6), QPointF(x + 3.4, y - 2.6)]))
    elif mark == "near":
        painter.setPen(QPen(palette.color("warn"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(box.adjusted(0.8, 0.8, -0.8, -0.8))
        painter.setBrush(palette.color("warn"))
        painter.drawPie(box.adjusted(0.8, 0.8, -0.8, -0.8), 90 * 16, 180 * 16)
    elif mark == "out":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(palette.color("out"))
        r = radius * 1.2
        x, y = center.x(), center.y()
        painter.drawPolygon(QPolygonF([QPointF(x, y - r), QPointF(x + r, y), QPointF(x, y + r), QPointF(x - r, y)]))
        painter.setPen(white)
        painter.drawLine(QPointF(x - 2.3, y - 2.3), QPointF(x + 2.3, y + 2.3))
        painter.drawLine(QPointF(x - 2.3, y + 2.3), QPointF(x + 2.3, y - 2.3))
    else:
        painter.setPen(QPen(palette.color("faint"), 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(box.adjusted(1, 1, -1, -1))
    painter.restore()


def draw_balloon(
    painter: QPainter, center: QPointF, number: int, ink: QColor, fill: QColor | None = None, radius: float = 11.0,
    broken: bool = False,
) -> None:  # fmt: skip
    """A balloon with its number; its line ``broken`` for a callout that is on no drawing sheet yet."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(ink, 1.3, Qt.PenStyle.DotLine if broken else Qt.PenStyle.SolidLine))
    painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(center, radius, radius)
    painter.setPen(ink)
    painter.setFont(figure_font(7.5 if number < 100 else 6.5))
    box = QRectF(center.x() - radius, center.y() - radius, 2 * radius, 2 * radius)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))
    painter.restore()
