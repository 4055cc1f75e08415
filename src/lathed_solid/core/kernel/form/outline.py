"""Flat outlines: named curves in a frame made into a kernel face."""

from __future__ import annotations

import math
from typing import NamedTuple

from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Transform,
)
from OCP.BRepLib import BRepLib
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int
from OCP.GC import GC_MakeArcOfCircle
from OCP.Geom import Geom_BezierCurve, Geom_BSplineCurve
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Elips, gp_Trsf
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure
from ..ground.geometry import Frame, cross
from ..ground.named import NamedEdge
from ..ground.placing import plane_of, point_in
from ..ground.topology import Edge, Face, Wire

XY = tuple[float, float]


class Segment(NamedTuple):
    """A straight piece."""

    name: str
    start: XY
    end: XY


class ArcSegment(NamedTuple):
    """A circular piece from ``start`` over ``through`` to ``end``."""

    name: str
    start: XY
    through: XY
    end: XY


class FullCircle(NamedTuple):
    name: str
    center: XY
    radius: float


class FullEllipse(NamedTuple):
    """``half`` runs from the centre to the end of one half axis, ``other`` is the length of the other one, mm."""

    name: str
    center: XY
    half: XY
    other: float


class Cubic(NamedTuple):
    """One cubic through its first and last place, drawn towards the two between."""

    name: str
    poles: tuple[XY, XY, XY, XY]

    @property
    def start(self) -> XY:
        return self.poles[0]


class FreeCurve(NamedTuple):
    """A cubic B-spline in the direction of the outline; ``knots`` with their repeats."""

    name: str
    poles: tuple[XY, ...]
    knots: tuple[float, ...]

    @property
    def start(self) -> XY:
        return self.poles[0]


Piece = Segment | ArcSegment | FullCircle | FullEllipse | Cubic | FreeCurve
Loop = tuple[Piece, ...]


class FlatFace(NamedTuple):
    """A face and the edges it was made of, with their names."""

    face: Face
    edges: list[NamedEdge]


def flat_face(outer: Loop, holes: tuple[Loop, ...], frame: Frame) -> FlatFace:
    """One area with holes. Raises KernelFailure when the pieces do not close."""
    edges: list[NamedEdge] = []
    maker = BRepBuilderAPI_MakeFace(plane_of(frame), _wire(outer, frame, edges, reverse=False), True)
    for hole in holes:
        wire = _wire(hole, frame, edges, reverse=False)
        # A hole must run against the outer loop; the kernel decides by orientation, not by place.
        if _signed_area(hole) * _signed_area(outer) > 0:
            wire.Reverse()
        maker.Add(wire)
    if not maker.IsDone():
        raise KernelFailure("The outline does not close to a flat face.")
    face = maker.Face()
    BRepLib.BuildCurves3d_s(face)
    return FlatFace(face, edges)


def moved_flat(flat: FlatFace, transform: gp_Trsf) -> FlatFace:
    """An area elsewhere; its edges keep their names."""
    operation = BRepBuilderAPI_Transform(flat.face, transform, True)
    face = TopoDS.Face(operation.Shape())
    return FlatFace(face, [(TopoDS.Edge(operation.ModifiedShape(e)), n) for e, n in flat.edges])


def _wire(loop: Loop, frame: Frame, edges: list[NamedEdge], reverse: bool) -> Wire:
    maker = BRepBuilderAPI_MakeWire()
    for piece in loop:
        maker.Add(_edge(piece, frame))
        if not maker.IsDone():
            raise KernelFailure(f"The outline breaks at {piece.name}.")
        edges.append((maker.Edge(), piece.name))
    return maker.Wire()


def path_edges(pieces: Loop, frame: Frame) -> list[NamedEdge]:
    """The pieces as kernel edges, in order, with their names."""
    return [(_edge(piece, frame), piece.name) for piece in pieces]


def wire_of(pieces: Loop, frame: Frame) -> tuple[Wire, list[NamedEdge]]:
    """A closed chain of pieces as a wire, and its edges with their names. Raises KernelFailure."""
    edges: list[NamedEdge] = []
    return _wire(pieces, frame, edges, reverse=False), edges


def _edge(piece: Piece, frame: Frame) -> Edge:
    if isinstance(piece, Segment):
        made = BRepBuilderAPI_MakeEdge(point_in(frame, *piece.start), point_in(frame, *piece.end))
    elif isinstance(piece, ArcSegment):
        arc = GC_MakeArcOfCircle(
            point_in(frame, *piece.start), point_in(frame, *piece.through), point_in(frame, *piece.end)
        )
        made = BRepBuilderAPI_MakeEdge(arc.Value())
    elif isinstance(piece, Cubic):
        made = BRepBuilderAPI_MakeEdge(Geom_BezierCurve(_poles(piece.poles, frame)))
    elif isinstance(piece, FreeCurve):
        made = BRepBuilderAPI_MakeEdge(_bspline(piece, frame))
    elif isinstance(piece, FullEllipse):
        made = BRepBuilderAPI_MakeEdge(_ellipse(piece, frame))
    else:
        axes = gp_Ax2(point_in(frame, *piece.center), gp_Dir(*cross(frame.x, frame.y)), gp_Dir(*frame.x))
        made = BRepBuilderAPI_MakeEdge(gp_Circ(axes, piece.radius))
    if not made.IsDone():
        raise KernelFailure(f"{piece.name} has no length.")
    return made.Edge()


def _poles(places: tuple[XY, ...], frame: Frame) -> Array1_gp_Pnt:
    made = Array1_gp_Pnt(1, len(places))
    for k, place in enumerate(places, 1):
        made.SetValue(k, point_in(frame, *place))
    return made


def _bspline(piece: FreeCurve, frame: Frame) -> Geom_BSplineCurve:
    distinct = sorted(set(piece.knots))
    knots, counts = Array1_double(1, len(distinct)), Array1_int(1, len(distinct))
    for k, knot in enumerate(distinct, 1):
        knots.SetValue(k, knot)
        counts.SetValue(k, piece.knots.count(knot))
    return Geom_BSplineCurve(_poles(piece.poles, frame), knots, counts, 3, False)


def _ellipse(piece: FullEllipse, frame: Frame) -> gp_Elips:
    """The kernel wants the longer half axis first."""
    (u, v), long = piece.half, math.hypot(*piece.half)
    if long < piece.other:
        u, v, long, short = -v, u, piece.other, long
    else:
        short = piece.other
    way = tuple(u * a + v * b for a, b in zip(frame.x, frame.y, strict=True))
    return gp_Elips(gp_Ax2(point_in(frame, *piece.center), gp_Dir(*frame.normal), gp_Dir(*way)), long, short)


def _signed_area(loop: Loop) -> float:
    points: list[XY] = []
    for piece in loop:
        if isinstance(piece, FullCircle | FullEllipse):
            return 1.0  # the kernel makes these counter-clockwise
        points.append(piece.start)
        if isinstance(piece, ArcSegment):
            points.append(piece.through)
        elif isinstance(piece, Cubic | FreeCurve):
            points += piece.poles[1:-1]
    return 0.5 * sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True))
