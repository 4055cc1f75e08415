"""Faces of two solids that lie on the same surface: what a face of one is on the other, and where the two differ."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import cross, dot, minus, norm
from ..tolerance import LEVEL

#: Surfaces nearer than this are one (mm).
_ONE = 1e-4


def same_carrier(a: Surface, b: Surface) -> bool:
    """Whether two faces lie on one surface, the material on the same side of it; where they end is not asked."""
    if a.kind != b.kind or a.hollow != b.hollow:
        return False
    if a.kind == "other":
        return math.dist(a.center, b.center) < _ONE and abs(a.area - b.area) < 1e-6 * max(a.area, 1.0)
    if a.kind == "sphere":
        return math.dist(a.origin, b.origin) < _ONE and abs(a.radius - b.radius) < _ONE
    if a.kind == "plane":
        return dot(a.axis, b.axis) > 1 - LEVEL and abs(dot(minus(b.origin, a.origin), a.axis)) < _ONE
    return _round(a, b)


def _round(a: Surface, b: Surface) -> bool:
    gap = minus(b.origin, a.origin)
    if abs(dot(a.axis, b.axis)) < 1 - LEVEL or norm(cross(gap, a.axis)) > _ONE:
        return False
    if a.kind == "cone":
        grown = a.radius + dot(gap, a.axis) * math.tan(a.half_angle)
        same_way = dot(a.axis, b.axis) > 0
        return same_way and abs(a.half_angle - b.half_angle) < LEVEL and abs(grown - b.radius) < _ONE
    if a.kind == "torus":
        return norm(gap) < _ONE and abs(a.radius - b.radius) < _ONE and abs(a.major - b.major) < _ONE
    return abs(a.radius - b.radius) < _ONE


def partner(face: Surface, others: Iterable[Surface]) -> Surface | None:
    """The face on the same surface that lies nearest."""
    same = [s for s in others if same_carrier(face, s)]
    return min(same, key=lambda s: math.dist(face.center, s.center), default=None)


def alone(these: Sequence[Surface], those: Sequence[Surface]) -> tuple[int, ...]:
    """Indices of the faces whose surface the other solid has nothing on."""
    return tuple(s.index for s in these if not any(same_carrier(s, other) for other in those))
