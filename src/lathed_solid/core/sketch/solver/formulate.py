"""From a sketch to variables and rows. Sides and directions are taken from the stored pose and kept."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from functools import partial
from typing import NamedTuple

from ..model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Entity, Line, Point, Relation, Sketch
from .rows import KINDS, Row

Pair = tuple[int, int]


class SketchError(Exception):
    """A relation or dimension that cannot be stated; the text says which and why."""


class Slot(NamedTuple):
    """Where a dimension's value enters: row index, constant index, and constant = scale * value + shift."""

    row: int
    constant: int
    scale: float
    shift: float


class Formulation:
    """Variables ``x`` (index 0 is the constant zero), ``fixed`` ones, rows, and each dimension's slots."""

    def __init__(self, sketch: Sketch, values: Mapping[str, float]) -> None:
        self.sketch = sketch
        self.x: list[float] = [0.0]
        self.fixed: dict[int, float] = {0: 0.0}
        self.rows: list[Row] = []
        self.slots: dict[str, list[Slot]] = {}
        self.point: dict[str, Pair] = {}
        self.radius: dict[str, int] = {}
        self.ends: dict[str, tuple[Pair, Pair]] = {}
        self._owner = ""
        self._same: dict[str, str] = {}
        self._entity = {e.id: e for e in sketch.entities}
        self._elements()
        for relation in sketch.relations:
            self._state(relation, partial(_RELATIONS[relation.kind], self, relation))
        for dimension in sketch.dimensions:
            if not dimension.reference:
                value = values[dimension.id]
                self._state(dimension, partial(_DIMENSIONS[dimension.kind], self, dimension, value))

    # --- elements
    def _variable(self, value: float) -> int:
        self.x.append(value)
        return len(self.x) - 1

    def _constant(self, value: float) -> int:
        index = self._variable(value)
        self.fixed[index] = value
        return index

    def element(self, id_: str) -> Entity:
        return self._entity[id_]

    def _elements(self) -> None:
        unit = self._constant(1000.0)
        self.point[ORIGIN] = (0, 0)
        self.ends[ALONG], self.ends[ACROSS] = ((0, 0), (unit, 0)), ((0, 0), (0, unit))
        for entity in self.sketch.entities:
            if isinstance(entity, Point):
                self.point[entity.id] = (self._variable(entity.x), self._variable(entity.y))
        for entity in self.sketch.entities:
            self._owner = entity.id
            if isinstance(entity, Line):
                self.ends[entity.id] = (self.point[entity.a], self.point[entity.b])
            elif isinstance(entity, Circle):
                self.radius[entity.id] = self._variable(entity.radius)
            elif isinstance(entity, Arc):
                center, a, b = (self.point[p] for p in (entity.center, entity.a, entity.b))
                radius = self._variable(self.length(center, a))
                self.radius[entity.id], self.ends[entity.id] = radius, (a, b)
                self.row("distance", (*center, *a, radius), 1, 0, 0)
                self.row("distance", (*center, *b, radius), 1, 0, 0)
        for relation in self.sketch.relations:
            if relation.kind == "coincident":
                first, second = (self._root(i) for i in relation.of)
                self._same[first] = second

    def _root(self, id_: str) -> str:
        while id_ in self._same and self._same[id_] != id_:
            id_ = self._same[id_]
        return id_

    def _state(self, item: Relation | Dimension, build: Callable[[], None]) -> None:
        self._owner = item.id
        try:
            build()
        except (KeyError, ValueError) as error:
            raise SketchError(f"The {item.kind} {item.id} does not go with {', '.join(item.of)}: {error}.") from None

    # --- helpers for the rules below
    def row(self, kind: str, variables: tuple[int, ...], *constants: float) -> int:
        padded = variables + (0,) * (KINDS[kind].slots - len(variables))
        self.rows.append(Row(kind, padded, tuple(float(c) for c in constants), self._owner))
        return len(self.rows) - 1

    def slot(self, row: int, constant: int, scale: float, shift: float = 0.0) -> None:
        self.slots.setdefault(self._owner, []).append(Slot(row, constant, scale, shift))

    def at(self, p: Pair) -> tuple[float, float]:
        return self.x[p[0]], self.x[p[1]]

    def length(self, p: Pair, q: Pair) -> float:
        return math.hypot(self.x[q[0]] - self.x[p[0]], self.x[q[1]] - self.x[p[1]])

    def angle(self, a: Pair, b: Pair, c: Pair, d: Pair) -> float:
        """Directed angle from a b to c d in the stored pose."""
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = (self.at(p) for p in (a, b, c, d))
        ux, uy, vx, vy = bx - ax, by - ay, dx - cx, dy - cy
        return math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)

    def side(self, line: tuple[Pair, Pair], p: Pair) -> float:
        (ax, ay), (bx, by), (px, py) = self.at(line[0]), self.at(line[1]), self.at(p)
        return 1.0 if (bx - ax) * (py - ay) - (by - ay) * (px - ax) >= 0 else -1.0

    def turn(self, first: tuple[Pair, Pair], second: tuple[Pair, Pair], choices: tuple[float, ...]) -> None:
        """Hold the directed angle at the choice nearest to the stored pose."""
        now = self.angle(*first, *second)
        theta = min(choices, key=lambda c: abs(math.remainder(c - now, 2 * math.pi)))
        self.row("turn", (*first[0], *first[1], *second[0], *second[1]), theta, self.weight(first, second))

    def weight(self, first: tuple[Pair, Pair], second: tuple[Pair, Pair]) -> float:
        return max(min(self.length(*first), self.length(*second), 1000.0), 1e-3)

    def line(self, id_: str) -> tuple[Pair, Pair]:
        if id_ in self.radius:
            raise KeyError(f"{id_} is not a line")
        return self.ends[id_]

    def center(self, id_: str) -> Pair:
        entity = self.element(id_)
        assert isinstance(entity, Circle | Arc)
        return self.point[entity.center]

    def shared_end(self, a: str, b: str) -> tuple[Pair, Pair] | None:
        """The end points of two curves that are one point, if they are joined."""
        ends = []
        for id_ in (a, b):
            entity = self.element(id_) if id_ not in (ALONG, ACROSS) else None
            ends.append((entity.a, entity.b) if isinstance(entity, Line | Arc) else ())
        for p in ends[0]:
            for q in ends[1]:
                if self._root(p) == self._root(q):
                    return self.point[p], self.point[q]
        return None


