"""A part bent about an axis for an aligned section: what lies on one side of it is turned until the place that is meant
stands in the plane of the section (ISO 128-3 clause 6.5). It is drawn, not made.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace
from OCP.BRep import BRep_Builder
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.TopoDS import TopoDS, TopoDS_Compound

from ..form.outline import Segment, flat_face
from ..form.sweep import prism
from ..ground.check import KernelFailure, done
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, dot, minus
from ..ground.named import NamedBody, carry
from ..ground.placing import turning_about
from ..ground.topology import SOLID, subshapes
from ..measure.boxes import box
from .cutting import CUT


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
    operation = BRepBuilderAPI_Transform(body.shape, turning_about(eye.origin, eye.x, how.turn), True)
    pairs = [(TopoDS.Face(operation.ModifiedShape(face)), name) for face, name in body.pairs()]
    swung = NamedBody(operation.Shape(), pairs)
    halves = [_half(body, eye, -how.side), _half(swung, eye, how.side)]
    whole, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(whole)
    for half in halves:
        builder.Add(whole, half.shape)
    return NamedBody(whole, [pair for half in halves for pair in half.pairs()])


def _half(body: NamedBody, eye: Frame, side: float) -> NamedBody:
    low, high = box(body.shape)
    room = 10.0 + math.dist(low, high) + max(math.dist(low, eye.origin), math.dist(high, eye.origin))
    corners = [(-room, -room), (room, -room), (room, room), (-room, room)]
    ring = tuple(
        Segment(f"room{k}", a, b) for k, (a, b) in enumerate(zip(corners, corners[1:] + corners[:1], strict=True))
    )
    plane = Frame(eye.origin, eye.x, eye.normal)
    x, y, z = eye.y
    tool = prism(flat_face(ring, (), plane), (side * room * x, side * room * y, side * room * z), CUT)
    operation = BRepAlgoAPI_Common(body.shape, tool.shape)
    done(operation, "The part could not be parted at the axis of the section.")
    made = NamedBody(operation.Shape(), carry(operation, [*body.pairs(), *tool.pairs()]))
    if not subshapes(made.shape, SOLID):
        raise KernelFailure("Nothing of the part lies on one side of the section's axis. Choose another place.")
    return made


def bent_surfaces(surfaces: Sequence[Surface], eye: Frame, how: Bend) -> Iterator[Surface]:
    """The faces of the part where the bent one shows them; what the bend takes away is left out."""
    for surface in surfaces:
        swung = _swung(surface, eye, how.turn)
        on_axis = abs(dot(surface.axis, eye.x)) > 1 - 1e-9 and math.dist(surface.origin, swung.origin) < 1e-6
        if on_axis or _side(surface.center, eye) * how.side <= 1e-9:
            yield surface
        if not on_axis and _side(swung.center, eye) * how.side >= -1e-9:
            yield swung


def _side(place: Vector, eye: Frame) -> float:
    return dot(minus(place, eye.origin), eye.y)


def _swung(surface: Surface, eye: Frame, turn: float) -> Surface:
    def place(p: Vector) -> Vector:
        away = way(minus(p, eye.origin))
        return eye.origin[0] + away[0], eye.origin[1] + away[1], eye.origin[2] + away[2]

    def way(v: Vector) -> Vector:
        along, up, near = dot(v, eye.x), dot(v, eye.y), dot(v, eye.normal)
        c, s = math.cos(turn), math.sin(turn)
        up, near = c * up - s * near, s * up + c * near
        return tuple(along * a + up * b + near * n for a, b, n in zip(eye.x, eye.y, eye.normal, strict=True))  # type: ignore[return-value]

    circles = tuple(replace(c, center=place(c.center), axis=way(c.axis)) for c in surface.circles)
    return replace(
        surface, origin=place(surface.origin), axis=way(surface.axis), center=place(surface.center), circles=circles
    )
