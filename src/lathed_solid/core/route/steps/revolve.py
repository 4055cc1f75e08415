"""Revolve: a profile swung about the turning axis, all round or part of the way, to add material or to cut it away."""

from __future__ import annotations

import math
from typing import Literal

from ...formulas import Formula
from ...sketch.curves import arc_span
from ...sketch.model import Arc, Circle
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Param, StepBase
from ..sizes import sketch_claims


class Revolve(StepBase, frozen=True, kw_only=True, tag="revolve"):
    """``turn`` is the angle swept, ``start`` where it begins; ``ways`` says to which side of the start it goes."""

    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["add", "cut", "keep", "new"] = "add"
    turn: Formula = "360°"
    start: Formula = "0°"
    ways: Literal["forward", "backward", "both"] = "forward"


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
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
