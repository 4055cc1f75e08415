"""Solids from other programs' files, their faces named by what and where they are; bodies with their own name and
colour where the file tells them.
"""

from __future__ import annotations

import tempfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepTools import BRepTools
from OCP.collections import Sequence_TDF_Label
from OCP.gp import gp_Pnt, gp_Trsf
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Message import Message_ProgressRange
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.ShapeFix import ShapeFix_Shape
from OCP.Standard import Standard_OutOfMemory
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_ColorTool, XCAFDoc_ColorType, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from ...refusal import said
from ...standards.finishes import Color
from ..ground.check import KernelFailure, accept
from ..ground.figures import Surface
from ..ground.named import NamedBody, Pair
from ..ground.quiet import quiet, silent
from ..ground.topology import SOLID, Shape, box_of, subshapes
from ..measure.surfaces import measure_faces
from .bounded import bounded_memory
from .iges import is_iges, read_iges
from .stl.triangles import is_stl, read_stl
from .threemf import MeshBody, is_3mf, read_3mf

#: A whole part smaller than this is rather one whose unit is another, mm.
TINY = 1.0
_CALLED = {
    "plane": ("flat face", "flat faces"), "cylinder": ("cylinder", "cylinders"), "cone": ("cone", "cones"),
    "sphere": ("ball", "balls"), "torus": ("ring", "rings"), "other": ("free face", "free faces"),
}  # fmt: skip


class ReadBody(NamedTuple):
    """A solid of a file, with the name (empty) and sRGB colour (None) the file gives it; of a mesh, what was ``found``
    in its triangles, in words.
    """

    body: NamedBody
    name: str = ""
    color: Color | None = None
    found: str = ""


class _Found(NamedTuple):
    shape: Shape
    name: str = ""
    color: Color | None = None


def read_solids(data: bytes, name: str, tag: str, scale: float = 1.0, mend: bool = False) -> list[ReadBody]:
    """Every solid of a STEP, BREP or IGES file, or with true faces found again in the triangles of an STL or 3MF file;
    with ``mend`` small gaps and crossed edges are mended first.

    Raises KernelFailure in words when there is none or one is not sound.
    """
    quiet()
    is_mesh = is_stl(data) or is_3mf(data)
    try:
        with bounded_memory(len(data)):
            if is_mesh:
                shapes, scale = list(_meshes(data, name, scale)), 1.0
            elif is_iges(data):
                shapes = [_Found(s) for s in read_iges(data, name)]
            elif name.lower().endswith((".brep", ".brp")):
                shapes = [_Found(_brep(data, name))]
            else:
                shapes = _step(data, name)
    except (MemoryError, Standard_OutOfMemory) as error:
        raise KernelFailure(
            f"{name} asks for far more memory than a file of its size can need: it is damaged. "
            "Save it again from where it came."
        ) from error
    found = [f._replace(shape=s) for f in shapes for s in subshapes(_scaled(f.shape, scale), SOLID)]
    if not found:
        raise KernelFailure(f"{name} holds no solid (only faces or lines, or nothing).")
    bodies = []
    for number, one in enumerate(found, 1):
        head = tag if len(found) == 1 else f"{tag}/{number}"
        which = one.name or (f"solid {number} of {len(found)}" if len(found) > 1 else "the solid")
        sound = _accepted(_mended(one.shape) if mend else one.shape, f"{name}, {which}", mend)
        body = NamedBody(sound.shape, _named(sound, head))
        bodies.append(ReadBody(body, one.name, one.color, _faces_found(body) if is_mesh else ""))
    return bodies


def _meshes(data: bytes, name: str, scale: float) -> Iterator[_Found]:
    """The solids of a file of triangles; scaled before its sizes are read, which are round ones in the right unit."""
    from .stl.faced import rebuilt

    bodies = [MeshBody(read_stl(data, name), "", None)] if is_stl(data) else read_3mf(data, name)
    for mesh, called, color in bodies:
        try:
            for shape in rebuilt(mesh._replace(points=np.asarray(mesh.points * scale))):
                yield _Found(shape, called, color)
        except KernelFailure as error:
            raise KernelFailure(f"{name}: {error.message}") from None


def _faces_found(body: NamedBody) -> str:
    """What the faces of a mesh turned out to be."""
    many = Counter(s.kind for s in measure_faces(body))
    return ", ".join(f"{n} {_CALLED[kind][n != 1]}" for kind, n in many.most_common())


def _scaled(shape: Shape, scale: float) -> Shape:
    if abs(scale - 1.0) < 1e-12:
        return shape
    change = gp_Trsf()
    change.SetScale(gp_Pnt(0, 0, 0), scale)
    return BRepBuilderAPI_Transform(shape, change, True).Shape()


def _accepted(shape: Shape, which: str, mended: bool) -> NamedBody:
    try:
        return accept(shape, (), None, "any")
    except KernelFailure as error:
        more = "Mending did not help: have it written anew." if mended else "Set Faults to “mend” to have it mended."
        if (size := _size(shape)) < TINY:
            more = f"It is only {said(size)} large: is the file in metres or inches? Then set its Scale."
        raise KernelFailure(f"{which}, is not sound: {error.message} {more}") from None


