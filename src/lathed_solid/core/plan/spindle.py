"""The axis that a part is turned about, and its faces as they lie along it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, cross, dot, minus, norm
from ..tolerance import LEVEL
from .symmetry import main_axis

#: Faces meet within this, mm.
NEAR = 1e-4
#: A neck no wider than this share of its diameter, or than 3 mm, is grooved; a longer one is turned between shoulders.
_NECK, _NARROW = 0.35, 3.0


class Lying(NamedTuple):
    """A face about the axis: from where to where along it, and its radius at either place (a flat one's least and
    largest).
    """

    face: Surface
    low: float
    high: float
    at_low: float
    at_high: float

    @property
    def least(self) -> float:
        return min(self.at_low, self.at_high)

    @property
    def most(self) -> float:
        return max(self.at_low, self.at_high)

    @property
    def length(self) -> float:
        return self.high - self.low


class Spindle(NamedTuple):
    """The axis (its way is the right end's), the faces about it, and where the largest diameter lies along it."""

    foot: Vector
    way: Vector
    faces: tuple[Lying, ...]

    def end(self, right: bool) -> Vector:
        x, y, z = self.way
        return (x + 0.0, y + 0.0, z + 0.0) if right else (-x + 0.0, -y + 0.0, -z + 0.0)

    @property
    def outside(self) -> list[Lying]:
        return [f for f in self.faces if f.face.kind != "plane" and not self.is_bore(f)]

    def is_bore(self, f: Lying) -> bool:
        """Whether a round face lies inside. A rounding tells nothing by itself: its corner may be hollow outside."""
        if f.face.kind != "torus":
            return f.face.hollow
        ends = ((f.low, f.at_low), (f.high, f.at_high))
        return any(
            abs(z - at) < NEAR and abs(r - radius) < NEAR
            for g in self.faces
            if g.face.kind in ("cylinder", "cone") and g.face.hollow
            for z, r in ((g.low, g.at_low), (g.high, g.at_high))
            for at, radius in ends
        )

    @property
    def largest(self) -> tuple[float, float]:
        outside = self.outside
        if not outside:
            return self.faces[0].low, self.faces[-1].high
        most = max(f.most for f in outside)
        wide = max((f for f in outside if f.most > most - NEAR), key=lambda f: f.length)
        return wide.low, wide.high

    def radius_at(self, z: float) -> float:
        """Of the outside there, mm; 0 where nothing is."""
        return max((_between(f, z) for f in self.outside if f.low - 1e-9 <= z <= f.high + 1e-9), default=0.0)


def _between(f: Lying, z: float) -> float:
    share = (z - f.low) / f.length if f.length > 1e-9 else 0.0
    return f.at_low + share * (f.at_high - f.at_low)


def spindle_of(surfaces: Sequence[Surface]) -> Spindle | None:
    """Where a part is turned about; None when nothing is round."""
    axis = main_axis(surfaces)
    if axis is None:
        return None
    foot, way = axis
    found = (_lying(s, foot, way) for s in surfaces)
    faces = tuple(sorted((f for f in found if f is not None), key=lambda f: (f.low, f.high)))
    return Spindle(foot, way, faces) if faces else None


def _lying(s: Surface, foot: Vector, way: Vector) -> Lying | None:
    def place(p: Vector) -> tuple[float, float]:
        gap = minus(p, foot)
        return dot(gap, way), norm(cross(gap, way))

    z, off = place(s.origin)
    if s.kind == "sphere":
        heights = [place(c.center)[0] for c in s.circles] or [z - s.radius, z + s.radius]
        low, high = (min(heights), max(heights)) if len(heights) > 1 else sorted((heights[0], z))
        return Lying(s, low, high, s.radius, s.radius) if off < NEAR else None
    if abs(dot(s.axis, way)) < 1 - LEVEL:
        return None
    about = [c for c in s.circles if place(c.center)[1] < NEAR]
    if s.kind == "plane":
        radii = [c.radius for c in about]
        inner = min(radii) if len({round(r, 5) for r in radii}) > 1 else 0.0
        return Lying(s, z, z, inner, max(radii)) if radii else None
    if off > NEAR:
        return None
    if s.kind == "torus":
        heights = [place(c.center)[0] for c in about] or [z - s.radius, z + s.radius]
        radii = [c.radius for c in about] or [s.major, s.major]
        return Lying(s, min(heights), max(heights), radii[0], radii[-1])
    if s.kind not in ("cylinder", "cone"):
        return None
    slope = math.tan(s.half_angle) if s.kind == "cone" else 0.0
    (a, ra), (b, rb) = sorted((place(along(s.origin, s.axis, t))[0], abs(s.radius + slope * t)) for t in s.span)
    return Lying(s, a, b, ra, rb)


def is_groove(f: Lying, spindle: Spindle) -> bool:
    """Whether a round face is the floor of a neck that a grooving tool cuts."""
    if f.face.kind != "cylinder" or f.length > max(_NARROW, 2 * _NECK * f.least):
        return False
    return all(spindle.radius_at(z) > f.most + NEAR for z in (f.low - 1e-3, f.high + 1e-3))
