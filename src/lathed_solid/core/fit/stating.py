"""From relations to rows: one function a kind. Every row is about two ends, each a feature of a body."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from ..refusal import Refusal
from .features import Feature
from .poses import across
from .rows import Held, Row, direction, point


class Grip(NamedTuple):
    """A feature as a body holds it: ``at`` from the body's middle, ``along`` in its axes."""

    body: int
    feature: Feature
    at: Floats
    along: Floats

    @property
    def point(self) -> Held:
        return point(self.body, self.at)

    @property
    def direction(self) -> Held:
        return direction(self.body, self.along)

    def leg(self, which: int) -> Held:
        """One of two directions square to it, in the body's axes: turns are counted from the first."""
        return direction(self.body, across(self.along)[which])


class Asked(NamedTuple):
    """What a relation asks: its ends, its value (mm, radians, a ratio; None when it says none), the side, the constant
    of a coupling, the arm at which directions are judged (mm), the relation's id; the axis about which b turns in a,
    and the bearings of either: axes of other bodies that they turn in.
    """

    a: Grip
    b: Grip
    value: float | None
    opposed: bool
    phase: float
    reach: float
    owner: str
    hinge: Grip | None = None
    bearings: tuple[Grip | None, Grip | None] = (None, None)

    def row(self, kind: str, slots: tuple[Held, ...], *constants: float) -> Row:
        return Row(kind, slots, constants, self.owner)


class Side(NamedTuple):
    """Two directions that are to run the same way (``same``) or face each other, when all is met."""

    a: Held
    b: Held
    same: bool
    owner: str


class Stated(NamedTuple):
    """The rows of one relation, and which way its directions are to look."""

    rows: tuple[Row, ...]
    sides: tuple[Side, ...] = ()


#: Directions whose cosine is below this are square to each other.
_SQUARE = 1e-6
Statement = Callable[[Asked], Stated]


def _parallel(asked: Asked) -> Stated:
    a, b = asked.a, asked.b
    rows = tuple(asked.row("lean", (a.leg(k), b.direction), asked.reach, 0.0) for k in (0, 1))
    return Stated(rows, (Side(a.direction, b.direction, not asked.opposed, asked.owner),))


def _on_axis(asked: Asked, a: Grip, b: Grip) -> Iterator[Row]:
    """b's point lies on a's axis."""
    for k in (0, 1):
        yield asked.row("plane", (a.leg(k), a.point, b.point), 0.0)


def _coincident(asked: Asked) -> tuple[Row, ...]:
    a, b = asked.a, asked.b
    return tuple(asked.row("plane", (direction(a.body, axis), a.point, b.point), 0.0) for axis in np.eye(3))


def _in_line(asked: Asked) -> Stated:
    a, b = asked.a, asked.b
    if a.feature.has_axis and b.feature.has_axis:
        par = _parallel(asked)
        return Stated((*par.rows, *_on_axis(asked, a, b)), par.sides)
    held, free = (a, b) if a.feature.has_axis else (b, a)
    return Stated(tuple(_on_axis(asked, held, free)))


def _seated(asked: Asked) -> Stated:
    par = _parallel(asked)
    row = asked.row("plane", (asked.a.direction, asked.a.point, asked.b.point), asked.value or 0.0)
    return Stated((*par.rows, row), par.sides)


def _square(asked: Asked) -> Stated:
    return Stated((asked.row("lean", (asked.a.direction, asked.b.direction), asked.reach, 0.0),))


def _angle(asked: Asked) -> Stated:
    """About the hinge the two have, as far as they have one and the directions are square to it; else any way round."""
    value, a, b = _needed(asked, "an angle"), asked.a, asked.b
    if asked.hinge is not None and abs(asked.hinge.along @ a.along) < _SQUARE:
        turn = (asked.hinge.direction, a.direction, b.direction)
        return Stated((asked.row("angle", turn, asked.reach, math.pi + value if asked.opposed else value),))
    if abs(math.sin(value)) < _SQUARE:
        return _parallel(asked._replace(opposed=math.cos(value) < 0))
    return Stated((asked.row("lean", (a.direction, b.direction), asked.reach, math.cos(value)),))


def _needed(asked: Asked, what: str) -> float:
    if asked.value is None:
        raise Refusal(f"The relation needs {what}: write it into its field.")
    return asked.value


def _distance(asked: Asked) -> Stated:
    value = _needed(asked, "a distance")
    a, b = asked.a, asked.b
    shapes = (a.feature.shape, b.feature.shape)
    if shapes == ("flat", "flat"):
        return _seated(asked)
    if "flat" in shapes:
        flat, other = (a, b) if shapes[0] == "flat" else (b, a)
        rows = [asked.row("plane", (flat.direction, flat.point, other.point), value)]
        if other.feature.has_axis:
            rows.append(asked.row("lean", (flat.direction, other.direction), asked.reach, 0.0))
        return Stated(tuple(rows))
    if a.feature.has_axis and b.feature.has_axis:
        if value == 0.0:
            return _in_line(asked)
        par = _parallel(asked)
        return Stated((*par.rows, asked.row("off axis", (a.direction, a.point, b.point), value)), par.sides)
    if a.feature.has_axis or b.feature.has_axis:
        held, free = (a, b) if a.feature.has_axis else (b, a)
        if value == 0.0:
            return Stated(tuple(_on_axis(asked, held, free)))
        return Stated((asked.row("off axis", (held.direction, held.point, free.point), value),))
    if value == 0.0:
        return Stated(_coincident(asked))
    return Stated((asked.row("apart", (a.point, b.point), value),))


