"""What a hole states about the faces it makes, and about where it is."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Literal

from ...sketch.copies import Copy
from ...sketch.model import ORIGIN, Sketch
from ..gauges import (
    AxesApart,
    AxisAngle,
    AxisFrom,
    CircleThrough,
    Claim,
    Count,
    Depth,
    Diameter,
    OpenEnds,
    Position,
    SeatAngle,
    ThreadDepth,
    ThreadOn,
    WidestCircle,
    claim,
)
from ..model import RouteView, StepFailure
from .places import hole_points
from .section import read_stages

if TYPE_CHECKING:
    from ..steps.hole import Hole


def hole_claims(step: Hole, view: RouteView) -> list[Claim]:
    if step.placement != "sketch":
        return _claims_of(step, f"{step.id}/0")
    sketch = view.sketches.get(step.sketch)
    tags = [f"{step.id}/{key}" for key in hole_points(sketch)] if sketch is not None else []
    found = [c for tag in tags for c in _claims_of(step, tag)]
    numbered = step.thread if step.thread.strip().startswith("#") else step.diameter
    if len(tags) > 1 and (match := re.fullmatch(r"\s*(#\d+)\s*", numbered)):
        found += claim(f"{match[1]}.count", Count(f"{tags[0]}/side", tuple(f"{t}/side" for t in tags[1:]), even=False))
    return found + (_place_claims(step, sketch) if sketch is not None else [])


def _place_claims(step: Hole, sketch: Sketch) -> list[Claim]:
    """What the sketch's sizes state about where its holes are."""
    if sketch.plane.base != "end" or sketch.plane.angle != "0":
        return []
    holes, found = hole_points(sketch), []
    for d in sketch.dimensions:
        if d.kind in ("along", "across") and d.of[0] == ORIGIN and d.of[1] in holes:
            way: Literal["x", "y"] = "x" if d.kind == "along" else "y"
            found += claim(d.text, Position(f"{step.id}/{d.of[1]}/side", way))
        elif d.kind in ("along", "across", "distance") and set(d.of) <= set(holes) and len(d.of) == 2:
            found += claim(d.text, AxesApart(f"{step.id}/{d.of[0]}/side", f"{step.id}/{d.of[1]}/side"))
        elif d.kind in ("pitch", "pitch2"):
            repeat = next(r for r in sketch.repeats if r.id == d.of[0])
            i, j = (0, 1) if d.kind == "pitch2" else (1, 0)
            pairs = [(s, Copy(repeat.id, i, j, s).id) for s in repeat.of if s in holes]
            found += [
                c for a, b in pairs for c in claim(d.text, AxesApart(f"{step.id}/{a}/side", f"{step.id}/{b}/side"))
            ]
    return found


def _claims_of(step: Hole, tag: str) -> list[Claim]:
    """What the step states about one hole."""
    face, side = step.face.name, f"{tag}/side"
    ends = (f"{tag}/tip", f"{tag}/floor") if step.extent == "depth" else ()
    found = claim(step.diameter, Diameter(side), *ends)
    if step.thread.strip():
        found += claim(step.thread, ThreadOn(side), *ends)
        found += claim(step.thread_depth, ThreadDepth(side))
    found += [Claim(c.number, "thru", OpenEnds(side)) for c in found if c.key == ""]
    if step.extent == "depth":
        found += claim(step.depth, Depth(side, face), *ends)
        found += claim(step.tip, SeatAngle(f"{tag}/tip"))
    found += _seat_claims(step, tag)
    try:
        stages = read_stages(step.stages)
    except StepFailure:
        stages = []
    for number, (diameter, depth) in enumerate(stages, 1):
        ledge = f"{tag}/ledge" + ("" if number == len(stages) else str(number))
        found += claim(diameter, Diameter(f"{tag}/stage{number}"), ledge)
        found += claim(depth, Depth(f"{tag}/stage{number}", face))
    if step.placement == "circle":
        found += claim(step.circle, CircleThrough(side))
    if step.placement in ("circle", "radial"):
        found += claim(step.angle, AxisAngle(side))
    if step.placement == "radial" and step.datum.name:
        found += claim(step.along, AxisFrom(side, step.datum.name))
    return found


def _seat_claims(step: Hole, tag: str) -> list[Claim]:
    face, found = step.face.name, []
    if step.seat in ("counterbore", "spotface", "counterdrill"):
        found += claim(step.seat_diameter, Diameter(f"{tag}/seat_side"))
        found += claim(step.seat_depth, Depth(f"{tag}/seat_side", face), f"{tag}/seat")
    if step.seat == "counterdrill":
        found += claim(step.seat_angle, SeatAngle(f"{tag}/seat"))
    if step.seat == "countersink":
        found += claim(step.seat_diameter, WidestCircle(f"{tag}/sink"))
        found += claim(step.seat_angle, SeatAngle(f"{tag}/sink"))
    return found
