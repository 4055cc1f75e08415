"""Faces of the solid as they stand in a sketch's plane: straight lines, circles and places, measured, not drawn."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

import numpy as np

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import Frame, dot, minus
from ..kernel.ground.named import SPENT
from ..route.gauges import Site
from ..tolerance import ONE_PLACE
from .plate import LostFace, Unmeasurable

XY = tuple[float, float]
#: Pieces of one face that agree to this (mm) are read once.
AGREE = 1e-9
#: Places of a split face that are tried together at most.
TRIED = 16


class NotShown(Unmeasurable):
    """A face that leaves no line in the plane, or lines that do not meet; the text says why."""


class Straight(NamedTuple):
    place: XY
    way: XY


class Round(NamedTuple):
    center: XY
    radius: float


Line = Straight | Round
Mark = XY | Line


def spot(mark: Mark) -> XY:
    """A place, or the centre of a circle. Raises NotShown for a line."""
    if isinstance(mark, Straight):
        raise NotShown("A line is no place.")
    return mark.center if isinstance(mark, Round) else mark


def offset(line: Straight, place: XY) -> float:
    """Signed distance of a place from a line, mm."""
    return line.way[0] * (place[1] - line.place[1]) - line.way[1] * (place[0] - line.place[0])


class Plate:
    """One sketch's plane laid on the solid. ``find`` gives the measured faces of a name, ``every`` all there are."""

    def __init__(self, frame: Frame, find: Callable[[str], list[Surface]], every: Sequence[Surface] = ()) -> None:
        self.frame, self._find, self._every = frame, find, every
        self.touched: set[int] = set()
        #: Which of the sketch's zero and axes were measured from.
        self.built_in: set[str] = set()

    def marks(self, site: Site) -> list[Mark]:
        """What a site is on the solid, once for each piece that stands otherwise. Raises Unmeasurable."""
        if site.kind == "edge":
            return self._edges(site)
        if site.kind == "first":
            return self._first(site)
        if site.kind in ("zero", "along", "across"):
            self.built_in.add(site.kind)
            return [(0.0, 0.0) if site.kind == "zero" else Straight((0.0, 0.0), site.way)]
        parts = [self.marks(s) for s in site.of]
        every = itertools.islice(itertools.product(*parts), TRIED)
        return _different([_JOINED[site.kind](site, chosen) for chosen in every])

    def _first(self, site: Site) -> list[Mark]:
        why: Exception = NotShown("Nothing shows it.")
        found: list[tuple[float, list[Mark]]] = []
        for one in site.of:
            if found and one.kind != "edge":
                break
            try:
                marks = self.marks(one)
            except Unmeasurable as error:
                why = error
                continue
            if one.kind != "edge":
                return marks
            found.append((min(_away(m, one.near) for m in marks), marks))
        if not found:
            raise why
        # An edge lies between two faces: the one that stands on the plane here is the one the line was taken from.
        return min(found, key=lambda f: f[0])[1]

    def _edges(self, site: Site) -> list[Mark]:
        made: list[Mark] = []
        try:
            found = self._find(site.face)
        except LostFace:
            return self._in_its_place(site) or self._spent(site)
        for surface in found:
            lines = self.laid(surface)
            self.touched.add(surface.index)
            nearest = min(lines, key=lambda m: _away(m, site.near))
            made.append(_along(nearest, site.way) if isinstance(nearest, Straight) else nearest)
        return _different(made)

    def _in_its_place(self, site: Site) -> list[Mark]:
        """A line that made no face, since it lies in one that was there: what the part has just there."""
        for surface in self._every:
            try:
                lines = self.laid(surface)
            except NotShown:
                continue
            for line in lines:
                if isinstance(line, Straight) and surface.kind == "plane" and _same_line(line, site):
                    self.touched.add(surface.index)
                    return [_along(line, site.way)]
        return []

    def _spent(self, site: Site) -> list[Mark]:
        """The flat that a fillet has used up: it touches the round there."""
        made: list[Mark] = []
        try:
            rounds = self._find(site.face + SPENT)
        except LostFace:
            raise LostFace(site.face) from None
        for surface in rounds:
            self.touched.add(surface.index)
            lines = self.laid(surface)
            mark = lines[0]
            if not isinstance(mark, Round):  # the round lies along the plane: its outline there is where the flat lay
                outline = [line for line in lines if isinstance(line, Straight)]
                made.append(_along(min(outline, key=lambda m: _away(m, site.near)), site.way))
                continue
            u, v = site.way
            side = 1.0 if (site.near[1] - mark.center[1]) * u - (site.near[0] - mark.center[0]) * v >= 0 else -1.0
            place = mark.center[0] - side * v * mark.radius, mark.center[1] + side * u * mark.radius
            made.append(Straight(place, site.way))
        return _different(made)

    # --- one face
    def _local(self, place: Vector) -> Vector:
        gap = minus(place, self.frame.origin)
        return dot(gap, self.frame.x), dot(gap, self.frame.y), dot(gap, self.frame.normal)

    def _turned(self, way: Vector) -> Vector:
        return dot(way, self.frame.x), dot(way, self.frame.y), dot(way, self.frame.normal)

    def laid(self, surface: Surface) -> list[Line]:
        """The lines or circles a face leaves in the plane (seen square to it where it lies off it)."""
        if surface.kind not in _LAID:
            raise NotShown("A free face has no straight or round line in the drawn plane.")
        return _LAID[surface.kind](surface, self._local(surface.origin), self._turned(surface.axis))


