"""Shapes made ready to be shown: triangles, and the bytes that travel between processes."""

from __future__ import annotations

import io

from OCP.BinTools import BinTools
from OCP.BRepLib import BRepLib
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopoDS import TopoDS_Shape

from ..tolerance import MESH_ANGULAR, MESH_LINEAR
from .topology import Shape


def mesh(shape: Shape, deflection: float = MESH_LINEAR, angle: float = MESH_ANGULAR) -> None:
    """Triangulate in place; ``deflection`` mm, ``angle`` radians. Also marks which edges are smooth."""
    BRepLib.EncodeRegularity_s(shape, 1e-4)
    BRepMesh_IncrementalMesh(shape, deflection, False, angle, True)


def to_bytes(shape: Shape) -> bytes:
    """The shape with its triangles; face order is kept."""
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream)
    return stream.getvalue()


def from_bytes(data: bytes) -> Shape:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape
