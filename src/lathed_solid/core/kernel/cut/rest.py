"""The plain rest of a cylinder beside a thread that ends on it: a round face that shares the thread's last ring."""

from __future__ import annotations

import math
from typing import NamedTuple

from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.collections import Array1_gp_Pnt2d
from OCP.Geom import Geom_Circle, Geom_CylindricalSurface, Geom_Line
from OCP.Geom2d import Geom2d_BSplineCurve, Geom2d_Line
from OCP.gp import gp_Ax2, gp_Ax3, gp_Circ, gp_Dir, gp_Dir2d, gp_Lin, gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Vertex, TopoDS_Wire

from ...arrays import Floats
from ...tolerance import ONE_PLACE
from ..form.helicoid import Skin
from ..form.skin import fitted
from ..ground.geometry import Frame, along, dot, minus, norm
from ..ground.placing import triple
from ..ground.topology import VERTEX, Edge, Face, Vertex, Wire, subshapes

_FORWARD, _REVERSED = TopAbs_Orientation.TopAbs_FORWARD, TopAbs_Orientation.TopAbs_REVERSED
#: The ring must lie on the cylinder, and some of the cylinder must be left, mm.
_ON, _LEAST = 1e-6, 0.01


class Rest(NamedTuple):
    """The face, its normal away from the axis, and its far circle, counter-clockwise about the frame's normal."""

    face: Face
    circle: Wire


def rest_of(skin: Skin, frame: Frame, radius: float, at_low: bool, end: float, left_hand: bool) -> Rest | None:
    """The cylinder between the ring at the skin's low or high end and the level ``end`` beyond it.

    None when the ring does not lie on the cylinder or nothing is left of it.
    """
    ring = skin.net.ring_edges(0 if at_low else skin.rows)
    first = TopoDS.Vertex(ring[0][1])
    place = minus(triple(BRep_Tool.Pnt_s(first)), frame.origin)
    level = dot(place, frame.normal)
    out = minus(place, along((0.0, 0.0, 0.0), frame.normal, level))
    if abs(norm(out) - radius) > _ON or (level - end if at_low else end - level) < _LEAST:
        return None
    builder = _Builder(frame, gp_Dir(*out), radius)
    circle, far = builder.circle(end)
    seam = builder.seam(first, far, level, end)
    for angle, (edge, _) in zip(skin.angles, ring, strict=True):
        turned = angle - skin.angles[0][0] + (0.0 if left_hand else 2 * math.pi)
        builder.lay(edge, turned, level)
    around = [(edge, _FORWARD) for edge, _ in ring]
    # Along the lower end one goes with the angle, along the upper against it; the ring runs with it when left-hand.
    if left_hand == at_low:
        around = [(edge, _REVERSED) for edge, _ in reversed(ring)]
    if at_low:
        loop = [(circle, _FORWARD), (seam, _FORWARD), *around, (seam, _REVERSED)]
    else:
        loop = [*around, (seam, _FORWARD), (circle, _REVERSED), (seam, _REVERSED)]
    return Rest(builder.closed(loop), builder.wire([(circle, _FORWARD)]))