# --- relations
def _coincident(f: Formulation, r: Relation) -> None:
    p, q = f.point[r.of[0]], f.point[r.of[1]]
    for k in (0, 1):
        f.row("linear", (q[k], p[k]), 1, -1, 0, 0)


def _level(k: int) -> Callable[[Formulation, Relation], None]:
    def rule(f: Formulation, r: Relation) -> None:
        a, b = f.line(r.of[0]) if len(r.of) == 1 else (f.point[r.of[0]], f.point[r.of[1]])
        f.row("linear", (b[k], a[k]), 1, -1, 0, 0)

    return rule


def _parallel(f: Formulation, r: Relation) -> None:
    f.turn(f.line(r.of[0]), f.line(r.of[1]), (0.0, math.pi))


def _perpendicular(f: Formulation, r: Relation) -> None:
    f.turn(f.line(r.of[0]), f.line(r.of[1]), (math.pi / 2, -math.pi / 2))


def _tangent(f: Formulation, r: Relation) -> None:
    a, b = r.of
    if a in f.radius and b not in f.radius:
        a, b = b, a
    shared = f.shared_end(a, b)
    if b not in f.radius:
        raise ValueError("at least one of them must be round")
    if a not in f.radius:
        line = f.line(a)
        if shared:
            f.turn(line, (f.center(b), shared[1]), (math.pi / 2, -math.pi / 2))
        else:
            center = f.center(b)
            f.row("offset", (*line[0], *line[1], *center, f.radius[b]), f.side(line, center), 0)
        return
    if shared:
        f.turn((f.center(a), shared[0]), (f.center(b), shared[1]), (0.0, math.pi))
        return
    p, q, ra, rb = f.center(a), f.center(b), f.radius[a], f.radius[b]
    gap = f.length(p, q)
    signs = min(((1, 1), (1, -1), (-1, 1)), key=lambda s: abs(gap - s[0] * f.x[ra] - s[1] * f.x[rb]))
    f.row("distance", (*p, *q, ra, rb), *signs, 0)


def _equal(f: Formulation, r: Relation) -> None:
    a, b = r.of
    if a in f.radius and b in f.radius:
        f.row("linear", (f.radius[b], f.radius[a]), 1, -1, 0, 0)
    else:
        (p, q), (s, t) = f.line(a), f.line(b)
        f.row("equal_length", (*p, *q, *s, *t), 0)