def _plane(s: Surface, origin: Vector, axis: Vector) -> list[Line]:
    a, b, _ = axis
    steep = math.hypot(a, b)
    if steep < ONE_PLACE:
        raise NotShown("The face lies flat in the drawn plane.")
    d = (axis[0] * origin[0] + axis[1] * origin[1] + axis[2] * origin[2]) / steep
    a, b = a / steep, b / steep
    return [Straight((a * d, b * d), (-b, a))]


def _cylinder(s: Surface, origin: Vector, axis: Vector) -> list[Line]:
    if math.hypot(axis[0], axis[1]) < ONE_PLACE:
        return [Round((origin[0], origin[1]), s.radius)]
    u, v = _level(axis)
    return [Straight((origin[0] - k * v * s.radius, origin[1] + k * u * s.radius), (u, v)) for k in (1, -1)]


def _cone(s: Surface, origin: Vector, axis: Vector) -> list[Line]:
    if math.hypot(axis[0], axis[1]) < ONE_PLACE:
        return [Round((origin[0], origin[1]), abs(s.radius - origin[2] / axis[2] * math.tan(s.half_angle)))]
    u, v = _level(axis)
    if abs(origin[2]) > 1e-6:
        raise NotShown("The axis of the cone does not lie in the drawn plane.")
    c, t = math.cos(s.half_angle), math.sin(s.half_angle)
    return [
        Straight((origin[0] - k * v * s.radius, origin[1] + k * u * s.radius), (u * c - k * v * t, v * c + k * u * t))
        for k in (1, -1)
    ]


def _torus(s: Surface, origin: Vector, axis: Vector) -> list[Line]:
    u, v = _level(axis)
    if abs(origin[2]) > 1e-6:
        raise NotShown("The axis of the ring does not lie in the drawn plane.")
    return [Round((origin[0] - k * v * s.major, origin[1] + k * u * s.major), s.radius) for k in (1, -1)]


def _sphere(s: Surface, origin: Vector, axis: Vector) -> list[Line]:
    return [Round((origin[0], origin[1]), s.radius)]


_LAID: dict[str, Callable[[Surface, Vector, Vector], list[Line]]] = {
    "plane": _plane,
    "cylinder": _cylinder,
    "cone": _cone,
    "torus": _torus,
    "sphere": _sphere,
}


def _level(axis: Vector) -> XY:
    """The direction of an axis that lies in the plane."""
    if abs(axis[2]) > ONE_PLACE:
        raise NotShown("The axis of the face leans out of the drawn plane.")
    size = math.hypot(axis[0], axis[1])
    return axis[0] / size, axis[1] / size


def _along(line: Straight, way: XY) -> Straight:
    """The line counted the way it was drawn."""
    if line.way[0] * way[0] + line.way[1] * way[1] >= 0:
        return line
    return Straight(line.place, (-line.way[0], -line.way[1]))


def _same_line(line: Straight, site: Site) -> bool:
    """Whether a face lies in the very line that was drawn."""
    lean = line.way[0] * site.way[1] - line.way[1] * site.way[0]
    return abs(lean) < ONE_PLACE and abs(offset(line, site.near)) < ONE_PLACE


def _away(mark: Mark, near: XY) -> float:
    if isinstance(mark, Straight):
        return abs(offset(mark, near))
    return math.dist(spot(mark), near)


def _different(marks: Iterable[Mark]) -> list[Mark]:
    kept: list[Mark] = []
    for mark in marks:
        if not any(type(mark) is type(k) and _agree(mark, k) for k in kept):
            kept.append(mark)
    return kept


def _agree(a: Mark, b: Mark) -> bool:
    if isinstance(a, Straight) and isinstance(b, Straight):
        ends = (b.place, (b.place[0] + b.way[0], b.place[1] + b.way[1]))
        return all(abs(offset(a, p)) < AGREE for p in ends)
    if isinstance(a, Round) and isinstance(b, Round):
        return math.dist(a.center, b.center) < AGREE and abs(a.radius - b.radius) < AGREE
    return math.dist(spot(a), spot(b)) < AGREE


# --- places and lines made of others
def _nearest(found: list[XY], near: XY) -> XY:
    if not found:
        raise NotShown("The faces do not meet.")
    return min(found, key=lambda p: math.dist(p, near))


def _crossing(site: Site, of: tuple[Mark, ...]) -> Mark:
    a, b = of
    return crossing(a, b, site.near)


