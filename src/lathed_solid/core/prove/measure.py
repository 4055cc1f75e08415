"""Reading gauges off the finished solid. Only surfaces are touched, never the numbers that made them."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ..kernel.curvature import rounding
from ..kernel.figures import Surface, Vector
from ..kernel.geometry import Frame, along, axis_frame, cross, dot, frame_about, minus, norm, triple, unit
from ..kernel.surfaces import axis_meets, corner_places, extent
from ..quantity.said import said
from ..route.gauges import (
    AnyGauge,
    Apart,
    AxesApart,
    AxisAngle,
    AxisFrom,
    Between,
    CircleThrough,
    Count,
    Depth,
    Diameter,
    DiameterAt,
    Drawn,
    EndAngle,
    FaceAngle,
    Gauge,
    HelixSize,
    Included,
    Leg,
    LegAngle,
    LetterHeight,
    OpenEnds,
    Position,
    Radius,
    SeatAngle,
    ThreadDepth,
    ThreadOn,
    Walls,
    WidestCircle,
)
from ..standards.thread_limits import minor_limits
from . import chamfers, drawn, helix
from .laid import Plate
from .plate import LostFace, Measured, Misfit, SurfacePlate, Unmeasurable
from .threads import faults

_PARALLEL = 1e-9
#: Axes nearer than this (mm) are one.
ONE_AXIS = 1e-6
#: How far past the end of a hole the way is tried, mm.
BEYOND = 0.01
#: How exact the kernel's own free roundings are, as a share of their radius (measured on 38 saddles).
FREE_FACE = 1e-3


def read(plate: SurfacePlate, gauge: AnyGauge) -> Measured:
    """Read one gauge. Raises Unmeasurable."""
    found = _READERS[type(gauge)](plate, gauge)
    return found._replace(faces=tuple(i for i in found.faces if i))  # planes of sketches are no faces


def _drawn(plate: SurfacePlate, gauge: Drawn) -> Measured:
    frame = plate.frames.get(gauge.frame)
    if frame is None:
        raise Unmeasurable("The plane this size was drawn in is not known.")
    laid = Plate(frame, plate.find, plate.surfaces)
    values = tuple(drawn.read(laid, gauge))
    # The faces that lie at the sketch's zero are what such a size is counted from.
    zero = [f for kind in laid.built_in for f in _zero_planes(kind, gauge, frame)]
    lying = {s.index for f in zero for s in plate.lying_in(f)}
    return Measured(values, tuple(sorted(laid.touched | lying)))


def _zero_planes(kind: str, gauge: Drawn, frame: Frame) -> list[Frame]:
    across = Frame(frame.origin, frame.y, frame.normal)  # square to the first axis
    along_it = Frame(frame.origin, frame.normal, frame.x)
    if kind == "zero":
        return {"along": [across], "across": [along_it]}.get(gauge.what, [across, along_it])
    return {"across": [across], "along": [along_it]}.get(kind, [])


def _diameter(plate: SurfacePlate, gauge: Diameter) -> Measured:
    """Of a round face or ball; where a modelled thread took its whole place, across the crests."""
    mark = plate.marks.get(gauge.face)
    if mark is not None and mark.modelled and all(s.kind == "other" for s in plate.find(gauge.face)):
        felt, indices = plate.thread(mark)
        return Measured((felt.minor if mark.internal else felt.major,), tuple(indices), words="Across the thread.")
    return plate.each(gauge, ("cylinder", "sphere"), lambda s: 2 * s.radius)


def _radius(plate: SurfacePlate, gauge: Radius) -> Measured:
    """Of round faces, and by its curvature of a rounding that the kernel keeps as a free face."""
    spread = 0.0

    def value(s: Surface) -> float:
        nonlocal spread
        if s.kind != "other":
            return s.radius
        found = rounding(plate.body.face(s.index))
        if found is None:
            raise Unmeasurable("The face there is free-form and has no one radius.")
        spread = max(spread, found.spread, FREE_FACE * found.radius)
        return found.radius

    found = plate.each(gauge, ("torus", "cylinder", "sphere", "other"), value)
    return found._replace(spread=spread)


def _seat_angle(plate: SurfacePlate, gauge: SeatAngle) -> Measured:
    return plate.each(gauge, ("cone",), lambda s: 2 * s.half_angle)


def _diameter_at(plate: SurfacePlate, gauge: DiameterAt) -> Measured:
    plane = plate.one(gauge.other, "plane")

    def value(cone: Surface) -> float:
        if cone.kind == "cylinder":
            return 2 * cone.radius
        height = dot(minus(plane.origin, cone.origin), plane.axis) / dot(cone.axis, plane.axis)
        return 2 * (cone.radius + height * math.tan(cone.half_angle))

    found = plate.each(gauge, ("cone", "cylinder"), value)
    return Measured(found.values, (*found.faces, plane.index))


def _between(plate: SurfacePlate, gauge: Between) -> Measured:
    kinds = ("plane", "cylinder", "sphere")
    a, b = plate.one(gauge.face, *kinds), plate.one(gauge.other, *kinds)
    if a.kind != "plane":
        a, b = b, a
    faces = (a.index, b.index)
    if a.index == b.index and a.index:
        raise Unmeasurable("Both ends of this size are the same face.")
    if a.kind != "plane":
        if "sphere" not in (a.kind, b.kind) and abs(abs(dot(a.axis, b.axis)) - 1) > _PARALLEL:
            return Measured((_crossed(a, b),), faces)
        apart = math.dist(a.origin, b.origin) if (a.kind, b.kind) == ("sphere", "sphere") else _from_axis(b.origin, a)
        if apart <= ONE_AXIS:  # about one axis: what lies between them is the difference of their radii
            return Measured((a.radius + b.radius if gauge.far else abs(a.radius - b.radius),), faces)
        reach = (a.radius + b.radius) * (int(gauge.far) - int(gauge.near))
        return Measured((apart + reach,), faces)
    distance = abs(dot(minus(b.origin, a.origin), a.axis))
    if b.kind == "plane":
        if abs(abs(dot(a.axis, b.axis)) - 1) > _PARALLEL:
            raise Unmeasurable("The two faces are not parallel.")
        return Measured((distance,), faces)
    if b.kind == "cylinder" and abs(dot(a.axis, b.axis)) > _PARALLEL:
        raise Unmeasurable("The flat face is not parallel to the axis of the round one.")
    return Measured((distance + b.radius if gauge.far else abs(b.radius - distance),), faces)


def _crossed(a: Surface, b: Surface) -> float:
    """The shortest distance between two axes that are not parallel, mm."""
    across = unit(cross(a.axis, b.axis))
    return abs(dot(minus(b.origin, a.origin), across))


def _leg(plate: SurfacePlate, gauge: Leg) -> Measured:
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
        if norm(edge) < _PARALLEL:
            raise Unmeasurable("The chamfer is parallel to the face it should start in.")
        return extent(plate.body.face(s.index), unit(cross(other.axis, edge)))

    return plate.each(gauge, ("cone", "plane"), value)


def _in_section(plate: SurfacePlate, gauge: Leg | LegAngle, which: int) -> Measured | None:
    """Leg or angle of a chamfer in a section across its edge; None where the face beyond it is not there to be cut."""
    try:
        first, second = plate.one(gauge.other), plate.one(gauge.beyond)
    except LostFace:
        return None
    found = plate.each(gauge, ("cone", "plane"), lambda s: chamfers.section(s, first, second)[which])
    return Measured(found.values, (*found.faces, first.index, second.index))


def _leg_angle(plate: SurfacePlate, gauge: LegAngle) -> Measured:
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


def _widest_circle(plate: SurfacePlate, gauge: WidestCircle) -> Measured:
    found = plate.find(gauge.face)
    radii = [c.radius for s in found for c in s.circles]
    if not radii:
        raise Unmeasurable("The face has no round edge.")
    return Measured((2 * max(radii),), tuple(s.index for s in found))


def _depth(plate: SurfacePlate, gauge: Depth) -> Measured:
    start = plate.one(gauge.other, "plane", "cylinder", "cone", "sphere")
    floors = _floors(plate, gauge.floor)

    def value(s: Surface) -> float:
        ends = [_on_axis(s, f) for f in floors if abs(dot(f.axis, s.axis)) > 1 - _PARALLEL] or _shown_ends(s)
        leans = start.kind == "plane" and abs(dot(start.axis, s.axis)) < 1 - _PARALLEL
        if leans or start.kind in ("cone", "sphere"):
            return _from_mouth(plate, s, start, ends)
        if start.kind == "plane":
            return max((abs(dot(minus(e, start.origin), start.axis)) for e in ends), default=0.0)
        return max((start.radius - _from_axis(e, start) for e in ends), default=0.0)

    found = plate.each(gauge, ("cylinder",), value)
    # What crosses a hole parts its wall: it is as deep as the farthest piece.
    if max(found.values) <= 0:
        raise Unmeasurable("The end of the hole is cut away by something else: its depth is not to be seen.")
    return Measured((max(found.values),), (*found.faces, start.index))


def _floors(plate: SurfacePlate, name: str) -> list[Surface]:
    """The flat bottom of a hole, which tells its depth also where its edge was rounded. Raises LostFace."""
    return [s for s in plate.find(name) if s.kind == "plane"] if name else []


def _on_axis(hole: Surface, floor: Surface) -> Vector:
    return along(hole.origin, hole.axis, dot(minus(floor.origin, hole.origin), hole.axis))


def _shown_ends(s: Surface) -> list[Vector]:
    """The ends of a round wall where a whole round edge shows that it ends there; none where something crosses it."""
    ends = [along(s.origin, s.axis, t) for t in s.span]
    rims = [c.center for c in s.circles if abs(c.radius - s.radius) < ONE_AXIS]
    return [e for e in ends if any(norm(minus(e, rim)) < ONE_AXIS for rim in rims)]


def _from_mouth(plate: SurfacePlate, hole: Surface, start: Surface, ends: list[Vector]) -> float:
    """Along the hole, from where its axis meets the face it was drilled into to its far end."""
    if not start.index:
        raise Unmeasurable("The plane this depth counts from is not square to the hole.")
    hits = axis_meets(plate.body.face(start.index), hole.origin, hole.axis)
    if not hits:
        raise Unmeasurable("The hole's axis does not meet the face its depth counts from.")
    if not ends:
        return 0.0
    mouth = min(hits, key=lambda h: min(norm(minus(h, along(hole.origin, hole.axis, t))) for t in hole.span))
    return max(norm(minus(mouth, e)) for e in ends)


def _from_axis(point: Vector, surface: Surface) -> float:
    gap = minus(point, surface.origin)
    return norm(minus(gap, along((0.0, 0.0, 0.0), surface.axis, dot(gap, surface.axis))))


def _axis_from(plate: SurfacePlate, gauge: AxisFrom) -> Measured:
    plane = plate.one(gauge.other, "plane")

    def value(s: Surface) -> float:
        if abs(dot(s.axis, plane.axis)) > _PARALLEL:
            raise Unmeasurable("The hole's axis is not parallel to the face it is measured from.")
        return abs(dot(minus(s.origin, plane.origin), plane.axis))

    found = plate.each(gauge, ("cylinder", "cone"), value)
    return Measured(found.values, (*found.faces, plane.index))


def _circle_through(plate: SurfacePlate, gauge: CircleThrough) -> Measured:
    def value(s: Surface) -> float:
        if abs(abs(s.axis[2]) - 1) > _PARALLEL:
            raise Unmeasurable("The hole is not parallel to the turning axis.")
        return 2 * math.hypot(s.origin[0], s.origin[1])

    return plate.each(gauge, ("cylinder",), value)


def _axis_angle(plate: SurfacePlate, gauge: AxisAngle) -> Measured:
    both_ways, about = False, axis_frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    if gauge.other:
        round_ = plate.one(gauge.other, "cylinder", "cone", "sphere")
        about = axis_frame(round_.origin, round_.axis)

    def value(s: Surface) -> float:
        nonlocal both_ways
        if s.kind == "plane":
            return math.atan2(s.axis[1], s.axis[0])
        if abs(abs(s.axis[2]) - 1) <= _PARALLEL and not gauge.other:
            return math.atan2(s.origin[1], s.origin[0])
        # A hole through both walls has its middle on the axis: only its direction is left, either way round.
        side = dot(minus(s.center, about.origin), s.axis)
        both_ways = both_ways or abs(side) < 1e-2 * s.radius
        sign = -1.0 if side < 0 else 1.0
        return math.atan2(sign * dot(s.axis, about.y), sign * dot(s.axis, about.x))

    found = plate.each(gauge, ("cylinder", "plane"), value)
    return found._replace(period=math.pi) if both_ways else found


def _open_ends(plate: SurfacePlate, gauge: OpenEnds) -> Measured:
    """Just past each end, close to the wall: material there is a floor or a drill tip's shoulder."""

    def value(s: Surface) -> float:
        frame = frame_about(s.origin, s.axis)
        turns = [math.pi / 4 * k for k in range(8)]
        ring = [(0.9999 * s.radius * math.cos(a), 0.9999 * s.radius * math.sin(a)) for a in turns]
        ends, inside = (s.span[0] - BEYOND, s.span[1] + BEYOND), plate.inside(s.index)
        return float(sum(not any(inside(triple(frame.point(u, v, t))) for u, v in ring) for t in ends))

    return plate.each(gauge, ("cylinder",), value)


