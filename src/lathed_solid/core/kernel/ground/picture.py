"""Shapes made ready to be shown: triangles, and the bytes that travel between processes."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any, cast

import msgspec
from OCP.BinTools import BinTools
from OCP.BRep import BRep_TEdge, BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepGProp import BRepGProp
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from OCP.IMeshTools import IMeshTools_MeshAlgoType, IMeshTools_Parameters
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape

from ...abreast import is_forked
from ...tolerance import MESH_ANGULAR, MESH_LINEAR
from .figures import MassProperties
from .topology import EDGE, Face, Shape, compound_of, edges_of, faces, shape_map


def mesh(shape: Shape, deflection: float = MESH_LINEAR, angle: float = MESH_ANGULAR) -> None:
    """Triangulate in place; ``deflection`` mm, ``angle`` radians. Also marks which edges are smooth.

    Of the kernel's two methods the newer one takes a quarter of the time on flat faces with many holes, but leaves some
    thread flanks bare; so it does the flat faces and the older one the rest.
    """
    BRepLib.EncodeRegularity_s(shape, 1e-4)
    bare = [f for f in faces(shape) if not _is_meshed(f)]
    flat: list[Face] = []
    rest: list[Face] = []
    for face in bare:
        BRepTools.Clean_s(face)
        plane = BRepAdaptor_Surface(face).GetType() == GeomAbs_SurfaceType.GeomAbs_Plane
        (flat if plane else rest).append(face)
    how = IMeshTools_Parameters()
    how.Deflection, how.Angle, how.InParallel = deflection, angle, not is_forked()
    how.MeshAlgo = IMeshTools_MeshAlgoType.IMeshTools_MeshAlgoType_Delabella
    BRepMesh_IncrementalMesh(compound_of(flat), how)
    BRepMesh_IncrementalMesh(compound_of(rest), deflection, False, angle, how.InParallel)
    _forget_others(shape, bare)


def checked_by_mesh(shape: Shape, found: MassProperties) -> MassProperties:
    """Figures held against the volume inside the closed triangles, which knows nothing of how faces are integrated.

    The triangles may lie off the faces by their deflection; where the two volumes differ by more than that allows, the
    difference is how far the figure may be off.
    """
    mesh(shape)
    inside = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, inside, False, False, True)
    gap = abs(float(inside.Mass()) - found.volume)
    if gap <= found.area * MESH_LINEAR:
        return found
    return msgspec.structs.replace(found, off=max(found.off, gap))


def _is_meshed(face: Face) -> bool:
    """Whether a face has triangles and all its edges know them (see ``_forget_others``)."""
    place = TopLoc_Location()
    triangles = BRep_Tool.Triangulation_s(face, place)
    return triangles is not None and all(
        BRep_Tool.Degenerated_s(e) or BRep_Tool.PolygonOnTriangulation_s(e, triangles, place) is not None
        for e in edges_of(face)
    )


#: An edge is shared by every state of the part it was in, and would keep the triangles of all of them.
_KEPT_ON_EDGE = 60


def _forget_others(shape: Shape, bare: Sequence[Face]) -> None:
    """Let edges that have been meshed very often forget what does not belong to ``shape``."""
    own: set[Any] | None = None
    # Copies of one tool share their edges, each at its own place: an edge is looked through once.
    once = shape_map(compound_of(e.Located(TopLoc_Location()) for f in bare for e in edges_of(f)), EDGE)
    for edge in (once.FindKey(k) for k in range(1, once.Extent() + 1)):
        # What the published types call a plain TShape is the edge's own.
        curves = cast(BRep_TEdge, edge.TShape()).ChangeCurves()
        if curves.Size() <= _KEPT_ON_EDGE:
            continue
        own = own or {BRep_Tool.Triangulation_s(f, TopLoc_Location()) for f in faces(shape)}
        kept = [c for c in curves if not c.IsPolygonOnTriangulation() or c.Triangulation() in own]
        curves.Clear()
        for curve in kept:
            curves.Append(curve)


def to_bytes(shape: Shape) -> bytes:
    """The shape with its triangles; face order is kept.

    Its edges are shared with every earlier state of the part and carry what each of them left there; a copy has only
    what belongs to these faces, or every edit would make the next one heavier.
    """
    stream = io.BytesIO()
    BinTools.Write_s(BRepBuilderAPI_Copy(shape, False, True).Shape(), stream)
    return stream.getvalue()


def from_bytes(data: bytes) -> Shape:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape
