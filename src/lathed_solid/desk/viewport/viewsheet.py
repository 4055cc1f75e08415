"""The view sheet: the boxes of a projection layout, clicked to look from there."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QRegion
from PyQt6.QtWidgets import QToolTip, QWidget

from ..theme.palette import Palette
from ..theme.style import text_font

Vector = tuple[float, float, float]

#: Letter: (name, part-to-eye direction, up). The turning axis Z runs to the right in the front view, X up.
VIEWS: dict[str, tuple[str, Vector, Vector]] = {
    "F": ("Front", (0, 1, 0), (1, 0, 0)),
    "K": ("Back", (0, -1, 0), (1, 0, 0)),
    "T": ("Top", (1, 0, 0), (0, -1, 0)),
    "B": ("Bottom", (-1, 0, 0), (0, 1, 0)),
    "R": ("Right end", (0, 0, 1), (1, 0, 0)),
    "L": ("Left end", (0, 0, -1), (1, 0, 0)),
    "I": ("Three faces", (0.55, 1.0, -0.62), (1, 0, 0)),
}
#: Column and row of each box; third angle puts a view on the side it is seen from, first angle on the other.
_THIRD = {"T": (1, 0), "L": (0, 1), "F": (1, 1), "R": (2, 1), "K": (3, 1), "B": (1, 2), "I": (3, 0)}
_FIRST = {"B": (1, 0), "R": (0, 1), "F": (1, 1), "L": (2, 1), "K": (3, 1), "T": (1, 2), "I": (3, 0)}


class ViewSheet(QWidget):
    """A small sheet in the corner of the part view."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget, palette: Palette) -> None:
        super().__init__(parent)
        self._palette, self._angle, self._now, self._hover = palette, "first", "I", ""
        self.setFixedSize(132, 98)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("View sheet")
        self._cut_to_boxes()

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def lay_out(self, angle: str) -> None:
        """``first`` or ``third`` angle."""
        if angle == self._angle:
            return
        self._angle = angle
        self._cut_to_boxes()
        self.update()

    def _cut_to_boxes(self) -> None:
        """Over the kernel's own window nothing is see-through: what is not a box must not be part of the widget."""
        region = QRegion()
        for box in self._boxes().values():
            region += QRegion(box.adjusted(-1, -1, 1, 1))
        self.setMask(region)

    def mark(self, view: str) -> None:
        """Show ``view`` as the present one; empty when turned by hand."""
        self._now = view
        self.update()

    def _boxes(self) -> dict[str, QRect]:
        places = _FIRST if self._angle == "first" else _THIRD
        return {k: QRect(4 + 32 * c, 3 + 32 * r, 28, 28) for k, (c, r) in places.items()}

    def _at(self, position: QPoint) -> str:
        return next((k for k, box in self._boxes().items() if box.contains(position)), "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, painter = self._palette, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(text_font(8.5))
        for key, box in self._boxes().items():
            now = key == self._now
            painter.fillRect(box.adjusted(-1, -1, 1, 1), p.color("ground_bottom"))
            fill = p.color("brass") if now else p.color("raised", 0.92)
            painter.setBrush(fill)
            lit = key == self._hover or (self.hasFocus() and now)
            painter.setPen(QPen(p.color("brass" if lit else "rule"), 2 if lit else 1))
            painter.drawRoundedRect(box, 3, 3)
            painter.setPen(QColor("#FFFFFF") if now and p.raised == "#FFFFFF" else p.color("panel" if now else "ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, key)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hover = self._at(event.position().toPoint())
        if hover != self._hover:
            self._hover = hover
            if hover:
                QToolTip.showText(event.globalPosition().toPoint(), f"{VIEWS[hover][0]} (Shift+{hover})", self)
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if key := self._at(event.position().toPoint()):
            self.chosen.emit(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        order = list(VIEWS)
        at = order.index(self._now) if self._now in order else 0
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()), 0)
        if step:
            self.chosen.emit(order[(at + step) % len(order)])
        else:
            super().keyPressEvent(event)
