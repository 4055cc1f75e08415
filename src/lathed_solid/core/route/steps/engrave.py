"""Letters and outlines engraved into a face or raised on it, flat or round."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ...sketch.lettering import all_contours
from ..gauges import Between, Claim, claim
from ..joining import joined
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure
from ..outlines import closed_regions, flats, kernel_loop
from ..sizes import dimension_claims
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.named import NamedBody


class Engrave(StepBase, frozen=True, kw_only=True, tag="engrave"):
    """What is drawn in ``sketch`` goes ``depth`` into the ``face`` or stands so high on it.

    On a round face the sketch's X runs round it, true to length on the surface; ``angle`` and ``along`` say where its
    zero lies.
    """

    face: FaceRef = FaceRef("")
    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["cut", "add"] = "cut"
    depth: Formula = ""
    angle: Formula = "0°"
    along: Formula = "0"


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
    from ...kernel.build.sweep import prism
    from ...kernel.ground.geometry import along, dot, minus

    sketch = shop.sketch(step.sketch)
    frame = shop.frame(sketch)
    if abs(dot(frame.normal, surface.axis)) < 1 - 1e-9:
        raise StepFailure("The letters’ plane must be parallel to the face they go on.")
    frame = frame._replace(
        origin=along(frame.origin, surface.axis, dot(minus(surface.origin, frame.origin), surface.axis))
    )
    way = -depth if step.mode == "cut" else depth
    vector = (surface.axis[0] * way, surface.axis[1] * way, surface.axis[2] * way)
    return [prism(flat, vector, step.id) for flat in flats(sketch, step.regions, frame)]


def _round(step: Engrave, shop: Workshop, surface: Surface, depth: float) -> list[NamedBody]:
    from ...kernel.build.letters import wrapped
    from ...kernel.ground.geometry import Frame, along, cross, dot, frame_about

    sketch = shop.sketch(step.sketch)
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    place = shop.value(step.along, "Along the axis", positive=False)
    axis = surface.axis if sum(surface.axis) > 0 else (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    zero = along(surface.origin, axis, place - dot(surface.origin, axis))
    base = frame_about(zero, axis)
    x = (1.0, 0.0, 0.0) if abs(abs(axis[2]) - 1) < 1e-9 else base.x
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


def claims(step: Engrave, view: RouteView) -> list[Claim]:
    """How deep, at whichever end lies in or on the material, and what the drawing states."""
    ends = [Between(f"{step.id}/{end}", step.face.name) for end in ("end", "start")]
    sketch = view.sketches.get(step.sketch)
    letters = [f"{step.id}/{name}/side" for name in all_contours(sketch)] if sketch is not None else []
    found = claim(step.depth, ends[0], f"{step.id}/end", f"{step.id}/start", *letters, or_else=(ends[1],))
    return found + (dimension_claims(step, sketch, view) if sketch is not None else [])


def summary(step: Engrave, view: RouteView) -> str:
    sketch = view.sketches.get(step.sketch)
    words = " ".join(t.text for t in sketch.texts()) if sketch else ""
    how = "engraved" if step.mode == "cut" else "raised"
    return f"{how} {view.text(step.depth)}" + (f" · “{words}”" if words else "")


KIND = StepKind(
    Engrave,
    "Letters on a face",
    "text",
    (
        Param("face", "Face", "face"),
        Param("sketch", "Letters", "sketch"),
        Param("regions", "Areas", "regions", more=True),
        Param("mode", "Letters are", "choice", (("cut", "engraved"), ("add", "raised"))),
        Param("depth", "Depth", "length", help="Or the height of raised letters."),
        Param("angle", "Round to", "angle", help="On a round face: where the drawing's zero lies, from X.", more=True),
        Param("along", "Along the axis", "length", help="On a round face.", more=True),
    ),
    build,
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
