"""Fine triangles of a body for pictures, with the normal of the true surface at every corner."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepLib import BRepLib_ToolTriangulatedShape
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location

from ...arrays import Floats, Ints
from ..ground.picture import mesh
from ..ground.topology import Face, Shape, box_of, faces

#: The triangles lie within this share of the part's size, and turn so far from one to the next (radians).
_SHARE, _TURN = 1 / 3000, 0.15


class Facets(NamedTuple):
    """``points`` and unit ``normals`` (n, 3) outwards, ``corners`` (m, 3), ``face`` (m,) from 1."""

    points: Floats
    normals: Floats
    corners: Ints
    face: Ints


def facets(shape: Shape) -> Facets:
    """Of a copy: what the shape was meshed with before stays as it is. The deflection is a share of its size."""
    low_high = np.reshape(box_of(shape), (2, 3))
    size = float(np.linalg.norm(low_high[1] - low_high[0]))
    copy = BRepBuilderAPI_Copy(shape, True, False).Shape()
    mesh(copy, max(1e-4, size * _SHARE), _TURN)
    made, count = [], 0
    for index, face in enumerate(faces(copy), 1):
        own = _of(face)
        if own is not None:
            points, normals, corners = own
            made.append(Facets(points, normals, corners + count, np.full(len(corners), index)))
            count += len(points)
    return together(made)


def together(parts: list[Facets]) -> Facets:
    """Several as one; their corners count through already."""
    if not parts:
        return Facets(np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3), int), np.zeros(0, int))
    return Facets(*(np.concatenate(columns) for columns in zip(*parts, strict=True)))


def _of(face: Face) -> tuple[Floats, Floats, Ints] | None:
    place = TopLoc_Location()
    found = BRep_Tool.Triangulation_s(face, place)
    if found is None:
        return None
    BRepLib_ToolTriangulatedShape.ComputeNormals_s(face, found)
    move = place.Transformation()
    count = range(1, found.NbNodes() + 1)
    nodes = [found.Node(k).Transformed(move) for k in count]
    ways = [found.Normal(k).Transformed(move) for k in count]
    points = np.array([(p.X(), p.Y(), p.Z()) for p in nodes])
    normals = np.array([(n.X(), n.Y(), n.Z()) for n in ways])
    corners = np.array([found.Triangle(k).Get() for k in range(1, found.NbTriangles() + 1)], int).reshape(-1, 3) - 1
    if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
        corners, normals = corners[:, ::-1], -normals
    return points, normals, corners
