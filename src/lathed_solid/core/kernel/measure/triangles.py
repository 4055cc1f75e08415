"""The triangles of a meshed shape as arrays, for whoever draws it without a screen."""

from __future__ import annotations

from typing import NamedTuple

import manifold3d
import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location

from ...arrays import Floats, Ints
from ..ground.check import KernelFailure
from ..ground.picture import mesh
from ..ground.topology import Face, Shape, faces

#: Nodes that agree to so many decimals of a mm are one.
_WELDED = 6


class Triangles(NamedTuple):
    """``points`` (n, 3) mm, ``corners`` (m, 3) indices into them, wound so that they look out, ``face`` (m,) the index
    of the face each lies on, from 1.
    """

    points: Floats
    corners: Ints
    face: Ints


def triangles(shape: Shape) -> Triangles:
    """Meshed where it is not yet."""
    mesh(shape)
    points, corners, owners, count = [], [], [], 0
    for index, face in enumerate(faces(shape), 1):
        own = _of(face)
        if own is None:
            continue
        points.append(own[0])
        corners.append(own[1] + count)
        owners.append(np.full(len(own[1]), index))
        count += len(own[0])
    if not points:
        return Triangles(np.zeros((0, 3)), np.zeros((0, 3), int), np.zeros(0, int))
    return Triangles(np.concatenate(points), np.concatenate(corners), np.concatenate(owners))


def fresh_triangles(shape: Shape, deflection: float, angle: float) -> Triangles:
    """Triangles of one fineness (mm, radians) throughout, whatever of the shape was meshed before: those of faces that
    were meshed for a picture, and of others beside them, would not close.
    """
    copy = BRepBuilderAPI_Copy(shape, False, False).Shape()
    mesh(copy, deflection, angle)
    return triangles(copy)


def closing_triangles(shape: Shape, deflection: float, angle: float) -> Triangles:
    """As ``fresh_triangles``, all faces in one pass of the kernel's older method: where a helical or conical face meets
    a flat one, two passes give the edge between them two polygons, and the triangles do not close.
    """
    copy = BRepBuilderAPI_Copy(shape, False, False).Shape()
    BRepMesh_IncrementalMesh(copy, deflection, False, angle, True)
    return triangles(copy)


def closed(mesh: Triangles, turned_over: bool = False) -> manifold3d.Manifold:
    """The solid within triangles, nodes at one place welded. Raises KernelFailure when they do not close."""
    _, first, node = np.unique(np.round(mesh.points, _WELDED), axis=0, return_index=True, return_inverse=True)
    corners = node.reshape(-1)[mesh.corners]
    if turned_over:
        corners = corners[:, ::-1]
    made = manifold3d.Mesh64(np.ascontiguousarray(mesh.points[first]), np.ascontiguousarray(corners, np.uint64))
    solid = manifold3d.Manifold(made)
    if solid.status() != manifold3d.Error.NoError or solid.is_empty():
        raise KernelFailure("Its triangles do not close round a solid.")
    return solid


def cut_up(corners: Floats, face: Ints, edge: float) -> tuple[Floats, Ints]:
    """Every triangle halved across its longest side until that is no longer than ``edge``."""
    done, owners = [np.zeros((0, 3, 3))], [np.zeros(0, int)]
    while len(corners):
        sides = np.linalg.norm(corners - np.roll(corners, -1, axis=1), axis=2)
        longest = sides.argmax(axis=1)
        small = sides.max(axis=1) <= edge
        done.append(corners[small])
        owners.append(face[small])
        rest, at, face = corners[~small], longest[~small], face[~small]
        rows = np.arange(len(rest))
        a, b, c = rest[rows, at], rest[rows, (at + 1) % 3], rest[rows, (at + 2) % 3]
        m = (a + b) / 2
        corners = np.concatenate([np.stack([a, m, c], axis=1), np.stack([m, b, c], axis=1)])
        face = np.concatenate([face, face])
    return np.concatenate(done), np.concatenate(owners)


def _of(face: Face) -> tuple[Floats, Ints] | None:
    place = TopLoc_Location()
    found = BRep_Tool.Triangulation_s(face, place)
    if found is None:
        return None
    move = place.Transformation()
    nodes = [found.Node(k).Transformed(move) for k in range(1, found.NbNodes() + 1)]
    points = np.array([(p.X(), p.Y(), p.Z()) for p in nodes])
    corners = np.array([found.Triangle(k).Get() for k in range(1, found.NbTriangles() + 1)], int).reshape(-1, 3) - 1
    if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
        corners = corners[:, ::-1]
    return points, corners
