"""Many small signs at once: on the screen a ready picture is stamped, on paper each is drawn.

Qt strokes every small circle anew, which for hundreds of points takes longer than a frame of a drag may.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPaintDevice, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QWidget


def dots(painter: QPainter, places: Iterable[QPointF], radius: float, ink: QColor) -> None:
    """Filled round dots."""
    _signs(painter, places, radius, 0.0, ink, ink)


def rings(painter: QPainter, places: Iterable[QPointF], radius: float, ink: QColor, ground: QColor) -> None:
    """Rings of line width 1.6 with the ground inside."""
    _signs(painter, places, radius, 1.6, ink, ground)


def _signs(painter: QPainter, places: Iterable[QPointF], radius: float, line: float, ink: QColor, fill: QColor) -> None:
    device = painter.device()
    if isinstance(device, QWidget | QPixmap):
        picture = _picture(radius, line, ink.rgba(), fill.rgba(), _ratio(device))
        half = picture.deviceIndependentSize().width() / 2
        for at in places:
            painter.drawPixmap(QPointF(at.x() - half, at.y() - half), picture)
        return
    _take(painter, line, ink, fill)
    for at in places:
        painter.drawEllipse(at, radius, radius)


def _ratio(device: QPaintDevice) -> float:
    return float(device.devicePixelRatioF())


def _take(painter: QPainter, line: float, ink: QColor, fill: QColor) -> None:
    painter.setPen(QPen(ink, line) if line else QPen(Qt.PenStyle.NoPen))
    painter.setBrush(fill)


@lru_cache(maxsize=32)
def _picture(radius: float, line: float, ink: int, fill: int, ratio: float) -> QPixmap:
    size = 2 * (int(radius + line) + 2)
    made = QPixmap(round(size * ratio), round(size * ratio))
    made.setDevicePixelRatio(ratio)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _take(painter, line, QColor.fromRgba(ink), QColor.fromRgba(fill))
    painter.drawEllipse(QPointF(size / 2, size / 2), radius, radius)
    painter.end()
    return made
