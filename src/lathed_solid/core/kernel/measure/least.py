"""The least round, hexagon and square bar about an outline: plane geometry, no kernel."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache

import msgspec
import numpy as np

from ...arrays import Floats
from ..ground.figures import Vector
from .bars import Along, Bar, Envelope

#: Directions looked at for the least hexagon or square, radians.
_STEP = math.radians(0.25)
#: About so many of them the least is looked for more closely.
_BEGUN = 12
_Circle = tuple[Floats, float]


def outline(flat: Floats) -> Floats:
    """The corners of the convex outline of places (n, 2), in order."""
    from scipy.spatial import ConvexHull

    return np.asarray(flat[ConvexHull(flat).vertices])


def least_circle(rim: Floats) -> Bar:
    """The least circle round the corners of an outline, built up as Welzl does (1991): where it does not hold a corner,
    the next one goes through that.
    """
    places = rim[np.random.default_rng(1).permutation(len(rim))]  # the order only decides how quickly it is found
    circle, at = _through(places[:2]), 0
    while (at := _next_outside(places, circle, at)) < len(places):
        circle = _held_with(places[:at], places[at])
    center = circle[0]
    return Bar(2 * float(np.hypot(*(rim - center).T).max()), (float(center[0]), float(center[1])))


def _held_with(places: Floats, p: Floats) -> _Circle:
    """The least circle round ``places`` that goes through ``p``."""
    circle, at = _through(np.array([places[0], p])), 0
    while (at := _next_outside(places, circle, at)) < len(places):
        circle, back = _through(np.array([places[at], p])), 0
        while (back := _next_outside(places[:at], circle, back)) < at:
            circle = _through(np.array([places[at], p, places[back]]))
    return circle


def _next_outside(places: Floats, circle: _Circle, start: int) -> int:
    """The first place from ``start`` on that a circle does not hold; their number when it holds all."""
    center, radius = circle
    out = np.hypot(*(places[start:] - center).T) > radius * (1 + 1e-12) + 1e-9
    return start + int(out.argmax()) if out.any() else len(places)


def _through(points: Floats) -> _Circle:
    """The circle on two places as its diameter, or through three."""
    if len(points) == 2:
        return points.mean(axis=0), float(np.hypot(*(points[1] - points[0]))) / 2
    a, b, c = points
    lines = 2 * np.array([b - a, c - a])
    if abs(np.linalg.det(lines)) < 1e-12:
        return _through(np.array([points.min(axis=0), points.max(axis=0)]))
    center = np.linalg.solve(lines, [b @ b - a @ a, c @ c - a @ a])
    return center, float(np.hypot(*(a - center)))


def _reaches(rim: Floats, turns: Floats) -> Floats:
    """How far an outline reaches in each direction (mm)."""
    return np.asarray((rim @ np.array([np.cos(turns), np.sin(turns)])).max(axis=0))


def _turns(rim: Floats, whole: float) -> Floats:
    """Directions to be tried: evenly, and square to every side of the outline, where the least one lies flush."""
    sides = np.roll(rim, -1, axis=0) - rim
    flush = np.mod(np.arctan2(-sides[:, 0], sides[:, 1]), whole)
    return np.concatenate([np.arange(0.0, whole, _STEP), flush])


def least_hexagon(rim: Floats) -> Bar:
    """The least regular hexagon round an outline, by its width across flats.

    Three pairs of flats must each be wide enough, and the three strips between them must share one middle.
    """
    third = math.pi / 3

    def needed(turns: Floats) -> Floats:
        p = [_reaches(rim, turns + k * third) for k in range(6)]
        widths = np.max([p[k] + p[k + 3] for k in range(3)], axis=0)
        return np.asarray(np.maximum(widths, np.maximum(p[0] + p[2] + p[4], p[1] + p[3] + p[5]) * (2 / 3)))

    turn, size = _least(needed, _turns(rim, third))
    return Bar(size, _middle(rim, turn, size), turn)


def _least(needed: Callable[[Floats], Floats], turns: Floats) -> tuple[float, float]:
    """The turning that needs least, and what it needs: of those tried the best few, then ever nearer about each. The
    least may lie beside one that is not the best of those tried: between two of them it falls steeply.
    """
    tried, begun = needed(turns), list[float]()
    for at in np.argsort(tried, kind="stable"):
        if all(abs(turns[at] - other) > 2 * _STEP for other in begun):
            begun.append(float(turns[at]))
        if len(begun) == _BEGUN:
            break
    return min((_nearer(needed, turn) for turn in begun), key=lambda found: found[1])


def _nearer(needed: Callable[[Floats], Floats], turn: float) -> tuple[float, float]:
    """The least about a turning, and what it needs."""
    size, step = float(needed(np.array([turn]))[0]), _STEP
    for _ in range(4):
        near = turn + np.linspace(-step, step, 41)
        tried = needed(near)
        if tried.min() < size:
            turn, size = float(near[tried.argmin()]), float(tried.min())
        step /= 10
    return turn, size


def _middle(rim: Floats, turn: float, size: float) -> tuple[float, float]:
    """The middle of a hexagon of that width that holds the outline: as near as can be to the middle of each strip."""
    turns = turn + np.arange(3) * math.pi / 3
    ways = np.array([np.cos(turns), np.sin(turns)]).T
    high, low = _reaches(rim, turns), -_reaches(rim, turns + math.pi)
    # For each strip: high - size/2 <= way . middle <= low + size/2. The middle of each, by least squares, then moved
    # by what is lacking: three strips meet in a triangle at the worst, whose middle this is.
    middle = np.linalg.lstsq(ways, (high + low) / 2, rcond=None)[0]
    for _ in range(60):
        over = np.maximum(high - size / 2 - ways @ middle, 0) - np.maximum(ways @ middle - low - size / 2, 0)
        if np.abs(over).max() < 1e-9:
            break
        worst = int(np.abs(over).argmax())
        middle = middle + over[worst] * ways[worst]
    return float(middle[0]), float(middle[1])


def least_square(rim: Floats) -> Bar:
    """The least square round an outline, by its side."""
    quarter = math.pi / 2

    def needed(turns: Floats) -> Floats:
        p = [_reaches(rim, turns + k * quarter) for k in range(4)]
        return np.asarray(np.maximum(p[0] + p[2], p[1] + p[3]))

    turn, size = _least(needed, _turns(rim, quarter))
    right, up, left, down = (float(_reaches(rim, np.array([turn + k * quarter]))[0]) for k in range(4))
    u, v, c, s = (right - left) / 2, (up - down) / 2, math.cos(turn), math.sin(turn)
    return Bar(size, (u * c - v * s, u * s + v * c), turn)


@lru_cache(maxsize=8)
def block(low: Vector, high: Vector) -> Envelope:
    """The envelope of a whole block."""
    found = []
    for axis in range(3):
        u, v = (axis + 1) % 3, (axis + 2) % 3
        rim = np.array([(a, b) for a in (low[u], high[u]) for b in (low[v], high[v])])
        rim = rim[[0, 1, 3, 2]]
        found.append(Along(least_circle(rim), least_hexagon(rim), least_square(rim), 0.0))
    return Envelope(low, high, (found[0], found[1], found[2]))


@lru_cache(maxsize=8)
def cylinder(diameter: float, start: float, end: float) -> Envelope:
    """The envelope of a plain cylinder about Z."""
    r = diameter / 2
    whole = block((-r, -r, start), (r, r, end))
    bar = Bar(diameter, (0.0, 0.0))
    return msgspec.structs.replace(whole, along=(*whole.along[:2], Along(bar, bar, bar, 0.0)))
