"""Walking shapes: sub-shapes, maps and lists, with the binding's pitfalls kept in one place."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeAlias

from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Builder
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap,
)
from OCP.collections import (
    IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap,
)
from OCP.collections import List_TopoDS_Shape as ShapeList
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from OCP.TopExp import TopExp
from OCP.TopoDS import (
    TopoDS,
    TopoDS_Compound,
    TopoDS_Edge,
    TopoDS_Face,
    TopoDS_Shape,
    TopoDS_Shell,
    TopoDS_Solid,
    TopoDS_Vertex,
    TopoDS_Wire,
)

__all__ = [
    "EDGE",
    "FACE",
    "SHELL",
    "SOLID",
    "VERTEX",
    "WIRE",
    "AncestorMap",
    "Edge",
    "Face",
    "Shape",
    "ShapeList",
    "ShapeMap",
    "Vertex",
    "Wire",
    "ancestors",
    "box_of",
    "compound_of",
    "edges_of",
    "faces",
    "items",
    "run_back",
    "shape_list",
    "shape_map",
    "solid_of",
    "subshapes",
    "surface_properties",
    "turned_over",
    "volume",
    "volume_properties",
    "wires_of",
]  # fmt: skip

Shape: TypeAlias = TopoDS_Shape
Face: TypeAlias = TopoDS_Face
Edge: TypeAlias = TopoDS_Edge
Wire: TypeAlias = TopoDS_Wire
Vertex: TypeAlias = TopoDS_Vertex
Kind: TypeAlias = TopAbs_ShapeEnum

FACE, EDGE, VERTEX, SOLID, WIRE, SHELL = (
    TopAbs_ShapeEnum.TopAbs_FACE,
    TopAbs_ShapeEnum.TopAbs_EDGE,
    TopAbs_ShapeEnum.TopAbs_VERTEX,
    TopAbs_ShapeEnum.TopAbs_SOLID,
    TopAbs_ShapeEnum.TopAbs_WIRE,
    TopAbs_ShapeEnum.TopAbs_SHELL,
)


def shape_map(shape: Shape, kind: Kind) -> ShapeMap:
    """All sub-shapes of one kind; indices start at 1 and are stable for equal shapes."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, kind, found)
    return found


def subshapes(shape: Shape, kind: Kind) -> list[Shape]:
    found = shape_map(shape, kind)
    return [found.FindKey(i) for i in range(1, found.Extent() + 1)]


def compound_of(shapes: Iterable[Shape]) -> Shape:
    """Shapes held together, as they are."""
    builder, made = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(made)
    for shape in shapes:
        builder.Add(made, shape)
    return made


def solid_of(boundary: Iterable[Shape]) -> Shape:
    """The solid inside faces that share their edges and close; nothing is checked."""
    builder, shell, solid = BRep_Builder(), TopoDS_Shell(), TopoDS_Solid()
    builder.MakeShell(shell)
    for face in boundary:
        builder.Add(shell, face)
    shell.Closed(True)
    builder.MakeSolid(solid)
    builder.Add(solid, shell)
    return solid


def faces(shape: Shape) -> list[Face]:
    return [TopoDS.Face(f) for f in subshapes(shape, FACE)]


def edges_of(shape: Shape) -> list[Edge]:
    return [TopoDS.Edge(e) for e in subshapes(shape, EDGE)]


def is_reversed(face: Face) -> bool:
    """Whether the outside of a face is the other side than its surface's normal."""
    return bool(face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED)


def turned_over(face: Face) -> Face:
    """The face with its normal the other way."""
    return TopoDS.Face(face.Reversed())


def run_back(wire: Wire) -> Wire:
    """The wire run the other way."""
    return TopoDS.Wire(wire.Reversed())


def wires_of(shape: Shape) -> list[Wire]:
    return [TopoDS.Wire(w) for w in subshapes(shape, WIRE)]


def ancestors(shape: Shape, kind: Kind, of: Kind) -> AncestorMap:
    found = AncestorMap()
    TopExp.MapShapesAndAncestors_s(shape, kind, of, found)
    return found


def beside(shape: Shape, face: Shape) -> list[Shape]:
    """The faces that share an edge with ``face``."""
    around = ancestors(shape, EDGE, FACE)
    found: list[Shape] = []
    for edge in subshapes(face, EDGE):
        for other in items(around.FindFromKey(edge)):
            if not other.IsSame(face) and not any(other.IsSame(f) for f in found):
                found.append(other)
    return found


def items(listed: ShapeList) -> list[Shape]:
    """The shapes of a kernel list. Iterating one directly costs over half a millisecond per call in this binding."""
    size = listed.Size()
    if size == 0:
        return []
    if size == 1:
        return [listed.First()]
    found = []
    while listed.Size():
        found.append(listed.First())
        listed.RemoveFirst()
    return found


def shape_list(shapes: Iterable[Shape]) -> ShapeList:
    made = ShapeList()
    for shape in shapes:
        made.Append(shape)
    return made


def box_of(shape: Shape) -> list[float]:
    """Low corner and high corner, mm; with the kernel's own tolerances added, so rather too large."""
    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box, False)
    low, high = box.CornerMin(), box.CornerMax()
    return [low.X(), low.Y(), low.Z(), high.X(), high.Y(), high.Z()]


def volume(shape: Shape) -> float:
    """Volume in mm³, integrated over the faces.

    The asked 1e-3 is reached far over (5e-8 on parts with saddles); asking more costs up to thirty times as long.
    """
    return float(volume_properties(shape, 1e-3).Mass())


def surface_properties(shape: Shape) -> GProp_GProps:
    """Area and its middle. Free faces are integrated to 1e-3: the fixed rule takes ten times as long on them."""
    found = GProp_GProps()
    kinds = (BRepAdaptor_Surface(face).GetType() for face in faces(shape))
    if any(kind == GeomAbs_SurfaceType.GeomAbs_BSplineSurface for kind in kinds):
        BRepGProp.SurfaceProperties_s(shape, found, 1e-3)
    else:
        BRepGProp.SurfaceProperties_s(shape, found)
    return found


def volume_properties(shape: Shape, closeness: float) -> GProp_GProps:
    """Volume, centre and inertia by adaptive integration to ``closeness`` (relative).

    For ordering and direction only: on faces swept from free curves it is off by up to a tenth (see ``integral``).
    """
    found = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, found, closeness)
    return found
