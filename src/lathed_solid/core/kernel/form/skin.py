"""Skins of B-spline patches that share their edges exactly, so that a closed one needs no sewing."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.collections import Array1_double, Array1_int, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface, Geom_Curve
from OCP.Geom2d import Geom2d_Line
from OCP.gp import gp_Dir2d, gp_Pnt, gp_Pnt2d
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Vertex, TopoDS_Wire

from ...arrays import Floats
from ...tolerance import ONE_PLACE
from ..ground.geometry import Frame
from ..ground.topology import Edge, Face, Vertex, Wire

if TYPE_CHECKING:
    from scipy.interpolate import BSpline

#: Degree 5 follows a circle fifty times closer than 3 at the same number of poles.
DEGREE = 5
_FORWARD, _REVERSED = TopAbs_Orientation.TopAbs_FORWARD, TopAbs_Orientation.TopAbs_REVERSED


class Spline(NamedTuple):
    """A curve as the kernel wants it: distinct knots with their repeats, rows of poles."""

    knots: Array1_double
    counts: Array1_int
    poles: Floats
    degree: int

    @staticmethod
    def of(spline: BSpline) -> Spline:
        """From a SciPy B-spline over 0 to 1."""
        distinct, repeats = np.unique(spline.t, return_counts=True)
        knots, counts = Array1_double(1, len(distinct)), Array1_int(1, len(distinct))
        for k, (knot, repeat) in enumerate(zip(distinct, repeats, strict=True), 1):
            knots.SetValue(k, float(knot))
            counts.SetValue(k, int(repeat))
        return Spline(knots, counts, spline.c, int(spline.k))


def fitted(values: Floats) -> Spline:
    """A B-spline through rows of ``values`` at equal parameters 0 to 1."""
    from scipy.interpolate import make_interp_spline  # slow to load, and few parts need it

    return Spline.of(make_interp_spline(np.linspace(0.0, 1.0, len(values)), values, k=min(DEGREE, len(values) - 1)))


class Net:
    """Patches laid in rows and columns that share vertices and edges."""

    def __init__(self, frame: Frame, columns: int, closed: bool) -> None:
        self.builder = BRep_Builder()
        self.frame, self.columns, self.closed = frame, columns, closed
        self._axes, self._origin = np.array([frame.x, frame.y, frame.normal]), np.array(frame.origin)
        self._vertices: dict[tuple[int, int], Vertex] = {}
        self._along: dict[tuple[int, int], Edge] = {}
        self._across: dict[tuple[int, int], Edge] = {}

    def _column(self, i: int) -> int:
        return i % self.columns if self.closed else i

    def _vertex(self, i: int, j: int, place: gp_Pnt) -> Vertex:
        key = self._column(i), j
        if key not in self._vertices:
            made = TopoDS_Vertex()
            self.builder.MakeVertex(made, place, ONE_PLACE)
            self._vertices[key] = made
        return self._vertices[key]

    def _edge(self, curve: Geom_Curve, a: Vertex, b: Vertex) -> Edge:
        made = TopoDS_Edge()
        self.builder.MakeEdge(made, curve, ONE_PLACE)
        self.builder.Add(made, a.Oriented(_FORWARD))
        self.builder.Add(made, b.Oriented(_REVERSED))
        self.builder.Range(made, 0.0, 1.0)
        return TopoDS.Edge(made)

    def patch(self, i: int, j: int, poles: Floats, u: Spline, v: Spline) -> Face:
        """The face in column ``i`` and row ``j`` over ``poles`` (u, v, 3), in the frame's own coordinates."""
        return self.set_in(i, j, self.surface(poles, u, v))

    def surface(self, poles: Floats, u: Spline, v: Spline) -> Geom_BSplineSurface:
        net = Array2_gp_Pnt(1, poles.shape[0], 1, poles.shape[1])
        for a, row in enumerate((poles @ self._axes + self._origin).tolist(), 1):
            for b, place in enumerate(row, 1):
                net.SetValue(a, b, gp_Pnt(*place))
        return Geom_BSplineSurface(net, u.knots, v.knots, u.counts, v.counts, u.degree, v.degree)

    def set_in(self, i: int, j: int, surface: Geom_BSplineSurface) -> Face:
        """The face in column ``i`` and row ``j`` over a surface whose parameters run from 0 to 1."""
        ends = ((1, surface.NbUPoles()), (1, surface.NbVPoles()))
        corner = {
            (p, q): self._vertex(i + p, j + q, surface.Pole(ends[0][p], ends[1][q])) for p in (0, 1) for q in (0, 1)
        }

        def along(p: int) -> Edge:
            key = self._column(i + p), j
            if key not in self._along:
                self._along[key] = self._edge(surface.UIso(float(p)), corner[p, 0], corner[p, 1])
            return self._along[key]

        def across(q: int) -> Edge:
            if (i, j + q) not in self._across:
                self._across[i, j + q] = self._edge(surface.VIso(float(q)), corner[0, q], corner[1, q])
            return self._across[i, j + q]

        face, wire = TopoDS_Face(), TopoDS_Wire()
        self.builder.MakeFace(face, surface, TopLoc_Location(), ONE_PLACE)
        self.builder.MakeWire(wire)
        for edge, back, place, way in (
            (across(0), False, (0, 0), (1, 0)),
            (along(1), False, (1, 0), (0, 1)),
            (across(1), True, (0, 1), (1, 0)),
            (along(0), True, (0, 0), (0, 1)),
        ):
            self.builder.UpdateEdge(edge, Geom2d_Line(gp_Pnt2d(*place), gp_Dir2d(*way)), face, ONE_PLACE)
            self.builder.Range(edge, face, 0.0, 1.0)
            self.builder.SameParameter(edge, True)
            self.builder.SameRange(edge, True)
            self.builder.Add(wire, edge.Oriented(_REVERSED if back else _FORWARD))
        wire.Closed(True)
        self.builder.Add(face, wire)
        return face

    def ring_edges(self, j: int) -> list[tuple[Edge, Vertex]]:
        """The edges across at the start of row ``j``, each with the vertex it begins at."""
        return [(self._across[i, j], self._vertices[i, j]) for i in range(self.columns)]

    def ring(self, j: int) -> Wire:
        """The closed wire of all edges across at the start of row ``j``."""
        wire = TopoDS_Wire()
        self.builder.MakeWire(wire)
        for i in range(self.columns):
            self.builder.Add(wire, self._across[i, j])
        wire.Closed(True)
        return TopoDS.Wire(wire)
