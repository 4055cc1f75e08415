"""Places along an edge's curve: of lines and circles reckoned here, of all others asked of the kernel one by one."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GeomAbs import GeomAbs_CurveType

from ...arrays import Floats
from ..ground.placing import triple


@lru_cache(maxsize=64)
def _shares(count: int) -> Floats:
    return np.linspace(0.0, 1.0, count)


def places_along(curve: BRepAdaptor_Curve, count: int) -> Floats:
    """``count`` places (count, 3) mm, even in the curve's own parameter, its ends among them."""
    first, last = curve.FirstParameter(), curve.LastParameter()
    kind, share = curve.GetType(), _shares(count)
    if kind == GeomAbs_CurveType.GeomAbs_Line:
        ends = np.array((triple(curve.Value(first)), triple(curve.Value(last))))
        if count == 2:
            return ends
        start, end = ends
        line: Floats = start * (1 - share[:, None]) + end * share[:, None]
        return line
    steps = first + share * (last - first)
    if kind == GeomAbs_CurveType.GeomAbs_Circle:
        circle = curve.Circle()
        place = circle.Position()
        middle, x, y = (np.array(triple(v)) for v in (place.Location(), place.XDirection(), place.YDirection()))
        ring: Floats = middle + circle.Radius() * (np.cos(steps)[:, None] * x + np.sin(steps)[:, None] * y)
        return ring
    return np.array([triple(curve.Value(float(u))) for u in steps])
