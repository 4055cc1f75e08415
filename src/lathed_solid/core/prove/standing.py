"""Where things stand on the part: from zero, from a face, about the turning axis, from each other."""

from __future__ import annotations

import math
from functools import partial

from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import axis_frame, dot, minus
from ..route.gauges import Apart, AxesApart, AxisAngle, AxisFrom, CircleThrough, Position
from ..tolerance import PARALLEL
from .plate import Measured, SurfacePlate, Unmeasurable, crossed, from_axis


def axis_from(plate: SurfacePlate, gauge: AxisFrom) -> Measured:
    def value(plane: Surface, s: Surface) -> float:
        if abs(dot(s.axis, plane.axis)) > PARALLEL:
            raise Unmeasurable("The hole's axis is not parallel to the face it is measured from.")
        return abs(dot(minus(s.origin, plane.origin), plane.axis))

    pieces = plate.pieces(gauge.other, plate.one(gauge.other, "plane"))
    found = [plate.each(gauge, ("cylinder", "cone"), partial(value, plane)) for plane in pieces]
    return Measured(tuple(v for m in found for v in m.values), (*found[0].faces, *(p.index for p in pieces)))


def circle_through(plate: SurfacePlate, gauge: CircleThrough) -> Measured:
    def value(s: Surface) -> float:
        if abs(abs(s.axis[2]) - 1) > PARALLEL:
            raise Unmeasurable("The hole is not parallel to the turning axis.")
        return 2 * math.hypot(s.origin[0], s.origin[1])

    return plate.each(gauge, ("cylinder",), value)


def axis_angle(plate: SurfacePlate, gauge: AxisAngle) -> Measured:
    both_ways, about = False, axis_frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    if gauge.other:
        round_ = plate.one(gauge.other, "cylinder", "cone", "sphere")
        about = axis_frame(round_.origin, round_.axis)

    def value(s: Surface) -> float:
        nonlocal both_ways
        if s.kind == "plane":
            return math.atan2(s.axis[1], s.axis[0])
        if abs(abs(s.axis[2]) - 1) <= PARALLEL and not gauge.other:
            return math.atan2(s.origin[1], s.origin[0])
        # A hole through both walls has its middle on the axis: only its direction is left, either way round.
        side = dot(minus(s.center, about.origin), s.axis)
        both_ways = both_ways or abs(side) < 1e-2 * s.radius
        sign = -1.0 if side < 0 else 1.0
        return math.atan2(sign * dot(s.axis, about.y), sign * dot(s.axis, about.x))

    found = plate.each(gauge, ("cylinder", "plane"), value)
    return found._replace(period=math.pi) if both_ways else found


def position(plate: SurfacePlate, gauge: Position) -> Measured:
    k = "xyz".index(gauge.way)

    def at(name: str) -> tuple[float, int]:
        surface = plate.one(name, "plane", "cylinder")
        if abs(abs(surface.axis[k]) - (surface.kind == "plane")) > PARALLEL:
            raise Unmeasurable(f"The face does not stand square to {gauge.way.upper()}.")
        return surface.origin[k], surface.index

    if not gauge.other:
        place, index = at(gauge.face)
        return Measured((abs(place),), (index,))
    (a, i), (b, j) = at(gauge.face), at(gauge.other)
    return Measured((abs(a + b) / 2,), (i, j))


def apart(plate: SurfacePlate, gauge: Apart) -> Measured:
    k = "xyz".index(gauge.way)
    a, b = plate.one(gauge.face), plate.one(gauge.other)
    if a.kind != b.kind or a.kind == "other":
        raise Unmeasurable("The two faces are not of one kind.")
    if a.kind != "sphere" and abs(abs(a.axis[k]) - (a.kind == "plane")) > PARALLEL:
        raise Unmeasurable(f"The face does not show where it stands along {gauge.way.upper()}.")
    return Measured((abs(b.origin[k] - a.origin[k]),), (a.index, b.index))


def axes_apart(plate: SurfacePlate, gauge: AxesApart) -> Measured:
    a, b = plate.one(gauge.face, "cylinder"), plate.one(gauge.other, "cylinder")
    if abs(abs(dot(a.axis, b.axis)) - 1) > PARALLEL:
        return Measured((crossed(a, b),), (a.index, b.index))
    return Measured((from_axis(b.origin, a),), (a.index, b.index))
