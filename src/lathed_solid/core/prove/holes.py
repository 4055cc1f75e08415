"""Holes and threads read off the part: how deep, open at which ends, what thread their wall carries."""

from __future__ import annotations

import math

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, dot, frame_about, minus, norm
from ..kernel.measure.surfaces import axis_meets
from ..refusal import said
from ..route.gauges import Depth, OpenEnds, ThreadDepth, ThreadOn
from ..standards.thread_limits import minor_limits
from ..tolerance import ONE_PLACE, PARALLEL
from .plate import Measured, Misfit, SurfacePlate, Unmeasurable, from_axis
from .threads import faults

#: How far past the end of a hole the way is tried, mm.
BEYOND = 0.01
#: A wall all the way round (radians).
_WHOLE = 2 * math.pi - 1e-6


def depth(plate: SurfacePlate, gauge: Depth) -> Measured:
    start = plate.one(gauge.other, "plane", "cylinder", "cone", "sphere")
    starts = plate.pieces(gauge.other, start) if start.kind == "plane" else [start]
    found = [_depth_from(plate, gauge, s) for s in starts]
    return Measured(tuple(v for m in found for v in m.values), tuple(dict.fromkeys(f for m in found for f in m.faces)))


def _depth_from(plate: SurfacePlate, gauge: Depth, start: Surface) -> Measured:
    floors = _floors(plate, gauge.floor)

    def value(s: Surface) -> float:
        ends = [_on_axis(s, f) for f in floors if abs(dot(f.axis, s.axis)) > 1 - PARALLEL] or _shown_ends(s)
        leans = start.kind == "plane" and abs(dot(start.axis, s.axis)) < 1 - PARALLEL
        if leans or start.kind in ("cone", "sphere"):
            return _from_mouth(plate, s, start, ends)
        if start.kind == "plane":
            return max((abs(dot(minus(e, start.origin), start.axis)) for e in ends), default=0.0)
        return max((start.radius - from_axis(e, start) for e in ends), default=0.0)

    found = plate.each(gauge, ("cylinder",), value)
    # What crosses a hole parts its wall: it is as deep as the farthest piece.
    if max(found.values) <= 0:
        raise Unmeasurable("The end of the hole is cut away by something else: its depth is not to be seen.")
    return Measured((max(found.values),), (*found.faces, start.index))


def _floors(plate: SurfacePlate, name: str) -> list[Surface]:
    """The flat bottom of a hole, which tells its depth also where its edge was rounded. Raises LostFace."""
    return [s for s in plate.find(name) if s.kind == "plane"] if name else []


def _on_axis(hole: Surface, floor: Surface) -> Vector:
    return along(hole.origin, hole.axis, dot(minus(floor.origin, hole.origin), hole.axis))


def _shown_ends(s: Surface) -> list[Vector]:
    """The ends of a round wall where a whole round edge shows that it ends there; none where something crosses it."""
    ends = [along(s.origin, s.axis, t) for t in s.span]
    rims = [c.center for c in s.circles if abs(c.radius - s.radius) < ONE_PLACE]
    return [e for e in ends if any(norm(minus(e, rim)) < ONE_PLACE for rim in rims)]


def _from_mouth(plate: SurfacePlate, hole: Surface, start: Surface, ends: list[Vector]) -> float:
    """Along the hole, from where its axis meets the face it was drilled into to its far end."""
    if not start.index:
        raise Unmeasurable("The plane this depth counts from is not square to the hole.")
    hits = axis_meets(plate.body.face(start.index), hole.origin, hole.axis)
    if not hits:
        raise Unmeasurable("The hole's axis does not meet the face its depth counts from.")
    if not ends:
        return 0.0
    mouth = min(hits, key=lambda h: min(norm(minus(h, along(hole.origin, hole.axis, t))) for t in hole.span))
    return max(norm(minus(mouth, e)) for e in ends)


