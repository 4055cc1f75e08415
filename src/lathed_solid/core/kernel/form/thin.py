"""Thin walls: an outline, closed or open, thickened in its own plane."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffset
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS, TopoDS_Vertex

from ...refusal import said
from ..ground.check import KernelFailure
from ..ground.geometry import Frame
from ..ground.named import NamedEdge
from ..ground.placing import plane_of
from ..ground.topology import EDGE, Edge, Wire, edges_of, items, shape_list, wires_of
from .outline import FlatFace, Loop, wire_of


def thin_face(pieces: Loop, frame: Frame, left: float, right: float, closed: bool) -> FlatFace:
    """The strip ``left`` and ``right`` mm to either side of an open chain, seen against the plane's normal;
    ``left`` outside and ``right`` inside a closed one.

    Edges keep the pieces' names; those of the second side are ``<name>.r``, the ends of an open strip ``cap1`` and
    ``cap2``. Raises KernelFailure.
    """
    wire, edges = wire_of(pieces, frame)
    # The kernel counts outward, which on an open chain is to the right of its run.
    sides = [_beside(wire, edges, d, frame, closed) for d in ((left, -right) if closed else (-left, right))]
    (a, named_a), (b, named_b) = sides
    named: list[NamedEdge] = [*named_a, *((e, f"{n}.r") for e, n in named_b)]
    if closed:
        outer, inner = sorted((a, b), key=lambda w: -_area(w, frame))
        maker = BRepBuilderAPI_MakeFace(plane_of(frame), outer, True)
        hole = BRepBuilderAPI_MakeFace(plane_of(frame), inner, True).Face()
        inner = BRepTools.OuterWire_s(hole)
        maker.Add(TopoDS.Wire(inner.Reversed()))
        if not maker.IsDone():
            raise KernelFailure("The wall does not close.")
        return FlatFace(maker.Face(), named)
    joined, caps = BRepBuilderAPI_MakeWire(), _caps(a, b)
    joined.Add(shape_list([*edges_of(a), caps[0], *edges_of(b), caps[1]]))
    if not joined.IsDone():
        raise KernelFailure("The wall does not close.")
    maker = BRepBuilderAPI_MakeFace(plane_of(frame), joined.Wire(), True)
    return FlatFace(maker.Face(), [*named, (caps[0], "cap1"), (caps[1], "cap2")])


def _beside(
    wire: Wire, edges: list[NamedEdge], distance: float, frame: Frame, closed: bool
) -> tuple[Wire, list[NamedEdge]]:
    """The chain moved sideways by ``distance``, and its edges with the names of those they came from."""
    if abs(distance) < 1e-9:
        return wire, edges
    maker = BRepOffsetAPI_MakeOffset()
    if closed:
        spine = BRepBuilderAPI_MakeFace(plane_of(frame), wire, True).Face()
        maker.Init(spine, GeomAbs_JoinType.GeomAbs_Intersection, False)
    else:
        maker.Init(GeomAbs_JoinType.GeomAbs_Intersection, True)
        maker.AddWire(wire)
    maker.Perform(distance)
    if not maker.IsDone():
        raise KernelFailure(f"The outline cannot be thickened by {said(abs(distance))}: it is too narrow there.")
    found = wires_of(maker.Shape())
    if len(found) != 1:
        raise KernelFailure(f"Thickened by {said(abs(distance))} the outline falls apart: it is too narrow there.")
    named = [(TopoDS.Edge(e), n) for edge, n in edges for e in items(maker.Generated(edge)) if e.ShapeType() == EDGE]
    return found[0], named


def _area(wire: Wire, frame: Frame) -> float:
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps

    found = GProp_GProps()
    BRepGProp.SurfaceProperties_s(BRepBuilderAPI_MakeFace(plane_of(frame), TopoDS.Wire(wire), True).Face(), found)
    return abs(float(found.Mass()))


def _caps(a: Wire, b: Wire) -> tuple[Edge, Edge]:
    """Straight edges between the ends of two open chains."""
    from OCP.BRep import BRep_Tool

    ends = []
    for wire in (a, b):
        first, last = TopoDS_Vertex(), TopoDS_Vertex()
        TopExp.Vertices_s(TopoDS.Wire(wire), first, last)
        ends.append((first, last))
    (a0, a1), (b0, b1) = ends
    p = BRep_Tool.Pnt_s(a1)
    if p.Distance(BRep_Tool.Pnt_s(b0)) < p.Distance(BRep_Tool.Pnt_s(b1)):
        b0, b1 = b1, b0
    return BRepBuilderAPI_MakeEdge(a1, b1).Edge(), BRepBuilderAPI_MakeEdge(b0, a0).Edge()