def _count(plate: SurfacePlate, gauge: Count) -> Measured:
    found: list[Surface] = []
    for name in (gauge.face, *gauge.others):
        try:
            found.append(plate.find(name)[0])
        except Unmeasurable:
            continue
    radii = {round(s.radius, 6) for s in found}
    if len(radii) > 1:
        raise Misfit("The holes are not all of one size.")
    if not gauge.even:
        return Measured((float(len(found)),), tuple(s.index for s in found))
    angles = sorted(math.atan2(s.origin[1], s.origin[0]) % (2 * math.pi) for s in found)
    if len(angles) > 2:
        steps = [b - a for a, b in zip(angles, [*angles[1:], angles[0] + 2 * math.pi], strict=True)]
        if max(steps) - min(steps) > 1e-7 and len({round(s, 7) for s in sorted(steps)[:-1]}) > 1:
            raise Misfit("The holes are not evenly spaced.")
    return Measured((float(len(found)),), tuple(s.index for s in found))


def _position(plate: SurfacePlate, gauge: Position) -> Measured:
    k = "xyz".index(gauge.way)

    def at(name: str) -> tuple[float, int]:
        surface = plate.one(name, "plane", "cylinder")
        if abs(abs(surface.axis[k]) - (surface.kind == "plane")) > _PARALLEL:
            raise Unmeasurable(f"The face does not stand square to {gauge.way.upper()}.")
        return surface.origin[k], surface.index

    if not gauge.other:
        place, index = at(gauge.face)
        return Measured((abs(place),), (index,))
    (a, i), (b, j) = at(gauge.face), at(gauge.other)
    return Measured((abs(a + b) / 2,), (i, j))


