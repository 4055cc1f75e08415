"""Surfaces of a body carried on past their edges, and places on it: where a sweep ends."""

from __future__ import annotations

import math

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.TopoDS import TopoDS

from .check import KernelFailure
from .figures import Vector
from .geometry import Frame, triple
from .named import NamedBody
from .topology import Shape

#: How far a surface is carried on, mm.
FAR = 1e4


def carried_on(face: Shape) -> Shape:
    """A face of the same surface without its edges. Raises KernelFailure for free surfaces."""
    adaptor = BRepAdaptor_Surface(face)
    kind = adaptor.GetType()
    if kind == GeomAbs_SurfaceType.GeomAbs_Plane:
        return BRepBuilderAPI_MakeFace(adaptor.Plane(), -FAR, FAR, -FAR, FAR).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Cylinder:
        return BRepBuilderAPI_MakeFace(adaptor.Cylinder(), 0.0, 2 * math.pi, -FAR, FAR).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Sphere:
        return BRepBuilderAPI_MakeFace(adaptor.Sphere()).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Torus:
        return BRepBuilderAPI_MakeFace(adaptor.Torus()).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Cone:
        cone = adaptor.Cone()
        apex = -cone.RefRadius() / math.sin(cone.SemiAngle())
        low, high = (apex, FAR) if apex < 0 else (-FAR, apex)
        return BRepBuilderAPI_MakeFace(cone, 0.0, 2 * math.pi, low, high).Face()
    raise KernelFailure("A sweep can run to a flat or round face, not to a free one. Use a depth instead.")


def wide_plane(frame: Frame) -> Shape:
    """A flat face far wider than any part."""
    return BRepBuilderAPI_MakeFace(frame.plane(), -FAR, FAR, -FAR, FAR).Face()


def corner(body: NamedBody, *references: str) -> Vector:
    """The place where all the named faces meet. Raises LostReference."""
    return triple(BRep_Tool.Pnt_s(TopoDS.Vertex(body.vertices_where(*references)[0])))
