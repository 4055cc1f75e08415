"""Planes, axes and points: places that later steps lie on, mirror about or turn about. They add no material."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ...kernel.ground.topology import Edge
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, EdgeRef, FaceRef, Param, StepBase, StepFailure, Unfinished
from ..planes import MAIN_NORMALS
from ..workshop import Workshop
from .edges import picks

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector
    from ...kernel.ground.geometry import Frame


class DatumPlane(StepBase, frozen=True, kw_only=True, tag="plane"):
    """``offset`` from a main plane or a face, ``midway`` between two faces, ``leaned`` by an angle about an edge of a
    face, through three ``corners``, ``square`` to an edge part of the way along it, ``tangent`` to a round face.
    """

    by: Literal["offset", "midway", "leaned", "corners", "square", "tangent"] = "offset"
    of: Literal["face", "xy", "xz", "yz"] = "face"
    face: FaceRef = FaceRef("")
    other: FaceRef = FaceRef("")
    offset: Formula = "0"
    edge: tuple[EdgeRef, ...] = ()
    angle: Formula = "45°"
    corners: tuple[FaceRef, ...] = ()
    part: Formula = "0.5"


class DatumAxis(StepBase, frozen=True, kw_only=True, tag="axis"):
    """The axis of a ``round`` face, the line where two flat faces or planes ``cross``, or a straight ``edge``."""

    by: Literal["round", "cross", "edge"] = "round"
    face: FaceRef = FaceRef("")
    other: FaceRef = FaceRef("")
    edge: tuple[EdgeRef, ...] = ()


class DatumPoint(StepBase, frozen=True, kw_only=True, tag="point-mark"):
    """Where three faces meet (``corner``), the ``centre`` of a round edge, or a place by ``numbers``."""

    by: Literal["corner", "centre", "numbers"] = "corner"
    corners: tuple[FaceRef, ...] = ()
    edge: tuple[EdgeRef, ...] = ()
    x: Formula = "0"
    y: Formula = "0"
    z: Formula = "0"


def _edge(step: DatumPlane | DatumAxis | DatumPoint, shop: Workshop) -> Edge:
    from ...kernel.cut.edges import picked

    if not step.edge:
        raise Unfinished("Pick an edge.")
    return picked(shop.body, picks(step.edge)[0])[0]


def _marked(step: StepBase, frame: Frame, shop: Workshop) -> Built:
    return Built(shop.current, datums=((step.id, frame),))


def build_plane(step: DatumPlane, shop: Workshop) -> Built:
    from ...kernel.ground.geometry import flat_frame

    origin, normal = _plane(step, shop)
    frame = flat_frame(origin, normal)
    return _marked(step, frame if step.by != "square" else frame._replace(origin=origin), shop)


def _plane(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    from ...kernel.ground.geometry import along, cross, dot, minus, norm, unit

    if step.by == "offset":
        normal = shop.plane(step.face).normal if step.of == "face" else MAIN_NORMALS[step.of]
        start = shop.plane(step.face).origin if step.of == "face" else (0.0, 0.0, 0.0)
        return along(start, normal, shop.value(step.offset, "Offset", positive=False)), normal
    if step.by == "midway":
        first, second = shop.plane(step.face), shop.plane(step.other, "the second face")
        if abs(dot(first.normal, second.normal)) < 1 - 1e-9:
            raise StepFailure("The two faces are not parallel, so nothing lies midway between them.")
        return along(
            first.origin, first.normal, dot(minus(second.origin, first.origin), first.normal) / 2
        ), first.normal
    if step.by == "leaned":
        return _leaned(step, shop)
    if step.by == "corners":
        return _through_corners(step, shop)
    if step.by == "square":
        from ...kernel.measure.curves import on_edge

        return on_edge(_edge(step, shop), shop.value(step.part, "Part of the way", "number", positive=False))
    origin, way = shop.axis(step.face, "the round face it touches")
    surface = shop.surface(step.face)
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    hint = (1.0, 0.0, 0.0) if abs(way[0]) < 0.9 else (0.0, 1.0, 0.0)
    x = unit(minus(hint, along((0.0, 0.0, 0.0), way, dot(hint, way))))
    y = cross(way, x)
    out = along(along((0.0, 0.0, 0.0), x, math.cos(angle)), y, math.sin(angle))
    if surface.kind != "cylinder" or norm(out) < 0.5:
        raise StepFailure("A touching plane needs a cylinder.")
    return along(origin, out, surface.radius), out


def _leaned(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    """The plane of a face turned about one of its straight edges; a positive angle leans it out of the material."""
    from ...kernel.ground.geometry import along, cross, dot, minus
    from ...kernel.measure.curves import straight_edge

    found = straight_edge(_edge(step, shop))
    if found is None:
        raise StepFailure("A plane leans about a straight edge; the picked one is not straight.")
    flat = shop.plane(step.face, "the face it leans from")
    place, way = found
    if abs(dot(way, flat.normal)) > 1e-9:
        raise StepFailure("The edge does not lie in the face the plane leans from.")
    # The same sense on every edge: the way along the edge goes round the face.
    middle = shop.surface(step.face).center if step.face.name.partition("/")[0] not in shop.datums else flat.origin
    if dot(cross(way, minus(middle, place)), flat.normal) < 0:
        way = (-way[0], -way[1], -way[2])
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    across = cross(way, flat.normal)
    c, s = math.cos(angle), math.sin(angle)
    return place, along(along((0.0, 0.0, 0.0), flat.normal, c), across, s)


def _through_corners(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    """Three corners, each told by three faces that meet there: nine faces in all."""
    from ...kernel.cut.limits import corner
    from ...kernel.ground.geometry import cross, minus, norm, unit

    names = [f.name for f in step.corners]
    if len(names) != 9:
        raise Unfinished(f"Pick three faces for each of the three corners, nine in all; {len(names)} are picked.")
    a, b, c = (corner(shop.body, *names[k : k + 3]) for k in (0, 3, 6))
    normal = cross(minus(b, a), minus(c, a))
    if norm(normal) < 1e-9:
        raise StepFailure("The three corners lie in one line.")
    return a, unit(normal)


def build_axis(step: DatumAxis, shop: Workshop) -> Built:
    from ...kernel.ground.geometry import frame_about

    return _marked(step, frame_about(*_axis(step, shop)), shop)


def _axis(step: DatumAxis, shop: Workshop) -> tuple[Vector, Vector]:
    from ...kernel.ground.geometry import along, cross, dot, norm, unit
    from ...kernel.measure.curves import straight_edge

    if step.by == "round":
        return shop.axis(step.face)
    if step.by == "edge":
        found = straight_edge(_edge(step, shop))
        if found is None:
            raise StepFailure("An axis needs a straight edge.")
        return found
    a, b = shop.plane(step.face), shop.plane(step.other, "the second face")
    way = cross(a.normal, b.normal)
    size = norm(way)
    if size < 1e-9:
        raise StepFailure("The two faces are parallel, so they do not cross.")
    da, db = dot(a.origin, a.normal), dot(b.origin, b.normal)
    place = along(along((0.0, 0.0, 0.0), cross(b.normal, way), da / size**2), cross(way, a.normal), db / size**2)
    return place, unit(way)


def build_point(step: DatumPoint, shop: Workshop) -> Built:
    from ...kernel.cut.limits import corner
    from ...kernel.ground.geometry import frame_about
    from ...kernel.measure.surfaces import circle_of

    way = (0.0, 0.0, 1.0)
    if step.by == "numbers":
        x, y, z = (shop.value(t, n, positive=False) for t, n in ((step.x, "X"), (step.y, "Y"), (step.z, "Z")))
        place = (x, y, z)
    elif step.by == "corner":
        if len(step.corners) < 3:
            raise Unfinished("Pick the three faces that meet there.")
        place = corner(shop.body, *(f.name for f in step.corners))
    else:
        circle = circle_of(_edge(step, shop))
        if circle is None:
            raise StepFailure("Only a round edge has a centre.")
        place, way = circle.center, circle.axis
    return _marked(step, frame_about(place, way), shop)


def no_claims(step: StepBase, view: RouteView) -> list[Claim]:
    return []


def plane_summary(step: DatumPlane, view: RouteView) -> str:
    from_ = {"xy": "across Z", "xz": "across Y", "yz": "across X", "face": step.face.was or "a face"}[step.of]
    return {
        "offset": f"{view.text(step.offset)} off {from_}",
        "midway": "midway between two faces",
        "leaned": f"{view.text(step.angle, 'angle')} about an edge",
        "corners": "through three corners",
        "square": "square to an edge",
        "tangent": "touching a round face",
    }[step.by]


def axis_summary(step: DatumAxis, view: RouteView) -> str:
    return {"round": "of a round face", "cross": "where two faces cross", "edge": "along an edge"}[step.by]


def point_summary(step: DatumPoint, view: RouteView) -> str:
    return {"corner": "where three faces meet", "centre": "centre of a round edge", "numbers": "by numbers"}[step.by]


PLANE = StepKind(
    DatumPlane,
    "Plane",
    "plane",
    (
        Param(
            "by",
            "Lies",
            "choice",
            (
                ("offset", "off a face or main plane"),
                ("midway", "midway between two faces"),
                ("leaned", "at an angle about an edge"),
                ("corners", "through three corners"),
                ("square", "square to an edge"),
                ("tangent", "touching a round face"),
            ),
        ),
        Param(
            "of",
            "From",
            "choice",
            (
                ("face", "a face"),
                ("xy", "the plane across Z"),
                ("xz", "the plane across Y"),
                ("yz", "the plane across X"),
            ),
            when={"by": ("offset",)},
        ),
        Param("face", "Face", "face", when={"by": ("offset", "midway", "leaned", "tangent")}),
        Param("other", "Second face", "face", when={"by": ("midway",)}),
        Param("offset", "Offset", "length", when={"by": ("offset",)}),
        Param("edge", "Edge", "edges", when={"by": ("leaned", "square")}),
        Param("angle", "Angle", "angle", when={"by": ("leaned", "tangent")}),
        Param(
            "corners", "Corners", "faces", when={"by": ("corners",)}, help="Three faces for each corner, nine in all."
        ),
        Param(
            "part",
            "Part of the way",
            "number",
            when={"by": ("square",)},
            help="0 at one end of the edge, 1 at the other.",
        ),
    ),
    build_plane,
    no_claims,
    plane_summary,
    is_datum=True,
)
AXIS = StepKind(
    DatumAxis,
    "Axis",
    "axis",
    (
        Param(
            "by",
            "Is",
            "choice",
            (("round", "of a round face"), ("cross", "where two faces cross"), ("edge", "a straight edge")),
        ),
        Param("face", "Face", "face", when={"by": ("round", "cross")}),
        Param("other", "Second face", "face", when={"by": ("cross",)}),
        Param("edge", "Edge", "edges", when={"by": ("edge",)}),
    ),
    build_axis,
    no_claims,
    axis_summary,
    is_datum=True,
)
POINT = StepKind(
    DatumPoint,
    "Point",
    "punch",
    (
        Param(
            "by",
            "Is",
            "choice",
            (("corner", "where three faces meet"), ("centre", "a round edge's centre"), ("numbers", "by numbers")),
        ),
        Param("corners", "Faces", "faces", when={"by": ("corner",)}),
        Param("edge", "Edge", "edges", when={"by": ("centre",)}),
        Param("x", "X", "length", when={"by": ("numbers",)}),
        Param("y", "Y", "length", when={"by": ("numbers",)}),
        Param("z", "Z", "length", when={"by": ("numbers",)}),
    ),
    build_point,
    no_claims,
    point_summary,
    is_datum=True,
)
