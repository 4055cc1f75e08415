"""Where things lie on the plate: the transform, and places for dimension texts that do not overlap."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF

from ...core.sketch.copies import Copy
from ...core.sketch.curves import arc_span, polyline
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Ellipse, Line, Sketch, Text

BUILT_IN = (ORIGIN, ALONG, ACROSS)


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
    lines += [np.array([(p.x, p.y) for p in points.values()])] if points else []
    if not lines:
        return QRectF(-5, -15, 60, 30)
    every = np.concatenate(lines)
    if float(np.ptp(every, axis=0).max()) < 1e-6:  # a lone point is seen with the zero its sizes run from
        every = np.concatenate([every, [(0.0, 0.0)]])
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
    if id_ in BUILT_IN:
        return 0.0, 0.0
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        # The end farther from the axis: where a drawing would start its extension line.
        p = a if abs(a.y) >= abs(b.y) else b
    elif isinstance(entity, Circle | Arc | Ellipse):
        p = points[entity.center]
    else:
        p = points[id_]
    return p.x, p.y


def middle(sketch: Sketch, id_: str) -> tuple[float, float]:
    """The middle of a line, or the anchor of anything else, mm."""
    entity, points = sketch.get(id_), sketch.points()
    if isinstance(entity, Text):
        entity = sketch.get(entity.on)
    if isinstance(entity, Line):
        a, b = points[entity.a], points[entity.b]
        return (a.x + b.x) / 2, (a.y + b.y) / 2
    return anchor(sketch, entity.id)


class _Taken:
    """Boxes that texts have taken, found quickly by place."""

    CELL = 48.0

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], list[QRectF]] = {}

    def _keys(self, box: QRectF) -> list[tuple[int, int]]:
        c = self.CELL
        xs = range(math.floor(box.left() / c), math.floor(box.right() / c) + 1)
        ys = range(math.floor(box.top() / c), math.floor(box.bottom() / c) + 1)
        return [(x, y) for x in xs for y in ys]

    def free(self, box: QRectF) -> bool:
        return not any(box.intersects(o) for k in self._keys(box) for o in self._cells.get(k, ()))

    def take(self, box: QRectF) -> None:
        for key in self._keys(box):
            self._cells.setdefault(key, []).append(box)


def lay_out(sketch: Sketch, t: Transform, widths: Mapping[str, float] | None = None) -> list[Figure]:
    """Figures for all dimensions: lengths in rows below the part, heights in columns beside it, diameters across it,
    the rest beside what they size. ``widths`` are those of the texts, pixels. Texts put by hand stay there.
    """
    wide = widths or {}
    box = bounds(sketch)
    taken, found = _Taken(), []
    for d in sketch.dimensions:
        if d.place is not None:
            figure = _figure(sketch, d, t)
            at = t.px(*d.place)
            taken.take(_text_box(at, wide.get(d.id, 44.0)))
            found.append(figure._replace(text_at=at, lines=(*figure.lines, (figure.text_at, at))))
    rows = _Rows(sketch, t, t.px(0, box.y()).y() + 16, t.px(box.x() + box.width(), 0).x() + 26, wide, taken)
    stacked = [d for d in stacked_of(sketch) if d.place is None]
    for d in sorted(stacked, key=lambda d: _length_of(sketch, d)):
        found.append(rows.add(d))
    for d in sketch.dimensions:
        if d.place is not None or d in stacked or is_chamfer_angle(sketch, d):
            continue
        figure = _figure(sketch, d, t)
        found.append(figure._replace(text_at=_free(figure, taken, wide.get(d.id, 44.0))))
    return found


def stacked_of(sketch: Sketch) -> list[Dimension]:
    """The sizes that stand in rows below the part or in columns beside it."""
    size = bounds(sketch)
    least = {"along": 0.35 * size.width(), "across": 0.35 * size.height()}
    found = []
    for d in sketch.dimensions:
        way = direction_of(sketch, d)
        if (
            way
            and not (way == "along" and _is_leg(sketch, d))
            and (d.kind == way or _length_of(sketch, d) > least[way])
        ):
            found.append(d)
    return found


def direction_of(sketch: Sketch, d: Dimension) -> str:
    """``along`` or ``across`` for sizes that can stand in a row or column, overall widths and heights among them."""
    if d.kind in ("along", "across"):
        return d.kind
    if d.kind != "distance" or sketch.turned or any(d.rim) or any(i in BUILT_IN for i in d.of):
        return ""
    (ax, ay), (bx, by) = (anchor(sketch, i) for i in d.of)
    entities, points = [sketch.get(i) for i in d.of], sketch.points()
    if all(isinstance(e, Line) for e in entities):
        runs = [(points[e.a], points[e.b]) for e in entities if isinstance(e, Line)]
        if all(abs(p.x - q.x) < 1e-6 for p, q in runs):
            return "along"
        return "across" if all(abs(p.y - q.y) < 1e-6 for p, q in runs) else ""
    if not all(e.id in points for e in entities):
        return ""
    return "along" if abs(ay - by) < 1e-6 else "across" if abs(ax - bx) < 1e-6 else ""


def is_chamfer_angle(sketch: Sketch, d: Dimension) -> bool:
    """A chamfer's angle is written with its leg, as on a drawing (1 × 45°), and has no figure of its own."""
    return d.id.endswith(".angle") and any(o.id == d.id.removesuffix("angle") + "leg" for o in sketch.dimensions)


