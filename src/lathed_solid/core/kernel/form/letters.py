"""Outlines laid round a cylinder: engraved or raised letters on a round face."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepFill import BRepFill
from OCP.BRepLib import BRepLib
from OCP.collections import Array1_gp_Pnt2d
from OCP.Geom import Geom_CylindricalSurface
from OCP.Geom2d import Geom2d_BezierCurve
from OCP.gp import gp_Ax3, gp_Pnt2d
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure
from ..ground.geometry import Frame
from ..ground.named import NamedBody
from ..ground.placing import axes_of
from ..ground.topology import Edge, Wire
from .outline import ArcSegment, Cubic, FullCircle, Loop, Segment
from .sewing import sewn

XY = tuple[float, float]


def wrapped(
    outer: Loop, holes: tuple[Loop, ...], frame: Frame, nominal: float, low: float, high: float, tag: str
) -> NamedBody:
    """An area laid round the frame's normal between the radii ``low`` and ``high`` (mm).

    The area's x runs round the cylinder, true to length at the radius ``nominal``, its y along the axis. Faces are
    ``tag/<curve>/side``, ``tag/start`` (inside) and ``tag/end``. Raises KernelFailure.
    """
    lids, sides = [], []
    rims: list[list[list[Edge]]] = []
    for radius in (low, high):
        surface = Geom_CylindricalSurface(gp_Ax3(axes_of(frame)), radius)
        loops = [[_edge(p, surface, nominal) for p in loop] for loop in (outer, *holes)]
        rims.append(loops)
        maker = BRepBuilderAPI_MakeFace(surface, _wire(loops[0]), True)
        for loop in loops[1:]:
            maker.Add(TopoDS.Wire(_wire(loop).Reversed()))
        if not maker.IsDone():
            raise KernelFailure("The letters do not close on the round face.")
        lids.append(maker.Face())
    for k, pieces in enumerate((outer, *holes)):
        for piece, a, b in zip(pieces, rims[0][k], rims[1][k], strict=True):
            sides.append((BRepFill.Face_s(a, b), f"{tag}/{piece.name}/side"))
    return sewn([(lids[0], f"{tag}/start"), (lids[1], f"{tag}/end"), *sides])


def _edge(piece: object, surface: Geom_CylindricalSurface, nominal: float) -> Edge:
    places = _poles(piece)
    poles = Array1_gp_Pnt2d(1, len(places))
    for k, (x, y) in enumerate(places, 1):
        poles.SetValue(k, gp_Pnt2d(x / nominal, y))
    made = BRepBuilderAPI_MakeEdge(Geom2d_BezierCurve(poles), surface)
    if not made.IsDone():
        raise KernelFailure("A line of the letters has no length.")
    edge = made.Edge()
    BRepLib.BuildCurve3d_s(edge)
    return edge


def _poles(piece: object) -> tuple[XY, ...]:
    if isinstance(piece, Segment):
        return piece.start, piece.end
    if isinstance(piece, Cubic):
        return piece.poles
    if isinstance(piece, ArcSegment | FullCircle):
        raise KernelFailure("Only letters and straight lines can be laid round a cylinder; arcs cannot.")
    raise KernelFailure("Only letters and straight lines can be laid round a cylinder.")


def _wire(edges: list[Edge]) -> Wire:
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(edge)
    if not maker.IsDone():
        raise KernelFailure("The letters do not close on the round face.")
    return maker.Wire()
