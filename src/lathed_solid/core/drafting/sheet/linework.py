"""The lines of a view on its sheet: edges by pen, hatching, centre lines, break lines, the circle of a detail."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from ...arrays import Floats
from ...kernel.draw.strokes import Stroke
from ...kernel.ground.hatching import hatch_lines, hatched_way
from .model import SheetView
from .placing import Placing
from .scene import Mark, Path, PenName, Round
from .seen import Centre

#: How far centre lines reach over what they belong to, and hatch lines lie apart (mm of paper).
_OVER, _PITCH = 3.0, 2.5


def drawn(view: SheetView, placing: Placing) -> Iterator[Mark]:
    """Everything of one view but its callouts."""
    of = f"view:{view.id}"
    for area in placing.seen.areas:
        loops = [np.array([placing.at(p) for p in loop]) for loop in area.loops if len(loop) > 2]
        for a, b in hatch_lines(loops, *hatched_way(area.solid, _pitch(loops))):
            ends = ((float(a[0]), float(a[1])), (float(b[0]), float(b[1])))
            if placing.detail is not None:
                runs = list(placing.shown([placing.back(e) for e in ends]))
            else:
                runs = [tuple(run) for run in placing.off_gaps(ends)]
            for run in runs:
                yield Path("hatch", run, of)
    for stroke in placing.seen.threads:
        if stroke.visible or view.hidden:
            yield from _line(stroke, placing, "thread" if stroke.visible else "hidden", of)
    if view.centres:
        for centre in placing.seen.centres:
            yield from _centre(centre, placing, of)
    for stroke in placing.seen.strokes:
        if (pen := pen_of(stroke, view)) is not None:
            yield from _line(stroke, placing, pen, of)
    yield from _tears(placing, of)
    if placing.detail is not None:
        reach = placing.scale * placing.detail.radius
        yield Round("break", view.at, reach, 0.0, 2 * math.pi, of)


def pen_of(stroke: Stroke, view: SheetView) -> PenName | None:
    """The pen a line is drawn with in a view; None when the view leaves it out."""
    if stroke.kind == "tangent":
        return "tangent" if view.tangent and stroke.visible else None
    if stroke.kind == "torn":
        return "break" if stroke.visible else None
    if stroke.visible:
        return "cut" if stroke.kind == "cut" else "visible"
    return "hidden" if view.hidden else None


def _pitch(loops: Sequence[Floats]) -> float:
    """Small areas are hatched closer, large ones wider (ISO 128-50 clause 4.4)."""
    if not loops:
        return _PITCH
    size = float(np.ptp(np.concatenate(loops), axis=0).max())
    return min(4.0, max(1.2, _PITCH * math.sqrt(size / 60)))


def _line(stroke: Stroke, placing: Placing, pen: PenName, of: str) -> Iterator[Mark]:
    if stroke.arc is not None and placing.is_plain:
        arc = stroke.arc
        yield Round(pen, placing.at(arc.center), arc.radius * placing.scale, arc.start, arc.sweep, of)
        return
    for run in placing.shown(stroke.points):
        yield Path(pen, run, of)


def _centre(centre: Centre, placing: Placing, of: str) -> Iterator[Mark]:
    over = _OVER / placing.scale
    (ax, ay), (bx, by) = centre.a, centre.b
    if centre.ring:
        if placing.is_plain:
            yield Round("centre", placing.at(centre.a), centre.radius * placing.scale, 0.0, 2 * math.pi, of)
        return
    if centre.a == centre.b:
        reach = centre.radius + min(over, max(centre.radius, 0.4 * over))
        lines = [((ax - reach, ay), (ax + reach, ay)), ((ax, ay - reach), (ax, ay + reach))]
    else:
        size = math.dist(centre.a, centre.b)
        u, v = (bx - ax) / size * over, (by - ay) / size * over
        lines = [((ax - u, ay - v), (bx + u, by + v))]
    for line in lines:
        for run in placing.shown(line):
            yield Path("centre", run, of)


def _tears(placing: Placing, of: str) -> Iterator[Mark]:
    """Thin free-hand lines where a stretch is left out (ISO 128-3 clause 10)."""
    box = placing.seen.box(False)
    if box is None or placing.detail is not None:
        return
    for b in placing.torn:
        for edge in (b.low, b.high):
            points = []
            for k in range(25):
                y = box[1] + (box[3] - box[1]) * k / 24
                x, up = placing.at((edge, y))
                points.append((x + 0.7 * math.sin(k * math.pi / 3), up))
            yield Path("break", tuple(points), of)
