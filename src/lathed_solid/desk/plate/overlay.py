"""What lies over the sketch while something is under way: previews, snaps, ghosts, relation marks."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen, QPolygonF

from ...core.drafting.figures import middle
from ...core.sketch.kinds import RELATIONS
from ...core.sketch.model import Curve, Point, Relation, Sketch, stands_on
from ..theme.palette import Palette
from ..theme.style import text_font
from .hold import Hand
from .look import BLAMED, Look
from .paint import draw_curve, letters_path, tint
from .screen import Transform


def preview(painter: QPainter, before: Sketch, hand: Hand, t: Transform, p: Palette) -> None:
    """What the tool in hand would make, the snap under the cursor and what it means."""
    if not hand.draws:
        return
    pen = QPen(p.color("gold"), 1.5)
    if hand.preview is not None:
        _difference(painter, before, hand.preview, t, pen)
    elif hand.spots:
        painter.setPen(QPen(p.color("gold", 0.8), 1.2, Qt.PenStyle.DashLine))
        painter.drawPolyline(QPolygonF([t.px(s.x, s.y) for s in (*hand.spots, hand.here)]))
    painter.setPen(QPen(p.color("gold", 0.6), 1.0, Qt.PenStyle.DotLine))
    for a, b in hand.snap.guides:
        painter.drawLine(t.px(*a), t.px(*b))
    here = t.px(hand.here.x, hand.here.y)
    for axis, value in hand.held.items():
        far = QPointF(t.px(value, 0).x(), 0) if axis == "x" else QPointF(0, t.px(0, value).y())
        painter.drawLine(far, here)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if hand.snap.words and hand.here == hand.snap.spot:
        painter.drawEllipse(here, 7, 7)
        _label(painter, here, ", ".join(hand.snap.words), p)
    else:
        painter.drawEllipse(here, 2, 2)


def _label(painter: QPainter, at: QPointF, words: str, p: Palette) -> None:
    painter.setFont(text_font(8.5))
    width = QFontMetricsF(painter.font()).horizontalAdvance(words)
    box = QRectF(at.x() + 14, at.y() - 26, width + 10, 18)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("plate_bottom", 0.9))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(p.color("gold"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _difference(painter: QPainter, before: Sketch, after: Sketch, t: Transform, pen: QPen) -> None:
    """Curves that are new or elsewhere; what would go is struck out."""
    old, points = {e.id: e for e in before.entities}, after.points()
    for curve in after.curves():
        if _changed(old, curve, points):
            made = QPen(pen)
            if curve.construction:
                made.setStyle(Qt.PenStyle.DashLine)
            draw_curve(painter, curve, points, t, made)
    for text in after.texts():
        if old.get(text.id) != text:
            painter.setPen(pen)
            painter.drawPath(letters_path(text, after, t))
    kept = {e.id for e in after.entities}
    was = before.points()
    for curve in before.curves():
        if curve.id not in kept:
            draw_curve(painter, curve, was, t, QPen(BLAMED, 2.4))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(pen.color())
    for point in points.values():
        if point.id not in old:
            painter.drawEllipse(t.px(point.x, point.y), 2.4, 2.4)


def _changed(old: Mapping[str, object], curve: Curve, points: dict[str, Point]) -> bool:
    return old.get(curve.id) != curve or any(old.get(i) != points[i] for i in stands_on(curve) if i in points)


def ghosts(painter: QPainter, before: Sketch, others: Sequence[Sketch], shown: int, t: Transform, p: Palette) -> None:
    """Other solutions: the one to be taken drawn strong, the rest faint."""
    old = before.by_id if others else {}
    for k, other in enumerate(others):
        strong = k == shown
        pen = QPen(tint(p.color("gold"), 0.95 if strong else 0.35), 2.2 if strong else 1.2, Qt.PenStyle.DashLine)
        points = other.points()
        for curve in other.curves():
            if _changed(old, curve, points):
                draw_curve(painter, curve, points, t, pen)


def marks(painter: QPainter, s: Sketch, t: Transform, look: Look, p: Palette) -> dict[str, QRectF]:
    """Signs of relations beside what they hold; assumed ones in a dotted frame. Returns where they lie."""
    boxes: dict[str, QRectF] = {}
    crowd: dict[tuple[int, int], int] = {}
    painter.setFont(text_font(8.5))
    for relation in s.relations:
        if not _shown(relation, look):
            continue
        for id_ in dict.fromkeys(relation.of[:2]):
            at = _beside(s, id_, t)
            if at is None:
                continue
            key = (round(at.x() / 18), round(at.y() / 18))
            crowd[key] = crowd.get(key, 0) + 1
            box = QRectF(at.x() - 8 + 17 * (crowd[key] - 1), at.y() - 8, 16, 16)
            _mark(painter, box, relation, look, p)
            boxes.setdefault(relation.id, box)
            if relation.kind in ("horizontal", "vertical", "on", "midpoint", "tangent", "perpendicular"):
                break
    return boxes


def _shown(relation: Relation, look: Look) -> bool:
    if look.all_marks or relation.id in look.blamed or relation.id in look.chosen:
        return True
    return relation.assumed or bool(look.chosen & set(relation.of))


def _beside(s: Sketch, id_: str, t: Transform) -> QPointF | None:
    if id_ not in s.by_id:
        return None
    entity = s.get(id_)
    x, y = middle(s, id_)
    at = t.px(x, y)
    if isinstance(entity, Point):
        return QPointF(at.x() + 12, at.y() + 12)
    radius = getattr(entity, "radius", 0.0) * t.scale
    if radius:
        return QPointF(at.x() - radius * math.sqrt(0.5) - 8, at.y() - radius * math.sqrt(0.5) - 8)
    if hasattr(entity, "center") and hasattr(entity, "b"):
        from ...core.sketch.curves import at as place

        at = t.px(*place(entity, s.points(), 0.5))  # type: ignore[arg-type]
    return QPointF(at.x() + 2, at.y() - 12)


def _mark(painter: QPainter, box: QRectF, relation: Relation, look: Look, p: Palette) -> None:
    lit = relation.id in look.chosen or relation.id == look.hover
    ink = BLAMED if relation.id in look.blamed else p.color("gold") if lit else p.color("scribe", 0.9)
    painter.setBrush(p.color("plate_bottom", 0.85))
    painter.setPen(QPen(ink, 1.0, Qt.PenStyle.DotLine if relation.assumed else Qt.PenStyle.SolidLine))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(ink)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, RELATIONS[relation.kind].sign)


def prompt(painter: QPainter, words: str, trouble: str, p: Palette) -> None:
    """What the tool in hand waits for, at the head of the plate."""
    if not words:
        return
    painter.setFont(text_font(9))
    painter.setPen(p.color("scribe"))
    painter.drawText(QPointF(12, 18), words)
    if trouble:
        painter.setPen(p.color("gold"))
        painter.drawText(QPointF(12, 34), trouble)
