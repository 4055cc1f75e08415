"""Handles at the corners of a photographed sheet."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from ..theme.palette import LIGHT

#: Pixels within which a handle is taken, and its size.
_NEAR, _SIZE = 14.0, 8.0


class Corners:
    """``points`` in fractions of the picture, from the top left clockwise; empty while nothing is straightened."""

    def __init__(self) -> None:
        self.points: list[QPointF] = []
        self._held = -1

    def press(self, at: QPointF, to_screen: Callable[[float, float], QPointF]) -> bool:
        """Whether a handle was taken."""
        away = [math.hypot((to_screen(p.x(), p.y()) - at).x(), (to_screen(p.x(), p.y()) - at).y()) for p in self.points]
        if not away or min(away) > _NEAR:
            return False
        self._held = away.index(min(away))
        return True

    def drag(self, to: QPointF) -> None:
        self.points[self._held] = QPointF(min(max(to.x(), 0.0), 1.0), min(max(to.y(), 0.0), 1.0))

    def paint(self, painter: QPainter, to_screen: Callable[[float, float], QPointF]) -> None:
        if not self.points:
            return
        seen = [to_screen(p.x(), p.y()) for p in self.points]
        painter.setPen(QPen(LIGHT.color("brass"), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(QPolygonF(seen))
        painter.setBrush(LIGHT.color("gold", 0.45))
        for p in seen:
            painter.drawEllipse(p, _SIZE, _SIZE)
            painter.drawLine(QPointF(p.x() - 3, p.y()), QPointF(p.x() + 3, p.y()))
            painter.drawLine(QPointF(p.x(), p.y() - 3), QPointF(p.x(), p.y() + 3))
