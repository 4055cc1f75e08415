"""What measuring gives: plain figures, free of the kernel, so that anyone may hold them."""

from __future__ import annotations

import math
from typing import Literal

import msgspec

Vector = tuple[float, float, float]
SurfaceKind = Literal["plane", "cylinder", "cone", "torus", "sphere", "other"]


class Circle(msgspec.Struct, frozen=True):
    """A circular edge of a face: centre and radius (mm), unit axis."""

    center: Vector
    axis: Vector
    radius: float


class Surface(msgspec.Struct, frozen=True, kw_only=True):
    """One measured face. Lengths mm, angles radians.

    ``origin`` and ``axis`` are a point and unit direction: the outward normal of a plane, the axis of a round face.
    ``radius`` is that of a cylinder or sphere, at ``origin`` for a cone, the minor one of a torus (``major`` the
    other).
    ``half_angle`` is a cone's, from its axis. ``span`` is the extent along the axis, measured from ``origin``.
    ``hollow`` is true when material lies outside (a bore). ``circles`` are the face's circular edges.
    """

    index: int
    kind: SurfaceKind
    origin: Vector = (0.0, 0.0, 0.0)
    axis: Vector = (0.0, 0.0, 1.0)
    radius: float = 0.0
    major: float = 0.0
    half_angle: float = 0.0
    span: tuple[float, float] = (0.0, 0.0)
    turn: float = 2 * math.pi
    hollow: bool = False
    area: float = 0.0
    center: Vector = (0.0, 0.0, 0.0)
    circles: tuple[Circle, ...] = ()

    def describe(self) -> str:
        """Short words: what the face is and where."""
        z = self.center[2]
        if self.kind == "cylinder":
            return f"{'bore' if self.hollow else 'cylinder'} Ø{2 * self.radius:.3f}"
        if self.kind == "plane":
            return f"flat face at Z {z:.3f}"
        if self.kind == "cone":
            return f"cone, {math.degrees(2 * self.half_angle):.2f}° included, at Z {z:.3f}"
        if self.kind == "torus":
            return f"fillet R{self.radius:.3f} at Z {z:.3f}"
        return f"{'ball' if self.kind == 'sphere' else 'free'} face at Z {z:.3f}"


class MassProperties(msgspec.Struct, frozen=True):
    """Volume mm³, area mm², centre (mm) and box corners (mm) of a solid, integrated over its faces; ``off`` is how far
    the volume may be off, mm³.
    """

    volume: float
    area: float
    center: Vector
    low: Vector
    high: Vector
    off: float = 0.0