def _apart(plate: SurfacePlate, gauge: Apart) -> Measured:
    k = "xyz".index(gauge.way)
    a, b = plate.one(gauge.face), plate.one(gauge.other)
    if a.kind != b.kind or a.kind == "other":
        raise Unmeasurable("The two faces are not of one kind.")
    if a.kind != "sphere" and abs(abs(a.axis[k]) - (a.kind == "plane")) > _PARALLEL:
        raise Unmeasurable(f"The face does not show where it stands along {gauge.way.upper()}.")
    return Measured((abs(b.origin[k] - a.origin[k]),), (a.index, b.index))


def _axes_apart(plate: SurfacePlate, gauge: AxesApart) -> Measured:
    a, b = plate.one(gauge.face, "cylinder"), plate.one(gauge.other, "cylinder")
    if abs(abs(dot(a.axis, b.axis)) - 1) > _PARALLEL:
        return Measured((_crossed(a, b),), (a.index, b.index))
    return Measured((_from_axis(b.origin, a),), (a.index, b.index))


def _thread_on(plate: SurfacePlate, gauge: ThreadOn) -> Measured:
    mark = plate.marks.get(gauge.face)
    if mark is None:
        raise Unmeasurable("The face carries no thread.")
    if mark.modelled:
        felt, indices = plate.thread(mark)
        if wrong := faults(felt, mark.thread, mark.internal):
            raise Misfit(f"{mark.thread.designation}: {', '.join(wrong)}.")
        flank = math.degrees(felt.flank)
        words = f"Felt: pitch {felt.pitch:.4f}, pitch Ø {felt.pitch_diameter:.3f} mm, flanks {flank:.2f}°."
        return Measured((mark.thread.diameter,), tuple(indices), words=words)
    surface = plate.one(gauge.face, "cylinder")
    size = 2 * surface.radius
    if mark.internal:
        low, high = minor_limits(mark.thread)
        if not low - 1e-6 <= size <= high + 1e-6:
            raise Misfit(
                f"The drilled Ø{said(size)} is outside the minor diameter {said(low)} to {said(high)} of "
                f"{mark.thread.designation}."
            )
    elif abs(size - mark.thread.diameter) > 1e-6:
        raise Misfit(f"The face is Ø{said(size)}; {mark.thread.designation} is drawn on its nominal diameter.")
    return Measured((mark.thread.diameter,), (surface.index,))


