"""How it is made: loft."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...sketch.model import Sketch
from ..joining import joined
from ..model import Built, StepFailure, Unfinished
from ..outlines import chain, closed_regions, kernel_chain, kernel_loop
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...arrays import Floats
    from ...kernel.form.loft import Outline
import numpy as np

from ...kernel.form.loft import Outline, led_loft, loft
from ...kernel.form.outline import path_edges
from ...kernel.measure.curves import places_on
from ..steps.loft import Loft
from ..workshop import Maker


def build(step: Loft, shop: Workshop) -> Built:
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
    regions = closed_regions(sketch)
    if len(regions) != 1 or regions[0].holes:
        raise StepFailure(f"An outline of a loft is one closed area without holes; “{sketch.name}” has other areas.")
    return Outline(kernel_loop(regions[0].outer, sketch), shop.frame(sketch))


def _guide(sketch: Sketch, shop: Workshop) -> Floats:
    """Places along a guide line, from the side of the first outline."""
    walk, _, _ = chain(sketch)
    rows: list[tuple[float, float, float]] = []
    for edge, _ in path_edges(kernel_chain(walk, sketch), shop.frame(sketch)):
        found = places_on(edge, 9)
        rows += found if not rows else found[1:]
    return np.array(rows)


MAKERS = {Loft: Maker(build)}
