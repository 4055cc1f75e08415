"""Painting the plate: marking blue, scribed lines, centre-punch marks, closed areas, open ends."""

from __future__ import annotations

import math
from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF

from ...core.sketch.copies import is_given
from ...core.sketch.curves import polyline
from ...core.sketch.lettering import contours
from ...core.sketch.model import Circle, Curve, Ellipse, Line, Point, Sketch, Spline, Text
from ...core.sketch.region import Region
from ..theme.palette import Palette
from ..theme.style import text_font
from .layout import Transform
from .look import BLAMED, Look


def background(painter: QPainter, width: int, height: int, p: Palette) -> None:
    gradient = QLinearGradient(0, 0, 0, height)
    gradient.setColorAt(0, p.color("plate_top"))
    gradient.setColorAt(1, p.color("plate_bottom"))
    painter.fillRect(0, 0, width, height, gradient)


def sketch(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette, width: int, height: int) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _regions(painter, t, look, p)
    _axes(painter, s, t, p, width, height)
    points, curves = s.points(), s.curves()
    for curve in curves:
        if s.turned and not curve.construction:
            draw_curve(painter, curve, points, t, QPen(p.color("construction", 0.75), 1.1), mirrored=True)
    for curve in curves:
        draw_curve(painter, curve, points, t, _pen(s, curve, look, p))
        if isinstance(curve, Spline):
            _handles(painter, curve, points, t, p)
    for text in s.texts():
        _letters(painter, text, s, t, look, p)
    _points(painter, s, t, look, p)
    _gaps(painter, points, t, look, p)


def _pen(s: Sketch, curve: Curve, look: Look, p: Palette) -> QPen:
    if curve.id in look.blamed:
        return QPen(BLAMED, 3.0)
    if curve.id in look.chosen:
        return QPen(p.color("gold"), 2.6)
    if curve.id == look.hover:
        return QPen(p.color("gold", 0.8), 2.2)
    if s.projected and is_given(s, curve.id):
        pen = QPen(p.color("scribe", 0.8), 1.3)
        pen.setDashPattern([1, 3] if curve.construction else [6, 2])
        return pen
    if curve.construction:
        return QPen(p.color("construction"), 1.2, Qt.PenStyle.DashLine)
    return QPen(p.color("scribe"), 1.9)


def draw_curve(
    painter: QPainter, curve: Curve, points: Mapping[str, Point], t: Transform, pen: QPen, mirrored: bool = False
) -> None:
    """One curve; ``mirrored`` on the other side of the axis."""
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    sign = -1.0 if mirrored else 1.0
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        painter.drawLine(t.px(a.x, sign * a.y), t.px(b.x, sign * b.y))
        return
    if isinstance(curve, Circle):
        c, r = points[curve.center], curve.radius * t.scale
        painter.drawEllipse(t.px(c.x, sign * c.y), r, r)
        return
    polygon = QPolygonF([t.px(float(x), sign * float(y)) for x, y in polyline(curve, points, math.pi / 60)])
    if isinstance(curve, Ellipse):
        painter.drawPolygon(polygon)
    else:
        painter.drawPolyline(polygon)


def _handles(painter: QPainter, spline: Spline, points: Mapping[str, Point], t: Transform, p: Palette) -> None:
    painter.setPen(QPen(p.color("construction"), 1.0))
    for end, handle in ((spline.through[0], spline.start), (spline.through[-1], spline.end)):
        if handle:
            painter.drawLine(t.px(points[end].x, points[end].y), t.px(points[handle].x, points[handle].y))


def letters_path(text: Text, s: Sketch, t: Transform) -> QPainterPath:
    """The outlines of a text in pixels."""
    path = QPainterPath()
    for contour in contours(text, s):
        path.moveTo(t.px(*map(float, contour.cubics[0, 0])))
        for _, b, c, d in contour.cubics:
            path.cubicTo(t.px(*map(float, b)), t.px(*map(float, c)), t.px(*map(float, d)))
        path.closeSubpath()
    return path


def _letters(painter: QPainter, text: Text, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
    lit = text.id in look.chosen or text.id == look.hover
    painter.setPen(QPen(p.color("gold") if lit else p.color("scribe"), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(letters_path(text, s, t))


def region_path(region: Region, t: Transform) -> QPainterPath:
    path = QPainterPath()
    for loop in (region.outer, *region.holes):
        path.addPolygon(QPolygonF([t.px(float(x), float(y)) for x, y in loop.outline]))
        path.closeSubpath()
    return path


def _regions(painter: QPainter, t: Transform, look: Look, p: Palette) -> None:
    """Closed areas are washed lightly, so that closing is seen as it happens; those taken are hatched."""
    if look.regions is None:
        return
    painter.setPen(Qt.PenStyle.NoPen)
    taken = set(look.areas) or {r.id for r in look.regions.regions}
    for region in look.regions.every() if (look.areas or look.choosing_areas) else look.regions.regions:
        path = region_path(region, t)
        painter.setBrush(p.color("scribe", 0.10 if region.id in taken else 0.04))
        painter.drawPath(path)
        if region.id in taken and (look.areas or look.choosing_areas):
            _hatch(painter, path, p)
            painter.setPen(Qt.PenStyle.NoPen)


def _hatch(painter: QPainter, path: QPainterPath, p: Palette) -> None:
    painter.save()
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    painter.setPen(QPen(p.color("gold", 0.55), 1.0))
    box = path.boundingRect()
    x = box.left() - box.height()
    while x < box.right():
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()))
        x += 9
    painter.restore()


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
        color = BLAMED if point.id in look.blamed else p.color("gold" if chosen or point.id == look.hover else "scribe")
        rank, (dx, dy) = directions.get(point.id, (0, (0.0, 0.0)))
        if rank == 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color)
            r = 3.6 if chosen or point.id in look.blamed else 1.8 if point.id in centers else 2.5
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
        if chosen:
            painter.setBrush(p.color("gold"))
            painter.drawEllipse(at, 2.4, 2.4)


def _gaps(painter: QPainter, points: Mapping[str, Point], t: Transform, look: Look, p: Palette) -> None:
    """Open ends in a dotted ring with the size of the gap beside it."""
    if look.regions is None:
        return
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setFont(text_font(8))
    told: set[str] = set()
    for gap in look.regions.gaps:
        if gap.point not in points:
            continue
        at = t.px(points[gap.point].x, points[gap.point].y)
        painter.setPen(QPen(BLAMED, 1.6, Qt.PenStyle.DotLine))
        painter.drawEllipse(at, 10, 10)
        if gap.other and gap.other not in told and gap.size * t.scale < 260:
            told.add(gap.point)
            painter.setPen(BLAMED)
            painter.drawText(
                QRectF(at.x() + 12, at.y() - 20, 90, 16), Qt.AlignmentFlag.AlignLeft, f"gap {gap.size:.3g}"
            )


def note(painter: QPainter, words: str, width: int, height: int, p: Palette) -> None:
    """A line in the middle of an empty plate."""
    painter.setPen(p.color("construction"))
    painter.setFont(text_font(11))
    painter.drawText(QRectF(0, 0, width, height), Qt.AlignmentFlag.AlignCenter, words)


def tint(color: QColor, alpha: float) -> QColor:
    made = QColor(color)
    made.setAlphaF(alpha)
    return made