def _thread_depth(plate: SurfacePlate, gauge: ThreadDepth) -> Measured:
    """Of a modelled thread between its full form and its end, which is known to about a pitch; a cosmetic one is only
    noted, but its face must be long enough.
    """
    mark = plate.marks.get(gauge.face)
    if mark is None:
        raise Unmeasurable("The face carries no thread.")
    if mark.modelled:
        felt, indices = plate.thread(mark)
        words = f"Felt: full form over {felt.length:.2f} mm, with its run-out {felt.reach:.2f} mm."
        spread = (felt.reach - felt.length) / 2 + mark.thread.pitch / 2
        return Measured(((felt.reach + felt.length) / 2,), tuple(indices), spread=spread, words=words)
    faces = plate.all(gauge.face, "cylinder")
    low, high = (side(s.span[k] for s in faces) for k, side in ((0, min), (1, max)))
    if mark.length > high - low + 2 * mark.thread.pitch:
        return Measured((high - low,), tuple(s.index for s in faces), words="The face ends before the thread does.")
    return Measured((mark.length,), tuple(s.index for s in faces), words="Noted on its face, not cut.")


def _included(plate: SurfacePlate, gauge: Included) -> Measured:
    kinds = ("plane", "cylinder", "cone")
    a, b = plate.one(gauge.face, *kinds), plate.one(gauge.other, *kinds)
    between = math.acos(max(-1.0, min(1.0, abs(dot(a.axis, b.axis)))))
    if (a.kind == "plane") != (b.kind == "plane"):
        between = math.pi / 2 - between  # a face against an axis, not against the normal
    return Measured((math.pi - between if gauge.over else between,), (a.index, b.index))


