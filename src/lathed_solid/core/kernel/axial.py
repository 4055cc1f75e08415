"""Helical faces cut by a half plane through their axis: the curves that show pitch, depth and form."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from OCP.BRepAlgoAPI import BRepAlgoAPI_Section
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace

from .curves import places_on
from .figures import Vector
from .geometry import Frame, dot, frame_about, minus, norm, turned_in_plane
from .named import NamedBody
from .topology import EDGE, subshapes

Floats = NDArray[np.float64]
FAR = 1e4
PLACES = 25


def axial_section(body: NamedBody, indices: list[int], origin: Vector, axis: Vector, angle: float) -> list[Floats]:
    """Each curve where faces meet the half plane at ``angle`` about the axis, as rows of (along it, radius), mm."""
    frame = turned_in_plane(frame_about(origin, axis), angle)
    half = Frame(frame.origin, frame.x, frame.normal)
    plane = BRepBuilderAPI_MakeFace(half.plane(), 0.0, FAR, -FAR, FAR).Face()
    found = []
    for index in indices:
        cut = BRepAlgoAPI_Section(body.face(index), plane)
        if not cut.IsDone():
            continue
        for edge in subshapes(cut.Shape(), EDGE):
            rows = []
            for place in places_on(edge, PLACES):
                gap = minus(place, origin)
                along = dot(gap, axis)
                out = minus(gap, (axis[0] * along, axis[1] * along, axis[2] * along))
                rows.append((along, norm(out)))
            found.append(np.array(rows))
    return found
