"""One line against what is driven."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ..theme.palette import Palette
from ..theme.style import figure_font, text_font

_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


class Plot(QWidget):
    """One line against what is driven, with the present moment on it."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.along: list[float] = []
        self.values: list[float] = []
        self.unit_x = self.unit_y = self._title = self._said = ""
        self._at = 0
        self.setMinimumHeight(70)
        self.setAccessibleName("What is measured against what is driven")

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def show_line(self, x: list[float], y: list[float], title: str, unit_x: str, unit_y: str) -> None:
        self.along, self.values, self._title, self.unit_x, self.unit_y = x, y, title, unit_x, unit_y
        self._at = min(self._at, max(0, len(x) - 1))
        self.update()

    def point(self, at: int, said: str) -> None:
        """The moment that is shown."""
        self._at, self._said = at, said
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, painter = self._palette, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(92, 20, -14, -20)
        painter.setFont(text_font(8.5))
        painter.setPen(p.color("faint"))
        painter.drawText(
            QRectF(0, 0, self.width(), 18), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self._title
        )
        if len(self.along) < 2 or box.height() < 10:
            return
        low_x, high_x, low, high = min(self.along), max(self.along), min(self.values), max(self.values)
        if high - low < 1e-9:
            low, high = low - 1.0, high + 1.0

        def at(x: float, y: float) -> QPointF:
            across = (x - low_x) / max(high_x - low_x, 1e-12)
            return QPointF(box.left() + across * box.width(), box.bottom() - (y - low) / (high - low) * box.height())

        painter.setPen(QPen(p.color("rule"), 1))
        painter.drawRect(box)
        painter.setFont(figure_font(8))
        painter.setPen(p.color("faint"))
        for value, y in ((high, box.top()), (low, box.bottom())):
            words = f"{np.format_float_positional(value, 3, trim='-')} {self.unit_y}"
            painter.drawText(
                QRectF(0, y - 8, 86, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
        ends = (
            (low_x, box.left(), Qt.AlignmentFlag.AlignLeft),
            (high_x, box.right() - 90, Qt.AlignmentFlag.AlignRight),
        )
        for value, x, how in ends:
            words = f"{np.format_float_positional(value, 3, trim='-')} {self.unit_x}"
            painter.drawText(QRectF(x, box.bottom() + 2, 90, 16), how | Qt.AlignmentFlag.AlignTop, words)
        painter.setPen(QPen(p.color("brass"), 2))
        points = [at(x, y) for x, y in zip(self.along, self.values, strict=True)]
        painter.drawPolyline(QPolygonF(points))
        if self._at < len(points):
            painter.setBrush(p.color("brass"))
            painter.drawEllipse(points[self._at], 4, 4)
            painter.setPen(p.color("ink"))
            now = f"{self._said}: {np.format_float_positional(self.values[self._at], 4, trim='-')} {self.unit_y}"
            painter.drawText(
                QRectF(0, 0, self.width() - 14, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, now
            )
