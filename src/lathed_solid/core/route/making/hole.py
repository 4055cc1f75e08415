"""How it is made: hole."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...kernel.ground.topology import Face
from ...refusal import said
from ..drilling.model import Hole
from ..drilling.places import LevelFaces, must_start_inside, starts
from ..drilling.section import section, sizes
from ..model import Built, StepFailure, ThreadMark, Tooling, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
from ...kernel.cut.boolean import apart, combine, in_order
from ...kernel.form.sweep import set_elsewhere, turned_tool
from ...kernel.ground.figures import Surface as Figure
from ...kernel.ground.geometry import along
from ...kernel.measure.surfaces import measure_face, reach
from ..workshop import Maker


def build(step: Hole, shop: Workshop) -> Built:
    body = shop.body
    surface, face = _entered(step, shop)
    radius, thread = sizes(step, shop)
    where = starts(step, shop, surface, face)
    level = LevelFaces(body, surface, face)
    lengths: list[float] = []
    made: dict[tuple[float, float], tuple[NamedBody, Frame, str]] = {}
    tools = []
    for key, (frame, lean) in where.items():
        if lean < 1e-6:
            must_start_inside(step, frame, surface, level, radius)
        lengths.append(_length(step, shop, surface, frame, radius))
        tag = f"{step.id}/{key}"
        if surface.kind == "plane" and lean < 1e-6:
            shop.frames[f"{tag}/from"] = frame
        like = round(lengths[-1], 9), round(lean, 9)
        if like in made:  # a tool like one that was made already is only set down again
            tool, there, called = made[like]
            tools.append(set_elsewhere(tool, there, frame, (called, tag)))
            continue
        points, names = section(step, shop, radius, lengths[-1], lean)
        tools.append(turned_tool(points, names, frame, tag))
        made[like] = tools[-1], frame, tag
    marks: tuple[ThreadMark, ...] = ()
    if thread:
        longest = shop.value(step.thread_depth, "Thread depth") if step.thread_depth.strip() else max(lengths)
        if step.extent == "depth" and longest > lengths[0]:
            raise StepFailure(f"The thread is {said(longest)} deep but the drill only {said(lengths[0])}.")
        marks = tuple(ThreadMark(f"{step.id}/{key}/side", thread, longest, internal=True) for key in where)
    return Built(combine("cut", body, tools), Tooling("cut", tuple(tools)), marks)


def _entered(step: Hole, shop: Workshop) -> tuple[Surface, Face | None]:
    """The face the drill enters, measured; of a plane the side from which it runs into the part, and no face."""
    if not step.face.name:
        raise Unfinished("Pick the face the hole starts in.")
    if (plane := shop.datum(step.face)) is not None:
        n = plane.normal
        back = (-n[0], -n[1], -n[2])
        deep = reach(shop.body.shape, plane.origin, back) >= reach(shop.body.shape, plane.origin, n)
        return Figure(index=0, kind="plane", origin=plane.origin, axis=n if deep else back), None
    index = shop.body.find(step.face.name)[0]
    return measure_face(shop.body.face(index), index), shop.body.face(index)


def _length(step: Hole, shop: Workshop, surface: Surface, frame: Frame, radius: float) -> float:
    """Depth of the full diameter from the starting face, mm."""
    if step.extent == "depth":
        return shop.value(step.depth, "Depth")
    if step.extent == "wall":
        if step.placement != "radial":
            raise StepFailure("“Through one wall” is for radial holes; use through all or a depth.")
        return math.dist(frame.origin, surface.origin) if surface.kind != "cylinder" else surface.radius
    longest = reach(shop.body.shape, frame.origin, frame.normal) + 1.0
    return _first_wall(shop, frame, radius, longest) if step.extent == "next" else longest


def _first_wall(shop: Workshop, frame: Frame, radius: float, longest: float) -> float:
    """How deep the first wall on the way ends, with a little clearance inside the hollow behind it."""
    long = turned_tool([(0, 0), (radius, 0), (radius, longest), (0, longest)], ["top", "side", "floor"], frame, "probe")
    pieces = in_order(apart("keep", long, [shop.body]), frame)
    if not pieces:
        raise StepFailure("The hole meets no material.")
    ends = reach(pieces[0].shape, frame.origin, frame.normal)
    if len(pieces) == 1:
        return ends + 1.0
    begins = _nearest(pieces[1], frame)
    return ends + min(1.0, max(begins - ends, 0.0) / 2)


def _nearest(piece: NamedBody, frame: Frame) -> float:
    """How far along the hole a piece begins."""
    n = frame.normal
    far = 1e5
    beyond = along(frame.origin, n, far)
    return far - reach(piece.shape, beyond, (-n[0], -n[1], -n[2]))


MAKERS = {Hole: Maker(build)}
