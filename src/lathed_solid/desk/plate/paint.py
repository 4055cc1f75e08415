"""Painting the plate: marking blue, scribed lines, centre-punch marks, closed areas, open ends."""

from __future__ import annotations

import math
from collections.abc import Mapping

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from ...core.sketch.copies import is_given
from ...core.sketch.curves import arc_span, polyline
from ...core.sketch.lettering import contours
from ...core.sketch.model import Arc, Circle, Curve, Ellipse, Line, Point, Sketch, Spline, Text
from ...core.sketch.region import Region
from ...core.sketch.shadow import in_shadow, of_part
from ...core.sketch.traces import Traces
from ..theme.palette import Palette
from ..theme.style import text_font
from . import stamps
from .look import BLAMED, Look
from .screen import Transform

#: Pieces drawn by one call: few calls are quick, but a very long path is slow again.
TOGETHER = 60


def background(painter: QPainter, width: int, height: int, p: Palette) -> None:
    gradient = QLinearGradient(0, 0, 0, height)
    gradient.setColorAt(0, p.color("plate_top"))
    gradient.setColorAt(1, p.color("plate_bottom"))
    painter.fillRect(0, 0, width, height, gradient)


def sketch(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette, width: int, height: int) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _regions(painter, t, look, p)
    if look.traces is not None:
        _scan(painter, look.traces, t, p)
    _axes(painter, s, t, p, width, height)
    _axis_names(painter, s, t, look.axes, p, width, height)
    points, curves = s.points(), s.curves()
    special = look.chosen | look.blamed | {look.hover}
    dashed, plain, rest = _Strokes(), _Strokes(), []
    for curve in curves:
        if curve.id in special or (s.projected and is_given(s, curve.id)):
            rest.append(curve)
        else:
            (dashed if curve.construction else plain).add(curve, points, t)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if s.turned:
        _mirrored(painter, plain, [c for c in rest if not c.construction], points, t, p)
    dashed.draw(painter, QPen(p.color("construction"), 1.2, Qt.PenStyle.DashLine))
    plain.draw(painter, QPen(p.color("scribe"), 1.9))
    for curve in rest:
        draw_curve(painter, curve, points, t, _pen(s, curve, look, p))
    for curve in curves:
        if isinstance(curve, Spline):
            _handles(painter, curve, points, t, p)
    for text in s.texts():
        _letters(painter, text, s, t, look, p)
    _points(painter, s, t, look, p)
    _gaps(painter, points, t, look, p)


class _Strokes:
    """Curves of one look, drawn by few calls: straight ones as plain lines, which Qt draws many times quicker than
    paths, the others in paths of no great length."""

    def __init__(self) -> None:
        self.lines: list[QLineF] = []
        self.paths: list[QPainterPath] = []

    def add(self, curve: Curve, points: Mapping[str, Point], t: Transform) -> None:
        if isinstance(curve, Line):
            a, b, k = points[curve.a], points[curve.b], t.scale
            self.lines.append(QLineF(t.x0 + a.x * k, t.y0 - a.y * k, t.x0 + b.x * k, t.y0 - b.y * k))
            return
        if not self.paths or self.paths[-1].elementCount() > TOGETHER:
            self.paths.append(QPainterPath())
        add_curve(self.paths[-1], curve, points, t)

    def draw(self, painter: QPainter, pen: QPen) -> None:
        painter.setPen(pen)
        if self.lines:
            painter.drawLines(*self.lines)
        for path in self.paths:
            painter.strokePath(path, pen)


def _mirrored(
    painter: QPainter, plain: _Strokes, rest: list[Curve], points: Mapping[str, Point], t: Transform, p: Palette
) -> None:
    """The other half of a turned profile."""
    pen = QPen(p.color("construction", 0.75), 1.1)
    painter.save()
    painter.setTransform(QTransform(1, 0, 0, -1, 0, 2 * t.y0), True)
    plain.draw(painter, pen)
    for curve in rest:
        draw_curve(painter, curve, points, t, pen)
    painter.restore()


def _pen(s: Sketch, curve: Curve, look: Look, p: Palette) -> QPen:
    if curve.id in look.blamed:
        return QPen(BLAMED, 3.0)
    if curve.id in look.chosen:
        return QPen(p.color("gold"), 2.6)
    if curve.id == look.hover:
        return QPen(p.color("gold", 0.8), 2.2)
    if in_shadow(curve.id) and curve.construction:
        return QPen(p.color("scribe", 0.25 if of_part(curve.id) else 0.42), 1.0 if of_part(curve.id) else 1.2)
    if s.projected and is_given(s, curve.id):
        pen = QPen(p.color("scribe", 0.8), 1.3)
        pen.setDashPattern([1, 3] if curve.construction else [6, 2])
        return pen
    if curve.construction:
        return QPen(p.color("construction"), 1.2, Qt.PenStyle.DashLine)
    return QPen(p.color("scribe"), 1.9)


def draw_curve(painter: QPainter, curve: Curve, points: Mapping[str, Point], t: Transform, pen: QPen) -> None:
    path = QPainterPath()
    add_curve(path, curve, points, t)
    painter.strokePath(path, pen)


