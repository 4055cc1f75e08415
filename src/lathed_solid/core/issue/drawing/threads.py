"""Threads by convention (ISO 6410-1): thin lines along the root or crest, three quarters of a circle end-on."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ...kernel.draw.strokes import XY, ArcOf, Stroke
from ...kernel.ground.figures import Surface
from ...kernel.ground.geometry import Frame, along, cross, dot, minus
from ...kernel.ground.named import LostReference, NamedBody
from ...route.model import ThreadMark
from ...standards.threads import reach_on
from ...tolerance import PARALLEL

#: Three quarters of a circle, from a little past level (ISO 6410-1 figure 3).
_START, _SWEEP = math.radians(-100), 1.5 * math.pi


def thread_lines(
    marks: Sequence[ThreadMark], body: NamedBody, surfaces: Sequence[Surface], strokes: Sequence[Stroke], eye: Frame
) -> tuple[Stroke, ...]:
    """The lines that stand for the threads in one view; hidden where the face that carries one is."""
    seen = {f for s in strokes if s.visible for f in s.faces}
    hidden = {f for s in strokes if not s.visible for f in s.faces}
    found: list[Stroke] = []
    for mark in marks:
        try:
            indices = body.find(mark.face)
        except LostReference:
            continue
        for surface in (s for s in surfaces if s.index in indices):
            if surface.kind == "cylinder" and surface.index in seen | hidden:
                found += _of(mark, surface, eye, surface.index in seen)
    return tuple(found)


def _of(mark: ThreadMark, s: Surface, eye: Frame, visible: bool) -> list[Stroke]:
    thread = mark.thread
    radius = (thread.diameter if mark.internal else thread.minor_diameter) / 2
    low, high = s.span
    start, end = reach_on(s.span, mark.length, mark.from_high)
    facing = abs(dot(s.axis, eye.normal))
    if facing > 1 - PARALLEL:
        middle = minus(s.origin, eye.origin)
        at = dot(middle, eye.x), dot(middle, eye.y)
        arc = ArcOf(at, radius, _START, _SWEEP)
        return [Stroke("sharp", visible, tuple(arc.at(k / 24) for k in range(25)), (s.index,), arc)]
    if facing > 1e-6:
        return []
    side = cross(s.axis, eye.normal)
    ends = [[along(along(s.origin, s.axis, t), side, r) for t in (start, end)] for r in (radius, -radius)]
    lines = [tuple(_flat(p, eye) for p in pair) for pair in ends]
    stop = end if not mark.from_high else start
    if end - start < high - low - 1e-6:  # where the full thread ends
        outer = max(radius, s.radius)
        lines.append(tuple(_flat(along(along(s.origin, s.axis, stop), side, r), eye) for r in (outer, -outer)))
    return [Stroke("sharp", visible, line, (s.index,)) for line in lines]


def _flat(place: tuple[float, float, float], eye: Frame) -> XY:
    away = minus(place, eye.origin)
    return dot(away, eye.x), dot(away, eye.y)
