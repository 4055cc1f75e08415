"""Helical faces felt along a line beside their axis, as a stylus would: how far out they lie at every place."""

from __future__ import annotations

import numpy as np
from OCP.gp import gp_Dir, gp_Lin
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector

from ...arrays import Floats
from ..ground.figures import Vector
from ..ground.geometry import frame_about, turned_in_plane
from ..ground.named import NamedBody
from ..ground.placing import point_in
from ..ground.topology import compound_of


def axial_trace(
    body: NamedBody, indices: list[int], origin: Vector, axis: Vector, angle: float, places: Floats
) -> Floats:
    """Where rays square to the axis, at ``angle`` about it, first meet the faces: rows of (along, radius), mm.

    ``places`` are along the axis from ``origin``; those where no face is met are left out.
    """
    crossing = IntCurvesFace_ShapeIntersector()
    crossing.Load(compound_of(body.face(i) for i in indices), 1e-9)
    frame = turned_in_plane(frame_about(origin, axis), angle)
    way, found = gp_Dir(*frame.x), []
    for place in places.tolist():
        start = point_in(frame, 0.0, 0.0, place)
        crossing.PerformNearest(gp_Lin(start, way), 0.0, 1e6)
        if crossing.IsDone() and crossing.NbPnt():
            found.append((place, crossing.Pnt(1).Distance(start)))
    return np.array(found).reshape(-1, 2)
