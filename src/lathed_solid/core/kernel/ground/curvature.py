"""The radius of a rounding whose surface is free: a fillet between two round faces comes as a spline."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepLProp import BRepLProp_SLProps
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Pnt2d
from OCP.TopAbs import TopAbs_State

from .topology import Face

#: Places felt each way across a face.
GRID = 7
#: A face whose curvature differs by more than this share from place to place has no one radius.
ONE_RADIUS = 0.01


class Rounding(NamedTuple):
    """Radius (mm) and how far it differs over the face (median, mm)."""

    radius: float
    spread: float


def rounding(face: Face) -> Rounding | None:
    """The one radius of a free face; None when it has none."""
    surface = BRepAdaptor_Surface(face)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    found = []
    for i in range(GRID):
        for j in range(GRID):
            u, v = u0 + (i + 0.5) / GRID * (u1 - u0), v0 + (j + 0.5) / GRID * (v1 - v0)
            state = BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-9).State()
            if state != TopAbs_State.TopAbs_IN:
                continue
            at = BRepLProp_SLProps(surface, u, v, 2, 1e-9)
            if at.IsCurvatureDefined():
                found.append((abs(at.MaxCurvature()), abs(at.MinCurvature())))
    if len(found) < GRID:
        return None
    best: Rounding | None = None
    for curvature in np.array(found).T:
        middle = float(np.median(curvature))
        if middle < 1e-9:
            continue
        radius = 1 / middle
        spread = float(np.median(np.abs(curvature / middle - 1))) * radius
        if best is None or spread / radius < best.spread / best.radius:
            best = Rounding(radius, spread)
    return best if best is not None and best.spread <= ONE_RADIUS * best.radius else None
