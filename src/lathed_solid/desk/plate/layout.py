"""Where things lie on the plate: the transform, and places for dimension texts that do not overlap."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF

from ...core.sketch.curves import arc_span, polyline
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Line, Sketch


class Transform:
    """Sketch mm to widget pixels: x right, y up."""

    def __init__(self) -> None:
        self.scale, self.x0, self.y0 = 4.0, 60.0, 150.0

    def px(self, x: float, y: float) -> QPointF:
        return QPointF(self.x0 + x * self.scale, self.y0 - y * self.scale)

    def mm(self, p: QPointF) -> tuple[float, float]:
        return (p.x() - self.x0) / self.scale, (self.y0 - p.y()) / self.scale

    def zoom(self, at: QPointF, factor: float) -> None:
        """About a pixel; the place under it stays."""
        x, y = self.mm(at)
        self.scale = min(2000.0, max(0.05, self.scale * factor))
        self.x0, self.y0 = at.x() - x * self.scale, at.y() + y * self.scale

    def fit(self, box: QRectF, width: int, height: int, margins: tuple[int, int, int, int]) -> None:
        """Show a box of mm (x, y low corner) inside margins left, top, right, bottom in pixels."""
        left, top, right, bottom = margins
        room_x, room_y = max(50, width - left - right), max(40, height - top - bottom)
        self.scale = min(room_x / max(box.width(), 1e-3), room_y / max(box.height(), 1e-3), 60.0)
        self.x0 = left + room_x / 2 - (box.x() + box.width() / 2) * self.scale
        self.y0 = top + room_y / 2 + (box.y() + box.height() / 2) * self.scale


def bounds(sketch: Sketch) -> QRectF:
    """Box of the sketch in mm; a turned profile with both halves."""
    points = sketch.points()
    lines = [polyline(c, points) for c in sketch.curves()]
    if not lines:
        return QRectF(-5, -15, 60, 30)
    every = np.concatenate(lines)
    (x0, y0), (x1, y1) = every.min(axis=0), every.max(axis=0)
    if sketch.turned:
        y1 = max(abs(y0), abs(y1))
        y0 = -y1
    return QRectF(float(x0), float(y0), float(x1 - x0), float(y1 - y0))


class Figure(NamedTuple):
    """A dimension laid out in pixels: line pieces, arrow heads (tip, direction) and where its text is centred."""

    dimension: Dimension
    lines: tuple[tuple[QPointF, QPointF], ...]
    arrows: tuple[tuple[QPointF, tuple[float, float]], ...]
    text_at: QPointF


def anchor(sketch: Sketch, id_: str) -> tuple[float, float]:
    """Where a dimension takes hold of an element, mm."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return 0.0, 0.0
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        # The end farther from the axis: where a drawing would start its extension line.
        p = a if abs(a.y) >= abs(b.y) else b
    elif isinstance(entity, Circle | Arc):
        p = points[entity.center]
    else:
        p = points[id_]
    return p.x, p.y


def middle(sketch: Sketch, id_: str) -> tuple[float, float]:
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        return (a.x + b.x) / 2, (a.y + b.y) / 2
    return anchor(sketch, id_)


def lay_out(sketch: Sketch, t: Transform, width: float = 44.0) -> list[Figure]:
    """Figures for all dimensions: lengths in rows below the part, diameters across it, the rest beside what they size.

    ``width`` is about how wide a text is, pixels.
    """
    box = bounds(sketch)
    floor = t.px(0, box.y()).y() + 16
    found: list[Figure] = []
    rows: list[list[tuple[float, float]]] = []
    lengths = lengths_of(sketch)
    for d in sorted(lengths, key=lambda d: _span(sketch, d)[1] - _span(sketch, d)[0]):
        found.append(_length(sketch, d, t, floor, rows, width))
    texts: list[QRectF] = []
    for d in sketch.dimensions:
        if d in lengths or is_chamfer_angle(sketch, d):
            continue
        figure = _DRAW.get(d.kind, _beside)(sketch, d, t)
        found.append(figure._replace(text_at=_free(figure.text_at, texts, width)))
    return found


def lengths_of(sketch: Sketch) -> list[Dimension]:
    """The sizes that stand in rows below the part."""
    return [d for d in sketch.dimensions if d.kind == "along" and not _is_leg(sketch, d)]


def is_chamfer_angle(sketch: Sketch, d: Dimension) -> bool:
    """A chamfer's angle is written with its leg, as on a drawing (1 × 45°), and has no figure of its own."""
    return d.id.endswith(".angle") and any(o.id == d.id.removesuffix("angle") + "leg" for o in sketch.dimensions)


def _is_leg(sketch: Sketch, d: Dimension) -> bool:
    """A chamfer's leg is shown at the chamfer, not in the rows of lengths."""
    return any(isinstance(c, Line) and {c.a, c.b} == set(d.of) for c in sketch.curves())


def _span(sketch: Sketch, d: Dimension) -> tuple[float, float]:
    x0, x1 = (anchor(sketch, i)[0] for i in d.of)
    return min(x0, x1), max(x0, x1)


