"""The outline of a flat part: the outer edge of the larger of its two ends."""

from __future__ import annotations

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_Orientation

from ...tolerance import LEVEL, ONE_PLACE
from ..ground.figures import Surface, Vector
from ..ground.geometry import WORLD, Frame, dot, minus
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.topology import Edge
from .pieces import XY, FlatOutline, Piece
from .surfaces import measure_faces


def flat_outline(body: NamedBody, frame: Frame = WORLD) -> FlatOutline | None:
    """Lines and arcs in order round an end square to the normal of ``frame``, in its coordinates; None without two
    ends, or with an edge of another kind.
    """
    way = frame.normal
    ends = [s for s in measure_faces(body) if s.kind == "plane" and abs(dot(s.axis, way)) > 1 - LEVEL]
    if not ends:
        return None
    heights = [dot(minus(s.origin, frame.origin), way) for s in ends]
    low, high = min(heights), max(heights)
    outer = [
        s
        for s, h in zip(ends, heights, strict=True)
        if _is_outer(h - low, s, way, -1) or _is_outer(h - high, s, way, 1)
    ]
    if high - low < ONE_PLACE or not outer:
        return None
    largest = max(outer, key=lambda s: s.area)
    face = body.face(largest.index)
    walk, pieces = BRepTools_WireExplorer(BRepTools.OuterWire_s(face), face), []
    while walk.More():
        back = walk.Orientation() == TopAbs_Orientation.TopAbs_REVERSED
        piece = _piece(walk.Current(), back, largest.index, frame)
        if piece is None:
            return None
        pieces.append(piece)
        walk.Next()
    return FlatOutline(tuple(pieces), low, high, frame) if pieces else None


def _is_outer(off: float, s: Surface, way: Vector, side: int) -> bool:
    return abs(off) < ONE_PLACE and dot(s.axis, way) * side > 0


def _piece(edge: Edge, reversed_: bool, face: int, frame: Frame) -> Piece | None:
    if BRep_Tool.Degenerated_s(edge):
        return None
    curve = BRepAdaptor_Curve(edge)
    start, end = (_flat(curve.Value(t), frame) for t in (curve.FirstParameter(), curve.LastParameter()))
    if reversed_:
        start, end = end, start
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        return Piece(start, end, face)
    if curve.GetType() != GeomAbs_CurveType.GeomAbs_Circle:
        return None
    circle = curve.Circle()
    upward = dot(triple(circle.Axis().Direction()), frame.normal) > 0
    return Piece(start, end, face, _flat(circle.Location(), frame), back=upward == reversed_)


def _flat(p: gp_Pnt, frame: Frame) -> XY:
    return frame.coordinates(triple(p))[:2]
