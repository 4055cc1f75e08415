"""Sizes of a sketch read off the finished solid: what stands between the faces its lines made."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

from ..route.gauges import Drawn, Site
from .laid import TRIED, Mark, NotShown, Plate, Round, Straight, offset, spot

#: Walls that lean by more than this (sine) have no one distance.
PARALLEL = 0.02


def read(plate: Plate, gauge: Drawn) -> list[float]:
    """The size, mm or radians; once for every piece of a split face that stands otherwise. Raises Unmeasurable."""
    parts = [plate.marks(site) for site in gauge.sites]
    every = itertools.islice(itertools.product(*parts), TRIED)
    return [_KINDS[gauge.what](gauge, chosen) for chosen in every]


def _ordinate(k: int) -> Callable[[Drawn, tuple[Mark, ...]], float]:
    def value(gauge: Drawn, of: tuple[Mark, ...]) -> float:
        a, b = (coordinate(m, s, k) for m, s in zip(of, gauge.sites, strict=True))
        return abs(b - a)

    return value


def coordinate(mark: Mark, site: Site, k: int) -> float:
    """Where a place, a centre or a line square to the direction stands along it."""
    if not isinstance(mark, Straight):
        return spot(mark)[k]
    if abs(mark.way[k]) > PARALLEL:
        raise NotShown("The wall is not square to the direction this size runs in.")
    t = (site.near[1 - k] - mark.place[1 - k]) / mark.way[1 - k]
    return mark.place[k] + t * mark.way[k]


def _distance(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    a, b = of
    if isinstance(b, Straight):
        a, b = b, a
    if isinstance(a, Straight):
        if isinstance(b, Straight):
            return _apart(a, b, gauge.sites[1].near)
        gap = abs(offset(a, spot(b)))
        if isinstance(b, Round):
            return gap + b.radius if gauge.far else abs(gap - b.radius)
        return gap
    return _rims(gauge, a, b)


def _apart(a: Straight, b: Straight, near: tuple[float, float]) -> float:
    if abs(a.way[0] * b.way[1] - a.way[1] * b.way[0]) > PARALLEL:
        raise NotShown("The two walls are not parallel.")
    h = offset(b, near)  # the place on b that lies nearest to where the size was drawn
    return abs(offset(a, (near[0] + h * b.way[1], near[1] - h * b.way[0])))


def _rims(gauge: Drawn, a: Mark, b: Mark) -> float:
    radii = [m.radius if isinstance(m, Round) else 0.0 for m in (a, b)]
    apart = math.dist(spot(a), spot(b))
    if any(gauge.rim) and apart < 1e-6 and all(radii):
        return sum(radii) if gauge.rim[0] == gauge.rim[1] else abs(radii[1] - radii[0])
    return apart + gauge.rim[0] * radii[0] + gauge.rim[1] * radii[1]


def _diameter(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    if isinstance(of[0], Round):
        return 2 * of[0].radius
    return 2 * abs(coordinate(of[0], gauge.sites[0], 1))


def _radius(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    return _diameter(gauge, of) / 2


def _angle(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    a, b = of
    if not isinstance(a, Straight) or not isinstance(b, Straight):
        raise NotShown("An angle is measured between straight lines.")
    cross = a.way[0] * b.way[1] - a.way[1] * b.way[0]
    return abs(math.atan2(cross, a.way[0] * b.way[0] + a.way[1] * b.way[1]))


def _arc_length(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    arc, a, b = of
    if not isinstance(arc, Round):
        raise NotShown("The face is not round here.")
    (cx, cy), (ax, ay), (bx, by) = arc.center, spot(a), spot(b)
    turn = (math.atan2(by - cy, bx - cx) - math.atan2(ay - cy, ax - cx)) % (2 * math.pi)
    return arc.radius * turn


def _wall(gauge: Drawn, of: tuple[Mark, ...]) -> float:
    """Between a line and its offset."""
    a, b = of
    if isinstance(a, Round) and isinstance(b, Round):
        return abs(a.radius - b.radius)
    if isinstance(a, Straight) and isinstance(b, Straight):
        return _apart(a, b, gauge.sites[1].near)
    raise NotShown("One of the two walls is round, the other is not.")


_KINDS: dict[str, Callable[[Drawn, tuple[Mark, ...]], float]] = {
    "along": _ordinate(0),
    "across": _ordinate(1),
    "distance": _distance,
    "diameter": _diameter,
    "radius": _radius,
    "angle": _angle,
    "arc_length": _arc_length,
    "wall": _wall,
}
