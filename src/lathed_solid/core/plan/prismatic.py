"""A flat part recognised: its outline and thickness, and its holes by place and size."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, NamedTuple

from ..callout import Ledger
from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import WORLD, Frame, dot
from ..kernel.measure.pieces import FlatOutline
from ..tolerance import LEVEL
from .zero import Standing

#: Ends and sizes nearer than this are one (mm).
_ONE = 1e-5
_WHOLE = 1.9 * math.pi


class HoleSize(NamedTuple):
    """``depth`` is None for a hole that goes through; ``seat`` and ``seat_depth`` are those of a counterbore, 0 for
    none. ``tip`` is the included angle at the bottom of a blind one, pi for a flat one (radians).
    """

    diameter: float
    depth: float | None
    seat: float = 0.0
    seat_depth: float = 0.0
    tip: float = math.pi


class Holes(NamedTuple):
    """Holes of one size from the top, their places, the faces they are, and the callout that states them (0: none)."""

    size: HoleSize
    places: tuple[tuple[float, float], ...]
    faces: tuple[int, ...]
    callout: int = 0


#: A flat part may lie along each axis of the part: how it is looked at then, and the plane its outline is drawn on.
Lying = Literal["z", "y", "x"]
LYING: dict[Lying, Frame] = {
    "z": WORLD,
    "y": Frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)),
    "x": Frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, -1.0, 0.0)),
}


def lying(surfaces: Sequence[Surface]) -> Lying:
    """Along which axis most of the surface is level or stands upright; Z where others do as well."""

    def share(axis: Lying) -> float:
        way = LYING[axis].normal
        turned = [(s, abs(dot(s.axis, way))) for s in surfaces if s.kind in ("plane", "cylinder")]
        return sum(s.area for s, along in turned if along > 1 - LEVEL or (s.kind == "plane" and along < LEVEL))

    shares = {axis: share(axis) for axis in LYING}
    return next(axis for axis in LYING if shares[axis] > (1 - LEVEL) * max(shares.values()))


class Prism(NamedTuple):
    """In coordinates of the outline's frame. ``aside`` are the faces that neither the outline, the ends nor the holes
    account for.
    """

    outline: FlatOutline
    holes: tuple[Holes, ...]
    aside: tuple[int, ...]

    @property
    def thickness(self) -> float:
        return self.outline.high - self.outline.low


def prism_of(surfaces: Sequence[Surface], outline: FlatOutline, ledger: Ledger) -> Prism:
    """What of a part its outline and its holes from the top account for."""
    laid = Standing(outline.frame)
    surfaces = [laid.seen(s) for s in surfaces]
    found: dict[HoleSize, list[tuple[tuple[float, float], tuple[int, ...]]]] = {}
    for walls in _axes(surfaces):
        read = _hole(walls, surfaces, outline)
        if read is not None:
            size, faces = read
            found.setdefault(size, []).append(((walls[0].origin[0], walls[0].origin[1]), faces))
    holes = tuple(
        Holes(size, tuple(p for p, _ in at), tuple(i for _, own in at for i in own), _stated_by(size, len(at), ledger))
        for size, at in found.items()
    )
    used = {i for h in holes for i in h.faces}
    used |= {s.index for s in surfaces if s.index not in used and (_is_end(s, outline) or _is_wall(s, outline))}
    return Prism(outline, holes, tuple(s.index for s in surfaces if s.index not in used))


def _axes(surfaces: Sequence[Surface]) -> list[list[Surface]]:
    """Whole hollow cylinders from end to end, those on one axis together, the narrowest first."""
    groups: dict[tuple[float, float], list[Surface]] = {}
    for s in surfaces:
        if s.kind == "cylinder" and s.hollow and s.turn > _WHOLE and abs(s.axis[2]) > 1 - LEVEL:
            groups.setdefault((round(s.origin[0], 4), round(s.origin[1], 4)), []).append(s)
    return [sorted(g, key=lambda s: s.radius) for g in groups.values()]


def _ends(s: Surface) -> tuple[float, float]:
    a, b = (s.origin[2] + t * s.axis[2] for t in s.span)
    return min(a, b), max(a, b)


def _hole(
    walls: Sequence[Surface], surfaces: Sequence[Surface], outline: FlatOutline
) -> tuple[HoleSize, tuple[int, ...]] | None:
    """A plain or counterbored hole that opens at the top; None for any other."""
    if len(walls) > 2 or abs(_ends(walls[-1])[1] - outline.high) > _ONE:
        return None
    narrow, low = walls[0], _ends(walls[0])[0]
    through = abs(low - outline.low) < _ONE
    seat, seat_depth, faces = 0.0, 0.0, [w.index for w in walls]
    floors = [s for s in surfaces if _under(s, narrow)]
    if len(walls) == 2:
        if abs(_ends(walls[0])[1] - _ends(walls[1])[0]) > _ONE:
            return None
        seat, seat_depth = 2 * walls[1].radius, outline.high - _ends(walls[1])[0]
    cone = next((s for s in floors if s.kind == "cone" and _meets(s, low)), None)
    tip = 2 * abs(cone.half_angle) if cone is not None and not through else math.pi
    for floor in floors:
        at = floor.center[2] if floor.kind == "plane" else low
        inside = floor.kind == "plane" and outline.low + _ONE < at < outline.high - _ONE
        if inside or floor is cone:
            faces.append(floor.index)
    size = HoleSize(
        round(2 * narrow.radius, 6), None if through else round(outline.high - low, 6), round(seat, 6),
        round(seat_depth, 6), round(tip, 9),
    )  # fmt: skip
    return size, tuple(faces)


def _under(s: Surface, wall: Surface) -> bool:
    """A floor, a seat or a drill's tip about the same axis."""
    place = s.center if s.kind == "plane" else s.origin
    level = s.kind in ("plane", "cone") and abs(s.axis[2]) > 1 - LEVEL
    return level and math.hypot(place[0] - wall.origin[0], place[1] - wall.origin[1]) < 1e-4


