"""The variables of a sketch's elements, and what the rules of relations and dimensions ask of them.

Sides and directions are taken from the stored pose and kept.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from ...solving.problem import Problem
from ..copies import copy_of, is_given
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Ellipse,
    Entity,
    Line,
    Point,
    Relation,
    Sketch,
    Spline,
    Text,
    ends_of,
)
from ..refusal import Unstatable
from .rows import KINDS

Pair = tuple[int, int]
_TURN = 2 * math.pi


class Elements(Problem):
    """The elements of a sketch as variables, with the rows they bring themselves.

    ``radius`` holds the radius variable of circles and arcs, ``scalar`` every other size of its own (an ellipse's
    second half axis, a text's height), ``step`` the shift of a row or grid from one copy to the next.
    """

    kinds = KINDS

    def __init__(self, sketch: Sketch, values: Mapping[str, float]) -> None:
        super().__init__(values)
        self.sketch = sketch
        self.point: dict[str, Pair] = {}
        self.radius: dict[str, int] = {}
        self.scalar: dict[str, int] = {}
        self.lengths: list[int] = []
        self.step: dict[str, tuple[Pair, Pair]] = {}
        self.ends: dict[str, tuple[Pair, Pair]] = {}
        self._same: dict[str, str] = {}
        self._entity = {e.id: e for e in sketch.entities}
        self._offset_copies = {
            copy for d in sketch.dimensions if d.kind == "offset" and not d.reference for copy in d.of[1::2]
        }
        self._images = {
            r.of[1]: (r.of[0], r.of[2])
            for r in sketch.relations
            if r.kind == "symmetric" and isinstance(self._entity.get(r.of[0]), Point)
        }
        self._elements()
        self._lies_on = {(self.root(r.of[0]), r.of[1]) for r in sketch.relations if r.kind == "on"}

    @property
    def positive(self) -> list[int]:
        """Variables that must stay above zero."""
        return [*self.radius.values(), *self.scalar.values(), *self.lengths]

    def element(self, id_: str) -> Entity:
        return self._entity[id_]

    def _elements(self) -> None:
        unit = self.constant(1000.0)
        self.point[ORIGIN] = (0, 0)
        self.ends[ALONG], self.ends[ACROSS] = ((0, 0), (unit, 0)), ((0, 0), (0, unit))
        given = {e.id for e in self.sketch.entities if is_given(self.sketch, e.id)} if self.sketch.projected else set()
        for relation in self.sketch.relations:
            if relation.kind in ("coincident", "concentric"):
                self._same_place(relation)
        for entity in self.sketch.entities:
            if isinstance(entity, Point):
                make = self.constant if entity.id in given else self.variable
                self.point[entity.id] = (make(entity.x), make(entity.y))
        for entity in self.sketch.entities:
            if isinstance(entity, Line):
                self.ends[entity.id] = (self.point[entity.a], self.point[entity.b])
            elif not isinstance(entity, Point):
                self._owner = entity.id
                self._element(entity, self.constant if entity.id in given else self.variable)

    def _element(self, entity: Entity, make: Callable[[float], int]) -> None:
        if isinstance(entity, Circle):
            self.radius[entity.id] = make(entity.radius)
        elif isinstance(entity, Ellipse):
            self.scalar[entity.id] = make(entity.minor)
        elif isinstance(entity, Text):
            self.scalar[entity.id] = make(entity.height)
        elif isinstance(entity, Arc):
            center, a, b = (self.point[p] for p in (entity.center, entity.a, entity.b))
            self.radius[entity.id], self.ends[entity.id] = make(self.length(center, a)), (a, b)
            if make == self.variable:
                self.row("distance", (*center, *a, self.radius[entity.id]), 1, 0, 0)
                if not self._is_copied(entity):
                    self.row("distance", (*center, *b, self.radius[entity.id]), 1, 0, 0)
        elif isinstance(entity, Spline) and make == self.variable:
            for end, handle in ((entity.through[0], entity.start), (entity.through[-1], entity.end)):
                if handle:  # only its direction matters
                    p, q = self.point[end], self.point[handle]
                    self.row("distance", (*p, *q), 0, 0, max(self.length(p, q), 1e-3))

    def _is_copied(self, arc: Arc) -> bool:
        """Whether all three points of an arc follow those of another one, so that its second end fits by itself."""
        if arc.id in self._offset_copies or (self.sketch.repeats and copy_of(self.sketch, arc.id)):
            return True
        source = {self._images.get(p) for p in (arc.center, arc.a, arc.b)}
        axes = {s[1] for s in source if s}
        return None not in source and len(axes) == 1

    def _same_place(self, relation: Relation) -> None:
        """Note points that are one place."""
        names = [getattr(self._entity.get(i), "center", i) for i in relation.of]
        for other in names[1:]:
            first, second = self.root(names[0]), self.root(other)
            if first != second:
                self._same[first] = second

    def root(self, id_: str) -> str:
        """One name for all points that are held to be one place."""
        while id_ in self._same and self._same[id_] != id_:
            id_ = self._same[id_]
        return id_

    # --- for the rules
    def at(self, p: Pair) -> tuple[float, float]:
        return self.x[p[0]], self.x[p[1]]

    def length(self, p: Pair, q: Pair) -> float:
        x = self.x
        return math.hypot(x[q[0]] - x[p[0]], x[q[1]] - x[p[1]])

    def angle(self, a: Pair, b: Pair, c: Pair, d: Pair) -> float:
        """Directed angle from a b to c d in the stored pose."""
        x = self.x
        ux, uy, vx, vy = x[b[0]] - x[a[0]], x[b[1]] - x[a[1]], x[d[0]] - x[c[0]], x[d[1]] - x[c[1]]
        return math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)

    def side(self, line: tuple[Pair, Pair], p: Pair) -> float:
        (ax, ay), (bx, by), (px, py) = self.at(line[0]), self.at(line[1]), self.at(p)
        return 1.0 if (bx - ax) * (py - ay) - (by - ay) * (px - ax) >= 0 else -1.0

    def turn(self, first: tuple[Pair, Pair], second: tuple[Pair, Pair], choices: tuple[float, ...]) -> None:
        """Hold the directed angle at the one of one or two choices nearest to the stored pose."""
        now = self.angle(*first, *second)
        one, other = choices[0], choices[-1]
        theta = one if abs(math.remainder(one - now, _TURN)) <= abs(math.remainder(other - now, _TURN)) else other
        self.row("turn", (*first[0], *first[1], *second[0], *second[1]), theta, self.weight(first, second))

    def weight(self, first: tuple[Pair, Pair], second: tuple[Pair, Pair]) -> float:
        return max(min(self.length(*first), self.length(*second), 1000.0), 1e-3)

    def line(self, id_: str) -> tuple[Pair, Pair]:
        if id_ in self.radius:
            raise Unstatable(f"{id_} is not a line")
        return self.ends[id_]

    def center(self, id_: str) -> Pair:
        return self.point[getattr(self.element(id_), "center")]  # noqa: B009

    def anchor(self, id_: str) -> Pair:
        """The point a dimension takes hold of: the point itself, a line's start, a circle's centre."""
        if id_ in self.point:
            return self.point[id_]
        return self.center(id_) if id_ in self.radius or id_ in self.scalar else self.line(id_)[0]

    def shared_end(self, a: str, b: str) -> tuple[str, str] | None:
        """The ends where two curves are joined, as one point or an end of one held on the other.

        Tangency is then stated there, between directions: "touches" and "ends on it" together would say one thing twice
        and leave the end loose along the curve.
        """
        ends = [ends_of(self.element(i)) or () if i not in (ALONG, ACROSS) else () for i in (a, b)]
        for p in ends[0]:
            for q in ends[1]:
                if self.root(p) == self.root(q):
                    return p, q
        for own, other in ((0, b), (1, a)):
            for p in ends[own]:
                if (self.root(p), other) in self._lies_on:
                    return p, p
        return None
