"""Lines of a view as plain figures on paper: straight ones, arcs and curves, and what faces they belong to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, NamedTuple

import msgspec
import numpy as np

from ...arrays import Floats
from ...tolerance import PARALLEL
from ..ground.figures import Vector
from ..ground.geometry import Frame, dot, minus

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
    if not pieces:
        return []
    # Summed up here and not by a product of matrices, whose last digit is another on every machine: where two places
    # for a label are equally good, that would choose.
    x, y, z = (np.concatenate([p.places for p in pieces]) - np.array(eye.origin)).T
    every = np.stack([x * way[0] + y * way[1] + z * way[2] for way in (eye.x, eye.y)], axis=1)
    flats = np.split(every, np.cumsum([len(p.places) for p in pieces])[:-1])
    normal = eye.normal
    made = (_flat(p, flat, eye, normal) for p, flat in zip(pieces, flats, strict=True))
    return [s for s in made if s is not None]


def _flat(piece: Piece, flat: Floats, eye: Frame, normal: Vector) -> Stroke | None:
    points: tuple[XY, ...] = tuple(map(tuple, flat.tolist()))
    xs, ys = zip(*points, strict=True)
    if max(max(xs) - min(xs), max(ys) - min(ys)) < _NONE:
        return None
    if piece.round_ is not None:
        center, axis, radius = piece.round_
        if abs(dot(axis, normal)) > 1 - PARALLEL:
            away = minus(center, eye.origin)
            arc = _arc((dot(away, eye.x), dot(away, eye.y)), radius, flat)
            return Stroke(piece.kind, piece.visible, points, piece.faces, arc)
    if len(points) > 2 and (ends := _straightened(flat)) is not None:
        points = ends
    return Stroke(piece.kind, piece.visible, points, piece.faces)


def _arc(center: XY, radius: float, flat: Floats) -> ArcOf:
    turns = np.arctan2(flat[:, 1] - center[1], flat[:, 0] - center[0])
    steps = np.diff(turns)
    steps -= 2 * math.pi * np.round(steps / (2 * math.pi))
    return ArcOf(center, radius, float(turns[0]), float(steps.sum()))


def _straightened(flat: Floats) -> tuple[XY, XY] | None:
    """The two ends of a curve that is seen edge-on, and may run back over itself; None for one that bends."""
    u, v = flat.mean(axis=0).tolist()
    x, y = (flat - (u, v)).T
    turn = math.atan2(2 * float((x * y).sum()), float((x * x - y * y).sum())) / 2  # of the line that fits best
    c, s = math.cos(turn), math.sin(turn)
    along, across = c * x + s * y, c * y - s * x
    if float((across * across).sum()) > 1e-12 * max(1.0, float((along * along).sum())):
        return None
    low, high = float(along.min()), float(along.max())
    return (u + low * c, v + low * s), (u + high * c, v + high * s)
