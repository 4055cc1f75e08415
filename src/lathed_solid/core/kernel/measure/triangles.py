"""The triangles of a meshed shape as arrays, for whoever draws it without a screen."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location

from ...arrays import Floats, Ints
from ..ground.picture import mesh
from ..ground.topology import Face, Shape, faces


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
