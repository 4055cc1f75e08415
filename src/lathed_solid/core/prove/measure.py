"""Reading gauges off the finished solid. Only surfaces are touched, never the numbers that made them."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ..kernel.ground.curvature import rounding
from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import Frame, along, dot, minus
from ..kernel.measure.surfaces import corner_places
from ..refusal import said
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
    StandsOn,
    ThreadDepth,
    ThreadFelt,
    ThreadOn,
    Walls,
    WidestCircle,
)
from ..tolerance import ONE_PLACE, PARALLEL
from . import chamfers, drawn, foreign_threads, helix, holes, standing
from .laid import Plate
from .plate import Measured, Misfit, SurfacePlate, Unmeasurable, crossed, from_axis

#: How exact the kernel's own free roundings are, as a share of their radius (measured on 38 saddles).
FREE_FACE = 1e-3


def read(plate: SurfacePlate, gauge: AnyGauge) -> Measured:
    """Read one gauge. Raises Unmeasurable."""
    found = _WAYS[type(gauge)][0](plate, gauge)
    return found._replace(faces=tuple(i for i in found.faces if i))  # planes of sketches are no faces


def method(gauge: AnyGauge) -> str:
    """How a size is read with a gauge, in words for a report."""
    return _WAYS[type(gauge)][1]


def _drawn(plate: SurfacePlate, gauge: Drawn) -> Measured:
    frame = plate.frames.get(gauge.frame)
    if frame is None:
        raise Unmeasurable("The plane this size was drawn in is not known.")
    laid = Plate(frame, plate.find, plate.surfaces)
    values = tuple(drawn.read(laid, gauge))
    # The faces that lie at the sketch's zero are what such a size is counted from.
    zero = [f for kind in laid.built_in for f in zero_planes(kind, gauge, frame)]
    lying = {s.index for f in zero for s in plate.lying_in(f)}
    return Measured(values, tuple(sorted(laid.touched | lying)))


def zero_planes(kind: str, gauge: Drawn, frame: Frame) -> list[Frame]:
    """The planes through a sketch's zero, or along its axes, that a size counted from there is measured from."""
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
    found = plate.each(gauge, ("cylinder", "sphere"), lambda s: 2 * s.radius)
    _about(plate, gauge)
    return found


def _about(plate: SurfacePlate, gauge: Diameter | WidestCircle) -> None:
    """Raises Misfit for a seat that stands beside its hole, whatever its size."""
    if not gauge.about:
        return
    try:
        hole = plate.one(gauge.about, "cylinder")
    except Unmeasurable:
        return  # the hole itself was cut away, or is a thread by now
    seats = [s for s in plate.find(gauge.face) if s.kind in ("cylinder", "cone")]
    off = max((from_axis(s.origin, hole) for s in seats), default=0.0)
    if off > ONE_PLACE:
        raise Misfit(f"It stands {said(off)} beside the axis of its hole.")


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
    flat, other = ((name, plate.one(name, *kinds)) for name in (gauge.face, gauge.other))
    if flat[1].kind != "plane":
        flat, other = other, flat
    a, b = flat[1], other[1]
    faces = (a.index, b.index)
    if a.index == b.index and a.index:
        raise Unmeasurable("Both ends of this size are the same face.")
    if a.kind != "plane":
        if "sphere" not in (a.kind, b.kind) and abs(abs(dot(a.axis, b.axis)) - 1) > PARALLEL:
            return Measured((crossed(a, b),), faces)
        apart = math.dist(a.origin, b.origin) if (a.kind, b.kind) == ("sphere", "sphere") else from_axis(b.origin, a)
        if apart <= ONE_PLACE:  # about one axis: what lies between them is the difference of their radii
            return Measured((a.radius + b.radius if gauge.far else abs(a.radius - b.radius),), faces)
        reach = (a.radius + b.radius) * (int(gauge.far) - int(gauge.near))
        return Measured((apart + reach,), faces)
    return _from_flat(plate, gauge, flat, other)


def _from_flat(plate: SurfacePlate, gauge: Between, flat: tuple[str, Surface], other: tuple[str, Surface]) -> Measured:
    """Between a flat face, every piece of it where something parted it, and another."""
    a, b = flat[1], other[1]
    flats = plate.pieces(*flat)
    if b.kind == "plane":
        if abs(abs(dot(a.axis, b.axis)) - 1) > PARALLEL:
            raise Unmeasurable("The two faces are not parallel.")
        others = plate.pieces(*other)
        apart = {abs(dot(minus(q.origin, p.origin), a.axis)) for p in flats for q in others}
        return Measured(tuple(apart), tuple(dict.fromkeys(s.index for s in (*flats, *others))))
    if b.kind == "cylinder" and abs(dot(a.axis, b.axis)) > PARALLEL:
        raise Unmeasurable("The flat face is not parallel to the axis of the round one.")
    distances = {abs(dot(minus(b.origin, p.origin), a.axis)) for p in flats}
    reached = tuple(d + b.radius if gauge.far else abs(b.radius - d) for d in distances)
    return Measured(reached, (*(s.index for s in flats), b.index))


def _widest_circle(plate: SurfacePlate, gauge: WidestCircle) -> Measured:
    found = plate.find(gauge.face)
    radii = [c.radius for s in found for c in s.circles]
    if not radii:
        raise Unmeasurable("The face has no round edge.")
    _about(plate, gauge)
    return Measured((2 * max(radii),), tuple(s.index for s in found))


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
    except helix.NoGroove as error:
        raise Unmeasurable(error.message) from None
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


def _stands_on(plate: SurfacePlate, gauge: StandsOn) -> Measured:
    return Measured((), tuple(s.index for s in plate.find(gauge.face)))


#: How each gauge is read, and how that is called on paper.
_WAYS: dict[type[Gauge], tuple[Callable[[SurfacePlate, Any], Measured], str]] = {
    Drawn: (_drawn, "between faces, in the drawn plane"),
    Diameter: (_diameter, "diameter of the round face"),
    DiameterAt: (_diameter_at, "diameter of the cone in a plane"),
    Radius: (_radius, "radius of the face"),
    Between: (_between, "between two faces"),
    Leg: (chamfers.leg, "section across the chamfer"),
    LegAngle: (chamfers.leg_angle, "section across the chamfer"),
    OpenEnds: (holes.open_ends, "felt past each end of the axis"),
    FaceAngle: (_face_angle, "between two faces"),
    EndAngle: (_end_angle, "angle of the cone"),
    Included: (_included, "between two faces"),
    Walls: (_walls, "between inner and outer faces"),
    HelixSize: (_helix_size, "section through the groove"),
    LetterHeight: (_letter_height, "between the ends of the letters"),
    SeatAngle: (_seat_angle, "angle of the cone"),
    WidestCircle: (_widest_circle, "largest round edge"),
    Depth: (holes.depth, "along the axis, from the face it starts in"),
    AxisFrom: (standing.axis_from, "axis from a face"),
    CircleThrough: (standing.circle_through, "axis from the turning axis, twice"),
    AxisAngle: (standing.axis_angle, "direction of the axis"),
    Count: (_count, "places counted"),
    Position: (standing.position, "from the part's zero"),
    AxesApart: (standing.axes_apart, "between two axes"),
    Apart: (standing.apart, "from one to the next"),
    ThreadOn: (holes.thread_on, "thread on the face"),
    ThreadDepth: (holes.thread_depth, "length of the thread"),
    ThreadFelt: (foreign_threads.thread_felt, "felt along the thread"),
    StandsOn: (_stands_on, "judged on the part"),
}
