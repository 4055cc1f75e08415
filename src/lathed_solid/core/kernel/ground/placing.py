"""The kernel's own points, axes, planes and motions, made from plain values and turned back into them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeAlias

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location

from .figures import Vector
from .geometry import Frame
from .topology import Shape

#: A move, turn or mirroring in space.
Transform: TypeAlias = gp_Trsf


def point_in(frame: Frame, u: float, v: float, w: float = 0.0) -> gp_Pnt:
    """The place ``u``, ``v``, ``w`` (mm) of a frame."""
    return gp_Pnt(*frame.at(u, v, w))


def axes_of(frame: Frame) -> gp_Ax2:
    return gp_Ax2(gp_Pnt(*frame.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x))


def plane_of(frame: Frame) -> gp_Pln:
    return gp_Pln(gp_Ax3(axes_of(frame)))


def triple(p: gp_Pnt | gp_Dir | gp_Vec) -> Vector:
    return (p.X(), p.Y(), p.Z())


def turning_about(origin: Vector, direction: Vector, angle: float) -> Transform:
    """Rotation about any axis by ``angle`` radians."""
    made = gp_Trsf()
    made.SetRotation(gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction)), angle)
    return made


def screwed(frame: Frame, by: float, angle: float) -> Transform:
    """A screw motion along the frame's normal (mm) and from its x towards its y (radians)."""
    n = frame.normal
    made = shifting((n[0] * by, n[1] * by, n[2] * by))
    made.Multiply(turning_about(frame.origin, n, -angle if frame.mirrored else angle))
    return made


def shifting(by: Vector) -> Transform:
    """Translation by ``by`` mm."""
    made = gp_Trsf()
    made.SetTranslation(gp_Vec(*by))
    return made


def mirroring(place: Vector, normal: Vector) -> Transform:
    """Reflection in the plane through ``place`` (mm) with unit ``normal``."""
    made = gp_Trsf()
    made.SetMirror(gp_Ax2(gp_Pnt(*place), gp_Dir(*normal)))
    return made


def rigid(rotation: Sequence[Sequence[float]], shift: Sequence[float]) -> Transform:
    """A motion by a rotation matrix and a shift (mm)."""
    made = gp_Trsf()
    made.SetValues(*(float(v) for row, by in zip(rotation, shift, strict=True) for v in (*row, by)))
    return made


def moved(shape: Shape, by: Transform) -> Shape:
    """A copy of a shape where the motion takes it."""
    return BRepBuilderAPI_Transform(shape, by, True).Shape()


def standing(shape: Shape, rotation: Sequence[Sequence[float]], place: Sequence[float]) -> Shape:
    """The same shape standing somewhere: it shares all with the one it is."""
    return shape.Located(TopLoc_Location(rigid(rotation, place)))


def moved_frame(frame: Frame, transform: Transform) -> Frame:
    """A frame carried along by a rigid transform; a reflection makes it a mirrored one."""
    x, y = (gp_Vec(*v).Transformed(transform) for v in (frame.x, frame.y))
    origin = gp_Pnt(*frame.origin).Transformed(transform)
    return Frame(triple(origin), triple(x), triple(y), frame.mirrored != transform.IsNegative())


def placed_at(shape: Shape) -> tuple[tuple[Vector, Vector, Vector], Vector]:
    """The rotation matrix and the place (mm) that a shape stands at."""
    where = shape.Location().Transformation()
    rows = [[float(where.Value(r, c)) for c in range(1, 5)] for r in range(1, 4)]
    (a, b, c, x), (d, e, f, y), (g, h, i, z) = rows
    return ((a, b, c), (d, e, f), (g, h, i)), (x, y, z)
