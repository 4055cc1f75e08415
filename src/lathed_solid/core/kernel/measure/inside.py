"""Whether places lie in material."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from OCP.Bnd import Bnd_Box
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt, gp_Vec
from OCP.IntCurvesFace import IntCurvesFace_Intersector

from ...arrays import Floats
from ..ground.figures import Vector
from ..ground.placing import triple
from ..ground.topology import Face, Shape, faces, is_reversed

#: Faces are met from here on, up to there (mm along a way).
_FROM, _TO = 1e-7, 1e6
#: A way that is level in one axis leans by so little.
_LEVEL = 1e-12
_WAYS = ((0.48, 0.62, 0.62), (-0.71, 0.31, 0.63), (0.22, -0.83, 0.51))


class Met(NamedTuple):
    """The face that a way meets (index from 1), how far along it (mm), and whether it is left or entered there."""

    face: int
    far: float
    outward: bool


class Inside:
    """Whether points lie in material: where the first face met on a way out faces.

    The kernel's own classifier takes half a second a point beside free faces; rays against boxed faces take less than a
    millisecond. Three of them vote, since one may graze an edge. Of the faces only those are asked whose box lies on
    the way, the nearest first: a plate with four hundred holes is asked as fast as one with four.
    """

    def __init__(self, shape: Shape) -> None:
        self._faces = list(faces(shape))
        self._boxes = np.array([_box(face) for face in self._faces]).reshape(-1, 2, 3)
        self._crossing: dict[int, IntCurvesFace_Intersector] = {}

    def __call__(self, point: Vector) -> bool:
        first, second = (self._leaves(point, way) for way in _WAYS[:2])
        return first if first == second else self._leaves(point, _WAYS[2])

    def _leaves(self, point: Vector, way: Vector) -> bool:
        """Whether the nearest face on the way is passed from inside."""
        met = self.met(point, way)
        return met is not None and met.outward

    def met(self, point: Vector, way: Vector) -> Met | None:
        """The first face on a way (a unit direction); None when there is none."""
        line = gp_Lin(gp_Pnt(*point), gp_Dir(*way))
        entered = _entered(self._boxes, np.array(point), np.array(triple(line.Direction())))
        nearest, first = _TO, None
        for at in np.argsort(entered, kind="stable"):
            if entered[at] > nearest:
                break
            crossing = self._crossing_of(int(at))
            crossing.Perform(line, _FROM, nearest)
            if not crossing.IsDone():
                continue
            for k in range(1, crossing.NbPnt() + 1):
                if crossing.WParameter(k) <= nearest:
                    nearest = crossing.WParameter(k)
                    outward = _is_left(self._faces[at], crossing.UParameter(k), crossing.VParameter(k), way)
                    first = Met(int(at) + 1, nearest, outward)
        return first

    def _crossing_of(self, at: int) -> IntCurvesFace_Intersector:
        if at not in self._crossing:
            self._crossing[at] = IntCurvesFace_Intersector(self._faces[at], 1e-7)
        return self._crossing[at]


def _box(face: Face) -> tuple[Vector, Vector]:
    found = Bnd_Box()
    BRepBndLib.Add_s(face, found, False)
    return triple(found.CornerMin()), triple(found.CornerMax())


def _entered(boxes: Floats, point: Floats, way: Floats) -> Floats:
    """How far along a way each box (n x 2 x 3) is entered, mm; infinite for those it misses or has behind it."""
    ends = (boxes - point) / np.where(np.abs(way) < _LEVEL, _LEVEL, way)
    enters, leaves = ends.min(axis=1).max(axis=1), ends.max(axis=1).min(axis=1)
    return np.where((leaves >= enters) & (leaves >= 0.0), np.maximum(enters, 0.0), np.inf)


def _is_left(face: Face, u: float, v: float, way: Vector) -> bool:
    """Whether a way goes out of the material where it meets a face."""
    place, along_u, along_v = gp_Pnt(), gp_Vec(), gp_Vec()
    BRepAdaptor_Surface(face, False).D1(u, v, place, along_u, along_v)
    outward = along_u.Crossed(along_v).Dot(gp_Vec(*way))
    return bool((outward > 0) != is_reversed(face))
