"""A part bent about an axis for an aligned section: what lies on one side of it is turned until the place that is meant
stands in the plane of the section (ISO 128-3 clause 6.5). It is drawn, not made.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from OCP.BRep import BRep_Builder
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS_Compound

from ..form.sweep import moved
from ..ground.check import KernelFailure
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, dot, minus
from ..ground.named import NamedBody
from ..ground.placing import triple, turning_about
from ..measure.boxes import box
from .cutting import Cutting, cut_open


class Bend(NamedTuple):
    """About the level line through the eye's zero: what lies ``below`` it (else above) is turned by ``turn`` radians,
    counter-clockwise as it is seen from the right end of that line.
    """

    turn: float
    below: bool

    @property
    def side(self) -> float:
        return -1.0 if self.below else 1.0


def bent(body: NamedBody, eye: Frame, how: Bend) -> NamedBody:
    """The body in two halves that meet at the axis; where they do, their faces are named as of a cut. Raises
    KernelFailure when one of them is empty.
    """
    swung = moved(body, turning_about(eye.origin, eye.x, how.turn), ("", ""))
    halves = [_half(body, eye, -how.side), _half(swung, eye, how.side)]
    whole, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(whole)
    for half in halves:
        builder.Add(whole, half.shape)
    return NamedBody(whole, [pair for half in halves for pair in half.pairs()])


def _half(body: NamedBody, eye: Frame, side: float) -> NamedBody:
    """What lies above the axis, or below it: the rest is cut away, however deep it is."""
    low, high = box(body.shape)
    behind = -10.0 - math.dist(low, high) - math.dist(low, eye.origin)
    levels = ((behind, 0.0),)
    try:
        return cut_open(body, eye, Cutting(levels, high=0.0) if side > 0 else Cutting(levels, low=0.0))
    except KernelFailure:
        raise KernelFailure(
            "All of the part lies on one side of the section's axis. Choose another place, or a plain section."
        ) from None


def bent_surfaces(surfaces: Sequence[Surface], eye: Frame, how: Bend) -> Iterator[Surface]:
    """The faces of the part where the bent one shows them; what the bend takes away is left out."""
    turning = turning_about(eye.origin, eye.x, how.turn)

    def place(p: Vector) -> Vector:
        return triple(gp_Pnt(*p).Transformed(turning))

    def way(v: Vector) -> Vector:
        return triple(gp_Vec(*v).Transformed(turning))

    for surface in surfaces:
        swung = surface.elsewhere(place, way)
        on_axis = abs(dot(surface.axis, eye.x)) > 1 - 1e-9 and math.dist(surface.origin, swung.origin) < 1e-6
        if on_axis or _side(surface.center, eye) * how.side <= 1e-9:
            yield surface
        if not on_axis and _side(swung.center, eye) * how.side >= -1e-9:
            yield swung


def _side(place: Vector, eye: Frame) -> float:
    return dot(minus(place, eye.origin), eye.y)
