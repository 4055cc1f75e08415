"""The project's own icons, tinted to the palette."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

from PyQt6.QtCore import QByteArray, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

_INK = "#22282E"


@lru_cache(maxsize=256)
def pixmap(name: str, color: str = _INK, size: int = 20) -> QPixmap:
    """One icon as a pixmap with its strokes in ``color``."""
    source = (resources.files(__package__) / "icons" / f"{name}.svg").read_text("utf-8").replace(_INK, color)
    image = QPixmap(size * 2, size * 2)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(source.encode())).render(painter)
    painter.end()
    image.setDevicePixelRatio(2)
    return image


def icon(name: str, color: str = _INK) -> QIcon:
    return QIcon(pixmap(name, color))
