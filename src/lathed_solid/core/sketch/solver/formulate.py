"""From a sketch to variables and rows. Sides and directions are taken from the stored pose and kept."""

from __future__ import annotations

import copy
import math
from collections.abc import Callable, Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..copies import is_given
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
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
from .dimensions import DIMENSIONS
from .relations import RELATIONS
from .repeats import state_repeat
from .rows import KINDS, Row, Table, tables_of

Pair = tuple[int, int]
_TURN = 2 * math.pi


#: The unused variables of a row, per kind and number of used ones.
_PADDING = {name: [(0,) * (kind.slots - used) for used in range(kind.slots + 1)] for name, kind in KINDS.items()}


class SketchError(Exception):
    """A relation or dimension that cannot be stated; the text says which and why."""


class Slot(NamedTuple):
    """Where a dimension's value enters: row index, constant index, and constant = scale * value + shift."""

    row: int
    constant: int
    scale: float
    shift: float


class Formulation:
    """Variables ``x`` (index 0 is the constant zero), ``fixed`` ones, rows, and each dimension's slots.

    ``radius`` holds the radius variable of circles and arcs, ``scalar`` every other size of its own (an ellipse's
    second half axis, a text's height), ``step`` the shift of a row or grid from one copy to the next. With ``lengths``
    lines that no distance holds get a variable for theirs, so that it can be kept from passing zero.
    """

    def __init__(self, sketch: Sketch, values: Mapping[str, float], lengths: bool = False) -> None:
        self.sketch, self.values = sketch, values
        self.x: list[float] = [0.0]
        self.fixed: dict[int, float] = {0: 0.0}
        self.rows: list[Row] = []
        self.slots: dict[str, list[Slot]] = {}
        self.point: dict[str, Pair] = {}
        self.radius: dict[str, int] = {}
        self.scalar: dict[str, int] = {}
        self.lengths: list[int] = []
        self.step: dict[str, tuple[Pair, Pair]] = {}
        self.ends: dict[str, tuple[Pair, Pair]] = {}
        self._owner = ""
        self._tables: list[Table] | None = None
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
        for repeat in sketch.repeats:
            self._owner = repeat.id
            state_repeat(self, repeat)
        for relation in sketch.relations:
            self._state(relation)
        for dimension in sketch.dimensions:
            if not dimension.reference:
                self._state(dimension)
        if lengths:
            self._free_lengths()

    def _free_lengths(self) -> None:
        held = {frozenset(d.of) for d in self.sketch.dimensions if d.kind == "distance" and not d.reference}
        for line in self.sketch.entities:
            if isinstance(line, Line) and frozenset((line.a, line.b)) not in held:
                p, q = self.ends[line.id]
                length = self.length(p, q)
                if length > 1e-6 and not self.fixed.keys() >= {*p, *q}:
                    self._owner = line.id
                    self.lengths.append(self.variable(length))
                    self.row("distance", (*p, *q, self.lengths[-1]), 1, 0, 0)

    def only(self, item: Relation | Dimension, values: Mapping[str, float]) -> Formulation:
        """The same variables with nothing but the rows of one more relation or dimension. Raises SketchError."""
        made = copy.copy(self)
        made.values = values
        made.x, made.fixed, made.rows, made.slots = list(self.x), dict(self.fixed), [], {}
        made._tables = None
        made._state(item)
        return made

    def at_pose(self, x: NDArray[np.float64]) -> Formulation:
        """The same rows with the variables at ``x``."""
        made = copy.copy(self)
        made.x = x.tolist()
        return made

    # --- elements
    def variable(self, value: float) -> int:
        self.x.append(value)
        return len(self.x) - 1

    def constant(self, value: float) -> int:
        index = self.variable(value)
        self.fixed[index] = value
        return index

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
        from ..copies import copy_of

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

    def _state(self, item: Relation | Dimension) -> None:
        self._owner = item.id
        try:
            if isinstance(item, Relation):
                RELATIONS[item.kind](self, item)
            else:
                DIMENSIONS[item.kind](self, item, self.values[item.id])
        except (KeyError, ValueError) as error:
            raise SketchError(f"The {item.kind} {item.id} does not go with {', '.join(item.of)}: {error}.") from None

    def tables(self) -> list[Table]:
        """All rows as arrays, one table a kind, in the order of ``KINDS``."""
        if self._tables is None:
            self._tables = tables_of(self.rows)
        return self._tables

    @property
    def own_sizes(self) -> list[int]:
        """Variables that must stay above zero."""
        return [*self.radius.values(), *self.scalar.values(), *self.lengths]

    # --- helpers for the rules
    def row(self, kind: str, variables: tuple[int, ...], *constants: float) -> int:
        rows = self.rows
        rows.append(Row(kind, variables + _PADDING[kind][len(variables)], constants, self._owner))
        return len(rows) - 1

    def slot(self, row: int, constant: int, scale: float, shift: float = 0.0, owner: str = "") -> None:
        self.slots.setdefault(owner or self._owner, []).append(Slot(row, constant, scale, shift))

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
            raise KeyError(f"{id_} is not a line")
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
