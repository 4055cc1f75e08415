"""What of a sketch lies under a pixel."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF

from ...core.sketch.curves import nearest
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Line, Sketch
from ...core.sketch.shadow import of_part
from .paint import letters_path
from .screen import Transform

#: What lies this near (pixels) is meant.
SNAP = 9.0
#: A point this near (pixels) is meant, whatever is written over it.
OVER = 4


def element(sketch: Sketch, t: Transform, at: QPointF, reach: float) -> str:
    """The point, curve, letters or axis nearest to a pixel within ``reach`` pixels; "" for none.

    Points come first, and what was drawn before the part under it; of a line hardly longer than that reach the middle
    is the line.
    """
    if short := short_line(sketch, t, at, reach):
        return short
    if found := point(sketch, t, at, reach - 1):
        return found
    points, (x, y) = sketch.points(), t.mm(at)
    best = (reach - 2, "")
    for curve in sketch.curves():
        away = nearest(curve, points, x, y)[0] * t.scale + (1.0 if of_part(curve.id) else 0.0)
        best = min(best, (away, curve.id))
    if best[1]:
        return best[1]
    for text in sketch.texts():
        if letters_path(text, sketch, t).boundingRect().contains(at):
            return text.id
    if abs(at.y() - t.y0) < 4:
        return ALONG
    return ACROSS if abs(at.x() - t.x0) < 4 and not sketch.turned else ""


def point(sketch: Sketch, t: Transform, at: QPointF, reach: float) -> str:
    """The nearest point within ``reach`` pixels, a drawn one before zero and that before a corner of the part."""
    near = [(of_part(p.id), gap(t.px(p.x, p.y), at), p.id) for p in sketch.points().values()]
    near.append((False, gap(t.px(0, 0), at) + 2, ORIGIN))
    found = min((n for n in near if n[1] < reach), default=None)
    return found[2] if found is not None else ""


def short_line(sketch: Sketch, t: Transform, at: QPointF, reach: float) -> str:
    """A line so short that its ends would always win: hit nearer to its middle than to either end."""
    points = sketch.points()
    for line in sketch.curves():
        if not isinstance(line, Line) or of_part(line.id):
            continue
        a, b = (t.px(points[i].x, points[i].y) for i in (line.a, line.b))
        middle, size = (a + b) / 2, gap(a, b)
        if 2 < size < 3 * reach and gap(middle, at) < min(gap(a, at), gap(b, at), reach):
            return line.id
    return ""


def gap(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())
