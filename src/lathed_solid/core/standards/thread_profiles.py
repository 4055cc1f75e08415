"""Axial profiles of screw threads over one lead, in plain numbers.

A profile is a row of pieces in order along the axis: the root of the groove with its middle at zero, one flank, the
crest, the other flank up to the next root. The crest is carried a little past the blank (or the bore), so that
what is cut from it meets no face it already has.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from .tables import NotTabled
from .threads import ScrewThread

#: How far the flanks are carried past the blank, in pitches.
PAST = 0.04


class ProfilePiece(NamedTuple):
    """``at`` along the axis and ``radius`` of places on one smooth piece, mm."""

    name: str
    at: Floats
    radius: Floats


class Shape(NamedTuple):
    """Half angle of the flanks, radians, and the depth of an external thread's root below its major radius, in
    pitches; the same for the internal one above its minor radius.
    """

    half: float
    external: float
    internal: float


#: ISO 68-1 (root of the bolt at 17/24 H: ISO 965-1 figure 2 rounds it; taken flat at d3 = d - 1.226869 P), ASME B1.1;
#: ISO 2904 with clearance left out; ISO 228-1 (27.5°, flats in place of its rounds).
_SHAPES = {
    "M": Shape(math.radians(30), 0.6134345, 0.5412659),
    "UN": Shape(math.radians(30), 0.6134345, 0.5412659),
    "Tr": Shape(math.radians(15), 0.5, 0.5),
    "G": Shape(math.radians(27.5), 0.640327, 0.640327),
    "Rc": Shape(math.radians(27.5), 0.640327, 0.640327),
    "R": Shape(math.radians(27.5), 0.640327, 0.640327),
    "NPT": Shape(math.radians(30), 0.8, 0.8),
}


def profile(
    thread: ScrewThread, blank: float, internal: bool, allowance: float = 0.0, past: float = PAST
) -> list[ProfilePiece]:
    """The profile over one lead for a blank (or bore) of radius ``blank`` mm; all starts one after the other.

    ``allowance`` moves the flanks radially (mm; negative for an external thread with clearance); ``past`` is how far
    they are carried past the blank, in pitches. Raises NotTabled when no groove is left.
    """
    shape, pitch = _SHAPES[thread.system], thread.pitch
    slope = math.tan(shape.half)
    middle = thread.pitch_diameter / 2 + allowance  # here ridge and groove are half a pitch wide each

    def half_groove(radius: float) -> float:
        return pitch / 4 + (radius - middle) * slope

    if internal:
        # The rod that cuts it: its crest is the thread's root at the major radius, its root is past the bore.
        top, bottom = thread.diameter / 2 + allowance, blank - past * pitch
    else:
        top, bottom = blank + past * pitch, thread.diameter / 2 - shape.external * pitch + allowance
    low, high = half_groove(bottom), pitch / 2 - half_groove(top)
    if top <= bottom or low <= 0 or high <= 0:
        raise NotTabled(f"A thread {thread.designation} leaves no groove on a face of Ø{2 * blank:g}.")
    places = [(-low, bottom), (low, bottom), (pitch / 2 - high, top), (pitch / 2 + high, top), (pitch - low, bottom)]
    one = list(zip(("root", "rising", "crest", "falling"), places, places[1:], strict=False))
    pieces = []
    for start in range(thread.starts):
        shift = start * pitch
        pieces += [_straight(n, (a[0] + shift, a[1]), (b[0] + shift, b[1])) for n, a, b in one]
    return pieces


def free_profile(
    runs: Sequence[Sequence[tuple[float, float]]], thread: ScrewThread, blank: float, internal: bool, past: float = PAST
) -> list[ProfilePiece]:
    """A profile drawn by hand: ``runs`` are its smooth pieces as places (along, radius) mm, over one pitch or less.

    What is left of the pitch is the ridge (external) at the blank or the root (internal) at the drawing's own ends.
    Raises NotTabled when the drawing does not fit the pitch.
    """
    pitch, out = thread.pitch, (-past if internal else past) * thread.pitch
    start, end = runs[0][0], runs[-1][-1]
    width = end[0] - start[0]
    if not 0 < width <= pitch + 1e-9:
        raise NotTabled(f"The drawn groove is {width:g} wide; it must fit into the pitch of {pitch:g}.")
    if any(b[0] < a[0] - 1e-9 for run in runs for a, b in itertools.pairwise(run)):
        raise NotTabled("The drawn groove must run from left to right without turning back.")
    crest = blank + out
    pieces = []
    for k in range(thread.starts):
        shift = k * pitch - start[0] + (pitch - width) / 2
        first, last = (start[0] + shift, start[1]), (end[0] + shift, end[1])
        left, right = (k * pitch, crest), ((k + 1) * pitch, crest)
        # Walls lean a little: where the groove runs out an upright one would shrink to nothing.
        lean = min(0.02 * pitch, (pitch - width) / 4)
        a, b = (first[0] - lean, crest), (last[0] + lean, crest)
        pieces += [_straight("crest", left, a), _straight("rising", a, first)]
        pieces += [ProfilePiece("groove", *np.array([(x + shift, r) for x, r in run]).T) for run in runs]
        pieces += [_straight("falling", last, b), _straight("crest", b, right)]
    return [p for p in pieces if np.hypot(np.ptp(p.at), np.ptp(p.radius)) > 1e-9]


def _straight(name: str, a: tuple[float, float], b: tuple[float, float]) -> ProfilePiece:
    t = np.linspace(0.0, 1.0, 8)
    return ProfilePiece(name, a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t)