class _Builder:
    """Edges on one cylinder, whose seam lies in the direction ``x``."""

    def __init__(self, frame: Frame, x: gp_Dir, radius: float) -> None:
        self._make, self._frame, self._x, self._radius = BRep_Builder(), frame, x, radius
        self._normal = gp_Dir(*frame.normal)
        surface = Geom_CylindricalSurface(gp_Ax3(gp_Pnt(*frame.origin), self._normal, x), radius)
        self._face = TopoDS_Face()
        self._make.MakeFace(self._face, surface, TopLoc_Location(), ONE_PLACE)

    def circle(self, level: float) -> tuple[Edge, Vertex]:
        """The full circle at a level, and its vertex on the seam."""
        middle = gp_Pnt(*along(self._frame.origin, self._frame.normal, level))
        ring = gp_Circ(gp_Ax2(middle, self._normal, self._x), self._radius)
        vertex, edge = TopoDS_Vertex(), TopoDS_Edge()
        self._make.MakeVertex(vertex, middle.Translated(gp_Vec(self._x).Multiplied(self._radius)), ONE_PLACE)
        self._make.MakeEdge(edge, Geom_Circle(ring), ONE_PLACE)
        self._make.Add(edge, vertex.Oriented(_FORWARD))
        self._make.Add(edge, vertex.Oriented(_REVERSED))
        self._make.Range(edge, 0.0, 2 * math.pi)
        self._make.UpdateEdge(edge, Geom2d_Line(gp_Pnt2d(0.0, level), gp_Dir2d(1.0, 0.0)), self._face, ONE_PLACE)
        self._make.Range(edge, self._face, 0.0, 2 * math.pi)
        return TopoDS.Edge(edge), vertex

    def seam(self, first: Vertex, far: Vertex, level: float, end: float) -> Edge:
        """The straight edge on the seam, upwards."""
        low, high = (first, far) if level < end else (far, first)
        bottom, length = min(level, end), abs(end - level)
        start = BRep_Tool.Pnt_s(TopoDS.Vertex(low))
        edge = TopoDS_Edge()
        self._make.MakeEdge(edge, Geom_Line(gp_Lin(start, self._normal)), ONE_PLACE)
        self._make.Add(edge, low.Oriented(_FORWARD))
        self._make.Add(edge, high.Oriented(_REVERSED))
        self._make.Range(edge, 0.0, length)
        up = gp_Dir2d(0.0, 1.0)
        right, left = (Geom2d_Line(gp_Pnt2d(u, bottom), up) for u in (2 * math.pi, 0.0))
        self._make.UpdateEdge(edge, right, left, self._face, ONE_PLACE)
        self._make.Range(edge, self._face, 0.0, length)
        return TopoDS.Edge(edge)

    def lay(self, edge: Edge, angle: Floats, level: float) -> None:
        """Give an edge of the ring its place on the cylinder: angles at equal steps of its parameter."""
        spline = fitted(angle[:, None])
        poles = Array1_gp_Pnt2d(1, len(spline.poles))
        for k, u in enumerate(spline.poles[:, 0].tolist(), 1):
            poles.SetValue(k, gp_Pnt2d(u, level))
        curve = Geom2d_BSplineCurve(poles, spline.knots, spline.counts, spline.degree)
        edge = TopoDS.Edge(edge)
        self._make.UpdateEdge(edge, curve, self._face, ONE_PLACE)
        self._make.Range(edge, self._face, 0.0, 1.0)
        # The thread's own curves follow a circle to some nanometres only; the kernel must be told how closely.
        off = max(abs(self._off_axis(BRepAdaptor_Curve(edge).Value(k / 200)) - self._radius) for k in range(201))
        self._make.UpdateEdge(edge, max(ONE_PLACE, 1.2 * off))
        for vertex in subshapes(edge, VERTEX):
            self._make.UpdateVertex(TopoDS.Vertex(vertex), max(ONE_PLACE, 1.3 * off))

    def _off_axis(self, place: gp_Pnt) -> float:
        out = minus(triple(place), self._frame.origin)
        return norm(minus(out, along((0.0, 0.0, 0.0), self._frame.normal, dot(out, self._frame.normal))))

    def wire(self, edges: list[tuple[Edge, TopAbs_Orientation]]) -> Wire:
        made = TopoDS_Wire()
        self._make.MakeWire(made)
        for edge, way in edges:
            self._make.Add(made, edge.Oriented(way))
        made.Closed(True)
        return TopoDS.Wire(made)

    def closed(self, loop: list[tuple[Edge, TopAbs_Orientation]]) -> Face:
        self._make.Add(self._face, self.wire(loop))
        return self._face