def _length(
    sketch: Sketch, d: Dimension, t: Transform, floor: float, rows: list[list[tuple[float, float]]], width: float
) -> Figure:
    low, high = (t.px(x, 0).x() for x in _span(sketch, d))
    center = (low + high) / 2
    need = (min(low, center - width / 2) - 4, max(high, center + width / 2) + 4)
    row = next((i for i, taken in enumerate(rows) if all(need[1] <= a or need[0] >= b for a, b in taken)), len(rows))
    if row == len(rows):
        rows.append([])
    rows[row].append(need)
    y = floor + 18 * row
    ends = [anchor(sketch, i) for i in d.of]
    side = -1 if sketch.turned else 1
    lines = [(QPointF(t.px(x, 0).x(), t.px(x, side * abs(v)).y() + 3), QPointF(t.px(x, 0).x(), y + 4)) for x, v in ends]
    a, b = QPointF(low, y), QPointF(high, y)
    return Figure(d, ((a, b), *lines), ((a, (-1.0, 0.0)), (b, (1.0, 0.0))), QPointF(center, y))


def _diameter(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    id_ = d.of[0]
    if id_ not in sketch.points() and isinstance(sketch.get(id_), Circle | Arc):
        return _round(sketch, d, t)
    x, y = middle(sketch, id_)
    top, bottom = t.px(x, abs(y)), t.px(x, -abs(y))
    return Figure(d, ((top, bottom),), ((top, (0.0, -1.0)), (bottom, (0.0, 1.0))), t.px(x, 0))


def _round(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    entity, points = sketch.get(d.of[0]), sketch.points()
    assert isinstance(entity, Circle | Arc)
    c = points[entity.center]
    if isinstance(entity, Circle):
        angle, radius = math.radians(40), entity.radius
    else:
        start, sweep, radius = arc_span(entity, points)
        angle = start + sweep / 2
    rim = t.px(c.x + radius * math.cos(angle), c.y + radius * math.sin(angle))
    away = 1.0 if isinstance(entity, Circle) else -1.0 if radius * t.scale > 60 else 1.0
    text = QPointF(rim.x() + away * 30 * math.cos(angle), rim.y() - away * 30 * math.sin(angle))
    return Figure(d, ((rim, text),), ((rim, (-away * math.cos(angle), away * math.sin(angle))),), text)


def _beside(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    """Angles, legs and straight distances: at the middle of what they size, a little off."""
    places = [middle(sketch, i) if i not in (ALONG, ACROSS, ORIGIN) else None for i in d.of]
    known = [p for p in places if p is not None]
    x, y = sum(p[0] for p in known) / len(known), sum(p[1] for p in known) / len(known)
    at = t.px(x, y)
    if d.kind == "distance" and len(known) == 2:
        a, b = _closest(sketch, d, t)
        middle_px = QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2)
        dx, dy = b.x() - a.x(), b.y() - a.y()
        size = math.hypot(dx, dy) or 1.0
        return Figure(d, ((a, b),), ((a, (-dx / size, -dy / size)), (b, (dx / size, dy / size))), middle_px)
    text = QPointF(at.x() + 18, at.y() - 20 - (14 if d.kind == "angle" else 0))
    return Figure(d, ((at, QPointF(text.x() - 8, text.y() + 5)),), (), text)


def _closest(sketch: Sketch, d: Dimension, t: Transform) -> tuple[QPointF, QPointF]:
    """Ends of a straight distance: square onto a line when one of the two is a line."""
    lines = [i for i in d.of if i not in (ALONG, ACROSS, ORIGIN) and isinstance(sketch.get(i), Line)]
    if not lines:
        return t.px(*anchor(sketch, d.of[0])), t.px(*anchor(sketch, d.of[1]))
    line, points = sketch.get(lines[0]), sketch.points()
    assert isinstance(line, Line)
    other = next((i for i in d.of if i != lines[0]), lines[0])
    a, b = points[line.a], points[line.b]
    entity = sketch.get(other)
    x, y = middle(sketch, other)
    length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    ux, uy = (b.x - a.x) / length, (b.y - a.y) / length
    along = (x - a.x) * ux + (y - a.y) * uy
    foot = (a.x + along * ux, a.y + along * uy)
    if isinstance(entity, Circle):
        toward = -1.0 if d.far else 1.0
        gap = math.hypot(foot[0] - x, foot[1] - y) or 1.0
        x += toward * (foot[0] - x) / gap * entity.radius
        y += toward * (foot[1] - y) / gap * entity.radius
    return t.px(*foot), t.px(x, y)


def _free(at: QPointF, texts: list[QRectF], width: float) -> QPointF:
    """Move a text aside until it covers no other."""
    for step in range(12):
        shift = (step + 1) // 2 * 19 * (1 if step % 2 else -1)
        box = QRectF(at.x() - width / 2, at.y() + shift - 9, width, 18)
        if not any(box.intersects(other) for other in texts):
            texts.append(box)
            return QPointF(at.x(), at.y() + shift)
    return at


_DRAW = {"diameter": _diameter, "radius": _round}
