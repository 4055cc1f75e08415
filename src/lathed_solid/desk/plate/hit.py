"""What of a sketch lies under a pixel."""

from __future__ import annotations

import itertools
import math

from PyQt6.QtCore import QPointF

from ...core.sketch.curves import polyline
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Circle, Ellipse, Sketch
from .layout import Transform
from .paint import letters_path


def element(sketch: Sketch, t: Transform, at: QPointF, reach: float) -> str:
    """The point, curve, letters or axis nearest to a pixel within ``reach`` pixels; points first; "" for none."""
    points = sketch.points()
    for p in points.values():
        if gap(t.px(p.x, p.y), at) < reach - 1:
            return p.id
    best = (reach - 2, "")
    for curve in sketch.curves():
        line = [t.px(float(x), float(y)) for x, y in polyline(curve, points, math.pi / 24)]
        if isinstance(curve, Circle | Ellipse):
            line.append(line[0])
        for a, b in itertools.pairwise(line):
            best = min(best, (_to_segment(at, a, b), curve.id))
    if best[1]:
        return best[1]
    for text in sketch.texts():
        if letters_path(text, sketch, t).boundingRect().contains(at):
            return text.id
    if gap(t.px(0, 0), at) < reach:
        return ORIGIN
    if abs(at.y() - t.y0) < 4:
        return ALONG
    return ACROSS if abs(at.x() - t.x0) < 4 and not sketch.turned else ""


def gap(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())


def _to_segment(p: QPointF, a: QPointF, b: QPointF) -> float:
    dx, dy = b.x() - a.x(), b.y() - a.y()
    length = dx * dx + dy * dy
    t = max(0.0, min(1.0, ((p.x() - a.x()) * dx + (p.y() - a.y()) * dy) / length)) if length else 0.0
    return math.hypot(p.x() - a.x() - t * dx, p.y() - a.y() - t * dy)
