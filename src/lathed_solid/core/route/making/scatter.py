"""How it is made: copies at the points of a sketch, or at equal steps along a drawn line.."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ..copying import repeat, whole_count
from ..model import Built, StepFailure, Unfinished
from ..outlines import chain, kernel_chain
from ..points import hole_points
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.placing import Transform
from ...kernel.form.outline import path_edges
from ...kernel.ground.geometry import cross, dot, minus
from ...kernel.ground.placing import shifting, turning_about
from ...kernel.measure.curves import along_path
from ..steps.scatter import Scatter
from ..workshop import Maker


def build(step: Scatter, shop: Workshop) -> Built:
    places = _at_points(step, shop) if step.by == "points" else _along(step, shop)
    left_out = set(step.skip.replace(",", " ").split())
    places = {k: t for n, (k, t) in enumerate(places.items(), 2) if str(n) not in left_out}
    if not places:
        raise StepFailure("There is no place left for a copy.")
    return repeat(step, shop, places)


def _at_points(step: Scatter, shop: Workshop) -> dict[str, Transform]:
    sketch = shop.sketch(step.sketch)
    frame = shop.frame(sketch)
    found = {i: frame.at(x, y) for i, (x, y) in hole_points(sketch).items()}
    if len(found) < 2:
        raise Unfinished("Draw a point where the original stands first, then one for every copy.")
    (_, first), *rest = found.items()
    return {i: shifting(minus(place, first)) for i, place in rest}


def _along(step: Scatter, shop: Workshop) -> dict[str, Transform]:
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


MAKERS = {Scatter: Maker(build)}