def _meets(cone: Surface, z: float) -> bool:
    return any(abs(e - z) < 1e-4 for e in _ends(cone))


def _is_end(s: Surface, outline: FlatOutline) -> bool:
    level = s.kind == "plane" and abs(s.axis[2]) > 1 - LEVEL
    return level and min(abs(s.origin[2] - outline.low), abs(s.origin[2] - outline.high)) < _ONE


def _is_wall(s: Surface, outline: FlatOutline) -> bool:
    """A wall that stands on the outline from end to end."""
    for p in outline.pieces:
        if p.middle is None and s.kind == "plane" and abs(s.axis[2]) < LEVEL:
            off = [abs((x - s.origin[0]) * s.axis[0] + (y - s.origin[1]) * s.axis[1]) for x, y in (p.start, p.end)]
            if max(off) < _ONE:
                return True
        if p.middle is not None and s.kind == "cylinder" and abs(s.axis[2]) > 1 - LEVEL:
            radius = math.hypot(p.start[0] - p.middle[0], p.start[1] - p.middle[1])
            away = math.hypot(s.origin[0] - p.middle[0], s.origin[1] - p.middle[1])
            if away < _ONE and abs(s.radius - radius) < _ONE:
                return True
    return False


def _stated_by(size: HoleSize, many: int, ledger: Ledger) -> int:
    """The callout that states such a hole, so many times rather than another number of times; 0 for none."""
    fitting = []
    for number in ledger.callouts:
        if ledger.error(number) is not None:
            continue
        note = ledger.reading(number)
        drill = note.known("drill")
        stated = drill.nominal if drill is not None else note.main.nominal if note.is_hole else None
        seat = note.known("seat")
        same_seat = abs((seat.nominal if seat is not None else 0.0) - size.seat) < 1e-3
        same_way = note.thru == (size.depth is None)
        if note.is_hole and same_way and stated is not None and abs(stated - size.diameter) < 1e-3 and same_seat:
            fitting.append((note.count != many, number))
    return min(fitting)[1] if fitting else 0
