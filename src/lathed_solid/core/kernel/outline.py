"""Flat outlines: named curves in a frame made into a kernel face."""

from __future__ import annotations

import math
from typing import NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepLib import BRepLib
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir

from .check import KernelFailure
from .geometry import Frame
from .named import Pair
from .topology import Shape

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


Piece = Segment | ArcSegment | FullCircle
Loop = tuple[Piece, ...]


class FlatFace(NamedTuple):
    """A face and the edges it was made of, with their names."""

    face: Shape
    edges: list[Pair]


def flat_face(outer: Loop, holes: tuple[Loop, ...], frame: Frame) -> FlatFace:
    """One area with holes. Raises KernelFailure when the pieces do not close."""
    edges: list[Pair] = []
    maker = BRepBuilderAPI_MakeFace(frame.plane(), _wire(outer, frame, edges, reverse=False), True)
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


def _wire(loop: Loop, frame: Frame, edges: list[Pair], reverse: bool) -> Shape:
    maker = BRepBuilderAPI_MakeWire()
    for piece in loop:
        maker.Add(_edge(piece, frame))
        if not maker.IsDone():
            raise KernelFailure(f"The outline breaks at {piece.name}.")
        edges.append((maker.Edge(), piece.name))
    return maker.Wire()


def _edge(piece: Piece, frame: Frame) -> Shape:
    if isinstance(piece, Segment):
        made = BRepBuilderAPI_MakeEdge(frame.point(*piece.start), frame.point(*piece.end))
    elif isinstance(piece, ArcSegment):
        arc = GC_MakeArcOfCircle(frame.point(*piece.start), frame.point(*piece.through), frame.point(*piece.end))
        made = BRepBuilderAPI_MakeEdge(arc.Value())
    else:
        axes = gp_Ax2(frame.point(*piece.center), gp_Dir(*frame.normal), gp_Dir(*frame.x))
        made = BRepBuilderAPI_MakeEdge(gp_Circ(axes, piece.radius))
    if not made.IsDone():
        raise KernelFailure(f"{piece.name} has no length.")
    return made.Edge()


def _signed_area(loop: Loop) -> float:
    if isinstance(loop[0], FullCircle):
        return math.pi * loop[0].radius ** 2
    points: list[XY] = []
    for piece in loop:
        assert not isinstance(piece, FullCircle)
        points.append(piece.start)
        if isinstance(piece, ArcSegment):
            points.append(piece.through)
    return 0.5 * sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True))