def _is_leg(sketch: Sketch, d: Dimension) -> bool:
    """A chamfer's leg is shown at the chamfer, not in the rows of lengths."""
    return d.id.endswith(".leg") or any(
        isinstance(c, Line) and {c.a, c.b} == set(d.of) and sketch.turned for c in sketch.curves()
    )


def _length_of(sketch: Sketch, d: Dimension) -> float:
    k = 0 if direction_of(sketch, d) == "along" else 1
    a, b = (anchor(sketch, i)[k] for i in d.of)
    return abs(a - b)


class _Rows:
    """Rows of lengths below the part and columns of heights beside it, each as near as it fits."""

    def __init__(
        self, sketch: Sketch, t: Transform, floor: float, wall: float, widths: Mapping[str, float], taken: _Taken
    ) -> None:
        self._sketch, self._t, self._floor, self._wall, self._widths, self._taken = (
            sketch,
            t,
            floor,
            wall,
            widths,
            taken,
        )
        self._pitch = 14 + max((widths.get(d.id, 44.0) for d in stacked_of(sketch)), default=44.0)
        self._spans: dict[str, list[list[tuple[float, float]]]] = {"along": [], "across": []}

    def add(self, d: Dimension) -> Figure:
        return self._row(d) if direction_of(self._sketch, d) == "along" else self._column(d)

    def _place(self, kind: str, need: tuple[float, float]) -> int:
        rows = self._spans[kind]
        at = next((i for i, taken in enumerate(rows) if all(need[1] <= a or need[0] >= b for a, b in taken)), len(rows))
        if at == len(rows):
            rows.append([])
        rows[at].append(need)
        return at

    def _row(self, d: Dimension) -> Figure:
        t, sketch, width = self._t, self._sketch, self._widths.get(d.id, 44.0)
        ends = [anchor(sketch, i) for i in d.of]
        low, high = sorted(t.px(x, 0).x() for x, _ in ends)
        center = t.px(ends[1][0], 0).x() if d.ordinate else (low + high) / 2
        span = (center, center) if d.ordinate else (low, high)
        need = (min(span[0], center - width / 2) - 4, max(span[1], center + width / 2) + 4)
        y = self._floor + 18 * self._place("along", need)
        side = -1 if sketch.turned else 1
        drops = [
            (
                QPointF(t.px(x, 0).x(), t.px(x, side * abs(v) if sketch.turned else v).y() + 3),
                QPointF(t.px(x, 0).x(), y + 4),
            )
            for x, v in (ends[1:] if d.ordinate else ends)
        ]
        self._taken.take(_text_box(QPointF(center, y), width))
        a, b = QPointF(low, y), QPointF(high, y)
        if d.ordinate:
            return Figure(d, tuple(drops), (), QPointF(center, y))
        return Figure(d, ((a, b), *drops), ((a, (-1.0, 0.0)), (b, (1.0, 0.0))), QPointF(center, y))

    def _column(self, d: Dimension) -> Figure:
        t, sketch, width = self._t, self._sketch, self._widths.get(d.id, 44.0)
        ends = [anchor(sketch, i) for i in d.of]
        low, high = sorted(t.px(0, y).y() for _, y in ends)
        center = t.px(0, ends[1][1]).y() if d.ordinate else (low + high) / 2
        span = (center, center) if d.ordinate else (low, high)
        need = (min(span[0], center - 9) - 3, max(span[1], center + 9) + 3)
        x = self._wall + self._pitch * self._place("across", need)
        reach = [(QPointF(t.px(u, 0).x() + 3, t.px(0, v).y()), QPointF(x + 4, t.px(0, v).y())) for u, v in ends]
        text = QPointF(x + (width / 2 + 6 if d.ordinate else 0), center)
        self._taken.take(_text_box(text, width))
        a, b = QPointF(x, low), QPointF(x, high)
        if d.ordinate:
            return Figure(d, (reach[1],), (), text)
        return Figure(d, ((a, b), *reach), ((a, (0.0, -1.0)), (b, (0.0, 1.0))), text)


