"""How it is made: the blank as the first step."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...kernel.form.bar import bar_section
from ...kernel.form.outline import flat_face
from ...kernel.form.sweep import prism
from ...kernel.ground.geometry import Frame, turned_in_plane
from ...refusal import said
from ..joining import joined
from ..model import Built, StepFailure
from ..steps.stock import Stock
from ..workshop import Maker

if TYPE_CHECKING:
    from ..workshop import Workshop

_UNIT = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def build(step: Stock, shop: Workshop) -> Built:
    axis = "xyz".index(step.along)
    u, v, start = (
        shop.value(text, label, positive=False)
        for text, label in ((step.u, "Middle, first way"), (step.v, "Middle, second way"), (step.start, "Begins at"))
    )
    origin = [0.0, 0.0, 0.0]
    origin[axis], origin[(axis + 1) % 3], origin[(axis + 2) % 3] = start, u, v
    turn = shop.value(step.turn or "0°", "Turned by", "angle", positive=False)
    frame = Frame((origin[0], origin[1], origin[2]), _UNIT[(axis + 1) % 3], _UNIT[(axis + 2) % 3])
    outer, holes = bar_section(step.section, _sizes(step, shop))
    length = shop.value(step.length, "Length")
    way = _UNIT[axis]
    flat = flat_face(outer, holes, turned_in_plane(frame, turn))
    tool = prism(flat, (way[0] * length, way[1] * length, way[2] * length), step.id)
    return joined(step.id, "new", [tool], shop)


def _sizes(step: Stock, shop: Workshop) -> tuple[float, ...]:
    a = shop.value(step.a, "Size across")
    if step.section == "block":
        return a, shop.value(step.b, "Other size")
    if step.section != "tube":
        return (a,)
    wall = shop.value(step.b, "Wall")
    if wall >= a / 2:
        raise StepFailure(f"A wall of {said(wall)} leaves no bore in Ø{said(a)}. Choose “round”, or a thinner wall.")
    return a, wall


MAKERS = {Stock: Maker(build)}
