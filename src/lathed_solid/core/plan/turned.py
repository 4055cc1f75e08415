"""The profile of a solid of revolution, read off its faces: what a foreign body was turned to, to be turned again."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, cross, dot, minus, norm
from ..kernel.measure.pieces import XY, Piece
from ..tolerance import LEVEL

#: Ends that lie nearer to each other than this are one (mm).
_ONE = 1e-4


class Profile(NamedTuple):
    """A closed outline on one side of the axis, and the faces that are no part of it (indices)."""

    pieces: tuple[Piece, ...]
    aside: tuple[int, ...]

    @property
    def volume(self) -> float:
        """What it gives when it is turned, mm³ (each piece swept about the axis)."""
        return abs(sum(map(_swept, self.pieces)))


def profile_of(surfaces: Sequence[Surface], foot: Vector, axis: Vector) -> Profile | None:
    """The outline about an axis; None when the faces about it close to none."""
    found = [p for s in surfaces if (p := _piece(s, foot, axis)) is not None]
    kept = _pruned(found)
    loop = _walked(kept)
    if loop is None:
        return None
    used = {p.face for p in loop}
    return Profile(tuple(loop), tuple(s.index for s in surfaces if s.index not in used))


# --- pieces
def _piece(s: Surface, foot: Vector, axis: Vector) -> Piece | None:
    """What a face about the axis looks like in the half plane; None for one that is not about it."""

    def place(p: Vector) -> XY:
        gap = minus(p, foot)
        return dot(gap, axis), norm(cross(gap, axis))

    middle = place(s.origin)
    if s.kind != "sphere" and abs(dot(s.axis, axis)) < 1 - LEVEL:
        return None
    if s.kind == "plane":
        return _disc(s, [c.radius for c in s.circles if place(c.center)[1] < _ONE], dot(minus(s.origin, foot), axis))
    if s.kind in ("cylinder", "cone") and middle[1] < _ONE:
        return _side(s, place)
    rims = sorted({_near((place(c.center)[0], c.radius)) for c in s.circles if place(c.center)[1] < _ONE})
    if s.kind == "sphere" and middle[1] < _ONE:
        return _ball(s, middle[0], rims)
    if s.kind == "torus" and middle[1] < _ONE and len(rims) == 2:
        return _rounded(s, rims[0], rims[1], (middle[0], s.major), s.radius)
    return None


def _near(p: XY) -> XY:
    return round(p[0], 10), round(p[1], 10)


def _disc(s: Surface, radii: Sequence[float], z: float) -> Piece | None:
    """A flat face square to the axis: a ring, or a disc when nothing is bored out of its middle."""
    if not radii:
        return None
    return Piece((z, max(radii)), (z, min(radii) if len(set(map(_rounded_to, radii))) > 1 else 0.0), s.index)


def _rounded_to(value: float) -> float:
    return round(value, 5)


def _side(s: Surface, place: Callable[[Vector], XY]) -> Piece:
    low, high = (along(s.origin, s.axis, t) for t in s.span)
    slope = math.tan(s.half_angle) if s.kind == "cone" else 0.0
    ends = [(place(p)[0], abs(s.radius + slope * t)) for p, t in zip((low, high), s.span, strict=True)]
    return Piece(ends[0], ends[1], s.index)


def _ball(s: Surface, z: float, rims: Sequence[XY]) -> Piece | None:
    """A zone of a ball, a cap that ends on the axis, or the whole of it."""
    poles = [(z - s.radius, 0.0), (z + s.radius, 0.0)]
    if len(rims) == 2:
        return _rounded(s, rims[0], rims[1], (z, 0.0), s.radius)
    if not rims:
        return Piece(poles[1], poles[0], s.index, (z, 0.0))
    caps = [(abs(2 * math.pi * s.radius * abs(rims[0][0] - pole[0]) - s.area), pole) for pole in poles]
    return _rounded(s, rims[0], min(caps)[1], (z, 0.0), s.radius)


def _rounded(s: Surface, a: XY, b: XY, middle: XY, radius: float) -> Piece:
    """Of the two arcs between the ends, the one whose surface is the face's."""
    both = (Piece(a, b, s.index, middle), Piece(a, b, s.index, middle, back=True))
    turn = s.turn / (2 * math.pi) if s.turn else 1.0
    return min(both, key=lambda p: abs(_area(p, radius) * turn - s.area))


