"""The colours of the map of walls, and the bar that tells them."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

#: From the thinnest on: what is thin is red, what is thick is grey.
_SCALE = ("#8E1B12", "#C4502A", "#E0913B", "#EFCB6B", "#DDDCC0", "#C3CDD3")


def color_of(share: float) -> str:
    """A colour of the scale, 0 (thin) to 1 (thick)."""
    at = min(max(share, 0.0), 1.0) * (len(_SCALE) - 1)
    low = min(int(at), len(_SCALE) - 2)
    a, b = (QColor(c) for c in _SCALE[low : low + 2])
    return QColor(
        *(round(p + (at - low) * (q - p)) for p, q in zip(a.getRgb()[:3], b.getRgb()[:3], strict=True))
    ).name()


class Scale(QWidget):
    """The colours of the map from thin to thick, with the figures at its ends."""

    def __init__(self) -> None:
        super().__init__()
        self.ends = ("", "")
        self.setFixedHeight(18)
        self.setMinimumWidth(240)

    def show_ends(self, thin: str, thick: str) -> None:
        self.ends = thin, thick
        self.setAccessibleName(f"Map from {thin} to {thick}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, metrics = QPainter(self), self.fontMetrics()
        left, right = (metrics.horizontalAdvance(text) + 8 for text in self.ends)
        bar = self.rect().adjusted(left, 3, -right, -3)
        shades = QLinearGradient(QPointF(bar.topLeft()), QPointF(bar.topRight()))
        for at in range(len(_SCALE)):
            shades.setColorAt(at / (len(_SCALE) - 1), QColor(_SCALE[at]))
        painter.fillRect(bar, shades)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(self.rect(), middle | Qt.AlignmentFlag.AlignLeft, self.ends[0])
        painter.drawText(self.rect(), middle | Qt.AlignmentFlag.AlignRight, self.ends[1])
        painter.end()
