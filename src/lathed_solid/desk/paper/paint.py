"""A drawn page painted: lines gathered by pen once, then drawn at any scale; in ink on paper whatever the palette."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QPainter, QPainterPath, QPen, QPolygonF

from ...core.drafting.sheet.scene import PENS, Arrow, Mark, Path, PenName, Round, Scene, Sized, Words, arrow_corners
from ...core.drafting.sheet.words import CAPITALS
from ..theme.style import SYMBOLS

INK, CHOSEN = QColor("#16202A"), QColor("#A35A00")
#: Text is set at this size and scaled, so that it has the widths it has in the files.
_PIXELS = 100


def sheet_font() -> QFont:
    """The typeface of our sheets, the same as in the files."""
    font = QFont(SYMBOLS)
    font.setPixelSize(_PIXELS)
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return font


class Painted:
    """A scene made ready: one path a pen, the arrow heads, the words. What is called ``chosen`` is kept apart."""

    def __init__(self, scene: Scene, chosen: str = "") -> None:
        self.scene = scene
        self._high = scene.height
        self._lines: dict[tuple[PenName, bool], QPainterPath] = {}
        self._arrows: dict[bool, list[QPolygonF]] = {False: [], True: []}
        self._words: list[tuple[Words, bool]] = []
        for mark in scene.marks:
            self._take(mark, bool(chosen) and mark.of == chosen)

    def _take(self, mark: Mark, chosen: bool) -> None:
        if isinstance(mark, Sized):
            for inner in mark.marks:
                self._take(inner, chosen)
        elif isinstance(mark, Words):
            self._words.append((mark, chosen))
        elif isinstance(mark, Arrow):
            self._arrows[chosen].append(QPolygonF([self._at(p) for p in arrow_corners(mark)]))
        else:
            self._line(mark, self._lines.setdefault((mark.pen, chosen), QPainterPath()))

    def _line(self, mark: Path | Round, path: QPainterPath) -> None:
        if isinstance(mark, Path):
            path.moveTo(self._at(mark.points[0]))
            for point in mark.points[1:]:
                path.lineTo(self._at(point))
            return
        (x, y), r = mark.center, mark.radius
        box = QRectF(x - r, self._high - y - r, 2 * r, 2 * r)
        path.arcMoveTo(box, math.degrees(mark.start))
        path.arcTo(box, math.degrees(mark.start), math.degrees(mark.sweep))

    def _at(self, place: tuple[float, float]) -> QPointF:
        return QPointF(place[0], self._high - place[1])

    def paint(self, painter: QPainter, chosen: QColor = CHOSEN) -> None:
        """Draw it in mm of the page, y downwards; the painter is scaled already."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for (pen, is_chosen), path in self._lines.items():
            painter.setPen(_pen(pen, chosen if is_chosen else INK))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
        painter.setPen(Qt.PenStyle.NoPen)
        for is_chosen, heads in self._arrows.items():
            painter.setBrush(QBrush(chosen if is_chosen else INK))
            for head in heads:
                painter.drawPolygon(head)
        painter.setFont(sheet_font())
        for words, is_chosen in self._words:
            painter.setPen(chosen if is_chosen else INK)
            _letter(painter, words, self._at(words.at))


def _pen(name: PenName, color: QColor) -> QPen:
    pen = PENS[name]
    made = QPen(color, pen.width)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if pen.dashes:
        made.setDashPattern([d / pen.width for d in pen.dashes])
    return made


def _letter(painter: QPainter, words: Words, at: QPointF) -> None:
    painter.save()
    painter.translate(at)
    if words.turn:
        painter.rotate(-words.turn)
    scale = words.height / CAPITALS / _PIXELS
    painter.scale(scale, scale)
    if words.align != "start":
        across = painter.fontMetrics().horizontalAdvance(words.text)
        painter.translate(-across / 2 if words.align == "middle" else -across, 0.0)
    painter.drawText(QPointF(0.0, 0.0), words.text)
    painter.restore()
