"""Where holes start: on an axis, at points of a face or a sketch, on the axis of a round edge, radial."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...quantity.said import said
from ...sketch.model import Circle, Sketch, stands_on
from ..model import StepFailure, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.figures import Surface
    from ...kernel.geometry import Frame
    from ...kernel.surfaces import Outline
    from ..steps.hole import Hole


def hole_points(sketch: Sketch) -> dict[str, tuple[float, float]]:
    """Where the holes of a sketch are: its points that belong to no line, and the centres of its circles."""
    points = sketch.points()
    held = {p for e in sketch.entities for p in stands_on(e)}
    centres = {e.center for e in sketch.entities if isinstance(e, Circle)}
    return {i: (p.x, p.y) for i, p in points.items() if i not in held or i in centres}


def chosen_points(only: str, sketch: Sketch) -> dict[str, tuple[float, float]]:
    """The places a step drills: all that its sketch has, or those named in ``only`` (any point will do)."""
    named = only.replace(",", " ").split()
    if not named:
        return hole_points(sketch)
    every = sketch.points()
    return {i: (every[i].x, every[i].y) for i in named if i in every}


def frames(step: Hole, shop: Workshop, surface: Surface) -> dict[str, Frame]:
    """Where each hole starts, by the name its faces get; normals point into the part. Raises StepFailure."""
    if step.placement == "sketch":
        return _at_sketch(step, shop, surface)
    return {"0": shop.placed(_frame(step, shop, surface))}


def _at_sketch(step: Hole, shop: Workshop, surface: Surface) -> dict[str, Frame]:
    from ...kernel.geometry import along, dot, frame_about, minus, triple

    sketch = shop.sketch(step.sketch)
    plane = shop.frame(sketch)
    if surface.kind != "plane" or abs(dot(surface.axis, plane.normal)) < 1 - 1e-9:
        raise StepFailure("Holes at sketch points start in a flat face parallel to the sketch’s plane.")
    inward = (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    unknown = [i for i in step.only.replace(",", " ").split() if i not in sketch.points()]
    if unknown:
        raise StepFailure(f"The sketch has no point {', '.join(unknown)}. Its points are {', '.join(sketch.points())}.")
    found = {}
    for id_, (x, y) in chosen_points(step.only, sketch).items():
        place = triple(plane.point(x, y))
        place = along(place, surface.axis, dot(minus(surface.origin, place), surface.axis))
        found[id_] = frame_about(place, inward)
    if not found:
        raise Unfinished("The sketch has no points yet. Draw a point (or a circle) for every hole.")
    return found


def _frame(step: Hole, shop: Workshop, surface: Surface) -> Frame:
    from ...kernel.geometry import Frame, along, flat_frame, frame_about, triple

    if step.placement == "radial":
        if surface.kind != "cylinder":
            raise StepFailure("A radial hole starts in a round face; the picked face is not a cylinder.")
        angle = shop.value(step.angle, "Angle", "angle", positive=False)
        z = _along(step, shop, surface)
        out = (math.cos(angle), math.sin(angle), 0.0)
        return frame_about(along((0.0, 0.0, z), out, surface.radius), (-out[0], -out[1], 0.0))
    if surface.kind != "plane":
        raise StepFailure("This hole starts in a flat face; the picked face is not flat.")
    inward = (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    if step.placement == "edge":
        return frame_about(_edge_centre(step, shop, surface), inward)
    if step.placement == "axis":
        if not surface.circles:
            raise StepFailure("The picked face has no round edge, so it has no axis.")
        return frame_about(max(surface.circles, key=lambda c: c.radius).center, inward)
    if step.placement == "circle":
        radius = shop.value(step.circle, "Pitch circle") / 2
        angle = shop.value(step.angle, "Angle", "angle", positive=False)
        x, y = radius * math.cos(angle), radius * math.sin(angle)
    else:
        x = shop.value(step.x, "X", positive=False)
        y = shop.value(step.y, "Y", positive=False)
    across = step.placement == "circle" or step.counted == "part"
    if across and abs(surface.axis[2]) > 0.999999:
        level = Frame((0.0, 0.0, surface.origin[2]), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    else:  # X is level and Y uphill as the face is seen from outside, as in a sketch that lies on it
        level = flat_frame(surface.origin, surface.axis)
    shop.frames[f"{shop.at_work}/frame"] = shop.placed(level)
    return frame_about(triple(level.point(x, y)), inward)


def _edge_centre(step: Hole, shop: Workshop, surface: Surface) -> tuple[float, float, float]:
    """The centre of the picked round edge, carried along its axis into the face."""
    from ...kernel.edges import Pick, picked
    from ...kernel.geometry import along, dot, minus
    from ...kernel.surfaces import circle_of

    if not step.edge:
        raise Unfinished("Pick the round edge whose axis the hole lies on.")
    ref = step.edge[0]
    circle = circle_of(picked(shop.body, Pick(ref.a, ref.b, ref.take, ref.piece))[0])
    if circle is None or abs(dot(circle.axis, surface.axis)) < 1 - 1e-9:
        raise StepFailure("The picked edge is not round, or its axis is not square to the face the hole starts in.")
    return along(circle.center, surface.axis, dot(minus(surface.origin, circle.center), surface.axis))


def _along(step: Hole, shop: Workshop, surface: Surface) -> float:
    """Z of a radial hole, counted from part zero or from a picked end: from there to the side where its face lies."""
    away = shop.value(step.along, "Position along the axis", positive=False)
    if not step.datum.name:
        return away
    zero = shop.surface(step.datum).center[2]
    low, high = sorted(surface.origin[2] + s * surface.axis[2] for s in surface.span)
    here, there = zero + away, zero - away
    return there if not low - 1e-6 <= here <= high + 1e-6 and low - 1e-6 <= there <= high + 1e-6 else here


def _turns(step: Hole, surface: Surface) -> bool:
    """Whether the face is seen the other way round than the part's X and Y."""
    return step.placement == "point" and step.counted == "face" and surface.axis[2] < -0.999999


def must_start_inside(step: Hole, frame: Frame, surface: Surface, outline: Outline | None, radius: float) -> None:
    """A hole must meet its face or what lies inside that face's outer edge. Raises StepFailure."""
    if step.placement in ("sketch", "point"):
        if outline is not None and not outline.reached(frame.origin, radius):
            x, y, z = frame.origin
            how = " X and Y are counted as the face is seen; along the part’s is under More."
            seen = how if _turns(step, surface) else ""
            raise StepFailure(
                f"A hole at {said(x)}, {said(y)}, {said(z)} misses the picked face. Move it or pick another face.{seen}"
            )
        return
    if step.placement == "radial":
        z = frame.origin[2]
        low, high = sorted(surface.origin[2] + s * surface.axis[2] for s in surface.span)
        if not low - 1e-6 <= z <= high + 1e-6:
            raise StepFailure(
                f"The hole at Z {said(z)} misses the picked face, which runs from {said(low)} to {said(high)}."
            )
        return
    if surface.circles and step.placement != "edge":
        edge = max(surface.circles, key=lambda c: c.radius)
        away = math.dist(edge.center, frame.origin)
        if away + 1e-9 > edge.radius or (away < 1e-9 and radius >= edge.radius - 1e-9):
            raise StepFailure(
                f"The hole Ø{said(2 * radius)} does not fit its face Ø{said(2 * edge.radius)}"
                + (f" (its middle is {said(away)} from the face's)" if away > 1e-9 else "")
                + ". Make it smaller or pick another face."
            )
