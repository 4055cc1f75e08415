"""Copies at the points of a sketch, or at equal steps along a drawn line."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..copying import REPEATS, Repeating, copied_claims, names_of, stated_count
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Param
from ..points import hole_points


class Scatter(Repeating, frozen=True, kw_only=True, tag="scatter"):
    """At ``points`` the first point drawn is where the original stands; along a ``line`` its beginning is. With
    ``facing`` the copies turn with the line.
    """

    sketch: str = ""
    by: Literal["points", "line"] = "points"
    count: Formula = "2"
    facing: Literal["same", "line"] = "same"
    skip: str = ""


def claims(step: Scatter, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    if sketch is None:
        return []
    if step.by == "points":
        keys = list(hole_points(sketch))[1:]
    else:
        keys = [str(k) for k in range(2, stated_count(step.count, view) + 1)]
    left_out = set(step.skip.replace(",", " ").split())
    keys = [k for n, k in enumerate(keys, 2) if str(n) not in left_out]
    return copied_claims(step, keys, step.count if step.by == "line" and not left_out else "", view)


def summary(step: Scatter, view: RouteView) -> str:
    how = "at points" if step.by == "points" else f"{view.text(step.count, 'number')} along a line"
    return f"{how} · {names_of(step.of, view)}"


KIND = StepKind(
    Scatter,
    "At points or along a line",
    "scatter",
    (
        *REPEATS,
        Param(
            "by", "Copies stand", "choice", (("points", "at points of a sketch"), ("line", "along a line of a sketch"))
        ),
        Param("sketch", "Drawn in", "sketch"),
        Param("count", "Count", "number", when={"by": ("line",)}, help="With the first one."),
        Param(
            "facing",
            "Copies face",
            "choice",
            (("same", "as the original"), ("line", "along the line")),
            when={"by": ("line",)},
        ),
        Param("skip", "Leave out", "text", help="Copies left out, counted from 1.", more=True),
    ),
    claims,
    summary,
    repeatable=True,
)
