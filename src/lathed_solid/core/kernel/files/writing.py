"""Writing solids for other programs: BREP, and closed triangles; STEP stands in ``step``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from types import MappingProxyType
from typing import NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Ax3, gp_Trsf

from ...standards.finishes import Color
from ..ground.geometry import WORLD, Frame
from ..ground.named import NamedBody
from ..ground.placing import axes_of
from ..ground.topology import Shape, compound_of
from . import mesh_writing
from .meshes import watertight

#: Files of triangles lie so close to the true faces (mm), and turn so far from one to the next (radians).
DEFLECTION, _TURN = 0.01, 0.2


class Part(NamedTuple):
    """One body of several, with its name, its sRGB colour, whether it is of metal, and its material with its density
    (g/cm³; 0: not told); ``faces`` are the sRGB colours of single ones (by index from 1) that differ.
    """

    body: NamedBody
    name: str
    color: Color
    metal: bool = True
    material: str = ""
    density: float = 0.0
    faces: Mapping[int, Color] = MappingProxyType({})


def standing(shape: Shape, where: Frame) -> Shape:
    """The shape with its coordinates counted in ``where``."""
    if where == WORLD:
        return shape
    change = gp_Trsf()
    change.SetTransformation(gp_Ax3(axes_of(where)))
    return BRepBuilderAPI_Transform(shape, change, True).Shape()


def write_stl(body: NamedBody, path: Path, deflection: float = DEFLECTION, where: Frame = WORLD) -> None:
    """Binary STL in millimetres, closed; ``deflection`` is the largest distance to the true face. The file's axes are
    those of the frame ``where``. Raises KernelFailure for triangles that do not close, or OSError.
    """
    mesh_writing.write_stl(meshed([Part(body, "", (0.7, 0.7, 0.7))], deflection, where), path)


def meshed(parts: Sequence[Part], deflection: float = DEFLECTION, where: Frame = WORLD) -> list[mesh_writing.Body]:
    """Bodies as closed triangles, counted in the frame ``where``. Raises KernelFailure."""
    return [
        mesh_writing.Body(
            watertight(standing(p.body.shape, where), deflection, _TURN), p.name, p.color, p.metal, p.faces
        )
        for p in parts
    ]


def write_brep(parts: Sequence[Part], path: Path, where: Frame = WORLD) -> None:
    """The kernel's own text form, mm: faces and edges as they are, without names and colours. Raises OSError."""
    shapes = [standing(p.body.shape, where) for p in parts]
    if not BRepTools.Write_s(shapes[0] if len(shapes) == 1 else compound_of(shapes), str(path)):
        raise OSError(f"{path} could not be written.")
