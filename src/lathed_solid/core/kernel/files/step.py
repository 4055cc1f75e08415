"""Writing STEP AP242: names, colours, materials with their densities, figures to check by, and what a drawing says."""

from __future__ import annotations

import io
import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.gp import gp_Pnt
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_Controller, STEPControl_StepModelType
from OCP.TCollection import TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name, TDataStd_NamedData
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFApp import XCAFApp_Application
from OCP.XCAFDoc import (
    XCAFDoc_Area,
    XCAFDoc_Centroid,
    XCAFDoc_ColorType,
    XCAFDoc_DocumentTool,
    XCAFDoc_Volume,
)

from ...standards.finishes import Color
from ..ground.check import KernelFailure
from ..ground.geometry import WORLD, Frame
from ..ground.named import NamedBody
from ..ground.placing import Transform
from ..ground.quiet import quiet
from ..ground.topology import FACE, Shape, shape_map
from ..measure.surfaces import area_of
from .writing import Part, standing

#: The same job gives the same file, whenever it is written.
_TIME = "2026-01-01T00:00:00"


def write_step(
    body: NamedBody, path: Path, name: str, color: Color, parts: Sequence[Part] = (), where: Frame = WORLD,
    says: Sequence[tuple[str, str]] = (),
) -> None:  # fmt: skip
    """STEP AP242 in millimetres with the part's name and sRGB colour; of several ``parts`` each has its own, and they
    stand together under ``name``. Each tells its material, and its volume, area and centre to be checked by; the whole
    tells what the drawing ``says`` (key, text). The file's axes are those of the frame ``where``. Raises KernelFailure
    or OSError.
    """
    document = _Document()
    if len(parts) < 2:
        whole = document.add(standing(body.shape, where), name, color)
        document.tell(whole, parts[0] if parts else Part(body, name, color), where)
        document.paint(whole, parts[0].faces if parts else {})
    else:
        whole = document.whole(name)
        for part in parts:
            label = document.add(standing(part.body.shape, where), part.name, part.color)
            document.tell(label, part, where)
            document.paint(label, part.faces)
            document.shapes.AddComponent(whole, label, TopLoc_Location())
        document.shapes.UpdateAssemblies()
    document.say(whole, says)
    text = document.text(name)
    path.write_bytes(_named(text, [_names(p.body) for p in parts] or [_names(body)]).encode(*_AS))


def _names(body: NamedBody) -> list[str]:
    return [body.name_of(i) for i in range(1, body.face_count + 1)]


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
    path.write_bytes(document.text(name).encode(*_AS))


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
        self._materials = XCAFDoc_DocumentTool.MaterialTool_s(self._document.Main())

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

    def tell(self, label: TDF_Label, part: Part, where: Frame) -> None:
        """What a body is made of, and its figures as they are proved."""
        XCAFDoc_Volume.Set_s(label, part.body.volume)
        XCAFDoc_Area.Set_s(label, area_of(part.body))
        XCAFDoc_Centroid.Set_s(label, gp_Pnt(*where.coordinates(part.body.center)))
        if part.material and part.density:
            name, kind = TCollection_HAsciiString(part.material), TCollection_HAsciiString(_DENSITY)
            value = TCollection_HAsciiString("POSITIVE_RATIO_MEASURE")
            self._materials.SetMaterial(label, name, name, part.density, kind, value)

    def paint(self, label: TDF_Label, faces: Mapping[int, Color]) -> None:
        """Single faces (by index from 1) in colours of their own."""
        if not faces:
            return
        own = shape_map(self.shapes.GetShape_s(label), FACE)
        for index, color in faces.items():
            rgb = Quantity_Color(*color, Quantity_TypeOfColor.Quantity_TOC_sRGB)
            piece = self.shapes.AddSubShape(label, own.FindKey(index))
            self._colors.SetColor(piece, rgb, XCAFDoc_ColorType.XCAFDoc_ColorSurf)

    def say(self, label: TDF_Label, says: Sequence[tuple[str, str]]) -> None:
        """Properties in words."""
        if not says:
            return
        data = TDataStd_NamedData.Set_s(label)
        for key, text in says:
            data.SetString(TCollection_ExtendedString(key, True), TCollection_ExtendedString(text, True))

    def text(self, name: str) -> str:
        """The file. Raises KernelFailure."""
        writer = STEPCAFControl_Writer()
        writer.SetNameMode(True)
        writer.SetColorMode(True)
        writer.SetPropsMode(True)
        writer.SetMaterialMode(True)
        writer.SetMetadataMode(True)
        if not writer.Transfer(self._document, STEPControl_StepModelType.STEPControl_AsIs):
            raise KernelFailure("The solid could not be put into STEP form.")
        header = APIHeaderSection_MakeHeader(writer.ChangeWriter().Model())
        header.SetName(TCollection_HAsciiString(name.encode("ascii", "replace").decode() or "part"))
        header.SetTimeStamp(TCollection_HAsciiString(_TIME))
        header.SetAuthorValue(1, TCollection_HAsciiString("-"))
        header.SetOrganizationValue(1, TCollection_HAsciiString("-"))
        header.SetOriginatingSystem(TCollection_HAsciiString("Lathed Solid"))
        header.SetPreprocessorVersion(TCollection_HAsciiString("-"))
        out = io.BytesIO()
        if writer.WriteStream(out) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise KernelFailure("The solid could not be put into STEP form.")
        return _with_density(out.getvalue().decode(*_AS))


#: STEP is plain ASCII but for what others have put into names.
_AS = ("utf-8", "surrogateescape")


def _named(data: str, bodies: Sequence[Sequence[str]]) -> str:
    """A file with our names for its faces. The kernel itself leaves those unnamed that stand in a place of their own
    (copies of a ring); a shell lists its faces in our order, so the names are put into the text. A body whose faces
    cannot be told so stays without.
    """
    shells = re.findall(r"CLOSED_SHELL\('[^']*',\(([^)]*)\)\)", data)
    if len(shells) != len(bodies):
        return data
    named: dict[str, str] = {}
    for shell, names in zip(shells, bodies, strict=True):
        numbers = re.findall(r"#\d+", shell)
        if len(numbers) == len(names):
            named |= dict(zip(numbers, names, strict=True))

    def called(match: re.Match[str]) -> str:
        number = data[data.rfind("#", 0, match.start()) : match.start()].partition(" ")[0]
        name = named.get(number, "").replace("'", "''")
        return f"ADVANCED_FACE('{name}'"

    return re.sub(r"ADVANCED_FACE\('[^']*'", called, data)


_DENSITY = "density measure"


def _with_density(data: str) -> str:
    """The kernel writes the unit of a density as gram cubed times centimetre squared; it is gram over cubic
    centimetre. The two exponents are put right in the text.
    """
    if _DENSITY not in data:
        return data
    for match in reversed([*re.finditer(r"DERIVED_UNIT_ELEMENT\(#(\d+),[^;]*\);", data)]):
        unit = data.find(f"\n#{match[1]} = ")
        told = data[unit : data.find(";", unit)] if unit >= 0 else ""
        power = "1." if ".GRAM." in told else "-3." if ".CENTI." in told else ""
        if power:
            mended = f"DERIVED_UNIT_ELEMENT(#{match[1]},{power});"
            data = data[: match.start()] + mended + data[match.end() :]
    return data
