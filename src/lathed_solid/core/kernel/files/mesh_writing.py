"""Files of triangles: binary STL, 3MF (by lib3mf), binary glTF 2.0. Closed bodies only (see ``meshes``)."""

from __future__ import annotations

import json
import struct
import uuid
from collections.abc import Mapping, Sequence
from pathlib import Path
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np

from ...arrays import Truths
from ...standards.finishes import Color
from .meshes import Mesh

#: Same part, same file: ids are made from names, not drawn.
_SPACE = uuid.UUID("6c1d1d0a-5b5e-5c1d-9a53-0f5f3a7d2b11")
#: glTF 2.0, sections 3.6 and 4.4: numbers of its component types, buffer targets, chunks.
_FLOAT, _UINT, _VERTICES, _INDICES, _JSON, _BIN = 5126, 5125, 34962, 34963, 0x4E4F534A, 0x004E4942
#: glTF counts metres, and up is Y.
_METRE, _UPRIGHT = 0.001, (-0.7071067811865476, 0.0, 0.0, 0.7071067811865476)


class Body(NamedTuple):
    """A body as a file has it: its triangles, what it is called, its sRGB colour, whether it is of metal; ``faces`` are
    the colours of single faces of the solid (counted from 1).
    """

    mesh: Mesh
    name: str
    color: Color
    metal: bool = True
    faces: Mapping[int, Color] = MappingProxyType({})

    def painted(self) -> list[tuple[Color, Truths]]:
        """Its colours, its own first, and which triangles have each."""
        found: dict[Color, Truths] = {self.color: ~np.isin(self.mesh.face, list(self.faces))}
        for face, color in self.faces.items():
            found[color] = found.get(color, False) | (self.mesh.face == face)
        return [(color, which) for color, which in found.items() if which.any()]


def write_stl(bodies: Sequence[Body], path: Path) -> None:
    """Binary STL, all bodies in one, mm. Raises OSError."""
    record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("rest", "<u2")])
    parts = []
    for body in bodies:
        corners = body.mesh.points[body.mesh.corners]
        normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        size = np.linalg.norm(normals, axis=1, keepdims=True)
        made = np.zeros(len(corners), record)
        made["normal"], made["corners"] = normals / np.where(size > 0, size, 1.0), corners
        parts.append(made)
    every = np.concatenate(parts)
    path.write_bytes(b"Lathed Solid".ljust(80, b"\0") + struct.pack("<I", len(every)) + every.tobytes())


def write_3mf(bodies: Sequence[Body], path: Path, title: str) -> None:
    """3MF core specification, mm, each body with its name and colour, and the colours of single faces (materials
    extension). Raises OSError.
    """
    import lib3mf

    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    model.SetBuildUUID(str(uuid.uuid5(_SPACE, title)))
    data = model.GetMetaDataGroup()
    data.AddMetaData("", "Title", title or "part", "xs:string", True)
    data.AddMetaData("", "Application", "Lathed Solid", "xs:string", True)
    colors = model.AddColorGroup()
    for number, body in enumerate(bodies):
        shape = model.AddMeshObject()
        shape.SetName(body.name or f"body {number + 1}")
        _fill(lib3mf, shape, body.mesh)
        group, painted = (
            colors.GetResourceID(),
            [(colors.AddColor(_color(lib3mf, color)), which) for color, which in body.painted()],
        )
        shape.SetObjectLevelProperty(group, painted[0][0])
        if len(painted) > 1:
            shape.SetAllTriangleProperties(_of_triangles(lib3mf, group, painted))
        shape.SetUUID(str(uuid.uuid5(_SPACE, f"{title} object {number}")))
        item = model.AddBuildItem(shape, wrapper.GetIdentityTransform())
        item.SetUUID(str(uuid.uuid5(_SPACE, f"{title} item {number}")))
    model.QueryWriter("3mf").WriteToFile(str(path))


