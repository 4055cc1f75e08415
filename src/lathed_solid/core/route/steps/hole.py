"""Hole: drilled, tapped, counterbored or countersunk, on an axis, at a point of a face, or radial into a round face.

Depths are from the face the hole starts in, as drawings state them: a counterbore does not shorten its hole.
"""

from __future__ import annotations

import math
import re
from typing import TYPE_CHECKING, Any, Literal

from ...quantity import ExpressionError
from ...sketch.copies import Copy
from ...sketch.model import ORIGIN, Circle, Sketch, stands_on
from ...standards.drills import tap_drill
from ..gauges import (
    AxesApart,
    AxisAngle,
    AxisFrom,
    CircleThrough,
    Claim,
    Count,
    Depth,
    Diameter,
    OpenEnds,
    Position,
    SeatAngle,
    ThreadDepth,
    ThreadOn,
    WidestCircle,
    claim,
)
from ..model import (
    Built,
    FaceRef,
    Param,
    RouteView,
    StepBase,
    StepFailure,
    StepKind,
    ThreadMark,
    Tooling,
    Workshop,
)
from ..outlines import sketch_frame

if TYPE_CHECKING:
    from ...kernel.figures import Surface
    from ...kernel.geometry import Frame

Shape = Any


class Hole(StepBase, frozen=True, kw_only=True, tag="hole"):
    """All sizes are formulas; empty ones do not apply. At sketch points one step makes all its holes."""

    face: FaceRef = FaceRef("")
    placement: Literal["axis", "circle", "point", "sketch", "radial"] = "axis"
    sketch: str = ""
    x: str = "0"
    y: str = "0"
    circle: str = ""
    angle: str = "0°"
    along: str = ""
    datum: FaceRef = FaceRef("")
    diameter: str = ""
    extent: Literal["through", "wall", "depth"] = "through"
    depth: str = ""
    tip: str = "118°"
    seat: Literal["none", "counterbore", "countersink"] = "none"
    seat_diameter: str = ""
    seat_depth: str = ""
    seat_angle: str = "90°"
    thread: str = ""
    thread_depth: str = ""


def build(step: Hole, shop: Workshop) -> Built:
    from ...kernel.boolean import combine
    from ...kernel.surfaces import measure_face, reach
    from ...kernel.sweep import turned_tool

    body = shop.body
    if not step.face.name:
        raise StepFailure("Pick the face the hole starts in.")
    found = body.find(step.face.name)
    surface = measure_face(body.face(found[0]), found[0])
    frames = _frames(step, shop, surface)
    for frame in frames.values():
        _must_start_inside(step, shop, frame, surface, body.face(found[0]))
    thread = shop.thread(step.thread) if step.thread.strip() else None
    if step.diameter.strip():
        radius = shop.value(step.diameter, "Diameter") / 2
    elif thread:
        radius = tap_drill(thread).diameter / 2
    else:
        raise StepFailure("The hole has no diameter yet.")
    if thread and 2 * radius >= thread.diameter:
        raise StepFailure(f"The drill Ø{2 * radius:g} is not smaller than the thread {thread.designation}.")
    length = _length(step, shop, surface, max(reach(body.shape, f.origin, f.normal) for f in frames.values()))
    points, names = _profile(step, shop, radius, length)
    tools = tuple(turned_tool(points, names, frame, f"{step.id}/{key}") for key, frame in frames.items())
    marks: tuple[ThreadMark, ...] = ()
    if thread:
        thread_length = shop.value(step.thread_depth, "Thread depth") if step.thread_depth.strip() else length
        if step.extent == "depth" and thread_length > length:
            raise StepFailure(f"The thread is {thread_length:g} deep but the drill only {length:g}.")
        marks = tuple(ThreadMark(f"{step.id}/{key}/side", thread, thread_length, internal=True) for key in frames)
    return Built(combine("cut", body, tools), Tooling("cut", tools), marks)


def hole_points(sketch: Sketch) -> dict[str, tuple[float, float]]:
    """Where the holes of a sketch are: its points that belong to no line, and the centres of its circles."""
    points = sketch.points()
    held = {p for e in sketch.entities for p in stands_on(e)}
    centres = {e.center for e in sketch.entities if isinstance(e, Circle)}
    return {i: (p.x, p.y) for i, p in points.items() if i not in held or i in centres}