def _end_angle(plate: SurfacePlate, gauge: EndAngle) -> Measured:
    return plate.each(gauge, ("cone",), lambda s: math.pi / 2 - s.half_angle)


def _face_angle(plate: SurfacePlate, gauge: FaceAngle) -> Measured:
    flat = plate.one(gauge.other, "plane")

    def value(s: Surface) -> float:
        if s.kind == "cone":
            return s.half_angle
        return abs(math.pi / 2 - math.acos(max(-1.0, min(1.0, dot(s.axis, flat.axis)))))

    found = plate.each(gauge, ("plane", "cone"), value)
    return Measured(found.values, (*found.faces, flat.index))


def _walls(plate: SurfacePlate, gauge: Walls) -> Measured:
    values: list[float] = []
    faces: list[int] = []
    outside = {name: i for i, names in plate.body.names.items() for name in names}
    for name, index in outside.items():
        if not name.startswith(f"{gauge.face}/") or name.removeprefix(f"{gauge.face}/") not in outside:
            continue
        inner, outer = plate.surfaces[index - 1], plate.surfaces[outside[name.removeprefix(f"{gauge.face}/")] - 1]
        if inner.kind != outer.kind or inner.kind not in ("plane", "cylinder", "sphere"):
            continue
        gap = (
            dot(minus(inner.origin, outer.origin), outer.axis) if inner.kind == "plane" else inner.radius - outer.radius
        )
        values.append(abs(gap))
        faces += [inner.index, outer.index]
    if not values:
        raise Unmeasurable("The shell has no flat or round walls to measure.")
    return Measured(tuple(values), tuple(faces))


