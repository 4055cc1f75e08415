"""The view sheet: the boxes of a projection layout, clicked to look from there."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QRegion
from PyQt6.QtWidgets import QToolTip, QWidget

from ...core.drafting.looking import Up
from ..theme.palette import Palette
from ..theme.style import text_font

#: Which way is up: a part drawn lying along Z with X up (turned), or standing on its Z or Y.
STANDING: tuple[Up, ...] = ("x", "z", "y")
NAMES = {
    "F": "front", "K": "back", "T": "top", "B": "bottom", "R": "right", "L": "left", "I": "three faces",
    "TL": "the upper left corner", "TR": "the upper right corner",
    "BL": "the lower left corner", "BR": "the lower right corner",
    "TLK": "the upper left corner, from behind", "TRK": "the upper right corner, from behind",
    "BLK": "the lower left corner, from behind", "BRK": "the lower right corner, from behind",
}  # fmt: skip
#: Column and row of each box; third angle puts a view on the side it is seen from, first angle on the other. Between
#: two views lies the corner they share.
_THIRD = {"T": (1, 0), "L": (0, 1), "F": (1, 1), "R": (2, 1), "K": (3, 1), "B": (1, 2), "I": (3, 0), "up": (3, 2)} | {
    "TL": (0, 0), "TR": (2, 0), "BL": (0, 2), "BR": (2, 2),
}  # fmt: skip
_FIRST = {"B": (1, 0), "R": (0, 1), "F": (1, 1), "L": (2, 1), "K": (3, 1), "T": (1, 2), "I": (3, 0), "up": (3, 2)} | {
    "BR": (0, 0), "BL": (2, 0), "TR": (0, 2), "TL": (2, 2),
}  # fmt: skip
_CORNERS = ("TL", "TR", "BL", "BR")


class ViewSheet(QWidget):
    """A small sheet in the corner of the part view; its last box says which axis is up."""

    chosen = pyqtSignal(str)
    stand_wanted = pyqtSignal()

    def __init__(self, parent: QWidget, palette: Palette) -> None:
        super().__init__(parent)
        self._palette, self._angle, self._now, self._hover, self._up = palette, "first", "I", "", "x"
        self.setFixedSize(132, 98)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("View sheet")
        self._cut_to_boxes()

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def stand(self, up: str) -> None:
        """Say which axis is up."""
        self._up = up
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
        boxes = {k: QRect(4 + 32 * c, 3 + 32 * r, 28, 28) for k, (c, r) in places.items()}
        return {k: box.adjusted(6, 6, -6, -6) if k in _CORNERS else box for k, box in boxes.items()}

    def _at(self, position: QPoint) -> str:
        return next((k for k, box in self._boxes().items() if box.contains(position)), "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, painter = self._palette, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(text_font(8.5))
        for key, box in self._boxes().items():
            now = key == self._now.removesuffix("K") if len(self._now) == 3 else key == self._now
            painter.fillRect(box.adjusted(-1, -1, 1, 1), p.color("ground_bottom"))
            fill = p.color("brass") if now else p.color("raised", 0.92)
            painter.setBrush(fill)
            lit = key == self._hover or (self.hasFocus() and now)
            painter.setPen(QPen(p.color("brass" if lit else "rule"), 2 if lit else 1))
            painter.drawRoundedRect(box, 3, 3)
            painter.setPen(QColor("#FFFFFF") if now and p.raised == "#FFFFFF" else p.color("panel" if now else "ink"))
            words = f"{self._up.upper()}↑" if key == "up" else "" if key in _CORNERS else key
            if now and self._now != key:
                words = "K"
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
            if key in _CORNERS and not words:
                middle = self._boxes()["F"].center()
                painter.drawLine(box.center(), box.center() + (middle - box.center()) / 8)

    def _words(self, key: str) -> str:
        if key == "up":
            return f"{self._up.upper()} is up: click to stand the part another way (Shift+U)"
        if key in _CORNERS:
            return f"{NAMES[key].capitalize()}; click again to see it from behind"
        return f"{NAMES[key].capitalize()} (Shift+{key})"

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hover = self._at(event.position().toPoint())
        if hover != self._hover:
            self._hover = hover
            if hover:
                QToolTip.showText(event.globalPosition().toPoint(), self._words(hover), self)
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        key = self._at(event.position().toPoint())
        if key == "up":
            self.stand_wanted.emit()
        elif key:
            self.chosen.emit(f"{key}K" if key in _CORNERS and self._now == key else key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        order = list(NAMES)
        at = order.index(self._now) if self._now in order else 0
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()), 0)
        if step:
            self.chosen.emit(order[(at + step) % len(order)])
        else:
            super().keyPressEvent(event)
