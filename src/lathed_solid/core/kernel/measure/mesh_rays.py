"""Many rays at once against the triangles of a part, in single precision: good to some 1e-5 of its size."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene

from ...arrays import Floats, Ints
from .triangles import Triangles


class Hits(NamedTuple):
    """Of each ray (n): the triangle it meets first, -1 for none, and how far along (mm)."""

    triangle: Ints
    far: Floats


class MeshRays:
    """One meshed part, asked many times. ``normals`` are the triangles' outward unit normals (m, 3)."""

    def __init__(self, mesh: Triangles) -> None:
        corners = mesh.points[mesh.corners]
        normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        size = np.linalg.norm(normals, axis=1, keepdims=True)
        self.normals: Floats = np.divide(normals, size, out=np.zeros_like(normals), where=size > 0)
        self._scene = EmbreeScene()
        TriangleMesh(self._scene, np.ascontiguousarray(corners, np.float32))

    def cast(self, places: Floats, ways: Floats) -> Hits:
        """From ``places`` (n, 3) along unit ``ways`` (n, 3)."""
        if not len(places):
            return Hits(np.zeros(0, int), np.zeros(0))
        origins, directions = (np.ascontiguousarray(a, np.float32) for a in (places, ways))
        found = self._scene.run(origins, directions, output=True)
        triangle = np.where(found["geomID"] >= 0, found["primID"], -1).astype(int)
        return Hits(triangle, np.asarray(found["tfar"], float))
