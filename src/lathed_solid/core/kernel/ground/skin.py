"""Skins: bare triangles to be laid over a part in the view, as a shape that travels and is drawn like any other."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.gp import gp_Pnt
from OCP.Poly import Poly_Triangle, Poly_Triangulation
from OCP.TopoDS import TopoDS_Face

from ...arrays import Floats, Ints
from .figures import Skin, WallMap
from .picture import to_bytes
from .topology import Face, compound_of

#: Into so many bands a map is parted, by equal ratios.
BANDS = 24
#: No band begins thinner than this (mm).
_THINNEST = 0.01


def skin_face(points: Floats, corners: Ints) -> Face:
    """Triangles (m, 3) between points (n, 3, mm) as one face without a surface."""
    used, renumbered = np.unique(corners, return_inverse=True)
    renumbered = renumbered.reshape(-1, 3) + 1
    triangulation = Poly_Triangulation(len(used), len(renumbered), False)
    for at, (x, y, z) in enumerate(points[used].tolist(), 1):
        triangulation.SetNode(at, gp_Pnt(x, y, z))
    for at, (a, b, c) in enumerate(renumbered.tolist(), 1):
        triangulation.SetTriangle(at, Poly_Triangle(a, b, c))
    face = TopoDS_Face()
    BRep_Builder().MakeFace(face, triangulation)
    return face


def skin_of(parts: Sequence[tuple[Floats, Ints, float]]) -> Skin:
    """One face for each part that has triangles: points, corners, and the value it stands for."""
    there = [part for part in parts if len(part[1])]
    faces = [skin_face(points, corners) for points, corners, _ in there]
    return Skin(to_bytes(compound_of(faces)), tuple(value for _, _, value in there))


def in_bands(found: WallMap) -> Skin:
    """A map of walls as a skin: triangles of about one thickness together, which is the band's value (mm)."""
    at = found.thick[found.corners]
    there = np.isfinite(at)
    known = there.any(axis=1)
    thick = np.where(there, at, 0.0).sum(axis=1) / np.maximum(there.sum(axis=1), 1)
    if not known.any():
        return skin_of(())
    low, high = max(float(thick[known].min()), _THINNEST), max(float(thick[known].max()), 2 * _THINNEST)
    edges = np.geomspace(low, max(high, low * 1.001), BANDS + 1)
    band = np.clip(np.searchsorted(edges, thick[known], side="right") - 1, 0, BANDS - 1)
    corners = found.corners[known]
    middle = np.sqrt(edges[:-1] * edges[1:])
    return skin_of([(found.points, corners[band == k], float(middle[k])) for k in range(BANDS)])
