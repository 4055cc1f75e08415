"""The sheet on its paper: looked at, zoomed and moved; callouts and views chosen, dragged, or moved by keys."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from ...core.drafting.sheet.model import XY
from ..theme.palette import LIGHT, Palette
from ..theme.style import text_font
from .drawing import SheetDrawing
from .paint import CHOSEN, Painted
from .pointed import Pointed, pointed

#: A press may wander so far and still be a click; what is so near counts as pointed at (pixels).
_CLOSE, _NEAR = 4.0, 6.0
_MARGIN = 18
_STEP = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}


class SheetCanvas(QWidget):
    """``menu_wanted`` asks for what can be done at a place (global position)."""

    menu_wanted = pyqtSignal(object)

    def __init__(self, drawing: SheetDrawing, palette: Palette = LIGHT) -> None:
        super().__init__()
        self._drawing, self._palette = drawing, palette
        self._painted: Painted | None = None
        self._scale, self._offset, self._fitted = 2.0, QPointF(0, 0), True
        self._press: QPointF | None = None
        self._held, self._by = "", QPointF(0, 0)
        self._panning = False
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Drawing sheet being issued")
        self.setMinimumSize(200, 150)
        drawing.changed.connect(self._on_changed)
        drawing.pointed_changed.connect(self._on_changed)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def _on_changed(self) -> None:
        composed = self._drawing.composed or self._drawing.growing
        before = self._painted.scene if self._painted is not None else None
        self._painted = Painted(composed.scene, self._drawing.pointed.of) if composed is not None else None
        if composed is not None and (
            before is None or (before.width, before.height) != (composed.scene.width, composed.scene.height)
        ):
            self._fitted = True
        if self._fitted:
            self._fit()
        self.update()

    # --- how it is looked at
    def fit(self) -> None:
        """All of the page in sight."""
        self._fitted = True
        self._fit()
        self.update()

    def _fit(self) -> None:
        if self._painted is None:
            return
        scene = self._painted.scene
        self._scale = max(
            0.05, min((self.width() - 2 * _MARGIN) / scene.width, (self.height() - 2 * _MARGIN) / scene.height)
        )
        self._offset = QPointF(
            (self.width() - scene.width * self._scale) / 2, (self.height() - scene.height * self._scale) / 2
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._fitted:
            self._fit()

    def page_at(self, place: QPointF) -> XY:
        """The place of the page (mm, y upwards) under a pixel."""
        high = self._painted.scene.height if self._painted is not None else 0.0
        at = (place - self._offset) / self._scale
        return at.x(), high - at.y()

    def pixel_of(self, place: XY) -> QPointF:
        high = self._painted.scene.height if self._painted is not None else 0.0
        return QPointF(place[0], high - place[1]) * self._scale + self._offset

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or self._painted is None:
            return
        factor = 1.2 ** (event.angleDelta().y() / 120)
        scale = min(60.0, max(0.2, self._scale * factor))
        at = event.position()
        self._offset = at - (at - self._offset) * (scale / self._scale)
        self._scale, self._fitted = scale, False
        self.update()

    # --- pointing and dragging
    def _what(self, place: QPointF) -> Pointed:
        drawing = self._drawing
        if self._painted is None or drawing.sheet is None or drawing.seen is None:
            return Pointed()
        return pointed(self._painted.scene, drawing.sheet, drawing.seen, self.page_at(place), _NEAR / self._scale)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        self._press, self._by = event.position(), QPointF(0, 0)
        self._panning = event.button() == Qt.MouseButton.MiddleButton
        if event.button() == Qt.MouseButton.LeftButton:
            what = self._what(event.position())
            self._drawing.point(what)
            self._held = what.of
            self._panning = not what.of

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._press is None:
            what = self._what(event.position())
            self.setCursor(Qt.CursorShape.OpenHandCursor if what.of else Qt.CursorShape.ArrowCursor)
            return
        if self._panning:
            self._offset += event.position() - self._press
            self._press, self._fitted = event.position(), False
        else:
            self._by = event.position() - self._press
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        by, held = self._by, self._held
        panning, self._press, self._held, self._panning, self._by = self._panning, None, "", False, QPointF(0, 0)
        if held and not panning and math.hypot(by.x(), by.y()) > _CLOSE:
            self._drawing.move(held, (by.x() / self._scale, -by.y() / self._scale))
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and not self._what(event.position()).of:
            self.fit()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self._press = None
            self._drawing.point(self._what(QPointF(event.pos())))
            self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        of = self._drawing.pointed.of
        if of and (step := _STEP.get(Qt.Key(event.key()))) is not None:
            by = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            self._drawing.move(of, (step[0] * by, step[1] * by))
        elif of and event.key() == Qt.Key.Key_Delete:
            self._drawing.remove(of)
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._scale *= 1.2 if event.key() == Qt.Key.Key_Plus else 1 / 1.2
            self._fitted = False
            self.update()
        elif event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self._step(1 if event.key() == Qt.Key.Key_PageDown else -1)
        elif event.key() == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.mapToGlobal(self.rect().center()))
        else:
            super().keyPressEvent(event)

    def _step(self, by: int) -> None:
        """Choose the next callout or view of the sheet, or the one before."""
        spots = [s.of for s in self._painted.scene.spots] if self._painted is not None else []
        if spots:
            now = self._drawing.pointed.of
            self._drawing.point(Pointed(spots[(spots.index(now) + by) % len(spots) if now in spots else 0]))

    # --- painting
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), self._palette
        painter.fillRect(self.rect(), p.color("rule"))
        if self._painted is None:
            painter.setPen(p.color("ink"))
            painter.setFont(text_font(10.5))
            painter.drawText(
                self.rect().adjusted(40, 0, -40, 0),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self._empty(),
            )
            return
        scene = self._painted.scene
        page = QRectF(self._offset.x(), self._offset.y(), scene.width * self._scale, scene.height * self._scale)
        painter.fillRect(page.translated(3, 3), QColor(0, 0, 0, 40))
        painter.fillRect(page, QColor("#FFFFFF"))
        painter.save()
        painter.translate(self._offset)
        painter.scale(self._scale, self._scale)
        self._painted.paint(painter)
        painter.restore()
        self._paint_held(painter)
        if self._drawing.is_late:
            self._paint_late(painter)

    def _paint_late(self, painter: QPainter) -> None:
        """A band at the top, clear of the sheet's own frame and text."""
        again = self._drawing.seen is not None
        the = f"The {self._drawing.subject} has changed: the" if again else "The"
        words = f"{the} views are being drawn{' again' if again else ''}."
        painter.setFont(text_font(9.5))
        band = QRectF(0, 0, self.width(), painter.fontMetrics().height() + 8)
        painter.fillRect(band, self._palette.color("paper"))
        painter.setPen(QColor(self._palette.warn))
        painter.drawText(band, Qt.AlignmentFlag.AlignCenter, words)

    def _empty(self) -> str:
        if self._drawing.is_proposing:
            return "A sheet is being laid out: views, scale and callouts. You can go on working."
        if self._drawing.sheet is not None:
            return "The views of this sheet are being drawn."
        return "No drawing sheet yet. “New sheet” on the right lays one out: views, scale, callouts, title block."

    def _paint_held(self, painter: QPainter) -> None:
        """A frame about what is chosen; where it would go while it is dragged."""
        assert self._painted is not None
        of = self._held or self._drawing.pointed.of
        spot = next((s for s in self._painted.scene.spots if s.of == of), None)
        if spot is None:
            return
        a, b = self.pixel_of((spot.box[0], spot.box[3])), self.pixel_of((spot.box[2], spot.box[1]))
        painter.setPen(QPen(CHOSEN, 1.2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(a, b).adjusted(-2, -2, 2, 2))
        if math.hypot(self._by.x(), self._by.y()) > _CLOSE:
            painter.setBrush(QColor(163, 90, 0, 40))
            painter.drawRect(QRectF(a, b).translated(self._by).adjusted(-2, -2, 2, 2))
