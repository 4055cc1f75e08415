"""IGES, read and written: in files of others faces are mostly loose; they are sewn, and what closes is a solid."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_Sewing
from OCP.BRepLib import BRepLib
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.IGESControl import IGESControl_Controller, IGESControl_Reader, IGESControl_Writer
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure
from ..ground.topology import FACE, SHELL, SOLID, Shape, subshapes

#: Edges nearer than this are one (mm): what writers of such files leave between neighbours.
_GAP = 1e-3


def is_iges(data: bytes) -> bool:
    """Whether a file is one: lines of 80 signs, the first a start line."""
    return data[72:73] == b"S" and data[73:80].strip().isdigit() and data[80:81] in (b"\n", b"\r")


def read_iges(data: bytes, name: str) -> list[Shape]:
    """The solids of an IGES file, in mm whatever its unit. Raises KernelFailure in words when there are none."""
    IGESControl_Controller.Init_s()
    reader = IGESControl_Reader()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.igs"
        path.write_bytes(data)
        if reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise KernelFailure(f"{name} is an IGES file that cannot be read, or it is damaged.")
        reader.TransferRoots()
    shape = reader.OneShape()
    if shape is None or shape.IsNull() or not subshapes(shape, FACE):
        raise KernelFailure(f"{name} holds no faces: an IGES file of lines or text only. Have it written as STEP.")
    return subshapes(shape, SOLID) or _sewn(shape, name)


def _sewn(shape: Shape, name: str) -> list[Shape]:
    sewing = BRepBuilderAPI_Sewing(_GAP)
    sewing.Add(shape)
    sewing.Perform()
    shells = subshapes(sewing.SewedShape(), SHELL)
    if sewing.NbFreeEdges() or not shells:
        raise KernelFailure(
            f"{name} is an IGES file whose faces do not close: {sewing.NbFreeEdges()} edges have no neighbour within "
            f"{_GAP:g} mm. Have it written as STEP, or with trimmed solids."
        )
    made = list[Shape]()
    for shell in shells:
        solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(shell)).Solid()
        BRepLib.OrientClosedSolid_s(solid)
        made.append(solid)
    return made


def write_iges(shapes: Sequence[Shape], path: Path) -> None:
    """Solids as IGES 5.3 boundary representations, mm. Raises KernelFailure or OSError."""
    IGESControl_Controller.Init_s()
    writer = IGESControl_Writer("MM", 1)
    if not all(writer.AddShape(shape) for shape in shapes):
        raise KernelFailure("The solid could not be put into IGES form. Write STEP instead.")
    writer.ComputeModel()
    if not writer.Write(str(path)):
        raise OSError(f"{path} could not be written.")
