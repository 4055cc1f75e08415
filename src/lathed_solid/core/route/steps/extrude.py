"""Extrude: the closed areas of a sketch swept straight, to add material or to cut it away."""

from __future__ import annotations

from typing import Literal

from ..gauges import Between, Claim, claim
from ..model import Built, Param, RouteView, StepBase, StepFailure, StepKind, Tooling, Workshop
from ..outlines import closed_regions, kernel_loop, sketch_claims, sketch_frame

#: How far a through cut runs past the part, mm.
CLEARANCE = 1.0


class Extrude(StepBase, frozen=True, kw_only=True, tag="extrude"):
    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["cut", "add"] = "cut"
    extent: Literal["through", "depth"] = "through"
    direction: Literal["both", "forward", "backward"] = "both"
    depth: str = ""


def build(step: Extrude, shop: Workshop) -> Built:
    from ...kernel.boolean import combine
    from ...kernel.check import accept
    from ...kernel.geometry import Frame, along
    from ...kernel.outline import flat_face
    from ...kernel.surfaces import reach
    from ...kernel.sweep import prism

    sketch = shop.sketch(step.sketch)
    if shop.current is None and (step.mode == "cut" or step.extent == "through"):
        raise StepFailure("There is no body yet. Set Material to “add” with a depth, or start with a turned profile.")
    offset = shop.value(sketch.plane.offset, "Plane offset", positive=False)
    frame = sketch_frame(sketch, offset, shop.value(sketch.plane.angle, "Plane angle", "angle", positive=False))
    normal = frame.normal
    if step.extent == "depth":
        depth = shop.value(step.depth, "Depth")
        back = {"both": depth / 2, "forward": 0.0, "backward": depth}[step.direction]
        front = depth - back
    else:
        reverse = (-normal[0], -normal[1], -normal[2])
        body = shop.body
        front = 0.0 if step.direction == "backward" else reach(body.shape, frame.origin, normal) + CLEARANCE
        back = 0.0 if step.direction == "forward" else reach(body.shape, frame.origin, reverse) + CLEARANCE
    start = Frame(along(frame.origin, normal, -back), frame.x, frame.y)
    length = front + back
    vector = (normal[0] * length, normal[1] * length, normal[2] * length)
    tools = []
    for number, region in enumerate(closed_regions(sketch, step.regions)):
        flat = flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), start)
        tools.append(prism(flat, vector, step.id if number == 0 else f"{step.id}/{number}"))
    if shop.current is None and step.mode == "add":
        body = accept(tools[0].shape, tools[0].pairs(), None, "more")
        return Built(combine("add", body, tools[1:]) if tools[1:] else body, None, ())
    return Built(combine(step.mode, shop.body, tools), Tooling(step.mode, tuple(tools)), ())


def claims(step: Extrude, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    found = sketch_claims(sketch, step.id) if sketch else []
    if step.extent == "depth":
        found += claim(step.depth, Between(f"{step.id}/start", f"{step.id}/end"))
    return found


def summary(step: Extrude, view: RouteView) -> str:
    how = "through" if step.extent == "through" else f"{view.text(step.depth)} deep"
    return f"{step.mode} · {how}"


KIND = StepKind(
    Extrude,
    "Extrude",
    "extrude",
    (
        Param("sketch", "Outline", "sketch"),
        Param("regions", "Areas", "regions", help="Which closed areas of the outline; none chosen: the usual ones"),
        Param("mode", "Material", "choice", (("cut", "cut away"), ("add", "add"))),
        Param("extent", "How far", "choice", (("through", "through all"), ("depth", "to a depth"))),
        Param(
            "direction",
            "Direction",
            "choice",
            (("both", "both ways"), ("forward", "forward"), ("backward", "backward")),
        ),
        Param("depth", "Depth", "length", when={"extent": ("depth",)}),
    ),
    build,
    claims,
    summary,
)
