"""Loft: a body laid through two or more outlines."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...sketch.model import Sketch
from ..gauges import Claim
from ..joining import MATERIAL, joined
from ..kinds import RouteView, StepKind
from ..model import Built, Param, StepBase, StepFailure, Unfinished
from ..outlines import chain, closed_regions, kernel_chain, kernel_loop
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...arrays import Floats
    from ...kernel.build.loft import Outline


class Loft(StepBase, frozen=True, kw_only=True, tag="loft"):
    """Through the outlines in order. ``straight`` lays flat or ruled sides between them, ``smooth`` one skin over all;
    ``first`` and ``last`` let it leave those planes square. Corners nearest to the ``guide`` lines follow them.
    """

    sketch: str = ""
    sketch2: str = ""
    sketch3: str = ""
    sketch4: str = ""
    mode: Literal["add", "cut", "keep", "new"] = "add"
    sides: Literal["straight", "smooth"] = "straight"
    first: Literal["free", "square"] = "free"
    last: Literal["free", "square"] = "free"
    guide: str = ""
    guide2: str = ""


def build(step: Loft, shop: Workshop) -> Built:
    from ...kernel.build.loft import led_loft, loft

    names = [n for n in (step.sketch, step.sketch2, step.sketch3, step.sketch4) if n]
    if len(names) < 2:
        raise Unfinished("A loft needs two outlines at least.")
    outlines = [_outline(shop.sketch(n), shop) for n in names]
    guides = [_guide(shop.sketch(n), shop) for n in (step.guide, step.guide2) if n]
    square = (step.first == "square", step.last == "square")
    if step.sides == "straight" and (guides or any(square)):
        raise StepFailure("Guide lines and square ends need smooth sides.")
    if guides or any(square):
        tool = led_loft(outlines, step.id, square, guides)
    else:
        tool = loft(outlines, step.id, step.sides == "straight")
    return joined(step.id, step.mode, [tool], shop)


def _outline(sketch: Sketch, shop: Workshop) -> Outline:
    from ...kernel.build.loft import Outline

    regions = closed_regions(sketch)
    if len(regions) != 1 or regions[0].holes:
        raise StepFailure(f"An outline of a loft is one closed area without holes; “{sketch.name}” has other areas.")
    return Outline(kernel_loop(regions[0].outer, sketch), shop.frame(sketch))


def _guide(sketch: Sketch, shop: Workshop) -> Floats:
    """Places along a guide line, from the side of the first outline."""
    import numpy as np

    from ...kernel.build.outline import path_edges
    from ...kernel.measure.curves import places_on

    walk, _, _ = chain(sketch)
    rows: list[tuple[float, float, float]] = []
    for edge, _ in path_edges(kernel_chain(walk, sketch), shop.frame(sketch)):
        found = places_on(edge, 9)
        rows += found if not rows else found[1:]
    return np.array(rows)


def claims(step: Loft, view: RouteView) -> list[Claim]:
    return []


def summary(step: Loft, view: RouteView) -> str:
    names = [n for n in (step.sketch, step.sketch2, step.sketch3, step.sketch4) if n]
    return f"{step.mode} · {len(names)} outlines · {step.sides}"


_SMOOTH = {"sides": ("smooth",)}
_ENDS = (("free", "as it comes"), ("square", "square to the outline"))
KIND = StepKind(
    Loft,
    "Loft",
    "loft",
    (
        Param("sketch", "First outline", "sketch"),
        Param("sketch2", "Second outline", "sketch"),
        Param("sketch3", "Third outline", "sketch", more=True),
        Param("sketch4", "Fourth outline", "sketch", more=True),
        MATERIAL,
        Param("sides", "Sides", "choice", (("straight", "straight between outlines"), ("smooth", "one smooth skin"))),
        Param("first", "Leaves the first", "choice", _ENDS, when=_SMOOTH),
        Param("last", "Meets the last", "choice", _ENDS, when=_SMOOTH),
        Param("guide", "Guide line", "sketch", when=_SMOOTH, more=True),
        Param("guide2", "Second guide", "sketch", when=_SMOOTH, more=True),
    ),
    build,
    claims,
    summary,
    repeatable=True,
)