def crossing(a: Mark, b: Mark, near: XY) -> XY:
    """Where two lines or circles meet, the place nearest to ``near``. Raises NotShown."""
    if isinstance(a, Straight) and isinstance(b, Straight):
        cross = a.way[0] * b.way[1] - a.way[1] * b.way[0]
        if abs(cross) < ONE_PLACE:
            raise NotShown("The two faces are parallel: they have no corner.")
        t = -offset(b, a.place) / (b.way[0] * a.way[1] - b.way[1] * a.way[0])
        return a.place[0] + t * a.way[0], a.place[1] + t * a.way[1]
    if isinstance(b, Straight):
        a, b = b, a
    if isinstance(a, Straight) and isinstance(b, Round):
        return _nearest(_line_circle(a, b), near)
    if isinstance(a, Round) and isinstance(b, Round):
        return _nearest(_circles(a, b), near)
    raise NotShown("The faces do not meet.")


def _line_circle(line: Straight, circle: Round) -> list[XY]:
    h = offset(line, circle.center)
    foot = (circle.center[0] + h * line.way[1], circle.center[1] - h * line.way[0])
    half = circle.radius**2 - h * h
    if half < 0:
        return [foot] if half > -1e-9 * circle.radius**2 - 1e-9 else []
    half = math.sqrt(half)
    return [(foot[0] + k * half * line.way[0], foot[1] + k * half * line.way[1]) for k in (1, -1)]


def _circles(a: Round, b: Round) -> list[XY]:
    apart = math.dist(a.center, b.center)
    if apart < AGREE:
        return []
    u, v = (b.center[0] - a.center[0]) / apart, (b.center[1] - a.center[1]) / apart
    x = (apart**2 + a.radius**2 - b.radius**2) / (2 * apart)
    square = a.radius**2 - x * x
    if square < -1e-6:
        return []
    y = math.sqrt(max(0.0, square))
    return [(a.center[0] + x * u - k * y * v, a.center[1] + x * v + k * y * u) for k in (1, -1)]


def _touch(site: Site, of: tuple[Mark, ...]) -> Mark:
    """Where a line and a circle, or two circles, touch: the foot of the centre, or the place between the centres."""
    a, b = of
    if isinstance(b, Straight):
        a, b = b, a
    if isinstance(a, Straight):
        center = spot(b)
        h = offset(a, center)
        return center[0] + h * a.way[1], center[1] - h * a.way[0]
    if isinstance(a, Round) and isinstance(b, Round):
        apart = math.dist(a.center, b.center)
        if apart < ONE_PLACE:
            raise NotShown("The two round faces have one axis: they touch nowhere.")
        u, v = (b.center[0] - a.center[0]) / apart, (b.center[1] - a.center[1]) / apart
        return _nearest([(a.center[0] + k * a.radius * u, a.center[1] + k * a.radius * v) for k in (1, -1)], site.near)
    raise NotShown("The faces do not touch.")


def _centre(site: Site, of: tuple[Mark, ...]) -> Mark:
    if isinstance(of[0], Straight):
        raise NotShown("The face is not round here: it has no centre.")
    return spot(of[0])


def _middle(site: Site, of: tuple[Mark, ...]) -> Mark:
    a, b = spot(of[0]), spot(of[1])
    return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2


def _mirrored(site: Site, of: tuple[Mark, ...]) -> Mark:
    place, line = spot(of[0]), of[1]
    if not isinstance(line, Straight):
        raise NotShown("A mirror needs a straight line.")
    h = 2 * offset(line, place)
    return place[0] + h * line.way[1], place[1] - h * line.way[0]


def _through(site: Site, of: tuple[Mark, ...]) -> Mark:
    a, b = spot(of[0]), spot(of[1])
    size = math.dist(a, b)
    if size < AGREE:
        raise NotShown("The two places are one.")
    return _along(Straight(a, ((b[0] - a[0]) / size, (b[1] - a[1]) / size)), site.way)


def _round(site: Site, of: tuple[Mark, ...]) -> Mark:
    """The circle that touches lines, or passes through places (least squares)."""
    lines = [m for m in of if isinstance(m, Straight)]
    if len(lines) == len(of):
        rows, right = [], []
        for line in lines:
            side = 1.0 if offset(line, site.near) >= 0 else -1.0
            n = (-line.way[1] * side, line.way[0] * side)
            rows.append((n[0], n[1], -1.0))
            right.append(n[0] * line.place[0] + n[1] * line.place[1])
        found, _, rank, _ = np.linalg.lstsq(np.array(rows), np.array(right), rcond=1e-9)
        if rank < 3 and len(lines) > 2:
            raise NotShown("The lines enclose no circle.")
        return Round((float(found[0]), float(found[1])), abs(float(found[2])))
    places = np.array([spot(m) for m in of])
    system = np.column_stack([2 * places, np.ones(len(places))])
    found, _, rank, _ = np.linalg.lstsq(system, (places**2).sum(axis=1), rcond=1e-12)
    if rank < 3:
        raise NotShown("The places lie on no circle.")
    x, y, rest = (float(f) for f in found)
    return Round((x, y), math.sqrt(max(0.0, rest + x * x + y * y)))


_JOINED: dict[str, Callable[[Site, tuple[Mark, ...]], Mark]] = {
    "crossing": _crossing,
    "touch": _touch,
    "centre": _centre,
    "middle": _middle,
    "mirrored": _mirrored,
    "through": _through,
    "round": _round,
}
