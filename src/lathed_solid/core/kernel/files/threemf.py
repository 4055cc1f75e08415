"""Reading 3MF: each body its triangles, where the file has it standing, in mm, with its name and colour."""

from __future__ import annotations

from typing import Any, NamedTuple

import lib3mf
import numpy as np

from ...arrays import Floats
from ...standards.finishes import Color
from ..ground.check import KernelFailure
from ..measure.triangles import Triangles

#: mm of the units the format knows (3MF core specification, table 3-1).
_UNITS = {"MicroMeter": 0.001, "MilliMeter": 1.0, "CentiMeter": 10.0, "Inch": 25.4, "Foot": 304.8, "Meter": 1000.0}


class MeshBody(NamedTuple):
    mesh: Triangles
    name: str
    color: Color | None


def is_3mf(data: bytes) -> bool:
    """Whether a file is one: a zip with a model in its 3D folder."""
    return data[:4] == b"PK\x03\x04" and b"3D/" in data and b".model" in data


def read_3mf(data: bytes, name: str) -> list[MeshBody]:
    """The bodies that the file builds. Raises KernelFailure when it cannot be read or holds none."""
    model = lib3mf.get_wrapper().CreateModel()
    try:
        model.QueryReader("3mf").ReadFromBuffer(data)
        bodies = list(_built(model))
    except lib3mf.ELib3MFException as error:
        raise KernelFailure(f"{name} is a 3MF file that cannot be read, or it is damaged.") from error
    if not bodies:
        raise KernelFailure(f"{name} builds no body.")
    return bodies


def _built(model: Any) -> Any:
    unit = next((mm for word, mm in _UNITS.items() if model.GetUnit().name == word), 1.0)
    items = model.GetBuildItems()
    while items.MoveNext():
        item = items.GetCurrent()
        shape = item.GetObjectResource()
        if not shape.IsMeshObject():
            continue  # components are built by what they are made of
        fields = item.GetObjectTransform().Fields if item.HasObjectTransform() else None
        yield _body(model, shape, unit, fields)


def _body(model: Any, shape: Any, unit: float, transform: Any) -> MeshBody:
    points = np.array([list(p.Coordinates) for p in shape.GetVertices()], float).reshape(-1, 3)
    corners = np.array([list(t.Indices) for t in shape.GetTriangleIndices()], int).reshape(-1, 3)
    if transform is not None:
        rows = np.array([list(row) for row in transform], float)  # four rows: x, y, z and the shift
        points = points @ rows[:3] + rows[3]
    placed: Floats = np.round(points * unit, 5)
    return MeshBody(Triangles(placed, corners, np.ones(len(corners), int)), shape.GetName(), _color(model, shape))


def _color(model: Any, shape: Any) -> Color | None:
    """The colour of the whole body, where it has one."""
    resource, identifier, has = shape.GetObjectLevelProperty()
    if not has:
        return None
    try:
        found = model.GetColorGroupByID(resource).GetColor(identifier)
    except lib3mf.ELib3MFException:
        return None
    return found.Red / 255, found.Green / 255, found.Blue / 255
