"""What parts that are left whole cover of the areas a cut lays open behind them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely import MultiPolygon, Polygon, unary_union

from ..ground.geometry import Frame
from ..ground.topology import Shape
from ..measure.triangles import closed, closing_triangles
from .strokes import XY

#: How near triangles lie to the true faces (mm), and how far they turn (radians): finer than a drawn line is wide.
_FINE, _TURN = 0.02, 0.2
#: Smaller rests of an area are none (mm²).
_LEAST = 1e-3


def shadow(shape: Shape, eye: Frame) -> list[Polygon]:
    """The outline, as the eye sees it, of what of a solid lies before the eye's own plane (mm)."""
    axes = np.array([eye.x, eye.y, eye.normal])
    solid = closed(closing_triangles(shape, _FINE, _TURN))
    seen = solid.transform(np.column_stack([axes, -axes @ np.array(eye.origin)])).trim_by_plane((0.0, 0.0, 1.0), 0.0)
    if seen.is_empty():
        return []
    return [Polygon(p) for p in seen.project().to_polygons() if len(p) > 2]


def uncovered(loops: Sequence[Sequence[XY]], covers: Sequence[Polygon]) -> list[tuple[tuple[XY, ...], ...]]:
    """What is left of an area (its loops), each piece with its own loops."""
    rings = sorted((Polygon(loop).buffer(0) for loop in loops if len(loop) > 2), key=lambda p: -p.area)
    if not rings:
        return []
    area = rings[0].difference(unary_union(rings[1:])) if len(rings) > 1 else rings[0]
    left = area.difference(unary_union(covers)) if covers else area
    pieces = left.geoms if isinstance(left, MultiPolygon) else [left]
    return [
        (tuple(p.exterior.coords), *(tuple(hole.coords) for hole in p.interiors))
        for p in pieces
        if isinstance(p, Polygon) and p.area > _LEAST
    ]
