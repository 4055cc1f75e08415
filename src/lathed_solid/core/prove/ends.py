"""Between which two places of the solid a measured length runs, so that a drawing can write it there."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, cross, dot, minus, norm, unit
from ..route.gauges import (
    AnyGauge,
    Apart,
    AxesApart,
    AxisFrom,
    Between,
    Depth,
    Drawn,
    Position,
)
from ..tolerance import PARALLEL
from . import drawn
from .laid import Mark, Plate, Round, Straight, offset, spot
from .measure import zero_planes
from .plate import SurfacePlate, Unmeasurable

_ZERO = (0.0, 0.0, 0.0)
_WAYS = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}


class Ends(NamedTuple):
    """Two places (mm) and the unit way along which they are measured; the faces at each end, 0 for none."""

    a: Vector
    b: Vector
    way: Vector
    faces: tuple[int, int]

    @property
    def length(self) -> float:
        return abs(dot(minus(self.b, self.a), self.way))


def ends_of(plate: SurfacePlate, gauge: AnyGauge) -> Ends | None:
    """Where a length that ``gauge`` reads runs; None for sizes that run nowhere (a diameter, a count), and for those
    that are not on the solid.
    """
    find = _FOUND.get(type(gauge))
    if find is None:
        return None
    try:
        found: Ends | None = find(plate, gauge)
    except Unmeasurable:
        return None
    return found if found is not None and found.length > 1e-6 else None


def _between(plate: SurfacePlate, gauge: Between) -> Ends | None:
    a, b = plate.find(gauge.face)[0], plate.find(gauge.other)[0]
    if a.kind != "plane" and b.kind == "plane":
        a, b = b, a
    if a.kind == "plane":
        reach = 0.0 if b.kind == "plane" else b.radius * _side(a, b, gauge.far)
        place = along(b.origin if b.kind != "plane" else b.center, a.axis, reach)
        return Ends(a.center, place, a.axis, (a.index, b.index))
    return _axes(a, b, near=gauge.near, far=gauge.far)


def _side(plane: Surface, round_: Surface, far: bool) -> float:
    """Which way the wanted side of a round face lies from its axis, along the plane's normal."""
    away = 1.0 if dot(minus(round_.origin, plane.origin), plane.axis) > 0 else -1.0
    return away if far else -away


def _axes(a: Surface, b: Surface, near: bool = False, far: bool = False) -> Ends | None:
    """Between two parallel axes, or the near or far sides about them."""
    gap = minus(b.origin, a.origin)
    gap = minus(gap, along(_ZERO, a.axis, dot(gap, a.axis)))
    if norm(gap) < 1e-6 or norm(cross(a.axis, b.axis)) > PARALLEL:
        return None
    way = unit(gap)
    sign = 1.0 if far else -1.0 if near else 0.0
    start, end = a.origin, along(a.origin, way, norm(gap))
    return Ends(along(start, way, -sign * a.radius), along(end, way, sign * b.radius), way, (a.index, b.index))


def _axis_from(plate: SurfacePlate, gauge: AxisFrom) -> Ends:
    a, b = plate.one(gauge.other, "plane"), plate.one(gauge.face, "cylinder", "cone", "torus")
    return Ends(a.center, b.origin, a.axis, (a.index, b.index))


def _axes_apart(plate: SurfacePlate, gauge: AxesApart) -> Ends | None:
    return _axes(plate.find(gauge.face)[0], plate.find(gauge.other)[0])


def _apart(plate: SurfacePlate, gauge: Apart) -> Ends:
    a, b = plate.find(gauge.face)[0], plate.find(gauge.other)[0]
    return Ends(_place(a), _place(b), _WAYS[gauge.way], (a.index, b.index))


def _position(plate: SurfacePlate, gauge: Position) -> Ends:
    a = plate.find(gauge.face)[0]
    place = _place(a)
    if gauge.other:
        other = _place(plate.find(gauge.other)[0])
        place = ((place[0] + other[0]) / 2, (place[1] + other[1]) / 2, (place[2] + other[2]) / 2)
    return Ends(_ZERO, place, _WAYS[gauge.way], (0, a.index))


def _place(s: Surface) -> Vector:
    return s.center if s.kind == "plane" else s.origin


