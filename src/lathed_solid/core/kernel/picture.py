"""Shapes made ready to be shown: triangles, and the bytes that travel between processes."""

from __future__ import annotations

import io

from OCP.BinTools import BinTools
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.IMeshTools import IMeshTools_MeshAlgoType, IMeshTools_Parameters
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape

from ..tolerance import MESH_ANGULAR, MESH_LINEAR
from .topology import Shape, compound_of, faces


def mesh(shape: Shape, deflection: float = MESH_LINEAR, angle: float = MESH_ANGULAR) -> None:
    """Triangulate in place; ``deflection`` mm, ``angle`` radians. Also marks which edges are smooth.

    Of the kernel's two methods the newer one takes a quarter of the time on flat faces with many holes, but leaves some
    thread flanks bare; so it does the flat faces and the older one the rest.
    """
    BRepLib.EncodeRegularity_s(shape, 1e-4)
    bare = [f for f in faces(shape) if BRep_Tool.Triangulation_s(f, TopLoc_Location()) is None]
    flat = [f for f in bare if BRepAdaptor_Surface(f).GetType() == GeomAbs_SurfaceType.GeomAbs_Plane]
    how = IMeshTools_Parameters()
    how.Deflection, how.Angle, how.InParallel = deflection, angle, True
    how.MeshAlgo = IMeshTools_MeshAlgoType.IMeshTools_MeshAlgoType_Delabella
    BRepMesh_IncrementalMesh(compound_of(flat), how)
    BRepMesh_IncrementalMesh(compound_of(bare), deflection, False, angle, True)


def to_bytes(shape: Shape) -> bytes:
    """The shape with its triangles; face order is kept."""
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream)
    return stream.getvalue()


def from_bytes(data: bytes) -> Shape:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape
