"""The outline of a flat part: the outer edge of the larger of its two ends along Z."""

from __future__ import annotations

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_Orientation

from ...tolerance import LEVEL, ONE_PLACE
from ..ground.figures import Surface
from ..ground.named import NamedBody
from ..ground.topology import Edge
from .pieces import XY, FlatOutline, Piece
from .surfaces import measure_faces


def flat_outline(body: NamedBody) -> FlatOutline | None:
    """Lines and arcs in order round the end; None without two ends, or with an edge of another kind."""
    ends = [s for s in measure_faces(body) if s.kind == "plane" and abs(s.axis[2]) > 1 - LEVEL]
    if not ends:
        return None
    low, high = min(s.origin[2] for s in ends), max(s.origin[2] for s in ends)
    outer = [s for s in ends if _is_at(s, low, -1) or _is_at(s, high, 1)]
    if high - low < ONE_PLACE or not outer:
        return None
    largest = max(outer, key=lambda s: s.area)
    face = body.face(largest.index)
    walk, pieces = BRepTools_WireExplorer(BRepTools.OuterWire_s(face), face), []
    while walk.More():
        piece = _piece(walk.Current(), walk.Orientation() == TopAbs_Orientation.TopAbs_REVERSED, largest.index)
        if piece is None:
            return None
        pieces.append(piece)
        walk.Next()
    return FlatOutline(tuple(pieces), low, high) if pieces else None


def _is_at(s: Surface, z: float, way: int) -> bool:
    return abs(s.origin[2] - z) < ONE_PLACE and s.axis[2] * way > 0


def _piece(edge: Edge, reversed_: bool, face: int) -> Piece | None:
    if BRep_Tool.Degenerated_s(edge):
        return None
    curve = BRepAdaptor_Curve(edge)
    start, end = (_flat(curve.Value(t)) for t in (curve.FirstParameter(), curve.LastParameter()))
    if reversed_:
        start, end = end, start
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        return Piece(start, end, face)
    if curve.GetType() != GeomAbs_CurveType.GeomAbs_Circle:
        return None
    circle = curve.Circle()
    upward = circle.Axis().Direction().Z() > 0
    return Piece(start, end, face, _flat(circle.Location()), back=upward == reversed_)


def _flat(p: gp_Pnt) -> XY:
    return p.X(), p.Y()
