"""Places along an edge's curve: of lines and circles reckoned here, of all others asked of the kernel one by one."""

from __future__ import annotations

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GeomAbs import GeomAbs_CurveType

from ...arrays import Floats
from ..ground.placing import triple


def places_along(curve: BRepAdaptor_Curve, count: int) -> Floats:
    """``count`` places (count, 3) mm, even in the curve's own parameter, its ends among them."""
    first, last = curve.FirstParameter(), curve.LastParameter()
    steps = np.linspace(first, last, count)
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        start, end = np.array(triple(curve.Value(first))), np.array(triple(curve.Value(last)))
        share = np.linspace(0.0, 1.0, count)[:, None]
        line: Floats = start * (1 - share) + end * share
        return line
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
        circle = curve.Circle()
        place = circle.Position()
        middle, x, y = (np.array(triple(v)) for v in (place.Location(), place.XDirection(), place.YDirection()))
        ring: Floats = middle + circle.Radius() * (np.cos(steps)[:, None] * x + np.sin(steps)[:, None] * y)
        return ring
    return np.array([triple(curve.Value(float(u))) for u in steps])
