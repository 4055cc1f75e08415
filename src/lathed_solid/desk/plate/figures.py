"""Painting dimensions: lines, arrows, and the size as a drawing writes it with its callout's balloon."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from ...core.drafting.figures import Figure
from ...core.names import lone_ref
from ...core.sketch.model import Dimension
from ..sheet.marks import draw_balloon
from ..theme.palette import Palette
from ..theme.style import figure_font
from .look import BLAMED, Look


def words_of(d: Dimension, look: Look) -> str:
    words = look.texts.get(d.id, d.text)
    return f"({words})" if d.reference else words


def text_widths(dimensions: tuple[Dimension, ...], look: Look) -> dict[str, float]:
    """Widths of all texts with their balloons, pixels."""
    metrics = QFontMetricsF(figure_font(9))
    return {d.id: metrics.horizontalAdvance(words_of(d, look)) + (22 if lone_ref(d.text) else 0) for d in dimensions}


def dimensions(painter: QPainter, figures: list[Figure], look: Look, p: Palette) -> dict[str, QRectF]:
    """Draw dimension figures; returns where each text lies, for clicking."""
    boxes = {}
    for figure in figures:
        ink = _ink(figure.dimension, look, p)
        painter.setPen(QPen(ink, 1.0, Qt.PenStyle.DashLine if figure.dimension.reference else Qt.PenStyle.SolidLine))
        for a, b in figure.lines:
            painter.drawLine(QPointF(*a), QPointF(*b))
        for tip, direction in figure.arrows:
            _arrow(painter, QPointF(*tip), direction, ink)
    for figure in figures:
        boxes[figure.dimension.id] = _text(painter, figure, look, p)
    return boxes


def _ink(d: Dimension, look: Look, p: Palette) -> QColor:
    if d.id in look.blamed:
        return BLAMED
    return p.color("gold") if d.id in look.chosen or d.id == look.hover else p.color("scribe", 0.85)


def _arrow(painter: QPainter, tip: QPointF, direction: tuple[float, float], ink: QColor) -> None:
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    dx, dy = direction
    back = QPointF(tip.x() - 8 * dx, tip.y() - 8 * dy)
    painter.drawPolygon(
        QPolygonF(
            [tip, QPointF(back.x() - 2.4 * dy, back.y() + 2.4 * dx), QPointF(back.x() + 2.4 * dy, back.y() - 2.4 * dx)]
        )
    )
    painter.restore()


def _text(painter: QPainter, figure: Figure, look: Look, p: Palette) -> QRectF:
    d = figure.dimension
    words = words_of(d, look)
    font = figure_font(9)
    painter.setFont(font)
    width = QFontMetricsF(font).horizontalAdvance(words)
    balloon = lone_ref(d.text)
    extra = 22 if balloon else 0
    box = QRectF(figure.text_at.x - (width + extra) / 2 - 3, figure.text_at.y - 9, width + extra + 6, 18)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("plate_bottom", 0.92))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(_ink(d, look, p))
    painter.drawText(box.adjusted(3, 0, -extra - 3, 0), Qt.AlignmentFlag.AlignCenter, words)
    if balloon:
        center = QPointF(box.right() - 11, box.center().y())
        draw_balloon(painter, center, balloon.number, p.color("gold"), p.color("plate_bottom"), 8.5)
    return box