def _text_box(at: QPointF, width: float) -> QRectF:
    return QRectF(at.x() - width / 2 - 3, at.y() - 9, width + 6, 18)


def _free(figure: Figure, taken: _Taken, width: float) -> QPointF:
    """Move a text along its line or aside until it covers no other."""
    at = figure.text_at
    tries = [QPointF(at.x(), at.y() + (s + 1) // 2 * 19 * (1 if s % 2 else -1)) for s in range(9)]
    if figure.lines:
        a, b = figure.lines[0]
        tries[1:1] = [QPointF(a.x() + k * (b.x() - a.x()), a.y() + k * (b.y() - a.y())) for k in (0.3, 0.7)]
    tries += [QPointF(at.x() + dx, at.y()) for dx in (width + 8, -width - 8)]
    for place in tries:
        box = _text_box(place, width)
        if taken.free(box):
            taken.take(box)
            return place
    taken.take(_text_box(at, width))
    return at


# --- figures by kind
def _figure(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    return _DRAW.get(d.kind, _beside)(sketch, d, t)


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


def _axis_of(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    """An ellipse's axis, from end to end."""
    entity, points = sketch.get(d.of[0]), sketch.points()
    assert isinstance(entity, Ellipse)
    c, a = points[entity.center], points[entity.a]
    dx, dy = a.x - c.x, a.y - c.y
    if d.kind == "short_axis":
        size = math.hypot(dx, dy) or 1.0
        dx, dy = -dy / size * entity.minor, dx / size * entity.minor
    return _between(d, t.px(c.x - dx, c.y - dy), t.px(c.x + dx, c.y + dy))


def _between(d: Dimension, a: QPointF, b: QPointF) -> Figure:
    dx, dy = b.x() - a.x(), b.y() - a.y()
    size = math.hypot(dx, dy) or 1.0
    way = (dx / size, dy / size)
    return Figure(d, ((a, b),), ((a, (-way[0], -way[1])), (b, way)), QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2))


def _offset(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    """Between a curve and its offset, at the middle of the first pair."""
    points = sketch.points()
    source, copy = sketch.get(d.of[0]), sketch.get(d.of[1])
    if isinstance(source, Circle) and isinstance(copy, Circle):
        c = points[source.center]
        u = (math.cos(0.6), math.sin(0.6))
        return _between(
            d,
            t.px(c.x + source.radius * u[0], c.y + source.radius * u[1]),
            t.px(c.x + copy.radius * u[0], c.y + copy.radius * u[1]),
        )
    from ...core.sketch.curves import at, nearest

    p = at(source, points, 0.5)  # type: ignore[arg-type]
    return _between(d, t.px(*p), t.px(*nearest(copy, points, *p)[1]))  # type: ignore[arg-type]


def _pitch(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    """From the original to its first copy."""
    repeat = next(r for r in sketch.repeats if r.id == d.of[0])
    source = next(i for i in repeat.of if i in sketch.points())
    first = Copy(repeat.id, *((0, 1) if d.kind == "pitch2" else (1, 0)), source).id
    points = sketch.points()
    p, q = points[source], points.get(first, points[source])
    return _between(d, t.px(p.x, p.y), t.px(q.x, q.y))


def _beside(sketch: Sketch, d: Dimension, t: Transform) -> Figure:
    """Angles, legs and straight distances: at the middle of what they size, a little off."""
    known = [middle(sketch, i) for i in d.of if i in sketch.by_id]
    x, y = (sum(p[k] for p in known) / max(1, len(known)) for k in (0, 1))
    at = t.px(x, y)
    if d.kind == "distance" and len(d.of) == 2:
        return _between(d, *_closest(sketch, d, t))
    entity = sketch.by_id.get(d.of[0])
    above = 14.0 if d.kind == "angle" else entity.height * t.scale if isinstance(entity, Text) else 0.0
    text = QPointF(at.x() + 18, at.y() - 20 - above)
    return Figure(d, ((at, QPointF(text.x() - 8, text.y() + 5)),), (), text)


def _closest(sketch: Sketch, d: Dimension, t: Transform) -> tuple[QPointF, QPointF]:
    """Ends of a straight distance: square onto a line when one of the two is a line."""
    lines = [i for i in d.of if i not in BUILT_IN and isinstance(sketch.get(i), Line)]
    if not lines:
        return _rims(sketch, d, t)
    line, points = sketch.get(lines[0]), sketch.points()
    assert isinstance(line, Line)
    other = next((i for i in d.of if i != lines[0]), lines[0])
    a, b = points[line.a], points[line.b]
    x, y = middle(sketch, other) if other not in BUILT_IN else (0.0, 0.0)
    length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    ux, uy = (b.x - a.x) / length, (b.y - a.y) / length
    along = (x - a.x) * ux + (y - a.y) * uy
    foot = (a.x + along * ux, a.y + along * uy)
    entity = None if other in BUILT_IN else sketch.get(other)
    if isinstance(entity, Circle | Arc):
        radius = entity.radius if isinstance(entity, Circle) else arc_span(entity, points)[2]
        toward = -1.0 if d.far else 1.0
        gap = math.hypot(foot[0] - x, foot[1] - y) or 1.0
        x += toward * (foot[0] - x) / gap * radius
        y += toward * (foot[1] - y) / gap * radius
    return t.px(*foot), t.px(x, y)


def _rims(sketch: Sketch, d: Dimension, t: Transform) -> tuple[QPointF, QPointF]:
    """Between two points or circles, from the edges that are meant."""
    points = sketch.points()
    (ax, ay), (bx, by) = (anchor(sketch, i) for i in d.of)
    size = math.hypot(bx - ax, by - ay)
    ux, uy = ((bx - ax) / size, (by - ay) / size) if size > 1e-9 else (1.0, 0.0)
    ends = []
    for id_, rim, x, y, way in ((d.of[0], d.rim[0], ax, ay, -1.0), (d.of[1], d.rim[1], bx, by, 1.0)):
        entity = sketch.get(id_) if rim and id_ not in BUILT_IN else None
        radius = 0.0
        if isinstance(entity, Circle | Arc):
            radius = entity.radius if isinstance(entity, Circle) else arc_span(entity, points)[2]
            way = 1.0 if size < 1e-9 else way * rim
        ends.append(t.px(x + way * radius * ux, y + way * radius * uy))
    return ends[0], ends[1]


_DRAW: dict[str, Callable[[Sketch, Dimension, Transform], Figure]] = {
    "diameter": _diameter, "radius": _round, "arc_length": _round, "long_axis": _axis_of, "short_axis": _axis_of,
    "offset": _offset, "pitch": _pitch, "pitch2": _pitch, "turn": _pitch,
}  # fmt: skip
