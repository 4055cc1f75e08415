"""Painting the plate: marking blue, scribed lines, centre-punch marks, dimension texts."""

from __future__ import annotations

import math
import re
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF

from ...core.sketch.curves import polyline
from ...core.sketch.model import Circle, Curve, Point, Sketch
from ...core.sketch.region import Regions
from ..sheet.marks import draw_balloon
from ..theme.palette import Palette
from ..theme.style import figure_font, text_font
from .layout import Figure, Transform

if TYPE_CHECKING:
    from ...core.sketch.explain.diagnose import Freedom  # loads SciPy, which a picture does not need


class Look(NamedTuple):
    """What the painter needs besides the sketch: choices, what is under the cursor, freedom, regions, texts."""

    chosen: frozenset[str]
    hover: str
    freedom: Freedom | None
    regions: Regions | None
    texts: dict[str, str]
    blamed: frozenset[str] = frozenset()


def background(painter: QPainter, width: int, height: int, p: Palette) -> None:
    gradient = QLinearGradient(0, 0, 0, height)
    gradient.setColorAt(0, p.color("plate_top"))
    gradient.setColorAt(1, p.color("plate_bottom"))
    painter.fillRect(0, 0, width, height, gradient)


def sketch(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette, width: int, height: int) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _regions(painter, s, t, look, p)
    _axes(painter, s, t, p, width, height)
    points = s.points()
    for curve in s.curves():
        if s.turned and not curve.construction:
            _curve(painter, curve, points, t, QPen(p.color("construction", 0.75), 1.1), mirrored=True)
    for curve in s.curves():
        _curve(painter, curve, points, t, _pen(curve, look, p))
    _points(painter, s, t, look, p)
    _gaps(painter, s, t, look, p)


def _pen(curve: Curve, look: Look, p: Palette) -> QPen:
    if curve.id in look.blamed:
        return QPen(QColor("#FF9B8A"), 3.0)
    if curve.id in look.chosen:
        return QPen(p.color("gold"), 2.6)
    if curve.id == look.hover:
        return QPen(p.color("gold", 0.8), 2.2)
    if curve.construction:
        return QPen(p.color("construction"), 1.2, Qt.PenStyle.DashLine)
    return QPen(p.color("scribe"), 1.9)


def _curve(
    painter: QPainter, curve: Curve, points: dict[str, Point], t: Transform, pen: QPen, mirrored: bool = False
) -> None:
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    sign = -1.0 if mirrored else 1.0
    line = polyline(curve, points, math.pi / 60)
    polygon = QPolygonF([t.px(float(x), sign * float(y)) for x, y in line])
    if isinstance(curve, Circle):
        painter.drawPolygon(polygon)
    else:
        painter.drawPolyline(polygon)


def _regions(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
    """Closed areas are washed lightly, so that closing is seen as it happens."""
    if look.regions is None:
        return
    painter.setPen(Qt.PenStyle.NoPen)
    for region in look.regions.regions:
        path = QPainterPath()
        for loop in (region.outer, *region.holes):
            path.addPolygon(QPolygonF([t.px(float(x), float(y)) for x, y in loop.outline]))
            path.closeSubpath()
        painter.setBrush(p.color("scribe", 0.10))
        painter.drawPath(path)


def _axes(painter: QPainter, s: Sketch, t: Transform, p: Palette, width: int, height: int) -> None:
    pen = QPen(p.color("construction"), 1.0)
    pen.setDashPattern([12, 4, 2, 4])
    painter.setPen(pen)
    painter.drawLine(QPointF(0, t.y0), QPointF(width, t.y0))
    if not s.turned:
        painter.drawLine(QPointF(t.x0, 0), QPointF(t.x0, height))
    painter.setPen(QPen(p.color("gold"), 1.3))
    for a, b in (((-6, 0), (6, 0)), ((0, -6), (0, 6))):
        painter.drawLine(QPointF(t.x0 + a[0], t.y0 + a[1]), QPointF(t.x0 + b[0], t.y0 + b[1]))


def _points(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
    """Fixed points are centre-punch marks; free ones rings with ticks along the ways they can move."""
    directions = look.freedom.directions if look.freedom else {}
    centers = {getattr(c, "center", "") for c in s.curves()}
    for point in s.points().values():
        at = t.px(point.x, point.y)
        chosen = point.id in look.chosen
        color = p.color("gold") if chosen or point.id == look.hover else p.color("scribe")
        rank, (dx, dy) = directions.get(point.id, (0, (0.0, 0.0)))
        if rank == 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color)
            r = 3.4 if chosen else 1.8 if point.id in centers else 2.5
            painter.drawEllipse(at, r, r)
            continue
        painter.setPen(QPen(p.color("gold"), 1.6))
        painter.setBrush(p.color("plate_top"))
        ways = [(dx, dy)] if rank == 1 else [(1.0, 0.0), (0.0, 1.0)]
        for wx, wy in ways:
            for sign in (-1, 1):
                painter.drawLine(
                    QPointF(at.x() + sign * 5 * wx, at.y() - sign * 5 * wy),
                    QPointF(at.x() + sign * 12 * wx, at.y() - sign * 12 * wy),
                )
        painter.drawEllipse(at, 4.4, 4.4)


def _gaps(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
    if look.regions is None:
        return
    points = s.points()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor("#FF9B8A"), 1.6, Qt.PenStyle.DotLine))
    for gap in look.regions.gaps:
        at = t.px(points[gap.point].x, points[gap.point].y)
        painter.drawEllipse(at, 10, 10)


