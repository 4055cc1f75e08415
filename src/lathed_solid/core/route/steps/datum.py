"""Planes, axes and points: places that later steps lie on, mirror about or turn about. They add no material."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import EdgeRef, FaceRef, Param, StepBase


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
    no_claims,
    point_summary,
    is_datum=True,
)
