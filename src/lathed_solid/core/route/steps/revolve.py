"""Revolve: a profile swung about the turning axis, all round or part of the way, to add material or to cut it away."""

from __future__ import annotations

import math
from typing import Literal

from ...formulas import Formula
from ...refusal import said
from ...sketch.curves import arc_span
from ...sketch.model import Arc, Circle
from ...sketch.region import Region
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, Param, StepBase, StepFailure, Tooling, Unfinished
from ..outlines import closed_regions, kernel_loop
from ..sizes import sketch_claims
from ..workshop import Workshop

#: The profile stands off the main directions so that the seam of round faces stays clear of the usual holes.
SEAM_ANGLE = 0.6457718  # 37 degrees
FULL = 2 * math.pi


class Revolve(StepBase, frozen=True, kw_only=True, tag="revolve"):
    """``turn`` is the angle swept, ``start`` where it begins; ``ways`` says to which side of the start it goes."""

    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["add", "cut", "keep", "new"] = "add"
    turn: Formula = "360°"
    start: Formula = "0°"
    ways: Literal["forward", "backward", "both"] = "forward"


def build(step: Revolve, shop: Workshop) -> Built:
    from ...kernel.build.outline import flat_face
    from ...kernel.build.sweep import revolve, revolve_part
    from ...kernel.cut.boolean import combine
    from ...kernel.ground.check import accept

    if shop.current is None and step.mode in ("cut", "keep"):
        raise Unfinished("There is no body yet to cut from. Set Material to “add”, or put this step later.")
    sketch = shop.sketch(step.sketch)
    regions = closed_regions(sketch, step.regions)
    _clear_of_axis(regions)
    turn = shop.value(step.turn, "Turn", "angle")
    if turn > FULL + 1e-9:
        raise StepFailure(f"A turn is 360° at most; it is {math.degrees(turn):g}°.")
    full = turn > FULL - 1e-9
    frame = shop.frame(sketch, SEAM_ANGLE if full else _begin(step, shop, turn))
    axis = (frame.origin, frame.x)
    if frame.mirrored:
        turn = -turn
    bodies = []
    for region in regions:
        flat = flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), frame)
        bodies.append(revolve(flat, *axis, step.id) if full else revolve_part(flat, *axis, turn, step.id))
    mode = "add" if step.mode == "new" else step.mode
    tooling = Tooling(mode, tuple(bodies))
    if step.mode == "new" or shop.current is None:
        shop.begin(step.id)
        first, rest = bodies[0], bodies[1:]
        body = accept(first.shape, first.pairs(), None, "more")
        return Built(combine("add", body, rest) if rest else body, Tooling("add", tuple(bodies)))
    return Built(combine(mode, shop.body, bodies), tooling, ())


def _begin(step: Revolve, shop: Workshop, turn: float) -> float:
    start = shop.value(step.start, "Start", "angle", positive=False)
    return start - {"forward": 0.0, "backward": turn, "both": turn / 2}[step.ways]


def _clear_of_axis(regions: tuple[Region, ...]) -> None:
    for region in regions:
        low = region.outer.outline[:, 1].min()
        high = region.outer.outline[:, 1].max()
        if low < -1e-7 < 1e-7 < high:
            at = region.outer.outline[region.outer.outline[:, 1].argmin()]
            raise StepFailure(
                f"The profile crosses the turning axis at Z {said(at[0])} (it reaches Ø{said(-2 * at[1])} on the "
                "other side). Keep all of it on one side."
            )


def claims(step: Revolve, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    return sketch_claims(step, sketch, view) if sketch else []


def summary(step: Revolve, view: RouteView) -> str:
    sketch = view.sketches.get(step.sketch)
    if sketch is None or not sketch.points():
        return "no profile yet"
    points = sketch.points()
    low, high, wide = [], [], []
    for p in points.values():
        low.append(p.x)
        high.append(p.x)
        wide.append(abs(p.y))
    for c in sketch.curves():
        if isinstance(c, Circle):
            middle = points[c.center]
            low.append(middle.x - c.radius)
            high.append(middle.x + c.radius)
            wide.append(abs(middle.y) + c.radius)
        elif isinstance(c, Arc):
            (begin, sweep, radius), middle = arc_span(c, points), points[c.center]
            wide.append(max(abs(middle.y + radius * math.sin(begin + sweep * k / 16)) for k in range(17)))
    turn = view.text(step.turn, "angle")
    how = {"cut": "cut · ", "keep": "keep inside · ", "new": "new body · "}.get(step.mode, "") + (
        "full turn" if turn == "360°" else turn
    )
    return f"{how} · Ø{view.shown(2 * max(wide))} × {view.shown(max(high) - min(low))}"


KIND = StepKind(
    Revolve,
    "Turned profile",
    "revolve",
    (
        Param("sketch", "Profile", "sketch"),
        Param("regions", "Areas", "regions"),
        Param(
            "mode",
            "Material",
            "choice",
            (("add", "add"), ("cut", "cut away"), ("keep", "keep only the inside"), ("new", "begin a new body")),
        ),
        Param("turn", "Turn", "angle", help="360° for all the way round."),
        Param("start", "Begins at", "angle", help="For a part of a turn."),
        Param(
            "ways",
            "Goes",
            "choice",
            (("forward", "forward"), ("backward", "backward"), ("both", "both ways equally")),
            help="For a part of a turn.",
        ),
    ),
    build,
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
