"""Which face is under the cursor: the one the line of sight meets first.

The kernel's selection takes a round face that goes all the way round for a capped bar: a click into a bore hits the
caps of the bore and of every round face about it at one place, and gives any of them. So where a face was detected,
those that may be meant are met with the line of sight themselves.
"""

from __future__ import annotations

from typing import NamedTuple

from OCP.AIS import AIS_InteractiveContext
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt
from OCP.IntCurvesFace import IntCurvesFace_Intersector
from OCP.TopoDS import TopoDS
from OCP.V3d import V3d_View

from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.placing import triple
from ...core.kernel.ground.topology import FACE, Shape

#: So far before and behind the eye's plane a face may lie (mm).
_FAR = 1e5
#: Faces last pointed at, by the kernel's hash of them, and at most so many.
_CROSSINGS: dict[int, tuple[Shape, IntCurvesFace_Intersector]] = {}
_KEPT = 200


class Pointed(NamedTuple):
    """The shape under the cursor, and where it was met (mm in the room; None: only nearly met)."""

    shape: Shape
    at: Vector | None


def point(
    context: AIS_InteractiveContext, view: V3d_View, x: int, y: int, cut: tuple[Vector, Vector] | None = None
) -> Pointed | None:
    """What is under a pixel, lit; None for nothing. What a ``cut`` (a place and the normal of the side that is taken
    away) has taken away is not there.
    """
    context.MoveTo(x, y, view, False)
    if not context.HasDetected():
        return None
    owner = context.DetectedOwner()
    shape = owner.Shape() if hasattr(owner, "Shape") else None
    if shape is None or shape.ShapeType() != FACE:
        return None if shape is None else Pointed(shape, _hit(context))
    selector = context.MainSelector()
    if selector.NbPicked() < 2:
        return Pointed(shape, _hit(context))
    eye = _line_of_sight(view, x, y)
    met = []
    for k in range(1, selector.NbPicked() + 1):
        other = selector.Picked(k)
        face = other.Shape() if hasattr(other, "Shape") else None
        if face is None or face.ShapeType() != FACE:
            continue
        there = eye.Transformed(other.Selectable().Transformation().Inverted())
        seen = [far for far in _met(face, there) if cut is None or _is_left(_at(eye, far), cut)]
        if seen:
            met.append((min(seen), k, other, face))
    if not met:
        return Pointed(shape, _hit(context))
    far, _, other, face = min(met, key=lambda m: m[:2])
    for _ in range(selector.NbPicked()):
        if context.DetectedOwner() == other:
            break
        context.HilightNextDetected(view, False)
    return Pointed(face, _at(eye, far))


def _at(eye: gp_Lin, far: float) -> Vector:
    start, along = eye.Location(), eye.Direction()
    return start.X() + far * along.X(), start.Y() + far * along.Y(), start.Z() + far * along.Z()


def _is_left(place: Vector, cut: tuple[Vector, Vector]) -> bool:
    origin, normal = cut
    return sum((p - o) * n for p, o, n in zip(place, origin, normal, strict=True)) <= 1e-6


def _line_of_sight(view: V3d_View, x: int, y: int) -> gp_Lin:
    a, b, c, u, v, w = (float(n) for n in view.ConvertWithProj(x, y))
    return gp_Lin(gp_Pnt(a, b, c), gp_Dir(u, v, w))


def _met(face: Shape, line: gp_Lin) -> list[float]:
    """How far along a line a face is met, mm."""
    crossing = _crossing(face)
    crossing.Perform(line, -_FAR, _FAR)
    many = crossing.NbPnt() if crossing.IsDone() else 0
    return [float(crossing.WParameter(k)) for k in range(1, many + 1)]


def _crossing(face: Shape) -> IntCurvesFace_Intersector:
    """What meets lines with a face: kept, for the flank of a modelled thread takes longer to prepare than to meet."""
    kept = _CROSSINGS.get(hash(face))
    if kept is None or not kept[0].IsSame(face):
        if len(_CROSSINGS) >= _KEPT:
            _CROSSINGS.clear()
        kept = _CROSSINGS[hash(face)] = face, IntCurvesFace_Intersector(TopoDS.Face(face), 1e-6)
    return kept[1]


def _hit(context: AIS_InteractiveContext) -> Vector | None:
    selector = context.MainSelector()
    return triple(selector.PickedPoint(1)) if selector.NbPicked() > 0 else None
