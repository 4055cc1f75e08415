"""How it is made: extrude."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...sketch.model import Sketch
from ...tolerance import PARALLEL
from ..joining import joined
from ..model import Built, StepFailure, Unfinished
from ..outlines import chain, flats, kernel_chain
from ..reaching import Extent, extent
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.form.outline import FlatFace
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
from ...kernel.cut.boolean import combine
from ...kernel.cut.draft import draft
from ...kernel.form.outline import moved_flat
from ...kernel.form.sweep import prism
from ...kernel.form.thin import thin_face
from ...kernel.ground.geometry import dot, minus, shifted
from ...kernel.ground.placing import shifting
from ..steps.extrude import Extrude
from ..workshop import Maker


def build(step: Extrude, shop: Workshop) -> Built:
    sketch = shop.sketch(step.sketch)
    if step.extent == "next" and step.direction == "both":
        raise StepFailure("To the next surface goes one way only. Set Direction to forward or backward.")
    if shop.current is None and (
        step.mode not in ("add", "new") or step.extent in ("through", "face", "next", "corner")
    ):
        raise Unfinished("There is no body yet. Set Material to “add” with a depth, or start with a turned profile.")
    frame = _start(step, shop, sketch)
    ends = extent(step, shop, frame)
    tools = []
    for flat in _areas(step, shop, sketch, frame):
        tool = _swept(step, shop, flat, frame, ends)
        tools.append(ends.stop(tool, frame) if ends.stop else tool)
    return joined(step.id, step.mode, tools, shop)


def _start(step: Extrude, shop: Workshop, sketch: Sketch) -> Frame:
    """The sketch's frame, moved along its normal to where the sweep starts."""
    frame = shop.frame(sketch)
    off = shop.value(step.start, "Starts off the plane", positive=False)
    if step.begin.name:
        face = shop.plane(step.begin, "the face it starts at")
        if abs(dot(face.normal, frame.normal)) < 1 - PARALLEL:
            raise StepFailure("The face the sweep starts at must be parallel to the outline’s plane.")
        off += dot(minus(face.origin, frame.origin), frame.normal)
    made = shop.frames[f"{step.id}/from"] = shifted(frame, off)
    if sketch.plane.base != "face":
        base = shifted(frame, -shop.value(sketch.plane.offset, "Plane offset", positive=False))
        shop.frames[f"{step.id}/base"] = base
    return made


def _areas(step: Extrude, shop: Workshop, sketch: Sketch, frame: Frame) -> list[FlatFace]:
    """The faces to sweep: the closed areas, or a thin wall along the outline."""
    if not step.thin.strip():
        return flats(sketch, step.regions, frame)
    thin = shop.value(step.thin, "Wall thickness")
    walk, closed, _ = chain(sketch)
    inside = {"inside": thin, "outside": 0.0, "both": thin / 2}[step.thin_side]
    # On a closed outline the first side is the outer one, on an open line the left one.
    first, second = (thin - inside, inside) if closed else (inside, thin - inside)
    return [thin_face(kernel_chain(walk, sketch), frame, first, second, closed)]


def _swept(step: Extrude, shop: Workshop, flat: FlatFace, frame: Frame, ends: Extent) -> NamedBody:
    normal, tag = frame.normal, step.id

    def straight(low: float, high: float) -> NamedBody:
        vector = (normal[0] * (high - low), normal[1] * (high - low), normal[2] * (high - low))
        return prism(_moved(flat, frame, low), vector, tag)

    if not step.draft.strip():
        return straight(-ends.back, ends.front)
    lean = shop.value(step.draft, "Draft", "angle", positive=False)
    back = shop.value(step.draft2, "Draft backward", "angle", positive=False) if step.draft2.strip() else lean
    parts = []
    if ends.front > 0:
        parts.append(_leaned(straight(0.0, ends.front), flat, frame, lean, tag, False))
    if ends.back > 0:
        parts.append(_leaned(straight(-ends.back, 0.0), flat, frame, back, tag, True))
    return parts[0] if len(parts) == 1 else combine("add", parts[0], parts[1:])


def _moved(flat: FlatFace, frame: Frame, by: float) -> FlatFace:
    """The area set off along the normal; its edges keep their names."""
    n = frame.normal
    return flat if abs(by) < 1e-12 else moved_flat(flat, shifting((n[0] * by, n[1] * by, n[2] * by)))


def _leaned(tool: NamedBody, flat: FlatFace, frame: Frame, angle: float, tag: str, backward: bool) -> NamedBody:
    neutral = frame._replace(mirrored=not frame.mirrored) if backward else frame
    return draft(tool, [f"{tag}/{name}/side" for _, name in flat.edges], neutral, angle)


MAKERS = {Extrude: Maker(build)}