def open_ends(plate: SurfacePlate, gauge: OpenEnds) -> Measured:
    """How many ends of a hole are open."""

    def value(s: Surface) -> float:
        return float(sum(_is_open(plate, s, end) for end in (0, 1)))

    return plate.each(gauge, ("cylinder",), value)


def _is_open(plate: SurfacePlate, s: Surface, end: int) -> bool:
    """A flat face square to a wall that has no other but one more beside it looks out of its mouth, or up from its
    floor. Else it is tried just past the end, close to the wall: material there is a floor or a drill tip's shoulder.
    """
    beside = [plate.surfaces[i - 1] for i in plate.body.beside(s.index)]
    if len(beside) == 2 and s.turn > _WHOLE:
        flat = [f for f in beside if f.kind == "plane" and abs(dot(f.axis, s.axis)) > 1 - PARALLEL]
        at = [f for f in flat if abs(dot(minus(f.origin, s.origin), s.axis) - s.span[end]) < ONE_PLACE]
        if len(at) == 1:
            return (dot(at[0].axis, s.axis) > 0) == bool(end)
    frame, inside = frame_about(s.origin, s.axis), plate.inside(s.index)
    t = s.span[end] + (BEYOND if end else -BEYOND)
    turns = [math.pi / 4 * k for k in range(8)]
    ring = [(0.9999 * s.radius * math.cos(a), 0.9999 * s.radius * math.sin(a)) for a in turns]
    return not any(inside(frame.at(u, v, t)) for u, v in ring)


def thread_on(plate: SurfacePlate, gauge: ThreadOn) -> Measured:
    mark = plate.marks.get(gauge.face)
    if mark is None:
        raise Unmeasurable("The face carries no thread.")
    if mark.modelled:
        felt, indices = plate.thread(mark)
        if wrong := faults(felt, mark.thread, mark.internal):
            raise Misfit(f"{mark.thread.designation}: {', '.join(wrong)}.")
        flank = math.degrees(felt.flank)
        words = f"Felt: pitch {felt.pitch:.4f}, pitch Ø {felt.pitch_diameter:.3f} mm, flanks {flank:.2f}°."
        return Measured((mark.thread.diameter,), tuple(indices), words=words)
    surface = plate.one(gauge.face, "cylinder")
    size = 2 * surface.radius
    if mark.internal:
        low, high = minor_limits(mark.thread)
        if not low - 1e-6 <= size <= high + 1e-6:
            raise Misfit(
                f"The drilled Ø{said(size)} is outside the minor diameter {said(low)} to {said(high)} of "
                f"{mark.thread.designation}."
            )
    elif abs(size - mark.thread.diameter) > 1e-6:
        raise Misfit(f"The face is Ø{said(size)}; {mark.thread.designation} is drawn on its nominal diameter.")
    return Measured((mark.thread.diameter,), (surface.index,))


def thread_depth(plate: SurfacePlate, gauge: ThreadDepth) -> Measured:
    """Of a modelled thread between its full form and its end, which is known to about a pitch; a cosmetic one is only
    noted, but its face must be long enough.
    """
    mark = plate.marks.get(gauge.face)
    if mark is None:
        raise Unmeasurable("The face carries no thread.")
    if mark.modelled:
        felt, indices = plate.thread(mark)
        words = f"Felt: full form over {felt.length:.2f} mm, with its run-out {felt.reach:.2f} mm."
        spread = (felt.reach - felt.length) / 2 + mark.thread.pitch / 2
        return Measured(((felt.reach + felt.length) / 2,), tuple(indices), spread=spread, words=words)
    faces = plate.all(gauge.face, "cylinder")
    low, high = (side(s.span[k] for s in faces) for k, side in ((0, min), (1, max)))
    if mark.length > high - low + 2 * mark.thread.pitch:
        return Measured((high - low,), tuple(s.index for s in faces), words="The face ends before the thread does.")
    return Measured((mark.length,), tuple(s.index for s in faces), words="Noted on its face, not cut.")
