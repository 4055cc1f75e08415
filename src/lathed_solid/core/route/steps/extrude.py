"""Extrude: closed areas of a sketch swept straight, to add material, cut it away, or keep only what is inside."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...sketch.model import Sketch
from ..gauges import AnyGauge, Between, Claim, Position, claim
from ..model import Built, FaceRef, Param, RouteView, StepBase, StepFailure, StepKind, Tooling, Workshop
from ..outlines import closed_regions, kernel_loop, sketch_frame
from ..sizes import sketch_claims

if TYPE_CHECKING:
    from ...kernel.geometry import Frame

#: How far a through cut runs past the part, mm.
CLEARANCE = 1.0


class Extrude(StepBase, frozen=True, kw_only=True, tag="extrude"):
    """``keep`` cuts away all outside the outline. ``two`` runs ``depth`` forward and ``depth2`` backward; ``face`` runs
    to a flat face and ``gap`` past it (short of it when negative).
    """

    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["cut", "add", "keep"] = "cut"
    extent: Literal["through", "depth", "two", "face"] = "through"
    direction: Literal["both", "forward", "backward"] = "both"
    depth: str = ""
    depth2: str = ""
    face: FaceRef = FaceRef("")
    gap: str = "0"


def build(step: Extrude, shop: Workshop) -> Built:
    from ...kernel.boolean import combine
    from ...kernel.check import accept
    from ...kernel.geometry import Frame, along
    from ...kernel.outline import flat_face
    from ...kernel.sweep import prism

    sketch = shop.sketch(step.sketch)
    if shop.current is None and (step.mode != "add" or step.extent in ("through", "face")):
        raise StepFailure("There is no body yet. Set Material to “add” with a depth, or start with a turned profile.")
    offset = shop.value(sketch.plane.offset, "Plane offset", positive=False)
    frame = sketch_frame(sketch, offset, shop.value(sketch.plane.angle, "Plane angle", "angle", positive=False))
    normal = frame.normal
    front, back = _extents(step, shop, frame)
    start = Frame(along(frame.origin, normal, -back), frame.x, frame.y)
    length = front + back
    vector = (normal[0] * length, normal[1] * length, normal[2] * length)
    tools = []
    for number, region in enumerate(closed_regions(sketch, step.regions)):
        flat = flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), start)
        tools.append(prism(flat, vector, step.id if number == 0 else f"{step.id}/{number}"))
    if shop.current is None:
        body = accept(tools[0].shape, tools[0].pairs(), None, "more")
        return Built(combine("add", body, tools[1:]) if tools[1:] else body, None, ())
    return Built(combine(step.mode, shop.body, tools), Tooling(step.mode, tuple(tools)), ())


def _extents(step: Extrude, shop: Workshop, frame: Frame) -> tuple[float, float]:
    """How far the sweep runs along the plane's normal and against it, mm."""
    from ...kernel.surfaces import reach

    if step.extent == "two":
        return shop.value(step.depth, "Depth"), shop.value(step.depth2, "Depth backward")
    if step.extent == "depth":
        depth = shop.value(step.depth, "Depth")
        back = {"both": depth / 2, "forward": 0.0, "backward": depth}[step.direction]
        return depth - back, back
    if step.extent == "face":
        far = _to_face(step, shop, frame)
        return (far, 0.0) if far > 0 else (0.0, -far)
    normal, body = frame.normal, shop.body
    reverse = (-normal[0], -normal[1], -normal[2])
    front = 0.0 if step.direction == "backward" else reach(body.shape, frame.origin, normal) + CLEARANCE
    back = 0.0 if step.direction == "forward" else reach(body.shape, frame.origin, reverse) + CLEARANCE
    return front, back


def _to_face(step: Extrude, shop: Workshop, frame: Frame) -> float:
    """Signed distance from the plane to the picked face, with the gap added in the same sense."""
    from ...kernel.geometry import dot, minus
    from ...kernel.surfaces import measure_face

    if not step.face.name:
        raise StepFailure("Pick the face to run to.")
    surface = measure_face(shop.body.face(shop.body.find(step.face.name)[0]))
    if surface.kind != "plane" or abs(dot(surface.axis, frame.normal)) < 1 - 1e-9:
        raise StepFailure("The face to run to must be flat and parallel to the outline’s plane. Use a depth instead.")
    far = dot(minus(surface.origin, frame.origin), frame.normal)
    far += (1 if far >= 0 else -1) * shop.value(step.gap, "Past the face", positive=False)
    if abs(far) < 1e-9:
        raise StepFailure("The face to run to lies in the outline’s own plane. Pick another one, or use a depth.")
    return far


def claims(step: Extrude, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    found = sketch_claims(sketch, step.id, step.regions) if sketch else []
    if step.extent == "depth":
        found += claim(step.depth, _depth_gauge(step, sketch))
    return found


def _depth_gauge(step: Extrude, sketch: Sketch | None) -> AnyGauge:
    """Between both ends; a cut from part zero leaves only its floor to measure."""
    zero = sketch is not None and sketch.plane.base == "end" and sketch.plane.offset.strip() in ("", "0")
    if step.mode == "cut" and zero and step.direction != "both":
        return Position(f"{step.id}/{'start' if step.direction == 'backward' else 'end'}", "z")
    return Between(f"{step.id}/start", f"{step.id}/end")


def summary(step: Extrude, view: RouteView) -> str:
    how = {
        "through": "through",
        "depth": f"{view.text(step.depth)} deep",
        "two": f"{view.text(step.depth)} and {view.text(step.depth2)}",
        "face": f"to {step.face.was or step.face.name or 'a face'}",
    }[step.extent]
    return f"{'keep inside' if step.mode == 'keep' else step.mode} · {how}"


KIND = StepKind(
    Extrude,
    "Extrude",
    "extrude",
    (
        Param("sketch", "Outline", "sketch"),
        Param("regions", "Areas", "regions", help="Which closed areas of the outline; none chosen: the usual ones"),
        Param("mode", "Material", "choice", (("cut", "cut away"), ("add", "add"), ("keep", "keep only the inside"))),
        Param(
            "extent",
            "How far",
            "choice",
            (("through", "through all"), ("depth", "to a depth"), ("two", "two depths"), ("face", "to a face")),
        ),
        Param(
            "direction",
            "Direction",
            "choice",
            (("both", "both ways"), ("forward", "forward"), ("backward", "backward")),
            when={"extent": ("through", "depth")},
        ),
        Param("depth", "Depth", "length", when={"extent": ("depth", "two")}),
        Param("depth2", "Depth backward", "length", when={"extent": ("two",)}),
        Param("face", "Runs to", "face", when={"extent": ("face",)}),
        Param("gap", "Past the face", "length", when={"extent": ("face",)}, help="Negative: short of it."),
    ),
    build,
    claims,
    summary,
)
