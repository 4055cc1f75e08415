"""Solids from other programs' files, their faces named by what and where they are."""

from __future__ import annotations

import tempfile
from pathlib import Path

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Pnt, gp_Trsf
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.Message import Message_ProgressRange
from OCP.STEPControl import STEPControl_Reader
from OCP.TopoDS import TopoDS_Shape

from .check import KernelFailure, accept
from .figures import Surface
from .named import NamedBody, Pair
from .quiet import quiet
from .surfaces import measure_faces
from .topology import SOLID, Shape, subshapes


def read_solids(data: bytes, name: str, tag: str, scale: float = 1.0) -> list[NamedBody]:
    """Every solid of a STEP or BREP file. Raises KernelFailure in words when there is none or it is not sound."""
    quiet()
    shape = _brep(data, name) if name.lower().endswith((".brep", ".brp")) else _step(data, name)
    if abs(scale - 1.0) > 1e-12:
        change = gp_Trsf()
        change.SetScale(gp_Pnt(0, 0, 0), scale)
        shape = BRepBuilderAPI_Transform(shape, change, True).Shape()
    solids = subshapes(shape, SOLID)
    if not solids:
        raise KernelFailure(f"{name} holds no solid (only faces or lines, or nothing).")
    bodies = []
    for number, solid in enumerate(solids, 1):
        sound = accept(solid, (), None, "any")
        head = tag if len(solids) == 1 else f"{tag}/{number}"
        bodies.append(NamedBody(sound.shape, _named(sound, head)))
    return bodies


def _step(data: bytes, name: str) -> Shape:
    """The kernel falls when it is asked to go on after a failed read, so it never is."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        path.write_bytes(data)
        reader = STEPControl_Reader()
        if (
            not data.lstrip().startswith(b"ISO-10303")
            or reader.ReadFile(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone
        ):
            raise KernelFailure(f"{name} is no STEP file, or it is damaged.")
        reader.TransferRoots(Message_ProgressRange())
        return reader.OneShape()


def _brep(data: bytes, name: str) -> Shape:
    shape = TopoDS_Shape()
    if b"CASCADE Topology" not in data[:200]:
        raise KernelFailure(f"{name} is no BREP file.")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.brep"
        path.write_bytes(data)
        if not BRepTools.Read_s(shape, str(path), BRep_Builder()) or shape.IsNull():
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
