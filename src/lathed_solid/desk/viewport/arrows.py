"""Arrows that show how a part can move: round an axis, along a line, or both."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pnt

from ...core.arrays import Floats
from ...core.fit.poses import across
from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.topology import Edge

#: An arc is so long (radians); a head is this share of the size, and opens this wide.
_ARC, _HEAD, _OPEN = math.radians(270), 0.18, 0.45


class Arrow(NamedTuple):
    """Round (``turns``) or along ``direction`` at a place, so large (mm)."""

    turns: bool
    at: Vector
    direction: Vector
    size: float


def arrow_edges(arrow: Arrow) -> Iterator[Edge]:
    """The lines of an arrow: its shaft, and a head at both ends, for a part moves either way."""
    at, along = np.array(arrow.at), np.array(arrow.direction)
    x, _ = across(along)
    if not arrow.turns:
        yield _line(at - arrow.size * along, at + arrow.size * along)
        for way in (1.0, -1.0):
            yield from _head(at + way * arrow.size * along, way * along, x, arrow.size)
        return
    circle = gp_Circ(gp_Ax2(gp_Pnt(*at.tolist()), gp_Dir(*along.tolist()), gp_Dir(*x.tolist())), arrow.size)
    yield BRepBuilderAPI_MakeEdge(circle, 0.0, _ARC).Edge()
    side = np.cross(along, x)
    for angle, way in ((_ARC, 1.0), (0.0, -1.0)):
        out = math.cos(angle) * x + math.sin(angle) * side
        tangent = way * (math.cos(angle) * side - math.sin(angle) * x)
        yield from _head(at + arrow.size * out, tangent, out, arrow.size)


def _head(tip: Floats, along: Floats, side: Floats, size: float) -> Iterator[Edge]:
    for way in (1.0, -1.0):
        yield _line(tip, tip - _HEAD * size * (along + way * _OPEN * side))


def _line(a: Floats, b: Floats) -> Edge:
    return BRepBuilderAPI_MakeEdge(gp_Pnt(*a.tolist()), gp_Pnt(*b.tolist())).Edge()
