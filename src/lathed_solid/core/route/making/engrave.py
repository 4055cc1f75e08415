"""How it is made: letters and outlines engraved into a face or raised on it, flat or round.."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...tolerance import PARALLEL
from ..joining import joined
from ..model import Built, StepFailure
from ..outlines import closed_regions, flats, kernel_loop
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.named import NamedBody
from ...kernel.form.letters import wrapped
from ...kernel.form.sweep import prism
from ...kernel.ground.geometry import Frame, along, cross, dot, frame_about, minus
from ..steps.engrave import Engrave
from ..workshop import Maker


def build(step: Engrave, shop: Workshop) -> Built:
    surface = shop.surface(step.face)
    depth = shop.value(step.depth, "Depth")
    if surface.kind == "plane":
        tools = _flat(step, shop, surface, depth)
    elif surface.kind == "cylinder":
        tools = _round(step, shop, surface, depth)
    else:
        raise StepFailure("Letters go on flat faces and on cylinders.")
    return joined(step.id, step.mode, tools, shop)


def _flat(step: Engrave, shop: Workshop, surface: Surface, depth: float) -> list[NamedBody]:
    sketch = shop.sketch(step.sketch)
    frame = shop.frame(sketch)
    if abs(dot(frame.normal, surface.axis)) < 1 - PARALLEL:
        raise StepFailure("The letters’ plane must be parallel to the face they go on.")
    frame = frame._replace(
        origin=along(frame.origin, surface.axis, dot(minus(surface.origin, frame.origin), surface.axis))
    )
    way = -depth if step.mode == "cut" else depth
    vector = (surface.axis[0] * way, surface.axis[1] * way, surface.axis[2] * way)
    return [prism(flat, vector, step.id) for flat in flats(sketch, step.regions, frame)]


def _round(step: Engrave, shop: Workshop, surface: Surface, depth: float) -> list[NamedBody]:
    sketch = shop.sketch(step.sketch)
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    place = shop.value(step.along, "Along the axis", positive=False)
    axis = surface.axis if sum(surface.axis) > 0 else (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    zero = along(surface.origin, axis, place - dot(surface.origin, axis))
    base = frame_about(zero, axis)
    x = (1.0, 0.0, 0.0) if abs(abs(axis[2]) - 1) < PARALLEL else base.x
    y = cross(axis, x)
    out = along(along((0.0, 0.0, 0.0), x, math.cos(angle)), y, math.sin(angle))
    frame = shop.placed(Frame(zero, out, cross(axis, out)))
    radius = surface.radius
    inward = (step.mode == "cut") != surface.hollow
    low, high = (radius - depth, radius + 0.05 * depth) if inward else (radius - 0.05 * depth, radius + depth)
    if low <= 0:
        raise StepFailure("The letters are deeper than the part.")
    return [
        wrapped(
            kernel_loop(region.outer, sketch),
            tuple(kernel_loop(h, sketch) for h in region.holes),
            frame, radius, low, high, step.id,
        )
        for region in closed_regions(sketch, step.regions)
    ]  # fmt: skip


MAKERS = {Engrave: Maker(build)}
