"""Copies at the points of a sketch, or at equal steps along a drawn line."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ..copying import REPEATS, copied_claims, names_of, repeat, stated_count, whole_count
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, Param, StepBase, StepFailure, Unfinished
from ..outlines import chain, kernel_chain
from ..points import hole_points
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.placing import Transform


class Scatter(StepBase, frozen=True, kw_only=True, tag="scatter"):
    """At ``points`` the first point drawn is where the original stands; along a ``line`` its beginning is. With
    ``facing`` the copies turn with the line.
    """

    of: tuple[str, ...] = ()
    of_bodies: tuple[str, ...] = ()
    how: Literal["copy", "again"] = "copy"
    joined: Literal["separate", "joined"] = "separate"
    sketch: str = ""
    by: Literal["points", "line"] = "points"
    count: Formula = "2"
    facing: Literal["same", "line"] = "same"
    skip: str = ""


def build(step: Scatter, shop: Workshop) -> Built:
    places = _at_points(step, shop) if step.by == "points" else _along(step, shop)
    left_out = set(step.skip.replace(",", " ").split())
    places = {k: t for n, (k, t) in enumerate(places.items(), 2) if str(n) not in left_out}
    if not places:
        raise StepFailure("There is no place left for a copy.")
    return repeat(step, shop, places)


def _at_points(step: Scatter, shop: Workshop) -> dict[str, Transform]:
    from ...kernel.ground.geometry import minus
    from ...kernel.ground.placing import shifting

    sketch = shop.sketch(step.sketch)
    frame = shop.frame(sketch)
    found = {i: frame.at(x, y) for i, (x, y) in hole_points(sketch).items()}
    if len(found) < 2:
        raise Unfinished("Draw a point where the original stands first, then one for every copy.")
    (_, first), *rest = found.items()
    return {i: shifting(minus(place, first)) for i, place in rest}


def _along(step: Scatter, shop: Workshop) -> dict[str, Transform]:
    from ...kernel.build.outline import path_edges
    from ...kernel.ground.geometry import cross, dot, minus
    from ...kernel.ground.placing import shifting, turning_about
    from ...kernel.measure.curves import along_path

    sketch = shop.sketch(step.sketch)
    frame = shop.frame(sketch)
    walk, closed, _ = chain(sketch)
    edges = [e for e, _ in path_edges(kernel_chain(walk, sketch), frame)]
    count = whole_count(step.count, shop, "row along a line")
    (first, way), *rest = along_path(edges, count, closed)
    found = {}
    for k, (place, now) in enumerate(rest, 2):
        move = shifting(minus(place, first))
        if step.facing == "line":
            angle = math.atan2(dot(cross(way, now), frame.normal), dot(way, now))
            move = turning_about(place, frame.normal, angle).Multiplied(move)
        found[str(k)] = move
    return found


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
    build,
    claims,
    summary,
    repeatable=True,
)
