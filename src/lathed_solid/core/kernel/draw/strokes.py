"""Lines of a view as plain figures on paper: straight ones, arcs and curves, and what faces they belong to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, NamedTuple

import msgspec
import numpy as np

from ...arrays import Floats
from ..ground.figures import Vector
from ..ground.geometry import Frame

XY = tuple[float, float]
#: ``cut`` is where a section plane cuts the material, ``torn`` the edge of what is broken out.
StrokeKind = Literal["sharp", "outline", "tangent", "cut", "torn"]
#: Shorter lines are none (mm of the part).
_NONE = 1e-4


class ArcOf(msgspec.Struct, frozen=True):
    """A circle or a part of one: ``start`` and ``sweep`` in radians, counter-clockwise where positive."""

    center: XY
    radius: float
    start: float
    sweep: float

    @property
    def is_whole(self) -> bool:
        return abs(self.sweep) > 2 * math.pi - 1e-6

    def at(self, share: float) -> XY:
        """The place so far along it."""
        turn = self.start + share * self.sweep
        return self.center[0] + self.radius * math.cos(turn), self.center[1] + self.radius * math.sin(turn)


class Stroke(msgspec.Struct, frozen=True):
    """One line of a view: ``points`` (mm of the part, x right, y up) are the ends of a straight one, else places along
    it; ``arc`` tells a round one exactly. ``faces`` are the indices of the faces it lies between, or of the one whose
    outline it is.
    """

    kind: StrokeKind
    visible: bool
    points: tuple[XY, ...]
    faces: tuple[int, ...] = ()
    arc: ArcOf | None = None

    @property
    def is_straight(self) -> bool:
        return len(self.points) == 2 and self.arc is None

    @property
    def length(self) -> float:
        if self.arc is not None:
            return self.arc.radius * abs(self.arc.sweep)
        return float(sum(math.dist(a, b) for a, b in zip(self.points, self.points[1:], strict=False)))


class Piece(NamedTuple):
    """A line in space as the hidden-line algorithm gives it: ``places`` (n, 3) along it; of a round one its middle,
    unit axis and radius.
    """

    kind: StrokeKind
    visible: bool
    places: Floats
    round_: tuple[Vector, Vector, float] | None = None
    faces: tuple[int, ...] = ()


def projected(pieces: Sequence[Piece], eye: Frame) -> list[Stroke]:
    """Lines in space as the ``eye`` sees them: its x to the right, its y up."""
    turn, origin = np.array([eye.x, eye.y]), np.array(eye.origin)
    made = (_flat(p, (p.places - origin) @ turn.T, eye) for p in pieces)
    return [s for s in made if s is not None]


def _flat(piece: Piece, flat: Floats, eye: Frame) -> Stroke | None:
    if float(np.ptp(flat, axis=0).max()) < _NONE:
        return None
    points = tuple((float(x), float(y)) for x, y in flat)
    if piece.round_ is not None:
        center, axis, radius = piece.round_
        facing = abs(float(np.dot(axis, eye.normal)))
        middle = (np.array([eye.x, eye.y]) @ (np.array(center) - np.array(eye.origin))).tolist()
        if facing > 1 - 1e-9:
            arc = _arc((middle[0], middle[1]), radius, points)
            return Stroke(piece.kind, piece.visible, points, piece.faces, arc)
    if len(points) > 2 and (ends := _straightened(flat)) is not None:
        points = ends
    return Stroke(piece.kind, piece.visible, points, piece.faces)


def _arc(center: XY, radius: float, points: Sequence[XY]) -> ArcOf:
    turns = np.unwrap([math.atan2(y - center[1], x - center[0]) for x, y in points])
    return ArcOf(center, radius, float(turns[0]), float(turns[-1] - turns[0]))


def _straightened(flat: Floats) -> tuple[XY, XY] | None:
    """The two ends of a curve that is seen edge-on, and may run back over itself; None for one that bends."""
    middle = flat.mean(axis=0)
    _, sizes, ways = np.linalg.svd(flat - middle, full_matrices=False)
    if sizes[1] > 1e-6 * max(1.0, float(sizes[0])):
        return None
    along = (flat - middle) @ ways[0]
    a, b = middle + along.min() * ways[0], middle + along.max() * ways[0]
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))