def _tangent(asked: Asked) -> Stated:
    a, b = asked.a, asked.b
    if "cone" in (a.feature.shape, b.feature.shape):
        seat, ball = (a, b) if a.feature.shape == "cone" else (b, a)
        if ball.feature.shape != "ball":
            raise Refusal("A cone is touched by a ball only. Pick a ball, or say “in line” and “distance”.")
        # A ball inside touches with its outside, one about a solid cone lies beyond the wall.
        reach = ball.feature.radius if seat.feature.hollow else -ball.feature.radius
        row = asked.row("cone", (seat.direction, seat.point, ball.point), seat.feature.half_angle, reach)
        return Stated((*_on_axis(asked, seat, ball), row) if seat.feature.hollow else (row,))
    if a.feature.shape == "flat" and b.feature.shape == "flat":
        return _seated(asked)
    if "flat" in (a.feature.shape, b.feature.shape):
        flat, other = (a, b) if a.feature.shape == "flat" else (b, a)
        rows = [asked.row("plane", (flat.direction, flat.point, other.point), other.feature.radius)]
        if other.feature.has_axis:
            rows.append(asked.row("lean", (flat.direction, other.direction), asked.reach, 0.0))
        return Stated(tuple(rows))
    inside = a.feature.hollow != b.feature.hollow
    far = abs(a.feature.radius - b.feature.radius) if inside else a.feature.radius + b.feature.radius
    if far == 0.0:
        return _in_line(asked) if a.feature.has_axis and b.feature.has_axis else Stated(_coincident(asked))
    if a.feature.has_axis and b.feature.has_axis:
        par = _parallel(asked)
        return Stated((*par.rows, asked.row("off axis", (a.direction, a.point, b.point), far)), par.sides)
    if a.feature.has_axis or b.feature.has_axis:
        held, free = (a, b) if a.feature.has_axis else (b, a)
        return Stated((asked.row("off axis", (held.direction, held.point, free.point), far),))
    return Stated((asked.row("apart", (a.point, b.point), far),))


def _on(asked: Asked) -> Stated:
    """A point (a ball's centre) on a point, an axis or a flat; an axis in a flat."""
    a, b = asked.a, asked.b
    if "flat" in (a.feature.shape, b.feature.shape):
        return _distance(asked._replace(value=asked.value or 0.0))
    if a.feature.has_axis or b.feature.has_axis:
        return _in_line(asked)
    return Stated(_coincident(asked))


def _screw(asked: Asked) -> Stated:
    lead = _needed(asked, "a lead: how far it moves along in one turn")
    line = _in_line(asked)
    a, b = asked.a, asked.b
    turn = (a.direction, a.leg(0), b.leg(0))
    slots = (*turn, *turn, a.direction, a.point, b.point)
    row = asked.row("couple", slots, -lead / (2 * math.pi), 0.0, 1.0, asked.phase, 0.0, 0.0)
    return Stated((*line.rows, row), line.sides)


def _gear(asked: Asked) -> Stated:
    """b turns by 1/``value`` of a, the other way round unless they are opposed; each counted in its own bearing."""
    ratio = _needed(asked, "a ratio, such as 40/17")
    one, two = asked.bearings
    rest = (direction(-1, (0, 0, 1)), point(-1, (0, 0, 0)), point(-1, (0, 0, 0)))
    # Axes that run against each other in the room count turns the other way; ``turned`` settles it by a's direction.
    sign = -1.0 if asked.opposed else 1.0
    slots = (*_spin(asked.a, one), *_spin(asked.b, two), *rest)
    row = asked.row("couple", slots, asked.reach, sign * ratio * asked.reach, 0.0, asked.phase, 0.0, 0.0)
    return Stated((row,))


def _rack(asked: Asked) -> Stated:
    """a turns in its bearing, b moves along its own direction by ``value`` mm a turn."""
    travel = _needed(asked, "a travel: how far it moves in one turn")
    a, b = asked.a, asked.b
    sign = -1.0 if asked.opposed else 1.0
    spin = _spin(a, asked.bearings[0])
    slots = (*spin, *spin, b.direction, a.point, b.point)
    return Stated((asked.row("couple", slots, -sign * travel / (2 * math.pi), 0.0, 1.0, asked.phase, 0.0, 0.0),))


def _spin(grip: Grip, bearing: Grip | None) -> tuple[Held, Held, Held]:
    """The turn of a body about its axis, counted in its bearing. Raises Refusal when it has none."""
    if bearing is None:
        raise Refusal("Say first what it turns in: put its axis in line with its bearing. Its turns are counted there.")
    return bearing.direction, bearing.leg(0), grip.leg(0)


def _slot(asked: Asked) -> Stated:
    """A pin's axis stays in a plane: ``value`` from the slot's wall, or touching it."""
    a, b = asked.a, asked.b
    wall, pin = (a, b) if a.feature.shape == "flat" else (b, a)
    far = pin.feature.radius if asked.value is None else asked.value
    rows = (
        asked.row("plane", (wall.direction, wall.point, pin.point), far),
        asked.row("lean", (wall.direction, pin.direction), asked.reach, 0.0),
    )
    return Stated(rows)


STATEMENTS: dict[str, Statement] = {
    "in line": _in_line,
    "seated": _seated,
    "flush": _seated,
    "parallel": _parallel,
    "square": _square,
    "angle": _angle,
    "distance": _distance,
    "tangent": _tangent,
    "on": _on,
    "screw": _screw,
    "gear": _gear,
    "rack": _rack,
    "slot": _slot,
}
