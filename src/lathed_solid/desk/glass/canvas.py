"""The sheet itself: zoomed, moved and turned, with balloons and offers on it."""

from __future__ import annotations

import math
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from ...core.drawing.paper import Raster
from ...worker.drawings import FarPaper
from ..sheet.marks import draw_balloon
from ..theme.palette import LIGHT, Palette
from ..timing import one_shot
from . import overlay
from .corners import Corners
from .overlay import Mark
from .papers import Papers

#: Pixels across of the picture of a whole sheet; finer pieces follow when the view has come to rest.
OVERVIEW = 1800
_CLOSE = 6.0  # pixels a press may wander and still be a click


#: Where a balloon may stand from its number, in pixels, the usual place first.
_SEATS = ((-26, -22), (26, -22), (-26, 22), (26, 22), (0, -34), (0, 34), (-38, 0), (38, 0), (-46, -34), (46, -34))


def _apart(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())


class Span(NamedTuple):
    """Two places a length lies between, as fractions of the sheet."""

    x0: float
    y0: float
    x1: float
    y1: float


class _Key(NamedTuple):
    paper: int
    sheet: int
    box: tuple[float, float, float, float]
    width: int


class GlassCanvas(QWidget):
    clicked = pyqtSignal(float, float)
    balloon_chosen = pyqtSignal(int)
    #: Escape was pressed while handles were shown.
    left_alone = pyqtSignal()
    balloon_moved = pyqtSignal(int, float, float)
    offer_chosen = pyqtSignal(int)
    spanned = pyqtSignal(object)

    def __init__(self, papers: Papers, palette: Palette) -> None:
        super().__init__()
        self._papers, self._palette = papers, palette
        self.paper: FarPaper | None = None
        self.sheet, self.turned = 1, 0
        self._zoom, self._middle, self._fitted = 1.0, QPointF(0, 0), True
        self._overview: QPixmap | None = None
        self._detail: tuple[tuple[float, float, float, float], QPixmap] | None = None
        self.balloons: list[Mark] = []
        self.offers: list[Mark] = []
        #: Places that something is said of, in fractions of the sheet: left, top, right, bottom.
        self.lit: tuple[tuple[float, float, float, float], ...] = ()
        self.chosen: int | None = None
        self.offered: int | None = None
        self.tool = "read"
        self._handles = Corners()
        self._press: QPointF | None = None
        self._drag: str = ""
        self._held: int | None = None
        self._span: list[QPointF] = []
        self._wanted: _Key | None = None
        self._rest = one_shot(self, 90)
        self._rest.timeout.connect(self._ask_detail)
        papers.rendered.connect(self._on_rendered)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Drawing sheet")

    # --- what is shown
    def show_sheet(self, paper: FarPaper | None, sheet: int, turned: int) -> None:
        """Show a sheet; the view is kept when it is the one already shown."""
        same = paper is self.paper and sheet == self.sheet
        fits_again = not same or turned != self.turned
        self.paper, self.sheet, self.turned = paper, sheet, turned
        if not same:
            self._overview = self._detail = None
            self._span.clear()
            if paper is not None:
                self._papers.render(
                    paper, sheet, (0, 0, 1, 1), OVERVIEW, _Key(id(paper), sheet, (0, 0, 1, 1), OVERVIEW)
                )
        if fits_again:
            self.fit()
        self.update()

    @property
    def corners(self) -> tuple[QPointF, ...]:
        """Where the handles of a sheet's corners stand, fractions of the picture."""
        return tuple(self._handles.points)

    def take_corners(self, points: tuple[QPointF, ...]) -> None:
        """Show handles at four corners; none to take them away."""
        self._handles.points = list(points)
        self.update()

    def take_tool(self, tool: str) -> None:
        """``read``, ``scale`` or ``measure``."""
        self.tool = tool
        self._span.clear()
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "read" else Qt.CursorShape.CrossCursor)
        self.update()

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def _size(self) -> tuple[float, float]:
        return self.paper.size(self.sheet) if self.paper is not None else (1.0, 1.0)

    # --- places
    def _transform(self) -> QTransform:
        """Sheet units to widget pixels."""
        t = QTransform()
        t.translate(self.width() / 2, self.height() / 2)
        t.rotate(90.0 * self.turned)
        t.scale(self._zoom, self._zoom)
        t.translate(-self._middle.x(), -self._middle.y())
        return t

    def to_screen(self, x: float, y: float) -> QPointF:
        """A place (fractions) in widget pixels."""
        w, h = self._size()
        return self._transform().map(QPointF(x * w, y * h))

    def to_sheet(self, at: QPointF) -> tuple[float, float]:
        """Widget pixels to a place, as fractions of the sheet."""
        inverse, _ = self._transform().inverted()
        point, (w, h) = inverse.map(at), self._size()
        return point.x() / w, point.y() / h

    def fit(self) -> None:
        """The whole sheet."""
        w, h = self._size()
        across, down = (w, h) if self.turned % 2 == 0 else (h, w)
        self._middle = QPointF(w / 2, h / 2)
        self._zoom = 0.97 * min(max(50, self.width()) / across, max(50, self.height()) / down)
        self._fitted = True
        self._moved()

    def zoom_by(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a place of the widget (its middle by default)."""
        at = at if at is not None else QPointF(self.width() / 2, self.height() / 2)
        w, h = self._size()
        least = 0.2 * min(self.width() / w, self.height() / h)
        most = 60.0 * max(self.width(), self.height()) / max(w, h)
        before = self._transform().inverted()[0].map(at)
        self._zoom = min(max(self._zoom * factor, least), most)
        after = self._transform().inverted()[0].map(at)
        self._middle += before - after
        self._fitted = False
        self._moved()

    def center_on(self, x: float, y: float) -> None:
        """Bring a place to the middle when it is not seen."""
        if not QRectF(self.rect()).adjusted(12, 12, -12, -12).contains(self.to_screen(x, y)):
            w, h = self._size()
            self._middle = QPointF(x * w, y * h)
            self._fitted = False
            self._moved()

    def _moved(self) -> None:
        self._rest.start()
        self.update()

    # --- pictures
    def _visible(self) -> tuple[float, float, float, float]:
        corners = [self.to_sheet(QPointF(x, y)) for x in (0, self.width()) for y in (0, self.height())]
        xs, ys = [c[0] for c in corners], [c[1] for c in corners]
        return max(0.0, min(xs)), max(0.0, min(ys)), min(1.0, max(xs)), min(1.0, max(ys))

    def _ask_detail(self) -> None:
        """A picture of what is seen in just its size, once the view rests: scaled lines fade or blur."""
        if self.paper is None:
            return
        box, (w, _) = self._visible(), self._size()
        pixels = self._zoom * w * self.devicePixelRatioF()
        if box[2] <= box[0] or box[3] <= box[1]:
            return
        key = _Key(id(self.paper), self.sheet, box, round(pixels * (box[2] - box[0])))
        if self._wanted != key:
            self._wanted = key
            self._papers.render(self.paper, self.sheet, box, key.width, key)

    def _on_rendered(self, key: object, raster: Raster) -> None:
        if not isinstance(key, _Key) or self.paper is None or key[:2] != (id(self.paper), self.sheet):
            return
        image = QImage(raster.rgb, raster.width, raster.height, 3 * raster.width, QImage.Format.Format_RGB888)
        pixmap = QPixmap.fromImage(image)
        if key.width == OVERVIEW and key.box == (0, 0, 1, 1):
            self._overview = pixmap
        if key == self._wanted:
            self._detail = (key.box, pixmap)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._palette.color("ground_bottom"))
        if self.paper is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = self._size()
        painter.setTransform(self._transform())
        painter.fillRect(QRectF(0, 0, w, h), QColor("#FFFFFF"))
        if self._overview is not None:
            painter.drawPixmap(QRectF(0, 0, w, h), self._overview, QRectF(self._overview.rect()))
        self._paint_detail(painter, w, h)
        painter.resetTransform()
        overlay.paint_lit(painter, self.lit, self.to_screen)
        overlay.paint_offers(painter, self.offers, self.offered, self.to_screen)
        self._paint_balloons(painter)
        overlay.paint_span(painter, [self.to_screen(p.x(), p.y()) for p in self._span], self.underMouse())
        self._handles.paint(painter, self.to_screen)

    def _paint_detail(self, painter: QPainter, w: float, h: float) -> None:
        """The fine picture; pixel for pixel while the view has not moved since it was made, which keeps lines sharp."""
        if self._detail is None:
            return
        (x0, y0, x1, y1), pixmap = self._detail
        box = QRectF(x0 * w, y0 * h, (x1 - x0) * w, (y1 - y0) * h)
        ratio = self.devicePixelRatioF()
        seen = self._transform().mapRect(box)
        if self.turned == 0 and abs(seen.width() * ratio - pixmap.width()) < 1.0:
            painter.resetTransform()
            pixmap.setDevicePixelRatio(ratio)
            painter.drawPixmap(round(seen.left()), round(seen.top()), pixmap)
        else:
            pixmap.setDevicePixelRatio(1.0)
            painter.drawPixmap(box, pixmap, QRectF(pixmap.rect()))

    def balloon_places(self) -> dict[int, QPointF]:
        """Where each balloon's middle stands: beside its number, and clear of the balloons before it."""
        places: dict[int, QPointF] = {}
        for mark in self.balloons:
            at = self.to_screen(mark.x, mark.y)
            seats = [at + QPointF(*offset) for offset in _SEATS]
            near = [t for t in places.values() if _apart(at, t) < 120]
            places[mark.number] = next((s for s in seats if all(_apart(s, t) >= 23 for t in near)), seats[0])
        return places

    def _paint_balloons(self, painter: QPainter) -> None:
        places = self.balloon_places()
        for mark in self.balloons:
            at, seat = self.to_screen(mark.x, mark.y), places[mark.number]
            chosen = mark.number == self.chosen
            color = LIGHT.color("brass" if chosen else "ink")
            painter.setPen(QPen(color, 1.6 if chosen else 1.0))
            away = math.hypot(at.x() - seat.x(), at.y() - seat.y())
            start = seat + (at - seat) * (11.0 / away)
            painter.drawLine(start, seat + (at - seat) * ((away - 9.0) / away))
            draw_balloon(painter, seat, mark.number, color, LIGHT.color("brass_wash" if chosen else "raised"))

    # --- hands
    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._fitted:
            self.fit()
        self._moved()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom_by(1.0016 ** event.angleDelta().y(), event.position())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._press, self._drag, self._held = event.position(), "", None
        if self._handles.press(event.position(), self.to_screen):
            self._drag = "corner"
            return
        if event.button() == Qt.MouseButton.LeftButton and self.tool == "read":
            self._held = self._balloon_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._press is None or event.buttons() == Qt.MouseButton.NoButton:
            return
        step = event.position() - self._press
        if not self._drag and math.hypot(step.x(), step.y()) > _CLOSE:
            self._drag = "balloon" if self._held is not None else "sheet"
        if self._drag == "corner":
            self._handles.drag(QPointF(*self.to_sheet(event.position())))
            self.update()
        elif self._drag == "sheet":
            inverse = self._transform().inverted()[0]
            self._middle += inverse.map(self._press) - inverse.map(event.position())
            self._press = event.position()
            self._fitted = False
            self._moved()
        elif self._drag == "balloon":
            x, y = self.to_sheet(event.position() - QPointF(*_SEATS[0]))
            self.balloons = [Mark(b.number, x, y) if b.number == self._held else b for b in self.balloons]
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        drag, held, self._drag, self._press = self._drag, self._held, "", None
        if drag == "balloon" and held is not None:
            x, y = self.to_sheet(event.position() - QPointF(*_SEATS[0]))
            self.balloon_moved.emit(held, min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0))
        elif not drag and event.button() == Qt.MouseButton.LeftButton and self.paper is not None:
            self._click(event.position(), held)

    def _click(self, at: QPointF, held: int | None) -> None:
        x, y = self.to_sheet(at)
        if held is not None:
            self.balloon_chosen.emit(held)
        elif not (0 <= x <= 1 and 0 <= y <= 1):
            return
        elif self.tool != "read":
            self._span = [QPointF(x, y)] if len(self._span) != 1 else [self._span[0], QPointF(x, y)]
            self.update()
            if len(self._span) == 2:
                (a, b) = self._span
                self.spanned.emit(Span(a.x(), a.y(), b.x(), b.y()))
        elif (offer := self._offer_at(at)) is not None:
            self.offer_chosen.emit(offer)
        else:
            self.clicked.emit(x, y)

    def _balloon_at(self, at: QPointF) -> int | None:
        places = self.balloon_places()
        for mark in reversed(self.balloons):
            seat = places[mark.number]
            if math.hypot(seat.x() - at.x(), seat.y() - at.y()) <= 12:
                return mark.number
        return None

    def _offer_at(self, at: QPointF) -> int | None:
        for mark in self.offers:
            p = self.to_screen(mark.x, mark.y)
            if abs(p.x() - at.x()) <= 17 and abs(p.y() - at.y()) <= 11:
                return mark.number
        return None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {
            Qt.Key.Key_Left: (-60, 0), Qt.Key.Key_Right: (60, 0), Qt.Key.Key_Up: (0, -60), Qt.Key.Key_Down: (0, 60),
        }  # fmt: skip
        key = event.key()
        if key in steps:
            dx, dy = steps[Qt.Key(key)]
            inverse = self._transform().inverted()[0]
            self._middle += inverse.map(QPointF(dx, dy)) - inverse.map(QPointF(0, 0))
            self._fitted = False
            self._moved()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_by(1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom_by(0.8)
        elif key == Qt.Key.Key_Home:
            self.fit()
        elif key == Qt.Key.Key_Escape:
            if self._handles.points:
                self.left_alone.emit()
            self.take_tool("read")
        else:
            super().keyPressEvent(event)