def _frames(step: Hole, shop: Workshop, surface: Surface) -> dict[str, Frame]:
    """Where each hole starts, by the name its faces get."""
    from ...kernel.geometry import along, dot, frame_about, minus, triple

    if step.placement != "sketch":
        return {"0": _frame(step, shop, surface)}
    sketch = shop.sketch(step.sketch)
    offset = shop.value(sketch.plane.offset, "Plane offset", positive=False)
    plane = sketch_frame(sketch, offset, shop.value(sketch.plane.angle, "Plane angle", "angle", positive=False))
    if surface.kind != "plane" or abs(dot(surface.axis, plane.normal)) < 1 - 1e-9:
        raise StepFailure("Holes at sketch points start in a flat face parallel to the sketch’s plane.")
    inward = (-surface.axis[0], -surface.axis[1], -surface.axis[2])
    frames = {}
    for id_, (x, y) in hole_points(sketch).items():
        place = triple(plane.point(x, y))
        place = along(place, surface.axis, dot(minus(surface.origin, place), surface.axis))
        frames[id_] = frame_about(place, inward)
    if not frames:
        raise StepFailure("The sketch has no points yet. Draw a point (or a circle) for every hole.")
    return frames


def _frame(step: Hole, shop: Workshop, surface: Surface) -> Frame:
    """Where the hole starts; the frame's normal points into the part."""
    from ...kernel.geometry import along, dot, frame_about, minus

    if step.placement == "radial":
        if surface.kind != "cylinder":
            raise StepFailure("A radial hole starts in a round face; the picked face is not a cylinder.")
        angle = shop.value(step.angle, "Angle", "angle", positive=False)
        z = shop.value(step.along, "Position along the axis", positive=False) + _datum(step, shop)
        out = (math.cos(angle), math.sin(angle), 0.0)
        return frame_about(along((0.0, 0.0, z), out, surface.radius), (-out[0], -out[1], 0.0))
    if surface.kind != "plane":
        raise StepFailure("This hole starts in a flat face; the picked face is not flat.")
    inward = (-surface.axis[0], -surface.axis[1], -surface.axis[2])
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
    base = frame_about((0.0, 0.0, 0.0), surface.axis)
    origin = along((0.0, 0.0, 0.0), surface.axis, dot(minus(surface.origin, (0.0, 0.0, 0.0)), surface.axis))
    if abs(surface.axis[2]) > 0.999999:
        place = (x, y, origin[2])
    else:
        place = along(along(origin, base.x, x), base.y, y)
    return frame_about(place, inward)


def _datum(step: Hole, shop: Workshop) -> float:
    """Z of the plane that the position is counted from (part zero when none is picked)."""
    from ...kernel.surfaces import measure_face

    if not step.datum.name:
        return 0.0
    index = shop.body.find(step.datum.name)[0]
    return measure_face(shop.body.face(index)).center[2]


def _must_start_inside(step: Hole, shop: Workshop, frame: Frame, surface: Surface, face: Shape) -> None:
    """The middle of a hole on a flat face must lie on that face or inside its outer edge."""
    from ...kernel.surfaces import inside_outline

    if step.placement in ("sketch", "point"):
        if not inside_outline(face, frame.origin):
            x, y, z = frame.origin
            raise StepFailure(
                f"A hole at {x:.6g}, {y:.6g}, {z:.6g} misses the picked face. Move it or pick another face."
            )
        return
    if step.placement == "radial":
        z = frame.origin[2]
        low, high = sorted(surface.origin[2] + s * surface.axis[2] for s in surface.span)
        if not low - 1e-6 <= z <= high + 1e-6:
            raise StepFailure(f"The hole at Z {z:g} misses the picked face, which runs from {low:g} to {high:g}.")
        return
    if surface.circles:
        edge = max(surface.circles, key=lambda c: c.radius)
        away = math.dist(edge.center, frame.origin)
        size = (
            shop.value(step.diameter, "Diameter") / 2
            if step.diameter.strip()
            else tap_drill(shop.thread(step.thread)).diameter / 2
            if step.thread.strip()
            else 0.0
        )
        if away + 1e-9 > edge.radius or (away < 1e-9 and size >= edge.radius - 1e-9):
            raise StepFailure(
                f"The hole Ø{2 * size:g} does not fit its face Ø{2 * edge.radius:g}"
                + (f" (its middle is {away:g} from the face's)" if away > 1e-9 else "")
                + ". Make it smaller or pick another face."
            )