def _midpoint(f: Formulation, r: Relation) -> None:
    m, (a, b) = f.point[r.of[0]], f.ends[r.of[1]]
    for k in (0, 1):
        f.row("linear", (m[k], a[k], b[k]), 1, -0.5, -0.5, 0)


def _symmetric(f: Formulation, r: Relation) -> None:
    p, q, (a, b) = f.point[r.of[0]], f.point[r.of[1]], f.line(r.of[2])
    f.row("square_to", (*p, *q, *a, *b), 0)
    f.row("middle_on", (*p, *q, *a, *b), 0)


def _on(f: Formulation, r: Relation) -> None:
    p, curve = f.point[r.of[0]], r.of[1]
    if curve in f.radius:
        f.row("distance", (*f.center(curve), *p, f.radius[curve]), 1, 0, 0)
    elif curve in (ALONG, ACROSS):
        f.row("linear", (p[1 if curve == ALONG else 0],), 1, 0, 0, 0)
    else:
        a, b = f.line(curve)
        f.row("offset", (*a, *b, *p), 0, 0)


def _fixed(f: Formulation, r: Relation) -> None:
    p = f.point[r.of[0]]
    for k in (0, 1):
        f.row("linear", (p[k],), 1, 0, 0, f.x[p[k]])


# --- dimensions
def anchor(f: Formulation, id_: str) -> Pair:
    """The point a dimension takes hold of: the point itself, a line's start, a circle's centre."""
    if id_ in f.point:
        return f.point[id_]
    return f.center(id_) if id_ in f.radius else f.line(id_)[0]


def _ordinate(k: int) -> Callable[[Formulation, Dimension, float], None]:
    def rule(f: Formulation, d: Dimension, value: float) -> None:
        p, q = anchor(f, d.of[0]), anchor(f, d.of[1])
        f.slot(f.row("linear", (q[k], p[k]), 1, -1, 0, d.sense * value), 3, d.sense)

    return rule


def _distance(f: Formulation, d: Dimension, value: float) -> None:
    a, b = d.of
    lines = [i for i in (a, b) if i in f.ends and i not in f.radius]
    rest = [i for i in (a, b) if i not in lines] or [b]
    if not lines:
        p, q = anchor(f, a), anchor(f, b)
        f.slot(f.row("distance", (*p, *q), 0, 0, value), 2, 1)
        return
    line, other = f.line(lines[0]), rest[0]
    if other in f.radius:
        lean = d.sense * (1.0 if not d.far else -1.0)
        row = f.row("offset", (*line[0], *line[1], *f.center(other), f.radius[other]), lean, d.sense * value)
    else:
        row = f.row("offset", (*line[0], *line[1], *anchor(f, other)), 0, d.sense * value)
    f.slot(row, 1, d.sense)


def _radius(f: Formulation, d: Dimension, value: float) -> None:
    f.slot(f.row("linear", (f.radius[d.of[0]],), 1, 0, 0, value), 3, 1)


def _diameter(f: Formulation, d: Dimension, value: float) -> None:
    id_ = d.of[0]
    variable = f.radius[id_] if id_ in f.radius else anchor(f, id_)[1]
    sense = 1 if id_ in f.radius else d.sense
    f.slot(f.row("linear", (variable,), 1, 0, 0, sense * value / 2), 3, sense / 2)


def _angle(f: Formulation, d: Dimension, value: float) -> None:
    first, second = f.line(d.of[0]), f.line(d.of[1])
    if d.quadrant & 1:
        first = first[::-1]
    if d.quadrant & 2:
        second = second[::-1]
    row = f.row("turn", (*first[0], *first[1], *second[0], *second[1]), d.sense * value, f.weight(first, second))
    f.slot(row, 0, d.sense)


_RELATIONS: dict[str, Callable[[Formulation, Relation], None]] = {
    "coincident": _coincident,
    "horizontal": _level(1),
    "vertical": _level(0),
    "parallel": _parallel,
    "perpendicular": _perpendicular,
    "tangent": _tangent,
    "equal": _equal,
    "midpoint": _midpoint,
    "symmetric": _symmetric,
    "on": _on,
    "fixed": _fixed,
}
_DIMENSIONS: dict[str, Callable[[Formulation, Dimension, float], None]] = {
    "along": _ordinate(0),
    "across": _ordinate(1),
    "distance": _distance,
    "radius": _radius,
    "diameter": _diameter,
    "angle": _angle,
}
