"""The still part of the plate: the sketch with its sizes and relation marks, painted anew only when it has changed."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from ...core.drafting.figures import Figure
from ...core.drafting.layout import lay_out
from ...core.sketch.model import Sketch
from ..theme.palette import Palette
from . import figures, overlay, paint
from .look import Look
from .screen import Transform

#: Sketches with more sizes than this show them again when a drag has ended: laying out hundreds of texts takes
#: longer than a frame of a drag may.
DRAGGED_TEXTS = 40


class Picture:
    """Paints a sketch. ``boxes`` and ``marks`` say where texts of sizes and signs of relations lie, by id, pixels."""

    def __init__(self) -> None:
        self.boxes: dict[str, QRectF] = {}
        self.marks: dict[str, QRectF] = {}
        self._figures: tuple[object, list[Figure]] = (None, [])
        self._key: tuple[object, ...] = ()
        self._held: tuple[object, ...] = ()
        self._kept = QPixmap()

    def show(self, painter: QPainter, on: QWidget, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
        """Paint it with its ground onto a widget, from the kept picture while nothing in it has changed."""
        if look.dragging:
            paint.background(painter, on.width(), on.height(), p)
            self.draw(painter, s, t, look, p, on.width(), on.height())
            return
        # Large parts are told apart by being the same object; holding them keeps their ids from being used again.
        held = (s, look.freedom, look.regions, look.texts, p)
        plain = look._replace(freedom=None, regions=None, texts={})
        key = (*map(id, held), plain, t.scale, t.x0, t.y0, on.size(), on.devicePixelRatioF())
        if key != self._key or self._kept.isNull():
            ratio = on.devicePixelRatioF()
            self._kept = QPixmap(on.size() * ratio)
            self._kept.setDevicePixelRatio(ratio)
            with_ground = QPainter(self._kept)
            paint.background(with_ground, on.width(), on.height(), p)
            self.draw(with_ground, s, t, look, p, on.width(), on.height())
            with_ground.end()
            self._key, self._held = key, held
        painter.drawPixmap(0, 0, self._kept)

    def draw(self, painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette, width: int, height: int) -> None:
        """Paint it onto anything, without its ground."""
        paint.sketch(painter, s, t, look, p, width, height)
        if not look.dragging or len(s.dimensions) <= DRAGGED_TEXTS:
            self.boxes = figures.dimensions(painter, self._laid_out(s, t, look), look, p)
        if not look.dragging and s.stations is None:
            self.marks = overlay.marks(painter, s, t, look, p)

    def _laid_out(self, s: Sketch, t: Transform, look: Look) -> list[Figure]:
        """Figures of the dimensions; laid out anew only when something has changed."""
        key = (s, t.scale, t.x0, t.y0, tuple(look.texts.items()))
        if self._figures[0] != key:
            widths = figures.text_widths(s.dimensions, look)
            self._figures = (key, lay_out(s, t, widths))
        return self._figures[1]
