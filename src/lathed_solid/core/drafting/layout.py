"""Where the sizes of a sketch stand so that no text covers another: rows, columns, and beside what they size."""

from __future__ import annotations

import math
from collections.abc import Mapping

from ..sketch.model import Dimension, Line, Sketch
from .figures import BUILT_IN, Figure, anchor, bounds, figure_of
from .place import Box, Place, Scale


class _Taken:
    """Boxes that texts have taken, found quickly by place."""

    CELL = 48.0

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], list[Box]] = {}

    def _keys(self, box: Box) -> list[tuple[int, int]]:
        c = self.CELL
        xs = range(math.floor(box.left / c), math.floor(box.right / c) + 1)
        ys = range(math.floor(box.top / c), math.floor(box.bottom / c) + 1)
        return [(x, y) for x in xs for y in ys]

    def free(self, box: Box) -> bool:
        return not any(box.meets(o) for k in self._keys(box) for o in self._cells.get(k, ()))

    def take(self, box: Box) -> None:
        for key in self._keys(box):
            self._cells.setdefault(key, []).append(box)


def lay_out(sketch: Sketch, t: Scale, widths: Mapping[str, float] | None = None) -> list[Figure]:
    """Figures for all dimensions: lengths in rows below the part, heights in columns beside it, diameters across it,
    the rest beside what they size. ``widths`` are those of the texts, pixels. Texts put by hand stay there.
    """
    wide = widths or {}
    box = bounds(sketch)
    taken, found = _Taken(), []
    for d in sketch.dimensions:
        if d.place is not None:
            figure = figure_of(sketch, d, t)
            at = t.at(*d.place)
            taken.take(_text_box(at, wide.get(d.id, 44.0)))
            found.append(figure._replace(text_at=at, lines=(*figure.lines, (figure.text_at, at))))
    rows = _Rows(sketch, t, t.at(0, box.top).y + 16, t.at(box.left + box.width, 0).x + 26, wide, taken)
    stacked = [d for d in stacked_of(sketch) if d.place is None]
    for d in sorted(stacked, key=lambda d: _length_of(sketch, d)):
        found.append(rows.add(d))
    for d in sketch.dimensions:
        if d.place is not None or d in stacked or is_chamfer_angle(sketch, d):
            continue
        figure = figure_of(sketch, d, t)
        found.append(figure._replace(text_at=_free(figure, taken, wide.get(d.id, 44.0))))
    return found


def stacked_of(sketch: Sketch) -> list[Dimension]:
    """The sizes that stand in rows below the part or in columns beside it."""
    size = bounds(sketch)
    least = {"along": 0.35 * size.width, "across": 0.35 * size.height}
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
        self, sketch: Sketch, t: Scale, floor: float, wall: float, widths: Mapping[str, float], taken: _Taken
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
        low, high = sorted(t.at(x, 0).x for x, _ in ends)
        center = t.at(ends[1][0], 0).x if d.ordinate else (low + high) / 2
        span = (center, center) if d.ordinate else (low, high)
        need = (min(span[0], center - width / 2) - 4, max(span[1], center + width / 2) + 4)
        y = self._floor + 18 * self._place("along", need)
        side = -1 if sketch.turned else 1
        drops = [
            (
                Place(t.at(x, 0).x, t.at(x, side * abs(v) if sketch.turned else v).y + 3),
                Place(t.at(x, 0).x, y + 4),
            )
            for x, v in (ends[1:] if d.ordinate else ends)
        ]
        self._taken.take(_text_box(Place(center, y), width))
        a, b = Place(low, y), Place(high, y)
        if d.ordinate:
            return Figure(d, tuple(drops), (), Place(center, y))
        return Figure(d, ((a, b), *drops), ((a, (-1.0, 0.0)), (b, (1.0, 0.0))), Place(center, y))

    def _column(self, d: Dimension) -> Figure:
        t, sketch, width = self._t, self._sketch, self._widths.get(d.id, 44.0)
        ends = [anchor(sketch, i) for i in d.of]
        low, high = sorted(t.at(0, y).y for _, y in ends)
        center = t.at(0, ends[1][1]).y if d.ordinate else (low + high) / 2
        span = (center, center) if d.ordinate else (low, high)
        need = (min(span[0], center - 9) - 3, max(span[1], center + 9) + 3)
        x = self._wall + self._pitch * self._place("across", need)
        reach = [(Place(t.at(u, 0).x + 3, t.at(0, v).y), Place(x + 4, t.at(0, v).y)) for u, v in ends]
        text = Place(x + (width / 2 + 6 if d.ordinate else 0), center)
        self._taken.take(_text_box(text, width))
        a, b = Place(x, low), Place(x, high)
        if d.ordinate:
            return Figure(d, (reach[1],), (), text)
        return Figure(d, ((a, b), *reach), ((a, (0.0, -1.0)), (b, (0.0, 1.0))), text)


def _text_box(at: Place, width: float) -> Box:
    return Box(at.x - width / 2 - 3, at.y - 9, width + 6, 18)


def _free(figure: Figure, taken: _Taken, width: float) -> Place:
    """Move a text along its line or aside until it covers no other."""
    at = figure.text_at
    tries = [Place(at.x, at.y + (s + 1) // 2 * 19 * (1 if s % 2 else -1)) for s in range(9)]
    if figure.lines:
        a, b = figure.lines[0]
        tries[1:1] = [Place(a.x + k * (b.x - a.x), a.y + k * (b.y - a.y)) for k in (0.3, 0.7)]
    tries += [Place(at.x + dx, at.y) for dx in (width + 8, -width - 8)]
    for place in tries:
        box = _text_box(place, width)
        if taken.free(box):
            taken.take(box)
            return place
    taken.take(_text_box(at, width))
    return at
