"""Modelled threads felt along lines beside their axis, as a stylus would, and what is wrong with them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.geometry import Frame
from ..kernel.ground.named import NamedBody
from ..kernel.measure.axial import axial_trace
from ..refusal import Refusal, said
from ..standards.tables import NotTabled
from ..standards.thread_limits import limits
from ..standards.threads import ScrewThread

#: Places felt in a pitch, pitches felt in full, and the line felt first (radians, off where patches meet).
A_PITCH, PITCHES, AT = 32, 4, 2.5
#: The second line, whose shift along the axis tells lead and hand.
FURTHER = math.radians(20)
#: Flanks count between these parts of the depth.
LOW, HIGH = 0.25, 0.75
#: How far pitch and diameters of a model may be off (mm): its faces are splines.
PITCH_OFF, SIZE_OFF = 1e-4, 2e-3


class Felt(NamedTuple):
    """Lengths in mm, ``flank`` in radians (half the profile's angle), ``length`` of turns with full crest and root,
    ``reach`` of all its faces.
    """

    pitch: float
    lead: float
    major: float
    minor: float
    pitch_diameter: float
    flank: float
    left_hand: bool
    length: float
    reach: float

    @property
    def starts(self) -> int:
        return max(1, round(self.lead / self.pitch))


class NoThread(Refusal):
    """Faces on which no thread is felt; the text says why."""


class _Flank(NamedTuple):
    """A straight flank: where it stands along the axis at mid depth, how much it leans (along by radius)."""

    at: float
    slope: float


def feel(body: NamedBody, indices: Sequence[int], axis: Frame, pitch: float, internal: bool) -> Felt:
    """Feel the thread on some faces about ``axis`` (its normal). ``pitch`` says how far apart to feel, no more.

    Raises NoThread.
    """
    low, high = _reach(body, indices, axis)
    if high - low < 2 * pitch:
        raise NoThread("The thread is shorter than two turns: too little to feel.")
    middle, half = (low + high) / 2, min(high - low, PITCHES * pitch) / 2
    near = np.linspace(middle - half, middle + half, int(2 * half / pitch * A_PITCH))
    trace = _trace(body, indices, axis, AT, near)
    crest, root = (trace[:, 1].min(), trace[:, 1].max()) if internal else (trace[:, 1].max(), trace[:, 1].min())
    rising, falling = _flanks(trace)
    if len(rising) < 2 or len(falling) < 2:
        raise NoThread("The faces have no flanks: nothing like a thread is felt there.")
    found = _pitch(rising, pitch)
    shift = _shift(body, indices, axis, near, rising, found)
    return Felt(
        found,
        abs(shift) * 2 * math.pi / FURTHER,
        2 * max(crest, root),
        2 * min(crest, root),
        2 * _even_radius(rising, falling, found, (crest + root) / 2, internal),
        math.atan(np.median([abs(f.slope) for f in (*rising, *falling)])),
        shift < 0,
        _full_length(body, indices, axis, (low, high), pitch, (crest, root)),
        high - low,
    )


def _reach(body: NamedBody, indices: Sequence[int], axis: Frame) -> tuple[float, float]:
    """Where the faces begin and end along the axis."""
    from ..kernel.ground.geometry import dot, minus
    from ..kernel.measure.surfaces import corner_places

    places = [dot(minus(p, axis.origin), axis.normal) for i in indices for p in corner_places(body.face(i))]
    if not places:
        raise NoThread("There are no thread faces.")
    return min(places), max(places)


def _trace(body: NamedBody, indices: Sequence[int], axis: Frame, angle: float, places: Floats) -> Floats:
    trace = axial_trace(body, list(indices), axis.origin, axis.normal, angle, places)
    if len(trace) < 20 or np.ptp(trace[:, 1]) < 1e-3:
        raise NoThread("The faces have no flanks: nothing like a thread is felt there.")
    return trace


def _flanks(trace: Floats) -> tuple[list[_Flank], list[_Flank]]:
    """The straight flanks along a line, those that rise away from the axis and those that fall to it."""
    z, r = trace[:, 0], trace[:, 1]
    low, deep = r.min(), np.ptp(r)
    on_flank = (r > low + LOW * deep) & (r < low + HIGH * deep)
    runs = np.split(np.arange(len(r)), np.flatnonzero(np.diff(on_flank.astype(int)) != 0) + 1)
    found: tuple[list[_Flank], list[_Flank]] = ([], [])
    for run in runs:
        if not on_flank[run[0]] or len(run) < 3 or run[0] == 0 or run[-1] == len(r) - 1:
            continue
        slope, at = np.polyfit(r[run] - (low + deep / 2), z[run], 1)
        found[0 if slope > 0 else 1].append(_Flank(float(at), float(slope)))
    return found


def _pitch(flanks: Sequence[_Flank], about: float) -> float:
    """Mean step from flank to flank; those beside a run-out, which are not a whole step away, are left out."""
    places = np.array([f.at for f in flanks])
    steps = np.diff(places)
    usual = float(np.median(steps))
    kept = steps[np.abs(steps - usual) < 2e-3 * about]
    return float(kept.mean())


def _shift(
    body: NamedBody, indices: Sequence[int], axis: Frame, near: Floats, first: Sequence[_Flank], pitch: float
) -> float:
    """How far the flanks have moved along the axis a little further round; less than half a pitch either way."""
    ahead = near[np.abs(near - near.mean()) < 1.6 * pitch]
    rising, _ = _flanks(_trace(body, indices, axis, AT + FURTHER, ahead))
    if not rising:
        raise NoThread("The thread is too short to feel its hand.")
    moved = [math.remainder(f.at - first[0].at, pitch) for f in rising]
    return float(np.median(moved))


def _even_radius(
    rising: Sequence[_Flank], falling: Sequence[_Flank], pitch: float, middle: float, internal: bool
) -> float:
    """The radius at which groove and ridge are equally wide."""
    up, down = rising[len(rising) // 2], None
    down = min((f for f in falling if f.at > up.at), key=lambda f: f.at, default=None)
    if down is None:
        up = rising[0]
        down = min((f for f in falling if f.at > up.at), key=lambda f: f.at)
    # Between a rising flank and the next falling one lies metal outside, air inside; it narrows away from the axis.
    wide, narrows = down.at - up.at, down.slope - up.slope
    return middle + (pitch / 2 - wide % pitch) / narrows


def _full_length(
    body: NamedBody, indices: Sequence[int], axis: Frame, ends: tuple[float, float], pitch: float,
    full: tuple[float, float],
) -> float:  # fmt: skip
    """Along the axis from the first to the last place where crest and root are full, one turn counted at each end."""
    places = np.linspace(*ends, int((ends[1] - ends[0]) / pitch * 8))
    trace = axial_trace(body, list(indices), axis.origin, axis.normal, AT, places)
    deep = abs(full[0] - full[1])
    at = [trace[np.abs(trace[:, 1] - level) < 0.02 * deep, 0] for level in full]
    if any(len(a) == 0 for a in at):
        return 0.0
    return float(min(a.max() for a in at) - max(a.min() for a in at))


def faults(felt: Felt, thread: ScrewThread, internal: bool) -> list[str]:
    """What is wrong with a thread, in words; nothing when it is what the designation asks for."""
    found = []
    if abs(felt.pitch - thread.pitch) > PITCH_OFF * thread.pitch + 1e-5:
        found.append(f"its pitch is {said(felt.pitch)}, not {said(thread.pitch)}")
    if felt.left_hand != thread.left_hand:
        found.append(f"it is {'left' if felt.left_hand else 'right'} handed")
    if felt.starts != thread.starts:
        found.append(f"it has {felt.starts} start{'s' * (felt.starts > 1)}, not {thread.starts}")
    low, high = _pitch_band(thread, internal)
    if not low - SIZE_OFF <= felt.pitch_diameter <= high + SIZE_OFF:
        found.append(f"its pitch diameter is {said(felt.pitch_diameter)}, not {said(low)} to {said(high)}")
    if not internal and felt.major > thread.diameter + SIZE_OFF:
        found.append(f"its major diameter is {said(felt.major)}, over {said(thread.diameter)}")
    if internal and felt.minor < thread.minor_diameter - SIZE_OFF:
        found.append(f"its minor diameter is {said(felt.minor)}, under {said(thread.minor_diameter)}")
    return found


def _pitch_band(thread: ScrewThread, internal: bool) -> tuple[float, float]:
    """Limits of the pitch diameter by the class, the basic one included."""
    basic = thread.pitch_diameter
    try:
        low, high = limits(thread, internal).pitch
    except NotTabled:
        return basic, basic
    return min(low, basic), max(high, basic)
