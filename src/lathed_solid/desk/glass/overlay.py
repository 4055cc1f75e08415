"""What is painted over a sheet besides its balloons: lit places, offers, a length being taken."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ..theme.palette import LIGHT
from ..theme.style import figure_font

Box = tuple[float, float, float, float]
ToScreen = Callable[[float, float], QPointF]


class Mark(NamedTuple):
    """Something placed on the sheet: its number and place as fractions; ``doubt``: it has to be looked at."""

    number: int
    x: float
    y: float
    doubt: bool = False


def paint_lit(painter: QPainter, boxes: Sequence[Box], to_screen: ToScreen) -> None:
    painter.setPen(QPen(LIGHT.color("brass"), 2.0))
    painter.setBrush(LIGHT.color("gold", 0.22))
    for left, top, right, bottom in boxes:
        seen = QRectF(to_screen(left, top), to_screen(right, bottom)).normalized()
        painter.drawRoundedRect(seen.adjusted(-4, -4, 4, 4), 4, 4)


def paint_offers(painter: QPainter, marks: Sequence[Mark], chosen: int | None, to_screen: ToScreen) -> None:
    """Offers are dashed tags; the sheet is white in both schemes, so they keep the light palette's colours. One that
    has to be looked at carries a question mark.
    """
    for mark in marks:
        at = to_screen(mark.x, mark.y)
        box = QRectF(at.x() - 16, at.y() - 10, 32, 20)
        is_chosen = mark.number == chosen
        painter.setPen(QPen(LIGHT.color("brass"), 2.2 if is_chosen else 1.2, Qt.PenStyle.DashLine))
        painter.setBrush(LIGHT.color("gold", 0.30) if is_chosen else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 4, 4)
        if mark.doubt:
            spot = QPointF(box.right(), box.top())
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(LIGHT.color("warn"))
            painter.drawEllipse(spot, 6.5, 6.5)
            painter.setPen(LIGHT.color("raised"))
            painter.setFont(figure_font(8.0, bold=True))
            painter.drawText(QRectF(spot.x() - 7, spot.y() - 7, 14, 14), Qt.AlignmentFlag.AlignCenter, "?")


def paint_span(painter: QPainter, points: Sequence[QPointF], under_mouse: bool) -> None:
    """Both ends of a length, the second one asked for while it is missing."""
    if not points:
        return
    painter.setPen(QPen(LIGHT.color("brass"), 1.8))
    for p in points:
        painter.drawLine(QPointF(p.x() - 7, p.y()), QPointF(p.x() + 7, p.y()))
        painter.drawLine(QPointF(p.x(), p.y() - 7), QPointF(p.x(), p.y() + 7))
    if len(points) == 2:
        painter.drawLine(points[0], points[1])
    elif under_mouse:
        painter.setFont(figure_font(8.5))
        painter.drawText(points[0] + QPointF(10, -8), "second end")