def dimensions(painter: QPainter, figures: list[Figure], look: Look, p: Palette) -> dict[str, QRectF]:
    """Draw dimension figures; returns where each text lies, for clicking."""
    boxes = {}
    for figure in figures:
        lit = figure.dimension.id in look.chosen or figure.dimension.id == look.hover
        blamed = figure.dimension.id in look.blamed
        ink = QColor("#FF9B8A") if blamed else p.color("gold") if lit else p.color("scribe", 0.85)
        painter.setPen(QPen(ink, 1.0))
        for a, b in figure.lines:
            painter.drawLine(a, b)
        for tip, direction in figure.arrows:
            _arrow(painter, tip, direction, ink)
    for figure in figures:
        boxes[figure.dimension.id] = _text(painter, figure, look, p)
    return boxes


def _arrow(painter: QPainter, tip: QPointF, direction: tuple[float, float], ink: QColor) -> None:
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    dx, dy = direction
    back = QPointF(tip.x() - 8 * dx, tip.y() - 8 * dy)
    painter.drawPolygon(
        QPolygonF(
            [tip, QPointF(back.x() - 2.4 * dy, back.y() + 2.4 * dx), QPointF(back.x() + 2.4 * dy, back.y() - 2.4 * dx)]
        )
    )
    painter.restore()


def _text(painter: QPainter, figure: Figure, look: Look, p: Palette) -> QRectF:
    """The size as a drawing writes it, with the balloon of the callout it comes from."""
    d = figure.dimension
    words = look.texts.get(d.id, d.text)
    if d.reference:
        words = f"({words})"
    font = figure_font(9)
    painter.setFont(font)
    width = QFontMetrics(font).horizontalAdvance(words)
    balloon = re.fullmatch(r"#(\d+)(\.[a-z_]+)?", d.text.strip())
    extra = 22 if balloon else 0
    box = QRectF(figure.text_at.x() - (width + extra) / 2 - 3, figure.text_at.y() - 9, width + extra + 6, 18)
    lit = d.id in look.chosen or d.id == look.hover
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("plate_bottom", 0.92))
    painter.drawRoundedRect(box, 3, 3)
    ink = QColor("#FF9B8A") if d.id in look.blamed else p.color("gold") if lit else p.color("scribe")
    painter.setPen(ink)
    painter.drawText(box.adjusted(3, 0, -extra - 3, 0), Qt.AlignmentFlag.AlignCenter, words)
    if balloon:
        center = QPointF(box.right() - 11, box.center().y())
        draw_balloon(painter, center, int(balloon[1]), p.color("gold"), p.color("plate_bottom"), 8.5)
    return box


def note(painter: QPainter, words: str, width: int, height: int, p: Palette) -> None:
    """A line in the middle of an empty plate."""
    painter.setPen(p.color("construction"))
    painter.setFont(text_font(11))
    painter.drawText(QRectF(0, 0, width, height), Qt.AlignmentFlag.AlignCenter, words)
