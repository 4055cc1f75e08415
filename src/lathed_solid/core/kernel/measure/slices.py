"""Solids of triangles cut by a plane: their outlines there, and hatch lines inside, each part its own way."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import manifold3d
import numpy as np
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS_Compound

from ...arrays import Floats
from ..ground.figures import Vector
from ..ground.topology import Shape

#: Each part is hatched in a way of its own: which way lines lean and how far apart they are, times the pitch
#: (ISO 128-50 clause 4.3: neighbours are told by direction or spacing).
_WAYS = ((45, 1.0), (135, 1.0), (45, 1.6), (135, 1.6), (60, 0.7), (120, 0.7), (30, 1.2), (150, 1.2))
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
        lean, wide = _WAYS[number % len(_WAYS)]
        for ends in (*_outline(polygons), *_lines(polygons, math.radians(lean), wide * pitch)):
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


def _lines(polygons: Sequence[Floats], lean: float, pitch: float) -> Iterator[Floats]:
    """Parts of parallel lines inside polygons: crossings taken in pairs."""
    if not polygons:
        return
    turn = np.array([[math.cos(lean), math.sin(lean)], [-math.sin(lean), math.cos(lean)]])
    ends = np.concatenate([np.stack([p, np.roll(p, -1, axis=0)], axis=1) for p in polygons]) @ turn.T
    low, high = ends[:, :, 1].min(axis=1), ends[:, :, 1].max(axis=1)
    for k in range(math.ceil(float(low.min()) / pitch), math.floor(float(high.max()) / pitch) + 1):
        level = k * pitch
        crossed = ends[(low <= level) & (high > level)]
        share = (level - crossed[:, 0, 1]) / (crossed[:, 1, 1] - crossed[:, 0, 1])
        along = np.sort(crossed[:, 0, 0] + share * (crossed[:, 1, 0] - crossed[:, 0, 0]))
        for a, b in zip(along[::2], along[1::2], strict=False):
            yield np.array([[a, level], [b, level]]) @ turn
