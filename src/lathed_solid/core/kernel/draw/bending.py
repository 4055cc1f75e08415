"""A part bent about an axis for an aligned section: what lies on one side of it is turned until the place that is meant
stands in the plane of the section (ISO 128-3 clause 6.5). It is drawn, not made.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from OCP.BRep import BRep_Builder
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS_Compound

from ...tolerance import ONE_PLACE, PARALLEL
from ..form.sweep import moved
from ..ground.check import KernelFailure
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, dot, minus
from ..ground.named import NamedBody
from ..ground.placing import triple, turning_about
from ..measure.boxes import box
from .cutting import Cutting, cut_open, lies_before

#: What reaches no farther past the axis lies on it (mm).
_ON = 1e-6


class Bend(NamedTuple):
    """About the level line ``edge`` above the eye's zero and ``depth`` before it (mm): what lies ``below`` it (else
    above) is turned by ``turn`` radians, counter-clockwise as it is seen from the right end of that line. About the
    ``upright`` line ``edge`` right of zero: what lies right of it (else left), as it is seen from above.
    """

    turn: float
    below: bool
    edge: float = 0.0
    depth: float = 0.0
    upright: bool = False

    @property
    def side(self) -> float:
        return -1.0 if self.below else 1.0

    def about(self, eye: Frame) -> Frame:
        """The eye with its zero on the axis, and its x along that."""
        if not self.upright:
            return eye._replace(origin=eye.at(0.0, self.edge, self.depth))
        x, y, z = eye.x
        return Frame(eye.at(self.edge, 0.0, self.depth), eye.y, (-x, -y, -z))


def bent(body: NamedBody, eye: Frame, how: Bend) -> NamedBody:
    """The body in two halves that meet at the axis; where they do, their faces are named as of a cut. Raises
    KernelFailure when one of them is empty.
    """
    halves = _halves(body, how.about(eye), how)
    if len(halves) < 2:
        raise KernelFailure(
            "All of the part lies on one side of the section's axis. Say where the axis lies, or take a plain section."
        )
    return _together(halves)


def bent_among(body: NamedBody, eye: Frame, how: Bend, whole: bool) -> NamedBody | None:
    """One of several bodies that are bent about an axis together; of one that is kept ``whole`` what stands on the
    axis, and behind the plane on either side of it. None for one that is not seen.
    """
    pivot = how.about(eye)
    if not whole:
        halves = _halves(body, pivot, how)
        return _together(halves) if halves else None
    swung = _swung(body, pivot, how)
    places = _level(body, pivot), _level(swung, pivot)
    if all(abs(p) < _ON for p in places):
        return body
    both = ((body, -how.side, places[0]), (swung, how.side, places[1]))
    plane = Cutting(((0.0, 0.0),))
    stands = [b for b, side, at in both if side * at > -_ON and not lies_before(b, pivot, plane)]
    return _together(stands) if stands else None


def _swung(body: NamedBody, pivot: Frame, how: Bend) -> NamedBody:
    return moved(body, turning_about(pivot.origin, pivot.x, how.turn), ("", ""))


def _level(body: NamedBody, pivot: Frame) -> float:
    """How far above the axis the middle of a body lies."""
    low, high = box(body.shape)
    x, y, z = ((a + b) / 2 for a, b in zip(low, high, strict=True))
    return _side((x, y, z), pivot)


def _halves(body: NamedBody, pivot: Frame, how: Bend) -> list[NamedBody]:
    both = (_half(body, pivot, -how.side), _half(_swung(body, pivot, how), pivot, how.side))
    return [half for half in both if half is not None]


def _together(pieces: Sequence[NamedBody]) -> NamedBody:
    whole, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(whole)
    for piece in pieces:
        builder.Add(whole, piece.shape)
    return NamedBody(whole, [pair for piece in pieces for pair in piece.pairs()])


def _half(body: NamedBody, pivot: Frame, side: float) -> NamedBody | None:
    """What lies above the axis, or below it: the rest is cut away, however deep it is. None where nothing does."""
    low, high = box(body.shape)
    (xs, ys, zs) = zip(low, high, strict=True)
    above = [side * _side(c, pivot) for c in itertools.product(xs, ys, zs)]
    if max(above) < _ON:
        return None
    if min(above) > -_ON:
        return body
    levels = ((-10.0 - math.dist(low, high) - math.dist(low, pivot.origin), 0.0),)
    return cut_open(body, pivot, Cutting(levels, high=0.0) if side > 0 else Cutting(levels, low=0.0))


def bent_surfaces(surfaces: Sequence[Surface], eye: Frame, how: Bend) -> Iterator[Surface]:
    """The faces of the part where the bent one shows them; what the bend takes away is left out."""
    eye = how.about(eye)
    turning = turning_about(eye.origin, eye.x, how.turn)

    def place(p: Vector) -> Vector:
        return triple(gp_Pnt(*p).Transformed(turning))

    def way(v: Vector) -> Vector:
        return triple(gp_Vec(*v).Transformed(turning))

    for surface in surfaces:
        swung = surface.elsewhere(place, way)
        on_axis = abs(dot(surface.axis, eye.x)) > 1 - PARALLEL and math.dist(surface.origin, swung.origin) < ONE_PLACE
        if on_axis or _side(surface.center, eye) * how.side <= 1e-9:
            yield surface
        if not on_axis and _side(swung.center, eye) * how.side >= -1e-9:
            yield swung


def _side(place: Vector, eye: Frame) -> float:
    return dot(minus(place, eye.origin), eye.y)
