"""The cut face of a section plane, with real hatch lines."""

from __future__ import annotations

import math
from collections.abc import Sequence

from OCP.BRep import BRep_Builder
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace
from OCP.TopoDS import TopoDS_Compound

from ..ground.check import done
from ..ground.geometry import Frame, turned_in_plane
from ..ground.placing import plane_of, point_in
from ..ground.topology import Shape, compound_of
from .boxes import box

#: How the hatch of each body runs, so that neighbours are told apart; the fifth begins again.
_RUNS = (0.0, math.pi / 2, math.radians(15), math.radians(105))


def hatches(shapes: Sequence[Shape], frame: Frame) -> Shape:
    """The hatch of several bodies cut by one plane, each its own way."""
    if not shapes:
        return compound_of(())
    size = max(h - lo for shape in shapes for lo, h in zip(*box(shape), strict=True))
    runs = (turned_in_plane(frame, _RUNS[n % len(_RUNS)]) for n in range(len(shapes)))
    return compound_of(section_hatch(s, run, size / 30) for s, run in zip(shapes, runs, strict=True))


def section_hatch(shape: Shape, frame: Frame, pitch: float = 0.0) -> Shape:
    """Hatch lines at 45° inside the material cut by the frame's plane; ``pitch`` in mm, 0 for one by size."""
    size = max(h - lo for lo, h in zip(*box(shape), strict=True)) * 2 + 1
    faces = _common(BRepBuilderAPI_MakeFace(plane_of(frame), -size, size, -size, size).Face(), shape)
    pitch = pitch or size / 60
    lines, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(lines)
    count = math.ceil(size / pitch)
    for i in range(-2 * count, 2 * count + 1):
        # A slanted line clipped to the square of the section.
        low, high = max(-size, i * pitch - size), min(size, i * pitch + size)
        if high - low > 1e-6:
            edge = BRepBuilderAPI_MakeEdge(
                point_in(frame, low, low - i * pitch), point_in(frame, high, high - i * pitch)
            )
            builder.Add(lines, edge.Edge())
    return _common(lines, faces)


def _common(a: Shape, b: Shape) -> Shape:
    operation = BRepAlgoAPI_Common(a, b)
    done(operation, "The section could not be worked out here; move the plane a little.")
    return operation.Shape()
