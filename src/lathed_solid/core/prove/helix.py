"""Measuring what is wound round an axis: pitch, depth and width of a groove, off a section through the axis."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..kernel.axial import axial_section
from ..kernel.figures import Surface
from ..kernel.named import NamedBody

Floats = NDArray[np.float64]
#: Where the section is taken about the axis, radians: off the main directions, where faces begin and end.
AT = 2.5


def turns(body: NamedBody, indices: list[int], about: Surface) -> list[Floats]:
    """The groove's section at every turn, in order along the axis; rows of (along, radius), mm."""
    curves = sorted(axial_section(body, indices, about.origin, about.axis, AT), key=lambda c: float(c[:, 0].mean()))
    grouped: list[list[Floats]] = []
    for curve in curves:
        # Pieces of one turn overlap or touch along the axis; turns lie apart.
        if grouped and curve[:, 0].min() <= max(c[:, 0].max() for c in grouped[-1]) + 1e-6:
            grouped[-1].append(curve)
        else:
            grouped.append([curve])
    return [np.vstack(group) for group in grouped]


def deepest(turn: Floats, hollow: bool) -> tuple[float, float]:
    """The bottom of one turn: the middle of its deepest places along the axis, and their radius."""
    radius = float(turn[:, 1].max() if hollow else turn[:, 1].min())
    bottom = turn[np.abs(turn[:, 1] - radius) < 1e-4 + 1e-3 * float(np.ptp(turn[:, 1]))]
    return float((bottom[:, 0].min() + bottom[:, 0].max()) / 2), radius


def pitch(found: list[Floats], hollow: bool) -> float:
    """Mean advance from one turn to the next. Raises ValueError for a single turn."""
    places = [deepest(t, hollow)[0] for t in found]
    if len(places) < 2:
        raise ValueError("A single turn has no pitch to measure.")
    return (places[-1] - places[0]) / (len(places) - 1)


def width(turn: Floats) -> float:
    """Diameter of the circle that fits a round bottom best (least squares of the places)."""
    z, r = turn[:, 0], turn[:, 1]
    a, *_ = np.linalg.lstsq(np.c_[2 * z, 2 * r, np.ones_like(z)], z * z + r * r, rcond=None)
    return 2 * math.sqrt(float(a[2] + a[0] ** 2 + a[1] ** 2))
