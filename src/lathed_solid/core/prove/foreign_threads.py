"""Modelled threads that none of our steps made: the free faces about an axis, felt."""

from __future__ import annotations

import math

from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import frame_about
from ..kernel.measure.surfaces import corner_places
from ..route.gauges import ThreadFelt
from ..standards.tables import NotTabled
from ..standards.threads import ScrewThread, parse_designation
from .plate import Measured, Misfit, SurfacePlate, Unmeasurable, from_axis
from .threads import Felt, faults

#: All of a thread lies between these shares of its minor and its major radius.
_WITHIN = (0.9, 1.05)


def thread_felt(plate: SurfacePlate, gauge: ThreadFelt) -> Measured:
    """The thread's diameter where it is what it was taken for, or its length, which is known to about a pitch."""
    axis = plate.one(gauge.face, "cylinder", "cone")
    try:
        thread = parse_designation(gauge.thread)
    except NotTabled as error:
        raise Misfit(error.message) from None
    felt, indices = _felt(plate, axis, thread, gauge.internal)
    if wrong := faults(felt, thread, gauge.internal):
        raise Misfit(f"{gauge.thread}: {', '.join(wrong)}.")
    if gauge.what == "length":
        spread = (felt.reach - felt.length) / 2 + thread.pitch / 2
        words = f"Felt: full form over {felt.length:.2f} mm, with its run-out {felt.reach:.2f} mm."
        return Measured(((felt.reach + felt.length) / 2,), tuple(indices), spread=spread, words=words)
    flank = math.degrees(felt.flank)
    words = f"Felt: pitch {felt.pitch:.4f}, pitch Ø {felt.pitch_diameter:.3f} mm, flanks {flank:.2f}°."
    return Measured((thread.diameter,), tuple(indices), words=words)


def _felt(plate: SurfacePlate, axis: Surface, thread: ScrewThread, internal: bool) -> tuple[Felt, list[int]]:
    low, high = _WITHIN[0] * thread.minor_diameter / 2, _WITHIN[1] * thread.diameter / 2
    indices = []
    for s in plate.surfaces:
        if s.kind == "other":
            away = [from_axis(p, axis) for p in corner_places(plate.body.face(s.index))]
            if away and low <= min(away) and max(away) <= high:
                indices.append(s.index)
    if not indices:
        raise Unmeasurable(f"No faces of a thread like {thread.designation} lie about this axis.")
    key = f"{indices[0]} {thread.pitch} {internal}"
    return plate.felt(key, indices, frame_about(axis.origin, axis.axis), thread.pitch, internal), indices