def _sweep(p: Piece) -> tuple[float, float, float]:
    """Where an arc begins, how far it goes (signed), and its radius."""
    assert p.middle is not None
    (cx, cy), (ax, ay), (bx, by) = p.middle, p.start, p.end
    begin, end = math.atan2(ay - cy, ax - cx), math.atan2(by - cy, bx - cx)
    turn = (end - begin) % (2 * math.pi) or 2 * math.pi
    return begin, turn - 2 * math.pi if p.back else turn, math.hypot(ax - cx, ay - cy)


def _area(p: Piece, radius: float) -> float:
    """The surface of an arc turned about the axis, mm²."""
    assert p.middle is not None
    begin, turn, _ = _sweep(p)
    lift = p.middle[1] * turn - radius * (math.cos(begin + turn) - math.cos(begin))
    return abs(2 * math.pi * radius * lift)


def _swept(p: Piece) -> float:
    """pi times the integral of r squared along the axis over a piece, signed by its direction."""
    (az, ar), (bz, br) = p.start, p.end
    if p.middle is None:
        return math.pi * (bz - az) * (ar * ar + ar * br + br * br) / 3
    begin, turn, radius = _sweep(p)
    c = p.middle[1]

    def whole(t: float) -> float:
        # integral of (c + R sin t)^2 (-R sin t) dt
        sine2 = t / 2 - math.sin(2 * t) / 4
        sine3 = -math.cos(t) + math.cos(t) ** 3 / 3
        return -radius * (-(c**2) * math.cos(t) + 2 * c * radius * sine2 + radius**2 * sine3)

    return math.pi * (whole(begin + turn) - whole(begin))


# --- the outline
def _meets(a: XY, b: XY) -> bool:
    return math.hypot(a[0] - b[0], a[1] - b[1]) < _ONE


def _pruned(pieces: Sequence[Piece]) -> list[Piece]:
    """Pieces with a loose end are none: the walls at the end of a milled flat are square to the axis, too."""
    kept = list(pieces)
    while True:
        loose = [p for p in kept if any(_is_loose(end, p, kept) for end in (p.start, p.end))]
        if not loose:
            return kept
        kept = [p for p in kept if p not in loose]


def _is_loose(end: XY, piece: Piece, pieces: Sequence[Piece]) -> bool:
    if end[1] < _ONE:
        return False
    return not any(_meets(end, other) for p in pieces if p is not piece for other in (p.start, p.end))


def _walked(pieces: Sequence[Piece]) -> list[Piece] | None:
    """One closed walk through all pieces, along the axis where it lies open to it; None when there is none."""
    if not pieces:
        return None
    left = list(pieces)
    on_axis = [p for p in left if min(p.start[1], p.end[1]) < _ONE]
    first = on_axis[0] if on_axis else max(left, key=lambda p: max(p.start[1], p.end[1]))
    left.remove(first)
    walk = [first if first.start[1] < _ONE or not on_axis else first.turned_round()]
    while left:
        following = next(_follows(walk[-1].end, left), None)
        if following is None:
            if walk[-1].end[1] < _ONE and (again := _on_axis(walk[-1].end, left)) is not None:
                piece, used = again  # a hollow on the axis: the walk goes on along it
                walk.append(piece)
                left.remove(used)
                continue
            return None
        piece, used = following
        walk.append(piece)
        left.remove(used)
    closed = _meets(walk[-1].end, walk[0].start) or (walk[-1].end[1] < _ONE and walk[0].start[1] < _ONE)
    return walk if closed else None


def _follows(end: XY, left: Sequence[Piece]) -> Iterator[tuple[Piece, Piece]]:
    for p in left:
        if _meets(end, p.start):
            yield p, p
        elif _meets(end, p.end):
            yield p.turned_round(), p


def _on_axis(end: XY, left: Sequence[Piece]) -> tuple[Piece, Piece] | None:
    there = [(p if p.start[1] < _ONE else p.turned_round(), p) for p in left if min(p.start[1], p.end[1]) < _ONE]
    return min(there, key=lambda pair: abs(pair[0].start[0] - end[0]), default=None)