def _length(step: Hole, shop: Workshop, surface: Surface, reach: float) -> float:
    """Depth of the full diameter from the starting face, mm."""
    if step.extent == "depth":
        return shop.value(step.depth, "Depth")
    if step.extent == "wall":
        if step.placement != "radial":
            raise StepFailure("“Through one wall” is for radial holes; use through all or a depth.")
        return surface.radius
    return reach + 1.0


def _profile(step: Hole, shop: Workshop, radius: float, length: float) -> tuple[list[tuple[float, float]], list[str]]:
    """Half section of the tool as (radius, depth) from the top, and the names of its pieces."""
    points, names = [(0.0, 0.0)], ["top"]
    if step.seat != "none":
        seat = shop.value(step.seat_diameter, "Seat diameter") / 2
        if seat <= radius:
            raise StepFailure(f"The seat Ø{2 * seat:g} is not wider than the hole Ø{2 * radius:g}.")
        if step.seat == "counterbore":
            depth = shop.value(step.seat_depth, "Counterbore depth")
            points += [(seat, 0.0), (seat, depth), (radius, depth)]
            names += ["seat_side", "seat"]
        else:
            half = shop.value(step.seat_angle, "Countersink angle", "angle") / 2
            depth = (seat - radius) / math.tan(half)
            points += [(seat, 0.0), (radius, depth)]
            names += ["sink"]
        if depth >= length:
            raise StepFailure(f"The seat is {depth:g} deep, the hole only {length:g}. Depths are from the same face.")
    else:
        points.append((radius, 0.0))
    points.append((radius, length))
    names.append("side")
    if step.extent == "depth" and step.tip.strip():
        half = shop.value(step.tip, "Drill tip", "angle") / 2
        if half < math.pi / 2 - 1e-9:
            points.append((0.0, length + radius / math.tan(half)))
            return points, [*names, "tip"]
    points.append((0.0, length))
    return points, [*names, "floor"]


def claims(step: Hole, view: RouteView) -> list[Claim]:
    if step.placement != "sketch":
        return _claims_of(step, f"{step.id}/0")
    sketch = view.sketches.get(step.sketch)
    tags = [f"{step.id}/{key}" for key in hole_points(sketch)] if sketch is not None else []
    found = [c for tag in tags for c in _claims_of(step, tag)]
    numbered = step.thread if step.thread.strip().startswith("#") else step.diameter
    if len(tags) > 1 and (match := re.fullmatch(r"\s*(#\d+)\s*", numbered)):
        found += claim(f"{match[1]}.count", Count(f"{tags[0]}/side", tuple(f"{t}/side" for t in tags[1:]), even=False))
    return found + (_place_claims(step, sketch) if sketch is not None else [])


def _place_claims(step: Hole, sketch: Sketch) -> list[Claim]:
    """What the sketch's sizes state about where its holes are."""
    if sketch.plane.base != "end" or sketch.plane.angle != "0":
        return []
    holes, found = hole_points(sketch), []
    for d in sketch.dimensions:
        if d.kind in ("along", "across") and d.of[0] == ORIGIN and d.of[1] in holes:
            way: Literal["x", "y"] = "x" if d.kind == "along" else "y"
            found += claim(d.text, Position(f"{step.id}/{d.of[1]}/side", way))
        elif d.kind in ("pitch", "pitch2"):
            repeat = next(r for r in sketch.repeats if r.id == d.of[0])
            i, j = (0, 1) if d.kind == "pitch2" else (1, 0)
            pairs = [(s, Copy(repeat.id, i, j, s).id) for s in repeat.of if s in holes]
            found += [
                c for a, b in pairs for c in claim(d.text, AxesApart(f"{step.id}/{a}/side", f"{step.id}/{b}/side"))
            ]
    return found