def _helix_size(plate: SurfacePlate, gauge: HelixSize) -> Measured:
    about = [s for s in plate.find(gauge.other) if s.kind == "cylinder"]
    if not about:
        raise Unmeasurable("The groove is measured from a round face.")
    faces, hollow = plate.find(gauge.face), about[0].hollow
    key = gauge.face, gauge.other
    if key not in plate.sections:  # pitch, depth and width are read off one line
        plate.sections[key] = helix.turns(plate.body, [s.index for s in faces], about)
    found = plate.sections[key]
    if not found:
        raise Unmeasurable("The groove does not cross the line along which it is felt.")
    indices = (*(s.index for s in faces), *(s.index for s in about))
    if gauge.what in ("turns", "begins"):
        return _helix_ends(plate, gauge, about, helix.pitch(found, hollow) if gauge.what == "turns" else 1.0)
    try:
        if gauge.what == "pitch":
            return Measured((helix.pitch(found, hollow),), indices)
        if gauge.what == "width":
            return Measured((helix.width(found, hollow),), indices, spread=helix.width_spread(found, hollow))
    except ValueError as error:
        raise Unmeasurable(str(error)) from None
    return Measured(tuple(abs(about[0].radius - helix.deepest(t, hollow)[1]) for t in found), indices)


def _helix_ends(plate: SurfacePlate, gauge: HelixSize, about: list[Surface], pitch: float) -> Measured:
    """Where the end faces of a groove stand along its axis: how far apart in pitches, how far from the low end."""
    first = about[0]
    low = min(dot(along(minus(s.origin, first.origin), s.axis, t), first.axis) for s in about for t in s.span)
    places = []
    for name in gauge.ends:
        (end,) = plate.find(name)[:1]
        corners = corner_places(plate.body.face(end.index))
        heights = [dot(minus(p, first.origin), first.axis) for p in corners]
        places.append(((max(heights) + min(heights)) / 2, end.index))
    faces = tuple(index for _, index in places)
    if gauge.what == "turns":
        return Measured((abs(places[1][0] - places[0][0]) / pitch,), faces)
    return Measured((places[0][0] - low,), faces)


def _letter_height(plate: SurfacePlate, gauge: LetterHeight) -> Measured:
    frame = plate.frames.get(gauge.frame)
    if frame is None:
        raise Unmeasurable("The letters lie in no flat plane.")
    up = along(along((0.0, 0.0, 0.0), frame.x, gauge.up[0]), frame.y, gauge.up[1])
    found = plate.find(gauge.face)
    heights = [dot(p, up) for s in found for p in corner_places(plate.body.face(s.index))]
    return Measured((max(heights) - min(heights),), tuple(s.index for s in found))


_READERS: dict[type[Gauge], Callable[[SurfacePlate, Any], Measured]] = {
    Drawn: _drawn,
    Diameter: _diameter,
    DiameterAt: _diameter_at,
    Radius: _radius,
    Between: _between,
    Leg: _leg,
    LegAngle: _leg_angle,
    OpenEnds: _open_ends,
    FaceAngle: _face_angle,
    EndAngle: _end_angle,
    Included: _included,
    Walls: _walls,
    HelixSize: _helix_size,
    LetterHeight: _letter_height,
    SeatAngle: _seat_angle,
    WidestCircle: _widest_circle,
    Depth: _depth,
    AxisFrom: _axis_from,
    CircleThrough: _circle_through,
    AxisAngle: _axis_angle,
    Count: _count,
    Position: _position,
    AxesApart: _axes_apart,
    Apart: _apart,
    ThreadOn: _thread_on,
    ThreadDepth: _thread_depth,
}