def _size(shape: Shape) -> float:
    """The diagonal of its box, mm."""
    low, high = np.split(np.array(box_of(shape)), 2)
    return float(np.linalg.norm(high - low))


def _mended(shape: Shape) -> Shape:
    fix = ShapeFix_Shape(shape)
    fix.Perform(Message_ProgressRange())
    solids = subshapes(fix.Shape(), SOLID)
    return solids[0] if len(solids) == 1 else shape


def _step(data: bytes, name: str) -> list[_Found]:
    """The bodies of a STEP file. The kernel falls when it is asked to go on after a failed read, so it never is."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        path.write_bytes(data)
        reader = STEPCAFControl_Reader()
        reader.SetNameMode(True)
        reader.SetColorMode(True)
        if (
            not data.lstrip().startswith(b"ISO-10303")
            or reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone
        ):
            raise KernelFailure(f"{name} is no STEP file, or it is damaged.")
        document = TDocStd_Document(TCollection_ExtendedString("BinXCAF"))
        XCAFApp_Application.GetApplication_s().InitDocument(document)
        reader.Transfer(document, Message_ProgressRange())
    free = Sequence_TDF_Label()
    XCAFDoc_DocumentTool.ShapeTool_s(document.Main()).GetFreeShapes(free)
    return [found for label in _labels(free) for found in _below(label, TopLoc_Location(), "", None)]


def _labels(found: Sequence_TDF_Label) -> list[TDF_Label]:
    return [found.Value(i) for i in range(1, found.Length() + 1)]


def _below(label: TDF_Label, place: TopLoc_Location, name: str, color: Color | None) -> list[_Found]:
    """The parts under a label, set where their assemblies have them; a place's own name and colour win."""
    name, color = name or _name(label), color or _color(label)
    if not XCAFDoc_ShapeTool.IsAssembly_s(label):
        return [_Found(XCAFDoc_ShapeTool.GetShape_s(label).Moved(place), name, color)]
    parts, found = Sequence_TDF_Label(), []
    XCAFDoc_ShapeTool.GetComponents_s(label, parts)
    for part in _labels(parts):
        what = TDF_Label()
        XCAFDoc_ShapeTool.GetReferredShape_s(part, what)
        there = place.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(part))
        found += _below(what, there, _name(part), _color(part) or color)
    return found


#: What the kernel calls a place, or a shape it writes, that has no name.
_NAMELESS = ("=>[", "Open CASCADE STEP translator")


def _name(label: TDF_Label) -> str:
    held = TDataStd_Name()
    text = held.Get().ToExtString() if label.FindAttribute(TDataStd_Name.GetID_s(), held) else ""
    return "" if text.startswith(_NAMELESS) else text


def _color(label: TDF_Label) -> Color | None:
    held = Quantity_Color()
    for kind in (XCAFDoc_ColorType.XCAFDoc_ColorGen, XCAFDoc_ColorType.XCAFDoc_ColorSurf):
        if XCAFDoc_ColorTool.GetColor_s(label, kind, held):
            red, green, blue = (round(v, 4) for v in held.Values(Quantity_TypeOfColor.Quantity_TOC_sRGB))
            return red, green, blue
    return None


def _brep(data: bytes, name: str) -> Shape:
    shape = TopoDS_Shape()
    if b"CASCADE Topology" not in data[:200]:
        raise KernelFailure(f"{name} is no BREP file.")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.brep"
        path.write_bytes(data)
        with silent():
            is_read = BRepTools.Read_s(shape, str(path), BRep_Builder())
        if not is_read or shape.IsNull():
            raise KernelFailure(f"{name} is a BREP file that cannot be read.")
    return shape


def _named(body: NamedBody, tag: str) -> list[Pair]:
    """Names told by geometry: a changed file keeps the names of the faces it left alone."""
    pairs: list[Pair] = []
    for surface in measure_faces(body):
        pairs.append((body.face(surface.index), f"{tag}/{_words(surface)}"))
    return pairs


def _words(s: Surface) -> str:
    def show(values: tuple[float, ...]) -> str:
        return ",".join(f"{round(v, 2) + 0.0:g}" for v in values)

    if s.kind == "plane":
        away = sum(o * a for o, a in zip(s.origin, s.axis, strict=True))
        return f"flat {show(s.axis)} at {round(away, 3) + 0.0:g}"
    if s.kind in ("cylinder", "sphere"):
        along = sum(o * a for o, a in zip(s.origin, s.axis, strict=True))
        foot = tuple(o - along * a for o, a in zip(s.origin, s.axis, strict=True))
        axis = s.axis if sum(s.axis) > 0 else tuple(-a for a in s.axis)
        return f"{s.kind} {2 * s.radius:.4g} on {show(foot)} along {show(axis)}"
    return f"{s.kind} at {show(s.center)}"
