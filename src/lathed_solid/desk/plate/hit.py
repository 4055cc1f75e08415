"""What of a sketch lies under a pixel."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF

from ...core.sketch.curves import nearest
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Sketch
from .layout import Transform
from .paint import letters_path


def element(sketch: Sketch, t: Transform, at: QPointF, reach: float) -> str:
    """The point, curve, letters or axis nearest to a pixel within ``reach`` pixels; points first; "" for none."""
    points = sketch.points()
    for p in points.values():
        if gap(t.px(p.x, p.y), at) < reach - 1:
            return p.id
    if gap(t.px(0, 0), at) < reach - 3:  # a point like the others, so before lines that pass through it
        return ORIGIN
    x, y = t.mm(at)
    best = (reach - 2, "")
    for curve in sketch.curves():
        best = min(best, (nearest(curve, points, x, y)[0] * t.scale, curve.id))
    if best[1]:
        return best[1]
    for text in sketch.texts():
        if letters_path(text, sketch, t).boundingRect().contains(at):
            return text.id
    if abs(at.y() - t.y0) < 4:
        return ALONG
    return ACROSS if abs(at.x() - t.x0) < 4 and not sketch.turned else ""


def gap(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())
