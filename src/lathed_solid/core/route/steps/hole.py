"""Hole: drilled, tapped, counterbored or countersunk, on an axis, at a point of a face, or radial into a round face.

Depths are from the face the hole starts in, as drawings state them: a counterbore does not shorten its hole.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...kernel.ground.topology import Face
from ...names import refers
from ...quantity import ExpressionError
from ...quantity.expression import NoReference
from ...refusal import said
from ..drilling.model import Hole
from ..drilling.places import LevelFaces, must_start_inside, starts
from ..drilling.section import section, sizes
from ..drilling.stating import hole_claims
from ..kinds import RouteView, StepKind
from ..model import Built, Param, StepFailure, ThreadMark, Tooling, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody


def build(step: Hole, shop: Workshop) -> Built:
    from ...kernel.build.sweep import set_elsewhere, turned_tool
    from ...kernel.cut.boolean import combine

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
    from ...kernel.ground.figures import Surface as Figure
    from ...kernel.measure.surfaces import measure_face, reach

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
    from ...kernel.measure.surfaces import reach

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
    from ...kernel.build.sweep import turned_tool
    from ...kernel.cut.boolean import apart, in_order
    from ...kernel.measure.surfaces import reach

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
    from ...kernel.ground.geometry import along
    from ...kernel.measure.surfaces import reach

    n = frame.normal
    far = 1e5
    beyond = along(frame.origin, n, far)
    return far - reach(piece.shape, beyond, (-n[0], -n[1], -n[2]))


def summary(step: Hole, view: RouteView) -> str:
    size = step.thread if step.thread.strip() and not refers(step.thread) else ""
    if refers(step.thread):
        try:
            thread = view.ledger.reading(int(step.thread[1:].partition(".")[0])).thread
            size = thread.designation if thread else step.thread
        except (NoReference, ExpressionError, ValueError):
            size = step.thread
    if not size and step.screw.strip() and not step.diameter.strip():
        size = f"clears {step.screw.strip()}"
    size = size or f"Ø{view.text(step.diameter)}"
    how = {
        "through": "through",
        "next": "to the next hollow",
        "wall": "through one wall",
        "depth": f"{view.text(step.depth)} deep",
    }[step.extent]
    return f"{size} {how}" + ("" if step.seat == "none" else f" · {step.seat}")


_SEATED = {"seat": ("counterbore", "spotface", "countersink", "counterdrill")}
_DEEP = {"seat": ("counterbore", "spotface", "counterdrill")}
_SINKS = {"seat": ("countersink", "counterdrill")}
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
                ("edges", "so far from two edges"),
                ("sketch", "at the points of a sketch"),
                ("edge", "on the axis of a round edge"),
                ("radial", "radial, into a round face"),
            ),
        ),
        Param("sketch", "Points", "sketch", when={"placement": ("sketch",)}),
        Param(
            "only",
            "Only at",
            "text",
            when={"placement": ("sketch",)},
            help="Points of the sketch by name, as p1, p3. Empty: all.",
            more=True,
        ),
        Param("edge", "Round edge", "edges", when={"placement": ("edge",)}, most=1),
        Param(
            "edge", "Counted from", "edges", when={"placement": ("edges",)}, help="Two straight edges of it.", most=2
        ),
        Param("x", "X", "length", when={"placement": ("point",)}),
        Param("y", "Y", "length", when={"placement": ("point",)}),
        Param("x", "From the first", "length", when={"placement": ("edges",)}),
        Param("y", "From the second", "length", when={"placement": ("edges",)}),
        Param(
            "heading",
            "Drilled",
            "choice",
            (("square", "square to the face"), ("z", "along Z"), ("x", "along X"), ("y", "along Y")),
            when={"placement": ("point",)},
            help="Along an axis into any face: a slant, a cone, a ball. Its place is told along the two other axes.",
            more=True,
        ),
        Param(
            "counted",
            "X, Y counted",
            "choice",
            (("face", "as the face is seen"), ("part", "along the part’s X and Y")),
            when={"placement": ("point",), "heading": ("square",)},
            more=True,
        ),
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
        Param("screw", "Clears screw", "text", help="M6 or 1/4: clearance, and seats without sizes, from the tables."),
        Param(
            "fit",
            "Fit",
            "choice",
            (("fine", "close (fine)"), ("medium", "normal (medium)"), ("coarse", "loose (coarse)")),
            more=True,
        ),
        Param(
            "diameter", "Drill Ø", "length", help="Empty: the tapping drill of the thread, or the screw's clearance."
        ),
        Param(
            "extent",
            "How far",
            "choice",
            (
                ("through", "through all"),
                ("next", "to the next hollow"),
                ("wall", "through one wall"),
                ("depth", "to a depth"),
            ),
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
            (
                ("none", "none"),
                ("counterbore", "counterbore"),
                ("spotface", "spotface"),
                ("countersink", "countersink"),
                ("counterdrill", "counterdrill"),
            ),
        ),
        Param("seat_diameter", "Seat Ø", "length", when=_SEATED),
        Param("seat_depth", "Seat depth", "length", when=_DEEP),
        Param("seat_angle", "Seat angle", "angle", when=_SINKS, help="Included angle: 82, 90, 100 or any other."),
        Param(
            "stages",
            "Stepped",
            "text",
            help="Wider parts, widest first: Ø12 x 5, Ø9 x 14 (depths from the face).",
            more=True,
            formulas=True,
        ),
    ),
    build,
    hole_claims,
    summary,
    repeatable=True,
)
