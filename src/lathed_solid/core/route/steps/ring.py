"""Ring pattern: what other steps cut or added, repeated round the turning axis."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..copying import REPEATS, Repeating, copied_claims, names_of, stated_count
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param


class Ring(Repeating, frozen=True, kw_only=True, tag="ring"):
    """``count`` includes the first one. They share the angle ``total`` (a full turn by default) or stand ``pitch``
    apart; ``sides`` spreads them to both sides of the first one. ``axis`` is a round face or an axis of an earlier
    step, the turning axis when empty. ``skip`` lists copies left out, counted from 1.
    """

    count: Formula = ""
    by: Literal["total", "pitch"] = "total"
    total: Formula = "360°"
    pitch: Formula = ""
    sides: Literal["one", "both"] = "one"
    axis: FaceRef = FaceRef("")
    skip: str = ""


def _keys(step: Ring, count: int) -> list[int]:
    left_out = set(step.skip.replace(",", " ").split())
    return [k for k in range(1, count) if str(k + 1) not in left_out]


def claims(step: Ring, view: RouteView) -> list[Claim]:
    keys = [str(k) for k in _keys(step, stated_count(step.count, view))]
    whole = not step.skip.strip() and not step.axis.name and step.by == "total"
    return copied_claims(step, keys, step.count if whole else "", view, about_axis=not step.axis.name)


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
    claims,
    summary,
    repeatable=True,
)
