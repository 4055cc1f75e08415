"""Solids of triangles cut by a plane: their outlines there, and hatch lines inside, each part its own way."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import manifold3d
import numpy as np
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS_Compound

from ...arrays import Floats
from ..ground.figures import Vector
from ..ground.hatching import hatch_lines, hatched_way
from ..ground.topology import Shape

#: Lines lie so far before the cut faces, times the pitch, or they would flicker into them.
_BEFORE = 0.02
_LEAST = 1e-6


def hatched(solids: Sequence[tuple[manifold3d.Manifold, int]], origin: Vector, normal: Vector, pitch: float) -> Shape:
    """Outlines and hatch lines of solids, each with the number of its part, cut by the plane through ``origin`` (mm)
    whose ``normal`` points to the side taken away; lines ``pitch`` mm apart.
    """
    turn = _axes(normal)
    back = np.array(origin) + _BEFORE * pitch * np.array(normal)
    made, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(made)
    for solid, number in solids:
        flat = solid.transform(np.column_stack([turn, -turn @ np.array(origin)]))
        polygons = [np.asarray(p) for p in flat.slice(0.0).to_polygons()]
        for ends in (*_outline(polygons), *hatch_lines(polygons, *hatched_way(number, pitch))):
            a, b = np.column_stack([ends, np.zeros(2)]) @ turn + back
            if float(np.linalg.norm(b - a)) > _LEAST:
                builder.Add(made, BRepBuilderAPI_MakeEdge(gp_Pnt(*a.tolist()), gp_Pnt(*b.tolist())).Edge())
    return made


def _axes(normal: Vector) -> Floats:
    """Rows: two directions in the plane, and its normal."""
    n = np.array(normal, dtype=float)
    x = np.cross(np.eye(3)[int(np.argmin(np.abs(n)))], n)
    x /= np.linalg.norm(x)
    return np.array([x, np.cross(n, x), n])


def _outline(polygons: Sequence[Floats]) -> Iterator[Floats]:
    for polygon in polygons:
        yield from np.stack([polygon, np.roll(polygon, -1, axis=0)], axis=1)