def add_curve(path: QPainterPath, curve: Curve, points: Mapping[str, Point], t: Transform) -> None:
    """One curve in pixels, added to a path: many curves of one look are then drawn by a single call."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        path.moveTo(t.px(a.x, a.y))
        path.lineTo(t.px(b.x, b.y))
        return
    if isinstance(curve, Circle):
        c, r = points[curve.center], curve.radius * t.scale
        path.addEllipse(t.px(c.x, c.y), r, r)
        return
    if isinstance(curve, Arc):
        c, (start, sweep, radius) = points[curve.center], arc_span(curve, points)
        middle, r = t.px(c.x, c.y), radius * t.scale
        if r < 30000:  # beyond that Qt's arcs are no longer smooth
            box = QRectF(middle.x() - r, middle.y() - r, 2 * r, 2 * r)
            path.arcMoveTo(box, math.degrees(start))
            path.arcTo(box, math.degrees(start), math.degrees(sweep))
            return
    path.addPolygon(QPolygonF([t.px(float(x), float(y)) for x, y in polyline(curve, points, math.pi / 60)]))
    if isinstance(curve, Ellipse):
        path.closeSubpath()


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
    usual = set() if look.regions.divided else {r.id for r in look.regions.regions}
    taken = set(look.areas) or usual
    for region in look.regions.every() if (look.areas or look.choosing_areas) else look.regions.regions:
        path = region_path(region, t)
        painter.setBrush(p.color("scribe", 0.10 if region.id in taken else 0.04))
        painter.drawPath(path)
        if region.id in look.areas:
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


def _scan(painter: QPainter, traces: Traces, t: Transform, p: Palette) -> None:
    """The linework of a scan below: broad and faint, unlike anything drawn."""
    painter.setPen(QPen(p.color("gold", 0.22), 5.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for x0, y0, x1, y1 in traces.lines:
        painter.drawLine(t.px(x0, y0), t.px(x1, y1))
    for x, y, r in traces.circles:
        painter.drawEllipse(t.px(x, y), r * t.scale, r * t.scale)


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


def _axis_names(
    painter: QPainter, s: Sketch, t: Transform, names: tuple[str, str], p: Palette, width: int, height: int
) -> None:
    """Which way the part's axes run, at the ends of the plate's own; an arrow where zero lies outside the view."""
    painter.setFont(text_font(8.5))
    painter.setPen(p.color("gold"))
    right, up = names
    level = min(max(t.y0, 14.0), height - 6.0)
    if right:
        painter.drawText(QPointF(width - 30, level - 6), f"{right} →")
    if up and not s.turned:
        painter.drawText(QPointF(min(max(t.x0, 4.0), width - 34.0) + 6, 14), f"{up} ↑")
    zero = QPointF(min(max(t.x0, 10.0), width - 10.0), min(max(t.y0, 10.0), height - 10.0))
    if zero != QPointF(t.x0, t.y0):
        painter.setBrush(p.color("gold"))
        painter.drawEllipse(zero, 3.0, 3.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawText(zero + QPointF(6 if t.x0 < width else -14, 4), "0")


def _points(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette) -> None:
    """Fixed points are centre-punch marks; free ones rings with ticks along the ways they can move.

    Ticks rest while something is dragged: the ways they show are those of the pose before.
    """
    directions = look.freedom.directions if look.freedom else {}
    centers = {getattr(c, "center", "") for c in s.curves()}
    lit, rings, blamed = [], [], []
    ticks: list[QLineF] = []
    punched: dict[float, list[QPointF]] = {1.8: [], 2.5: []}
    x0, y0, k = t.x0, t.y0, t.scale
    for point in s.points().values():
        if of_part(point.id) and point.id not in look.chosen and point.id != look.hover:
            continue  # the edges of the part show their corners themselves
        at = QPointF(x0 + point.x * k, y0 - point.y * k)
        rank, way = directions.get(point.id, (0, (0.0, 0.0)))
        if rank:
            rings.append(at)
            if not look.dragging:
                _ticks(ticks, at, [way] if rank == 1 else [(1.0, 0.0), (0.0, 1.0)])
        if point.id in look.blamed:
            blamed.append(at)
        elif point.id in look.chosen or point.id == look.hover:
            lit.append(at)
        elif not rank:
            punched[1.8 if point.id in centers else 2.5].append(at)
    painter.setPen(QPen(p.color("gold"), 1.6))
    if ticks:
        painter.drawLines(*ticks)
    stamps.rings(painter, rings, 4.4, p.color("gold"), p.color("plate_top"))
    for radius, places in punched.items():
        stamps.dots(painter, places, radius, p.color("scribe"))
    stamps.dots(painter, lit, 3.2, p.color("gold"))
    stamps.dots(painter, blamed, 4.0, BLAMED)


def _ticks(lines: list[QLineF], at: QPointF, ways: list[tuple[float, float]]) -> None:
    for wx, wy in ways:
        for sign in (-1, 1):
            lines.append(
                QLineF(at.x() + sign * 5 * wx, at.y() - sign * 5 * wy, at.x() + sign * 12 * wx, at.y() - sign * 12 * wy)
            )


def _gaps(painter: QPainter, points: Mapping[str, Point], t: Transform, look: Look, p: Palette) -> None:
    """Open ends in a dotted ring with the size of the gap beside it."""
    if look.regions is None:
        return
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setFont(text_font(8))
    nearest = min((g for g in look.regions.gaps if g.other), key=lambda g: g.size, default=None)
    for gap in look.regions.gaps:
        if gap.point not in points:
            continue
        at = t.px(points[gap.point].x, points[gap.point].y)
        painter.setPen(QPen(BLAMED, 1.6, Qt.PenStyle.DotLine))
        painter.drawEllipse(at, 10, 10)
        if gap is nearest:
            painter.setPen(BLAMED)
            painter.drawText(
                QRectF(at.x() - 92, at.y() + 8, 90, 16), Qt.AlignmentFlag.AlignRight, f"gap {gap.size:.3g}"
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
