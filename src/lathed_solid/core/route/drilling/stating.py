"""What a hole states about the faces it makes, and about where it is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...names import bare, lone_ref, refers
from ..gauges import (
    AxisAngle,
    AxisFrom,
    CircleThrough,
    Claim,
    Count,
    Depth,
    Diameter,
    Drawn,
    OpenEnds,
    Position,
    SeatAngle,
    Site,
    ThreadDepth,
    ThreadOn,
    WidestCircle,
    claim,
)
from ..kinds import RouteView
from ..model import StepFailure
from ..points import chosen_points
from ..sizes import dimension_claims
from .places import ACROSS
from .section import read_stages

if TYPE_CHECKING:
    from .model import Hole


def hole_claims(step: Hole, view: RouteView) -> list[Claim]:
    if step.placement != "sketch":
        return _claims_of(step, f"{step.id}/0")
    sketch = view.sketches.get(step.sketch)
    points = chosen_points(step.only, sketch) if sketch is not None else {}
    tags = [f"{step.id}/{key}" for key in points]
    found = [c for tag in tags for c in _claims_of(step, tag)]
    numbered = step.thread if refers(step.thread) else step.diameter
    if len(tags) > 1 and (ref := lone_ref(numbered)) and not ref.key:
        found += claim(f"{ref}.count", Count(f"{tags[0]}/side", tuple(f"{t}/side" for t in tags[1:]), even=False))
    if sketch is not None:
        drilled = {key: f"{step.id}/{key}/side" for key in points}
        found += dimension_claims(step, sketch, view, set(), drilled)
    return found


def _claims_of(step: Hole, tag: str) -> list[Claim]:
    """What the step states about one hole."""
    side = f"{tag}/side"
    ends = (f"{tag}/tip", f"{tag}/floor") if step.extent == "depth" else ()
    found = claim(step.diameter, Diameter(side), *ends)
    if step.thread.strip():
        found += claim(step.thread, ThreadOn(side), *ends)
        found += claim(step.thread_depth, ThreadDepth(side))
    found += [Claim(c.number, "thru", OpenEnds(side)) for c in found if c.key == "" and not c.formula]
    if step.extent == "depth":
        flat = "" if step.tip.strip() else f"{tag}/floor"
        found += _depth_claims(step.depth, step, tag, side, flat, *ends)
        found += claim(step.tip, SeatAngle(f"{tag}/tip"))
    found += _seat_claims(step, tag)
    try:
        stages = read_stages(step.stages)
    except StepFailure:
        stages = []
    for number, (diameter, depth) in enumerate(stages, 1):
        ledge = f"{tag}/ledge" + ("" if number == len(stages) else str(number))
        found += claim(diameter, Diameter(f"{tag}/stage{number}", about=side), ledge)
        found += _depth_claims(depth, step, tag, f"{tag}/stage{number}", ledge)
    return found + _place_claims(step, tag)


def _place_claims(step: Hole, tag: str) -> list[Claim]:
    """Where a single hole stands."""
    side, found = f"{tag}/side", []
    if step.placement == "circle":
        found += claim(step.circle, CircleThrough(side))
    if step.placement in ("circle", "radial"):
        found += claim(step.angle, AxisAngle(side, step.face.name if step.placement == "radial" else ""))
    if step.placement == "edges":
        for text, ref in zip((step.x, step.y), step.edge, strict=False):
            wall = ref.b if bare(ref.a) == bare(step.face.name) else ref.a
            # From a wall that leans, the size runs from the edge where it meets the face.
            spot = Site("centre", of=(Site("edge", side),))
            edge = Drawn(side, f"{step.id}/frame", "distance", (Site("edge", wall), spot))
            found += claim(text, AxisFrom(side, wall), or_else=(edge,))
    if step.placement == "radial":
        found += claim(step.along, AxisFrom(side, step.datum.name) if step.datum.name else Position(side, "z"))
    if step.placement == "point" and step.heading != "square":
        for text, k in zip((step.x, step.y), ACROSS[step.heading], strict=True):
            found += claim(text, Position(side, "xyz"[k]))  # type: ignore[arg-type]
    elif step.placement == "point":
        spot = Site("centre", of=(Site("edge", side),))
        for text, way in ((step.x, "along"), (step.y, "across")):
            found += claim(text, Drawn(side, f"{step.id}/frame", way, (Site("zero"), spot)))  # type: ignore[arg-type]
    return found


def _depth_claims(text: str, step: Hole, tag: str, face: str, floor: str, *explains: str) -> list[Claim]:
    """A depth counts from the face the hole starts in: the flat one there, or a round one."""
    gauges = (Depth(face, f"{tag}/from", floor), Depth(face, step.face.name, floor))
    return claim(text, gauges[0], *explains, or_else=gauges[1:])


def _seat_claims(step: Hole, tag: str) -> list[Claim]:
    found: list[Claim] = []
    if step.seat in ("counterbore", "spotface", "counterdrill"):
        found += claim(step.seat_diameter, Diameter(f"{tag}/seat_side", about=f"{tag}/side"))
        found += _depth_claims(step.seat_depth, step, tag, f"{tag}/seat_side", f"{tag}/seat", f"{tag}/seat")
    if step.seat == "counterdrill":
        found += claim(step.seat_angle, SeatAngle(f"{tag}/seat"))
    if step.seat == "countersink":
        found += claim(step.seat_diameter, WidestCircle(f"{tag}/sink", about=f"{tag}/side"))
        found += claim(step.seat_angle, SeatAngle(f"{tag}/sink"))
    return found