def _claims_of(step: Hole, tag: str) -> list[Claim]:
    """What the step states about one hole."""
    face, side = step.face.name, f"{tag}/side"
    ends = (f"{tag}/tip", f"{tag}/floor") if step.extent == "depth" else ()
    found = claim(step.diameter, Diameter(side), *ends)
    if step.thread.strip():
        found += claim(step.thread, ThreadOn(side), *ends)
        found += claim(step.thread_depth, ThreadDepth(side))
    found += [Claim(c.number, "thru", OpenEnds(side)) for c in found if c.key == ""]
    if step.extent == "depth":
        found += claim(step.depth, Depth(side, face), *ends)
        found += claim(step.tip, SeatAngle(f"{tag}/tip"))
    if step.seat == "counterbore":
        found += claim(step.seat_diameter, Diameter(f"{tag}/seat_side"))
        found += claim(step.seat_depth, Depth(f"{tag}/seat_side", face), f"{tag}/seat")
    if step.seat == "countersink":
        found += claim(step.seat_diameter, WidestCircle(f"{tag}/sink"))
        found += claim(step.seat_angle, SeatAngle(f"{tag}/sink"))
    if step.placement == "circle":
        found += claim(step.circle, CircleThrough(side))
    if step.placement in ("circle", "radial"):
        found += claim(step.angle, AxisAngle(side))
    if step.placement == "radial" and step.datum.name:
        found += claim(step.along, AxisFrom(side, step.datum.name))
    return found


def summary(step: Hole, view: RouteView) -> str:
    size = step.thread if step.thread.strip() and not step.thread.startswith("#") else ""
    if step.thread.startswith("#"):
        try:
            thread = view.ledger.reading(int(step.thread[1:].partition(".")[0])).thread
            size = thread.designation if thread else step.thread
        except (LookupError, ValueError, ExpressionError):
            size = step.thread
    size = size or f"Ø{view.text(step.diameter)}"
    how = {"through": "through", "wall": "through one wall", "depth": f"{view.text(step.depth)} deep"}[step.extent]
    return f"{size} {how}" + ("" if step.seat == "none" else f" · {step.seat}")


_SEATED = {"seat": ("counterbore", "countersink")}
KIND = StepKind(
    Hole,
    "Hole",
    "hole",
    (
        Param("face", "Starts in", "face", help="The face the drill enters."),
        Param(
            "placement",
            "Where",
            "choice",
            (
                ("axis", "on the face's axis"),
                ("circle", "on a pitch circle"),
                ("point", "at a point of the face"),
                ("sketch", "at the points of a sketch"),
                ("radial", "radial, into a round face"),
            ),
        ),
        Param("sketch", "Points", "sketch", when={"placement": ("sketch",)}),
        Param("x", "X", "length", when={"placement": ("point",)}),
        Param("y", "Y", "length", when={"placement": ("point",)}),
        Param("circle", "Pitch circle Ø", "length", when={"placement": ("circle",)}),
        Param("along", "Along the axis", "length", when={"placement": ("radial",)}),
        Param("datum", "Counted from", "face", when={"placement": ("radial",)}, help="Empty: from part zero."),
        Param("angle", "Angle", "angle", when={"placement": ("circle", "radial")}),
        Param(
            "thread",
            "Thread",
            "thread",
            help="A designation such as M6x1 - 6H, or a callout. Empty: plain hole.",
        ),
        Param("thread_depth", "Thread depth", "length", help="Empty: as deep as the hole."),
        Param("diameter", "Drill Ø", "length", help="Empty with a thread: the usual tapping drill."),
        Param(
            "extent",
            "How far",
            "choice",
            (("through", "through all"), ("wall", "through one wall"), ("depth", "to a depth")),
        ),
        Param("depth", "Depth", "length", when={"extent": ("depth",)}),
        Param(
            "tip",
            "Drill tip",
            "angle",
            when={"extent": ("depth",)},
            help="Included angle. Empty: flat bottom.",
        ),
        Param(
            "seat",
            "Seat",
            "choice",
            (("none", "none"), ("counterbore", "counterbore"), ("countersink", "countersink")),
        ),
        Param("seat_diameter", "Seat Ø", "length", when=_SEATED),
        Param("seat_depth", "Seat depth", "length", when={"seat": ("counterbore",)}),
        Param("seat_angle", "Seat angle", "angle", when={"seat": ("countersink",)}),
    ),
    build,
    claims,
    summary,
)
