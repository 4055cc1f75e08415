"""Measuring what is wound round an axis: pitch, depth and width of a groove, felt along a line beside the axis."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Surface
from ..kernel.ground.named import NamedBody
from ..kernel.measure.axial import axial_trace
from ..refusal import Refusal

#: Where the line lies about the axis, radians: off the main directions, where faces begin and end.
AT = 2.5
#: Places felt along the line.
PLACES = 4000


def turns(body: NamedBody, indices: list[int], about: Sequence[Surface]) -> list[Floats]:
    """The groove at every turn, in order along the axis; rows of (along, radius), mm. ``about`` are the pieces of the
    round face it is cut into.
    """
    first = about[0]
    ends = [_along(first, s, t) for s in about for t in s.span]
    places = np.linspace(min(ends), max(ends), PLACES)
    found = axial_trace(body, indices, first.origin, first.axis, AT, places)
    if not len(found):
        return []
    gaps = np.flatnonzero(np.diff(found[:, 0]) > 1.5 * (places[1] - places[0]))
    return [t for t in np.split(found, gaps + 1) if len(t) > 5]


def _along(first: Surface, other: Surface, at: float) -> float:
    place = (o + at * a for o, a in zip(other.origin, other.axis, strict=True))
    return sum((p - o) * a for p, o, a in zip(place, first.origin, first.axis, strict=True))


def fitted(turn: Floats, hollow: bool) -> tuple[float, float, float] | None:
    """Middle (along, radius) and radius of the circle through a round bottom; None when the bottom is not round.

    Only the deeper half is used: above it a groove may have straight walls.
    """
    z, r = turn[:, 0], turn[:, 1]
    deep = (r - r.min()) if not hollow else (r.max() - r)
    chosen = deep <= 0.5 * deep.max()
    if np.ptp(r[chosen]) < 1e-6 or chosen.sum() < 8:
        return None
    z, r = z[chosen], r[chosen]
    a, *_ = np.linalg.lstsq(np.c_[2 * z, 2 * r, np.ones_like(z)], z * z + r * r, rcond=None)
    size = math.sqrt(float(a[2] + a[0] ** 2 + a[1] ** 2))
    off = np.abs(np.hypot(z - a[0], r - a[1]) - size).max()
    return (float(a[0]), float(a[1]), size) if off < 1e-3 * size else None


def deepest(turn: Floats, hollow: bool) -> tuple[float, float]:
    """The bottom of one turn: its middle along the axis, and its radius."""
    circle = fitted(turn, hollow)
    if circle is not None:
        return circle[0], circle[1] + (circle[2] if hollow else -circle[2])
    return float((turn[0, 0] + turn[-1, 0]) / 2), float(turn[:, 1].max() if hollow else turn[:, 1].min())


class NoGroove(Refusal):
    """Turns of which this size cannot be read; the text says why."""


def pitch(found: list[Floats], hollow: bool) -> float:
    """Mean advance from one whole turn to the next. Raises NoGroove for a single turn."""
    places = [deepest(t, hollow)[0] for t in found]
    if len(places) < 2:
        raise NoGroove("A single turn has no pitch to measure.")
    return (places[-1] - places[0]) / (len(places) - 1)


def width(found: list[Floats], hollow: bool) -> float:
    """Of the bottom: the diameter of a round one, the extent of a straight one. Raises NoGroove for others."""
    middle = found[len(found) // 2]
    circle = fitted(middle, hollow)
    if circle is not None:
        return 2 * circle[2]
    if np.ptp(middle[:, 1]) > 1e-3:
        raise NoGroove("The groove's bottom is neither round nor straight along the axis.")
    return float(np.ptp(middle[:, 0]))


def width_spread(found: list[Floats], hollow: bool) -> float:
    """How far off the width may be: of a straight bottom a step of the line it was felt along; of a round one none."""
    middle = found[len(found) // 2]
    return 0.0 if fitted(middle, hollow) is not None else float(np.median(np.diff(middle[:, 0])))
