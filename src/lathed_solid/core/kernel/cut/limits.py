"""Surfaces of a body carried on past their edges, and places on it: where a sweep ends."""

from __future__ import annotations

import math

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Vec
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure
from ..ground.figures import Vector
from ..ground.geometry import Frame
from ..ground.named import NamedBody
from ..ground.placing import plane_of, triple
from ..ground.topology import Face
from ..measure.surfaces import measure_face

#: How far a surface is carried on, mm.
FAR = 1e4


def carried_on(face: Face, into: float = 0.0) -> Face:
    """A face of the same surface without its edges, set off ``into`` the material by so much (mm; out of it when
    negative). Raises KernelFailure for free surfaces.
    """
    adaptor, common = BRepAdaptor_Surface(face), measure_face(face)
    kind = adaptor.GetType()
    grow = into if common.hollow else -into  # a bore grows into the material, a shaft shrinks
    if kind == GeomAbs_SurfaceType.GeomAbs_Plane:
        plane = adaptor.Plane()
        plane.Translate(gp_Vec(*(-into * a for a in common.axis)))
        return BRepBuilderAPI_MakeFace(plane, -FAR, FAR, -FAR, FAR).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Cylinder:
        cylinder = adaptor.Cylinder()
        cylinder.SetRadius(_still_there(cylinder.Radius() + grow))
        return BRepBuilderAPI_MakeFace(cylinder, 0.0, 2 * math.pi, -FAR, FAR).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Sphere:
        ball = adaptor.Sphere()
        ball.SetRadius(_still_there(ball.Radius() + grow))
        return BRepBuilderAPI_MakeFace(ball).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Torus:
        ring = adaptor.Torus()
        ring.SetMinorRadius(_still_there(ring.MinorRadius() + grow))
        return BRepBuilderAPI_MakeFace(ring).Face()
    if kind == GeomAbs_SurfaceType.GeomAbs_Cone:
        cone = adaptor.Cone()
        # Set off square to itself, a cone is the same cone further along its axis.
        along_it = -grow / math.sin(cone.SemiAngle())
        cone.Translate(gp_Vec(cone.Axis().Direction()).Multiplied(along_it))
        apex = -cone.RefRadius() / math.sin(cone.SemiAngle())
        low, high = (apex, FAR) if apex < 0 else (-FAR, apex)
        return BRepBuilderAPI_MakeFace(cone, 0.0, 2 * math.pi, low, high).Face()
    raise KernelFailure("A sweep can run to a flat or round face, not to a free one. Use a depth instead.")


def _still_there(radius: float) -> float:
    if radius <= 0:
        raise KernelFailure("So far past the round face there is nothing left of it. Use a smaller distance.")
    return radius


def wide_plane(frame: Frame) -> Face:
    """A flat face far wider than any part."""
    return BRepBuilderAPI_MakeFace(plane_of(frame), -FAR, FAR, -FAR, FAR).Face()


def corner(body: NamedBody, *references: str) -> Vector:
    """The place where all the named faces meet. Raises LostReference."""
    return triple(BRep_Tool.Pnt_s(TopoDS.Vertex(body.vertices_where(*references)[0])))
