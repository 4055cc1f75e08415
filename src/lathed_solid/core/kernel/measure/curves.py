"""Edges of a solid as plain figures: straight ones, places along them."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopoDS import TopoDS

from ..ground.figures import Vector
from ..ground.geometry import unit
from ..ground.placing import triple
from ..ground.topology import Edge


def straight_edge(edge: Edge) -> tuple[Vector, Vector] | None:
    """A place on a straight edge and its unit direction; None for other curves."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    if curve.GetType() != GeomAbs_CurveType.GeomAbs_Line:
        return None
    line = curve.Line()
    return triple(curve.Value(curve.FirstParameter())), triple(line.Direction())


def length_of(edge: Edge) -> float:
    """The length of an edge, mm."""
    return float(GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(TopoDS.Edge(edge))))


def on_edge(edge: Edge, part: float) -> tuple[Vector, Vector]:
    """The place ``part`` (0 to 1, by length) along an edge and the unit direction there."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    length = GCPnts_AbscissaPoint.Length_s(curve)
    found = GCPnts_AbscissaPoint(curve, length * part, curve.FirstParameter())
    place, way = gp_Pnt(), gp_Vec()
    curve.D1(found.Parameter(), place, way)
    return triple(place), unit(triple(way))


def along_path(wire_edges: Sequence[Edge], count: int, closed: bool) -> list[tuple[Vector, Vector]]:
    """``count`` places at equal steps along edges that follow each other, ends included unless it closes."""
    lengths = [GCPnts_AbscissaPoint.Length_s(BRepAdaptor_Curve(TopoDS.Edge(e))) for e in wire_edges]
    total = sum(lengths)
    found = []
    for k in range(count):
        at = total * k / (count if closed else max(1, count - 1))
        for edge, length in zip(wire_edges, lengths, strict=True):
            if at <= length + 1e-9:
                found.append(on_edge(edge, min(1.0, at / length)))
                break
            at -= length
    return found


def places_on(edge: Edge, count: int) -> list[Vector]:
    """``count`` places along an edge at equal steps of its parameter, in the edge's own sense."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    a, b = curve.FirstParameter(), curve.LastParameter()
    found = [triple(curve.Value(a + (b - a) * k / (count - 1))) for k in range(count)]
    return found[::-1] if edge.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else found
