"""Ring pattern: what other steps cut or added, repeated round the turning axis."""

from __future__ import annotations

import math
from typing import Literal

from ...formulas import Formula
from ..copying import REPEATS, copied_claims, names_of, repeat, spread, stated_count, whole_count
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure
from ..workshop import Workshop


class Ring(StepBase, frozen=True, kw_only=True, tag="ring"):
    """``count`` includes the first one. They share the angle ``total`` (a full turn by default) or stand ``pitch``
    apart; ``sides`` spreads them to both sides of the first one. ``axis`` is a round face or an axis of an earlier
    step, the turning axis when empty. ``skip`` lists copies left out, counted from 1.
    """

    of: tuple[str, ...] = ()
    of_bodies: tuple[str, ...] = ()
    how: Literal["copy", "again"] = "copy"
    joined: Literal["separate", "joined"] = "separate"
    count: Formula = ""
    by: Literal["total", "pitch"] = "total"
    total: Formula = "360°"
    pitch: Formula = ""
    sides: Literal["one", "both"] = "one"
    axis: FaceRef = FaceRef("")
    skip: str = ""


def build(step: Ring, shop: Workshop) -> Built:
    from ...kernel.ground.placing import turning_about

    count = whole_count(step.count, shop, "ring")
    if step.by == "pitch":
        pitch = shop.value(step.pitch, "Pitch angle", "angle", positive=False)
    else:
        total = shop.value(step.total, "Total angle", "angle")
        full = math.isclose(total, 2 * math.pi, rel_tol=1e-9)
        pitch = total / count if full else total / (count - 1)
    if abs(pitch) * (count - 1) > 2 * math.pi - 1e-9 or abs(pitch) < 1e-9:
        raise StepFailure("With this pitch copies would lie on each other.")
    origin, way = shop.axis(step.axis) if step.axis.name else ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    both = step.sides == "both"
    turns = {str(k): (spread(k, count) if both else k) * pitch for k in _keys(step, count)}
    return repeat(step, shop, {k: turning_about(origin, way, angle) for k, angle in turns.items()})


def _keys(step: Ring, count: int) -> list[int]:
    left_out = set(step.skip.replace(",", " ").split())
    return [k for k in range(1, count) if str(k + 1) not in left_out]


def claims(step: Ring, view: RouteView) -> list[Claim]:
    keys = [str(k) for k in _keys(step, stated_count(step.count, view))]
    whole = not step.skip.strip() and not step.axis.name and step.by == "total"
    return copied_claims(step, keys, step.count if whole else "", view)


def summary(step: Ring, view: RouteView) -> str:
    return f"{view.text(step.count, 'number')} × {names_of(step.of, view)}"


KIND = StepKind(
    Ring,
    "Ring pattern",
    "ring",
    (
        *REPEATS,
        Param("count", "Count", "number", help="With the first one."),
        Param("by", "Spread by", "choice", (("total", "the whole angle"), ("pitch", "the angle from one to the next"))),
        Param("total", "Total angle", "angle", when={"by": ("total",)}),
        Param("pitch", "Pitch angle", "angle", when={"by": ("pitch",)}),
        Param("sides", "Copies go", "choice", (("one", "one way"), ("both", "both ways")), more=True),
        Param("axis", "About", "face", help="A round face or an axis; empty: the turning axis.", more=True),
        Param("skip", "Leave out", "text", help="Copies left out, counted from 1.", more=True),
    ),
    build,
    claims,
    summary,
    repeatable=True,
)
