"""How it is made: keyways."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...refusal import said
from ...standards import seats
from ...standards.tables import NotTabled
from ...tolerance import PARALLEL
from ..joining import joined
from ..model import Built, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.form.outline import Loop
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
from ...kernel.form.outline import ArcSegment, Segment, flat_face
from ...kernel.form.sweep import prism, turned_tool
from ...kernel.ground.geometry import Frame, along, cross, dot, frame_about, minus
from ...kernel.measure.boxes import box
from ..steps.keyway import Keyway
from ..workshop import Maker


def build(step: Keyway, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the shaft or bore")
    if surface.kind != "cylinder":
        raise StepFailure("A key sits in a cylinder; the picked face is none.")
    if surface.hollow != (step.form == "bore"):
        raise StepFailure("This face is a bore: choose the slot through a bore." if surface.hollow else
                          "This face is a shaft: choose a seat in a shaft.")  # fmt: skip
    tool = _bore_tool(step, shop, surface) if step.form == "bore" else _shaft_tool(step, shop, surface)
    return joined(step.id, "cut", [tool], shop)


def _table(step: Keyway, surface: Surface) -> seats.Key | None:
    try:
        return seats.key(2 * surface.radius, step.form == "woodruff")
    except NotTabled:
        return None


def _size(step: Keyway, shop: Workshop, field: str, label: str, found: float | None) -> float:
    text = getattr(step, field)
    if text.strip():
        return shop.value(text, label)
    if not found:
        raise StepFailure(f"{label}: the tables have no key for this diameter. Write the size.")
    return found


def _plane(step: Keyway, shop: Workshop, surface: Surface, height: float) -> Frame:
    """A plane ``height`` mm off the axis over the seat: x along the axis, y across."""
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    base = frame_about(surface.origin, surface.axis)
    if abs(abs(surface.axis[2]) - 1) < PARALLEL:  # part turned about Z: angles count from X
        out = (math.cos(angle), math.sin(angle), 0.0)
    else:
        out = along(along((0.0, 0.0, 0.0), base.x, math.cos(angle)), base.y, math.sin(angle))
    zero = along(surface.origin, surface.axis, -dot(surface.origin, surface.axis))
    axis = surface.axis if sum(surface.axis) > 0 else (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    return shop.placed(Frame(along(zero, out, height), axis, cross(out, axis)))


def _shaft_tool(step: Keyway, shop: Workshop, surface: Surface) -> NamedBody:
    known = _table(step, surface)
    width = _size(step, shop, "width", "Width", known.width if known else None)
    depth = _size(step, shop, "depth", "Depth", known.shaft if known else None)
    at = shop.value(step.at, "Middle at", positive=False)
    if width >= 2 * surface.radius or depth >= surface.radius:
        raise StepFailure("The key is larger than the shaft.")
    if step.form == "woodruff":
        return _woodruff(step, shop, surface, width, depth, at, known)
    length = shop.value(step.length, "Length")
    half, straight = width / 2, (length - width) / 2
    loop: Loop
    if step.form == "square":
        a = length / 2
        corners = [(at - a, -half), (at + a, -half), (at + a, half), (at - a, half)]
        loop = tuple(
            Segment(n, p, q)
            for n, p, q in zip(("side1", "end1", "side2", "end2"), corners, corners[1:] + corners[:1], strict=True)
        )
    else:
        if straight <= 0:
            raise StepFailure(f"A round-ended seat {said(width)} wide is longer than that.")
        a, b = at - straight, at + straight
        loop = (
            Segment("side1", (a, -half), (b, -half)),
            ArcSegment("end1", (b, -half), (b + half, 0.0), (b, half)),
            Segment("side2", (b, half), (a, half)),
            ArcSegment("end2", (a, half), (a - half, 0.0), (a, -half)),
        )
    frame = shop.frames[f"{step.id}/frame"] = _plane(step, shop, surface, surface.radius + 1.0)
    n, down = frame.normal, -(depth + 1.0)
    # x along the axis, y across: the normal points out of the shaft or into it, as the frame has it.
    sign = 1.0 if sum(a * b for a, b in zip(n, _out(frame, surface), strict=True)) > 0 else -1.0
    return prism(flat_face(loop, (), frame), tuple(c * down * sign for c in n), step.id)  # type: ignore[arg-type]


def _out(frame: Frame, surface: Surface) -> tuple[float, float, float]:
    gap = minus(frame.origin, surface.origin)
    return minus(gap, along((0.0, 0.0, 0.0), surface.axis, dot(gap, surface.axis)))


def _woodruff(
    step: Keyway, shop: Workshop, surface: Surface, width: float, depth: float, at: float, known: seats.Key | None
) -> NamedBody:
    radius = _size(step, shop, "cutter", "Cutter Ø", known.cutter if known else None) / 2
    if depth >= 2 * radius:
        raise StepFailure("The seat is deeper than its cutter.")
    plane = _plane(step, shop, surface, surface.radius - depth + radius)
    middle = along(plane.origin, plane.x, at)
    across = plane.y
    frame = Frame(along(middle, across, -width / 2), plane.normal, plane.x)
    if sum(a * b for a, b in zip(frame.normal, across, strict=True)) < 0:
        frame = Frame(frame.origin, frame.y, frame.x)
    names = ["side1", "floor", "side2"]
    return turned_tool([(0.0, 0.0), (radius, 0.0), (radius, width), (0.0, width)], names, frame, step.id)


def _bore_tool(step: Keyway, shop: Workshop, surface: Surface) -> NamedBody:
    known = _table(step, surface)
    width = _size(step, shop, "width", "Width", known.width if known else None)
    across = _size(step, shop, "across", "Across to the far side", 2 * surface.radius + known.hub if known else None)
    top = across - surface.radius
    if top <= surface.radius * math.cos(math.asin(min(1.0, width / 2 / surface.radius))):
        raise StepFailure(f"{said(across)} across the bore Ø{said(2 * surface.radius)} leaves no keyway.")
    plane = _plane(step, shop, surface, 0.0)
    near, beyond = box(shop.body.shape)
    far = sum(h - b for h, b in zip(beyond, near, strict=True)) + math.dist(near, (0, 0, 0))
    frame = plane._replace(origin=along(plane.origin, plane.x, -far), x=plane.y, y=plane.normal)
    up = sum(a * b for a, b in zip(plane.normal, _out_way(step, shop, surface), strict=True))
    high = top if up > 0 else -top
    half = width / 2
    corners = [(-half, 0.0), (half, 0.0), (half, high), (-half, high)]
    loop = tuple(
        Segment(n, p, q)
        for n, p, q in zip(("open", "side1", "floor", "side2"), corners, corners[1:] + corners[:1], strict=True)
    )
    way = plane.x
    return prism(flat_face(loop, (), frame), (way[0] * 2 * far, way[1] * 2 * far, way[2] * 2 * far), step.id)


def _out_way(step: Keyway, shop: Workshop, surface: Surface) -> tuple[float, float, float]:
    return _out(_plane(step, shop, surface, 1.0), surface)


MAKERS = {Keyway: Maker(build)}
