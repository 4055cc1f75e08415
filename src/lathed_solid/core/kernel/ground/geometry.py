"""Places, directions and frames as plain values; their kernel counterparts stand in ``placing``."""

from __future__ import annotations

import math
from typing import NamedTuple

from .figures import Vector


class Frame(NamedTuple):
    """``origin`` (mm), unit ``x`` and ``y``; the normal is x cross y, or its opposite in a ``mirrored`` frame."""

    origin: Vector
    x: Vector
    y: Vector
    mirrored: bool = False

    @property
    def normal(self) -> Vector:
        n = cross(self.x, self.y)
        return (-n[0], -n[1], -n[2]) if self.mirrored else n

    def coordinates(self, place: Vector) -> Vector:
        """How far a place lies along x, y and the normal, mm: what ``at`` undoes."""
        from_here = minus(place, self.origin)
        return dot(from_here, self.x), dot(from_here, self.y), dot(from_here, self.normal)

    def at(self, u: float, v: float, w: float = 0.0) -> Vector:
        """The place ``u`` along x, ``v`` along y and ``w`` along the normal (mm)."""
        o, x, y, n = self.origin, self.x, self.y, self.normal
        return (
            o[0] + u * x[0] + v * y[0] + w * n[0],
            o[1] + u * x[1] + v * y[1] + w * n[1],
            o[2] + u * x[2] + v * y[2] + w * n[2],
        )


#: The part's own axes.
WORLD = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def cross(a: Vector, b: Vector) -> Vector:
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def minus(a: Vector, b: Vector) -> Vector:
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def along(start: Vector, direction: Vector, length: float) -> Vector:
    return (
        start[0] + direction[0] * length,
        start[1] + direction[1] * length,
        start[2] + direction[2] * length,
    )


def norm(a: Vector) -> float:
    return math.sqrt(dot(a, a))


def unit(a: Vector) -> Vector:
    length = norm(a)
    return (a[0] / length, a[1] / length, a[2] / length)


def frame_about(origin: Vector, direction: Vector) -> Frame:
    """A frame whose normal is ``direction``; its x lies along Z where it can, else along X."""
    hint = (0.0, 0.0, 1.0) if abs(direction[2]) < 0.9 else (1.0, 0.0, 0.0)
    x = unit(minus(hint, tuple(dot(hint, direction) * d for d in direction)))  # type: ignore[arg-type]
    return Frame(origin, x, cross(direction, x))


def shifted(frame: Frame, by: float) -> Frame:
    """The same frame ``by`` mm along its normal."""
    return frame._replace(origin=along(frame.origin, frame.normal, by))


def flat_frame(origin: Vector, normal: Vector) -> Frame:
    """The frame of a plane seen from outside: its zero is the place nearest to part zero, x runs level and y uphill
    (along Z as far as the plane goes); square to Z they are X and Y.
    """
    place = along((0.0, 0.0, 0.0), normal, dot(origin, normal))
    level = cross((0.0, 0.0, 1.0), normal)
    if norm(level) < 1e-9:
        return frame_about(place, normal)
    x = unit(level)
    return Frame(place, x, cross(normal, x))


def axis_frame(place: Vector, direction: Vector) -> Frame:
    """The frame of an axis: its zero is where part zero is nearest, its normal runs towards plus. Angles about it count
    from X where it lies along Z, else from Z.
    """
    k = max(range(3), key=lambda i: abs(direction[i]))
    way = direction if direction[k] > 0 else (-direction[0], -direction[1], -direction[2])
    foot = along(place, way, -dot(place, way))
    return frame_about(foot, way)


def turned_in_plane(frame: Frame, angle: float) -> Frame:
    """The same plane, its x and y turned by ``angle`` radians from x towards y."""
    c, s = math.cos(angle), math.sin(angle)
    zero = (0.0, 0.0, 0.0)
    x = along(along(zero, frame.x, c), frame.y, s)
    return frame._replace(x=x, y=along(along(zero, frame.x, -s), frame.y, c))