def _depth(plate: SurfacePlate, gauge: Depth) -> Ends:
    start, face = plate.one(gauge.other, "plane"), plate.find(gauge.face)[0]
    ends = [along(face.origin, face.axis, s) for s in face.span]
    level = dot(start.origin, face.axis)
    end = max(ends, key=lambda p: abs(dot(p, face.axis) - level))
    if gauge.floor:
        end = plate.one(gauge.floor, "plane").center
    mouth = along(face.origin, face.axis, level - dot(face.origin, face.axis))
    return Ends(mouth, end, face.axis, (start.index, face.index))


# --- sizes of sketches
def _drawn(plate: SurfacePlate, gauge: Drawn) -> Ends | None:
    frame = plate.frames.get(gauge.frame)
    if frame is None or gauge.what not in ("along", "across", "distance", "wall"):
        return None
    laid, pairs = Plate(frame, plate.find, plate.surfaces), []
    for site in gauge.sites:
        before = set(laid.touched)
        mark = laid.marks(site)[0]
        lying = (s.index for f in zero_planes(site.kind, gauge, frame) for s in plate.lying_in(f))
        pairs.append((mark, next(iter(sorted(laid.touched - before)), 0) or next(lying, 0)))
    (a, first), (b, second) = pairs
    found = _flat_ends(gauge, a, b)
    if found is None:
        return None
    p, q, way = found
    flat = frame.at(*way)
    return Ends(frame.at(*p), frame.at(*q), minus(flat, frame.origin), (first, second))


_Flat = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


def _flat_ends(gauge: Drawn, a: Mark, b: Mark) -> _Flat | None:
    """Both places in the sketch's plane, and the way between them."""
    if gauge.what in ("along", "across"):
        k = 0 if gauge.what == "along" else 1
        places = []
        for mark, site in ((a, gauge.sites[0]), (b, gauge.sites[1])):
            at = drawn.coordinate(mark, site, k)
            other = site.near[1 - k] if isinstance(mark, Straight) else spot(mark)[1 - k]
            other = 0.0 if abs(other) > 1e8 else other
            places.append((at, other) if k == 0 else (other, at))
        return places[0], places[1], (1.0, 0.0) if k == 0 else (0.0, 1.0)
    if isinstance(a, Straight) or isinstance(b, Straight):
        return _off_line(gauge, *((a, b) if isinstance(a, Straight) else (b, a)))
    if any(gauge.rim) or isinstance(a, Round) or isinstance(b, Round):
        return _between_rims(gauge, a, b)
    return _straight(a, b)


def _off_line(gauge: Drawn, line: Mark, other: Mark) -> _Flat | None:
    assert isinstance(line, Straight)
    way = (-line.way[1], line.way[0])
    place = other.place if isinstance(other, Straight) else spot(other)
    if isinstance(other, Straight) and abs(gauge.sites[1].near[0]) < 1e8:
        place = gauge.sites[1].near
        by = offset(other, place)
        place = place[0] + by * other.way[1], place[1] - by * other.way[0]
    by = offset(line, place)
    foot = place[0] - by * way[0], place[1] - by * way[1]
    if isinstance(other, Round):
        reach = other.radius * (1 if by > 0 else -1) * (1 if gauge.far else -1)
        place = place[0] + reach * way[0], place[1] + reach * way[1]
    return foot, place, way


def _between_rims(gauge: Drawn, a: Mark, b: Mark) -> _Flat | None:
    found = _straight(spot(a), spot(b))
    if found is None:
        return None
    p, q, way = found
    reach = [r * (m.radius if isinstance(m, Round) else 0.0) for m, r in zip((a, b), gauge.rim, strict=True)]
    return (
        (p[0] - reach[0] * way[0], p[1] - reach[0] * way[1]),
        (q[0] + reach[1] * way[0], q[1] + reach[1] * way[1]),
        way,
    )


def _straight(p: tuple[float, float], q: tuple[float, float]) -> _Flat | None:
    dx, dy = q[0] - p[0], q[1] - p[1]
    size = (dx * dx + dy * dy) ** 0.5
    return (p, q, (dx / size, dy / size)) if size > 1e-9 else None


_FOUND: dict[type, Callable[[SurfacePlate, Any], Ends | None]] = {
    Between: _between,
    AxisFrom: _axis_from,
    AxesApart: _axes_apart,
    Apart: _apart,
    Position: _position,
    Depth: _depth,
    Drawn: _drawn,
}
