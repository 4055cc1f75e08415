"""Chamfers felt in a section across their edge: between the faces they break, carried on to the corner that was."""

from __future__ import annotations

import math

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import Frame, cross, dot, frame_about, norm, unit
from ..kernel.measure.surfaces import extent
from ..route.gauges import Leg, LegAngle
from ..tolerance import PARALLEL
from .laid import Line, NotShown, Plate, Round, Straight, crossing
from .plate import LostFace, Measured, SurfacePlate, Unmeasurable

XY = tuple[float, float]


def section(chamfer: Surface, first: Surface, second: Surface) -> tuple[float, float]:
    """Of a chamfer between two faces: its leg along the ``first``, from the corner where both would meet (mm), and its
    angle to that face there (radians). Raises Unmeasurable where no one section shows all three.
    """
    plate = Plate(_across(chamfer, first, second), lambda name: [])
    near = _seen(chamfer)
    a, b, c = (_nearest(plate, s, near) for s in (first, second, chamfer))
    if not isinstance(a, Straight):
        raise Unmeasurable("The leg of this chamfer lies along a face that is round across its edge.")
    try:
        corner, start, end = crossing(a, b, near), crossing(a, c, near), crossing(b, c, near)
    except NotShown:
        raise Unmeasurable("The faces beside this chamfer do not meet in one corner.") from None
    leg, slope = math.dist(corner, start), math.dist(start, end)
    if leg < 1e-9 or slope < 1e-9:
        raise Unmeasurable("The faces beside this chamfer do not meet in one corner.")
    turned = ((corner[0] - start[0]) * (end[0] - start[0]) + (corner[1] - start[1]) * (end[1] - start[1])) / leg / slope
    return leg, math.acos(max(-1.0, min(1.0, turned)))


def _across(chamfer: Surface, first: Surface, second: Surface) -> Frame:
    """The plane of the section: through the axis of a conical chamfer, square to the edge of a flat one."""
    if chamfer.kind == "cone":
        out = frame_about(chamfer.origin, chamfer.axis).x
        return Frame(chamfer.origin, chamfer.axis, out)
    edge = _edge(chamfer, first, second)
    return frame_about(chamfer.center, edge)


def _edge(chamfer: Surface, first: Surface, second: Surface) -> Vector:
    for other in (first, second):
        if other.kind == "plane":
            way = cross(chamfer.axis, other.axis)
            if norm(way) > 1e-9:
                return unit(way)
        elif other.kind == "cylinder" and abs(dot(other.axis, chamfer.axis)) < 1e-9:
            return other.axis
    raise Unmeasurable("The faces beside this chamfer show no straight edge.")


def _seen(chamfer: Surface) -> XY:
    """A place in the middle of the chamfer, in its section."""
    if chamfer.kind != "cone":
        return 0.0, 0.0
    middle = sum(chamfer.span) / 2
    return middle, abs(chamfer.radius + middle * math.tan(chamfer.half_angle))


def _nearest(plate: Plate, surface: Surface, near: XY) -> Line:
    try:
        lines = plate.laid(surface)
    except NotShown:
        raise Unmeasurable("A face beside this chamfer is not seen in its section.") from None
    return min(lines, key=lambda line: _away(line, near))


def _away(line: Line, near: XY) -> float:
    if isinstance(line, Round):
        return abs(math.dist(line.center, near) - line.radius)
    return abs(line.way[0] * (near[1] - line.place[1]) - line.way[1] * (near[0] - line.place[0]))


# --- the gauges
def leg(plate: SurfacePlate, gauge: Leg) -> Measured:
    if (found := _in_section(plate, gauge, 0)) is not None:
        return found
    other = plate.one(gauge.other) if gauge.other else None

    def value(s: Surface) -> float:
        if s.kind == "cone":
            flat = other is not None and other.kind == "plane"
            return (s.span[1] - s.span[0]) * (math.tan(s.half_angle) if flat else 1.0)
        if other is None or other.kind != "plane":
            raise Unmeasurable("The leg of a flat chamfer is measured along a flat face beside it.")
        edge = cross(s.axis, other.axis)
        if norm(edge) < PARALLEL:
            raise Unmeasurable("The chamfer is parallel to the face it should start in.")
        return extent(plate.body.face(s.index), unit(cross(other.axis, edge)))

    return plate.each(gauge, ("cone", "plane"), value)


def _in_section(plate: SurfacePlate, gauge: Leg | LegAngle, which: int) -> Measured | None:
    """Leg or angle of a chamfer in a section across its edge; None where the face beyond it is not there to be cut."""
    try:
        first, second = plate.one(gauge.other), plate.one(gauge.beyond)
    except LostFace:
        return None
    found = plate.each(gauge, ("cone", "plane"), lambda s: section(s, first, second)[which])
    return Measured(found.values, (*found.faces, first.index, second.index))


def leg_angle(plate: SurfacePlate, gauge: LegAngle) -> Measured:
    if (found := _in_section(plate, gauge, 1)) is not None:
        return found
    other = plate.one(gauge.other) if gauge.other else None
    flat = other is not None and other.kind == "plane"

    def value(s: Surface) -> float:
        if s.kind == "cone":
            return math.pi / 2 - s.half_angle if flat else s.half_angle
        if other is None or not flat:
            raise Unmeasurable("The angle of a flat chamfer is measured to a flat face beside it.")
        return math.acos(min(1.0, abs(dot(s.axis, other.axis))))

    return plate.each(gauge, ("cone", "plane"), value)
