"""Writing solids for other programs: STEP with name, colour and millimetres, BREP, and closed triangles."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Ax3, gp_Trsf
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_Controller, STEPControl_StepModelType
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool

from ..ground.check import KernelFailure
from ..ground.geometry import WORLD, Frame
from ..ground.named import NamedBody
from ..ground.placing import Transform, axes_of
from ..ground.quiet import quiet
from ..ground.topology import Shape, compound_of
from . import mesh_writing
from .meshes import watertight

Color = tuple[float, float, float]


#: Files of triangles lie so close to the true faces (mm), and turn so far from one to the next (radians).
DEFLECTION, _TURN = 0.01, 0.2


class Part(NamedTuple):
    """One body of several, with its name, its sRGB colour, and whether it is of metal."""

    body: NamedBody
    name: str
    color: Color
    metal: bool = True


def _standing(shape: Shape, where: Frame) -> Shape:
    """The shape with its coordinates counted in ``where``."""
    if where == WORLD:
        return shape
    change = gp_Trsf()
    change.SetTransformation(gp_Ax3(axes_of(where)))
    return BRepBuilderAPI_Transform(shape, change, True).Shape()


def write_step(
    body: NamedBody, path: Path, name: str, color: Color, parts: Sequence[Part] = (), where: Frame = WORLD
) -> None:
    """STEP AP242 in millimetres with the part's name and sRGB colour; of several ``parts`` each has its own, and they
    stand together under ``name``. The file's axes are those of the frame ``where``. Raises KernelFailure or OSError.
    """
    document = _Document()
    if len(parts) < 2:
        document.add(_standing(body.shape, where), name, color)
    else:
        whole = document.whole(name)
        for part in parts:
            label = document.add(_standing(part.body.shape, where), part.name, part.color)
            document.shapes.AddComponent(whole, label, TopLoc_Location())
        document.shapes.UpdateAssemblies()
    document.write(path)


class Component(NamedTuple):
    """One of a part in an assembly: what tells its part from others, the part's shape, name and sRGB colour, and where
    it stands.
    """

    part: str
    shape: Shape
    name: str
    color: Color
    where: Transform


def write_structure(path: Path, name: str, components: Sequence[Component]) -> None:
    """STEP AP242 in millimetres of an assembly: each distinct part once, and every one of it where it stands. Raises
    KernelFailure or OSError.
    """
    document = _Document()
    whole = document.whole(name)
    labels: dict[str, TDF_Label] = {}
    for one in components:
        if one.part not in labels:
            labels[one.part] = document.add(one.shape, one.name, one.color)
        document.shapes.AddComponent(whole, labels[one.part], TopLoc_Location(one.where))
    document.shapes.UpdateAssemblies()
    document.write(path)


class _Document:
    """What is to be written as STEP."""

    def __init__(self) -> None:
        quiet()
        STEPControl_Controller.Init_s()
        Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
        Interface_Static.SetCVal_s("write.step.unit", "MM")
        self._document = TDocStd_Document(TCollection_ExtendedString("BinXCAF"))
        XCAFApp_Application.GetApplication_s().InitDocument(self._document)
        self.shapes = XCAFDoc_DocumentTool.ShapeTool_s(self._document.Main())
        self._colors = XCAFDoc_DocumentTool.ColorTool_s(self._document.Main())

    def add(self, shape: Shape, name: str, color: Color) -> TDF_Label:
        label = self.shapes.AddShape(shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name, True))
        rgb = Quantity_Color(*color, Quantity_TypeOfColor.Quantity_TOC_sRGB)
        self._colors.SetColor(label, rgb, XCAFDoc_ColorType.XCAFDoc_ColorGen)
        return label

    def whole(self, name: str) -> TDF_Label:
        label = self.shapes.NewShape()
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name, True))
        return label

    def write(self, path: Path) -> None:
        writer = STEPCAFControl_Writer()
        writer.SetNameMode(True)
        writer.SetColorMode(True)
        if not writer.Transfer(self._document, STEPControl_StepModelType.STEPControl_AsIs):
            raise KernelFailure("The solid could not be put into STEP form.")
        if writer.Write(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise OSError(f"{path} could not be written.")


def write_stl(body: NamedBody, path: Path, deflection: float = DEFLECTION, where: Frame = WORLD) -> None:
    """Binary STL in millimetres, closed; ``deflection`` is the largest distance to the true face. The file's axes are
    those of the frame ``where``. Raises KernelFailure for triangles that do not close, or OSError.
    """
    mesh_writing.write_stl(meshed([Part(body, "", (0.7, 0.7, 0.7))], deflection, where), path)


def meshed(parts: Sequence[Part], deflection: float = DEFLECTION, where: Frame = WORLD) -> list[mesh_writing.Body]:
    """Bodies as closed triangles, counted in the frame ``where``. Raises KernelFailure."""
    return [
        mesh_writing.Body(watertight(_standing(p.body.shape, where), deflection, _TURN), p.name, p.color, p.metal)
        for p in parts
    ]


def write_brep(parts: Sequence[Part], path: Path, where: Frame = WORLD) -> None:
    """The kernel's own text form, mm: faces and edges as they are, without names and colours. Raises OSError."""
    shapes = [_standing(p.body.shape, where) for p in parts]
    if not BRepTools.Write_s(shapes[0] if len(shapes) == 1 else compound_of(shapes), str(path)):
        raise OSError(f"{path} could not be written.")