def _fill(lib3mf: Any, shape: Any, mesh: Mesh) -> None:
    points = np.ascontiguousarray(mesh.points, np.float32).tobytes()
    corners = np.ascontiguousarray(mesh.corners, np.uint32).tobytes()
    shape.SetGeometry(
        (lib3mf.Position * len(mesh.points)).from_buffer_copy(points),
        (lib3mf.Triangle * len(mesh.corners)).from_buffer_copy(corners),
    )


def _of_triangles(lib3mf: Any, group: int, painted: Sequence[tuple[int, Truths]]) -> list[Any]:
    """The colour of every triangle, by its number in the ``group``."""
    made: list[Any] = [None] * len(painted[0][1])
    for number, which in painted:
        color = lib3mf.TriangleProperties(group, (number, number, number))
        for at in np.nonzero(which)[0]:
            made[at] = color
    return made


def _color(lib3mf: Any, color: Color) -> Any:
    made = lib3mf.Color()
    red, green, blue = (round(255 * v) for v in color)
    for channel, value in (("Red", red), ("Green", green), ("Blue", blue), ("Alpha", 255)):
        setattr(made, channel, value)
    return made


def write_glb(bodies: Sequence[Body], path: Path, title: str) -> None:
    """Binary glTF 2.0 (ISO/IEC 12113): each body a node with its name and a material for each of its colours; metres,
    Y up. Raises OSError.
    """
    chunks, views, accessors = list[bytes](), list[dict[str, object]](), list[dict[str, object]]()

    def add(values: Any, target: int, component: int, kind: str, **more: object) -> int:
        data = values.tobytes()
        at = sum(map(len, chunks))
        views.append({"buffer": 0, "byteOffset": at, "byteLength": len(data), "target": target})
        accessors.append({"bufferView": len(views) - 1, "componentType": component, "type": kind, **more})
        chunks.append(data)
        return len(accessors) - 1

    meshes, materials, nodes = list[object](), list[object](), list[object]()
    for number, body in enumerate(bodies):
        points = np.ascontiguousarray(body.mesh.points * _METRE, np.float32)
        low, high = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        where = add(points, _VERTICES, _FLOAT, "VEC3", count=len(points), min=low, max=high)
        name, primitives = body.name or f"body {number + 1}", []
        for color, which in body.painted():
            corners = np.ascontiguousarray(body.mesh.corners[which].ravel(), np.uint32)
            order = add(corners, _INDICES, _UINT, "SCALAR", count=len(corners))
            primitives.append({"attributes": {"POSITION": where}, "indices": order, "material": len(materials)})
            materials.append(_material(color, body.metal, f"{name} {len(primitives)}" if primitives[1:] else name))
        meshes.append({"name": name, "primitives": primitives})
        nodes.append({"name": name, "mesh": number})
    nodes.append({"name": title or "part", "rotation": list(_UPRIGHT), "children": list(range(len(bodies)))})
    data = b"".join(chunks)
    tree = {
        "asset": {"version": "2.0", "generator": "Lathed Solid"},
        "scene": 0, "scenes": [{"name": title or "part", "nodes": [len(bodies)]}], "nodes": nodes, "meshes": meshes,
        "materials": materials, "accessors": accessors, "bufferViews": views, "buffers": [{"byteLength": len(data)}],
    }  # fmt: skip
    words = json.dumps(tree, ensure_ascii=False, separators=(",", ":")).encode()
    words += b" " * (-len(words) % 4)
    data += b"\0" * (-len(data) % 4)
    head = struct.pack("<4sII", b"glTF", 2, 12 + 8 + len(words) + 8 + len(data))
    path.write_bytes(head + struct.pack("<II", len(words), _JSON) + words + struct.pack("<II", len(data), _BIN) + data)


def _material(color: Color, metal: bool, name: str) -> dict[str, object]:
    """glTF counts colours in linear light (IEC 61966-2-1)."""
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in color]
    surface = {"baseColorFactor": [*linear, 1.0], "metallicFactor": 0.9 if metal else 0.0, "roughnessFactor": 0.45}
    return {"name": name, "pbrMetallicRoughness": surface}
