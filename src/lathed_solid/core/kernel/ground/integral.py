"""What a face adds to the volume of a solid and to its first moments, exact on free walls too.

The kernel's rules are good on flat, round and spline faces taken one by one, and poor on faces swept from a free
curve (off by up to a fifth, without a word). Those are integrated here by Green's theorem in the face's own
parameters, span by span between the knots of the curve.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from OCP.Adaptor3d import Adaptor3d_Curve
from OCP.BRepAdaptor import BRepAdaptor_Curve2d, BRepAdaptor_Surface
from OCP.BRepGProp import BRepGProp_Domain, BRepGProp_Face, BRepGProp_Vinert
from OCP.collections import Array1_double
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_Shape, GeomAbs_SurfaceType
from OCP.gp import gp_Pnt, gp_Pnt2d, gp_Vec, gp_Vec2d
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from .topology import EDGE, Face

#: Faces that are integrated here.
_SWEPT = (
    GeomAbs_SurfaceType.GeomAbs_SurfaceOfExtrusion,
    GeomAbs_SurfaceType.GeomAbs_SurfaceOfRevolution,
    GeomAbs_SurfaceType.GeomAbs_BezierSurface,
)
_FLAT_OR_ROUND = (
    GeomAbs_SurfaceType.GeomAbs_Plane,
    GeomAbs_SurfaceType.GeomAbs_Cylinder,
    GeomAbs_SurfaceType.GeomAbs_Cone,
    GeomAbs_SurfaceType.GeomAbs_Torus,
    GeomAbs_SurfaceType.GeomAbs_Sphere,
)
_PLAIN = (GeomAbs_CurveType.GeomAbs_Line, GeomAbs_CurveType.GeomAbs_Circle)
#: What the kernel is asked for on flat and round faces with other edges (with plain ones its fixed rule is exact to
#: 1e-15), and on spline faces, where far more is reached than asked (5e-8 on threads) and more costs ten times as long.
_CLOSENESS, _CLOSENESS_FREE = 1e-6, 1e-3
#: Gauss points a span, along the edge and across the face: enough for the product of three cubics.
_POINTS = 6
#: Turns are cut into pieces of at most this angle; six points are then good to 1e-13.
_TURN = 1.6
_GAUSS = {n: np.polynomial.legendre.leggauss(n) for n in (_POINTS, 8)}
#: What the integral may be off by at the least, of the whole volume: edges that lie beside their face.
LEAST = 1e-8


#: Volume (mm³) and first moments about part zero (mm⁴).
Moments = tuple[float, float, float, float]


def moments(face: Face) -> Moments:
    """What the cone from part zero over one face adds to a solid's volume and to its first moments (signed).

    Only the sum over a closed skin means anything. The kernel's own sum over a shape goes by the shape's middle; a
    fixed point lets faces be summed one by one.
    """
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() in _SWEPT:
        volume, x, y, z = _Swept(face, surface).integral(_cone_and_moments, 4).tolist()
        return volume, x, y, z
    found = _by_kernel(face, surface)
    mass, center = float(found.Mass()), found.CentreOfMass()
    return mass, mass * center.X(), mass * center.Y(), mass * center.Z()


def uncertainty(faces: Sequence[Face]) -> float:
    """How far a volume may be off (mm³) by its swept faces: six points a span against eight."""
    off = 0.0
    for face in faces:
        surface = BRepAdaptor_Surface(face)
        if surface.GetType() in _SWEPT:
            six, eight = (float(_Swept(face, surface, n).integral(_cone, 1)[0]) for n in (_POINTS, 8))
            off += abs(six - eight)
    return off


def _by_kernel(face: Face, surface: BRepAdaptor_Surface) -> BRepGProp_Vinert:
    found, within, domain = BRepGProp_Vinert(), BRepGProp_Face(face), BRepGProp_Domain(face)
    found.SetLocation(gp_Pnt(0.0, 0.0, 0.0))
    if surface.GetType() not in _FLAT_OR_ROUND:
        found.Perform(within, domain, _CLOSENESS_FREE)
    elif _plain_edges(face):
        found.Perform(within, domain)
    else:
        found.Perform(within, domain, _CLOSENESS)
    return found


def _plain_edges(face: Face) -> bool:
    """Whether all edges of a face are straight or round in its own parameters."""
    walk = TopExp_Explorer(face, EDGE)
    while walk.More():
        if BRepAdaptor_Curve2d(TopoDS.Edge(walk.Current()), TopoDS.Face(face)).GetType() not in _PLAIN:
            return False
        walk.Next()
    return True


#: An integrand: place and the two tangents (each n x 3) to values (n x k).
_Integrand = Callable[[Floats, Floats], Floats]


def _cone(place: Floats, normal: Floats) -> Floats:
    return np.asarray(np.einsum("ij,ij->i", place, normal)[:, None] / 3)


def _cone_and_moments(place: Floats, normal: Floats) -> Floats:
    cone = _cone(place, normal)
    return np.column_stack([cone, 0.75 * cone * place])  # the middle of a cone lies three quarters up


class _Swept:
    """One face being integrated with ``points`` Gauss points a span."""

    def __init__(self, face: Face, surface: BRepAdaptor_Surface, points: int = _POINTS) -> None:
        self._surface, self._points = surface, points
        self._at, self._weight = _GAUSS[points]
        self._face = TopoDS.Face(face.Oriented(TopAbs_Orientation.TopAbs_FORWARD))
        self._sign = -1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0
        self._u, self._v = _knots(surface)
        #: Of an extruded face the volume's integrand does not change along the sweep.
        self._level = surface.GetType() == GeomAbs_SurfaceType.GeomAbs_SurfaceOfExtrusion

    def integral(self, integrand: _Integrand, size: int) -> Floats:
        """Over the face, by its edges: the inner integral runs along u, the outer one along every edge."""
        self._integrand, self._size = integrand, size
        self._table = self._whole_spans(0.0) if self._level and size == 1 else None
        total = np.zeros(size)
        walk = TopExp_Explorer(self._face, EDGE)
        while walk.More():
            edge = TopoDS.Edge(walk.Current())
            walk.Next()
            found = self._along(BRepAdaptor_Curve2d(edge, self._face))
            total += -found if edge.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else found
        return np.asarray(self._sign * total)

    def _along(self, curve: BRepAdaptor_Curve2d) -> Floats:
        place, way = gp_Pnt2d(), gp_Vec2d()
        first, last = curve.FirstParameter(), curve.LastParameter()
        curve.D1((first + last) / 2, place, way)
        total = np.zeros(self._size)
        if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
            if abs(way.Y()) < 1e-14:
                return total
            if abs(way.X()) < 1e-14 and self._table is not None:
                return np.asarray(self._up_to(place.X(), 0.0) * way.Y() * (last - first))
        cuts = self._cuts(curve, first, last)
        for low, high in itertools.pairwise(cuts):
            if high - low < 1e-12:
                continue
            for t, weight in zip(_spread(low, high, self._at), self._weight * (high - low) / 2, strict=True):
                curve.D1(t, place, way)
                total += weight * way.Y() * self._up_to(place.X(), place.Y())
        return total

    def _cuts(self, curve: BRepAdaptor_Curve2d, first: float, last: float) -> list[float]:
        """Where an edge must be cut: at its own knots, and where it crosses a knot line of the face."""
        own = _knots_of(curve, first, last)
        cuts = set(own)
        fine = np.unique(np.concatenate([np.linspace(a, b, 5) for a, b in itertools.pairwise(own)]))
        place = gp_Pnt2d()

        def coordinate(t: float, which: int) -> float:
            curve.D0(t, place)
            return float(place.Y() if which else place.X())

        for which, knots in ((0, self._u[1:-1]), (1, self._v[1:-1])):
            values = [coordinate(t, which) for t in fine]
            for knot in knots:
                for i in range(len(fine) - 1):
                    a, b = values[i] - knot, values[i + 1] - knot
                    if a == 0:
                        cuts.add(fine[i])
                    elif a * b < 0:
                        cuts.add(_crossing(partial(coordinate, which=which), knot, fine, i, a))
        return sorted(cuts)

    def _up_to(self, u: float, v: float) -> Floats:
        """The integrand from the first u to ``u``, at ``v``."""
        spans = self._u
        at = min(max(int(np.searchsorted(spans, u)) - 1, 0), len(spans) - 2)
        if self._table is not None:
            return np.asarray(self._table[at] + self._piece(spans[at], u, v))
        total = np.zeros(self._size)
        for low, high in zip(spans[: at + 1], [*spans[1 : at + 1], u], strict=True):
            total += self._piece(low, high, v)
        return total

    def _whole_spans(self, v: float) -> Floats:
        pieces = [self._piece(a, b, v) for a, b in itertools.pairwise(self._u)]
        return np.concatenate([np.zeros((1, self._size)), np.cumsum(pieces, axis=0)])

    def _piece(self, low: float, high: float, v: float) -> Floats:
        if abs(high - low) < 1e-15:
            return np.zeros(self._size)
        place, along_u, along_v = gp_Pnt(), gp_Vec(), gp_Vec()
        places, normals = np.empty((self._points, 3)), np.empty((self._points, 3))
        for k, u in enumerate(_spread(low, high, self._at)):
            self._surface.D1(u, v, place, along_u, along_v)
            normal = along_u.Crossed(along_v)
            places[k] = place.X(), place.Y(), place.Z()
            normals[k] = normal.X(), normal.Y(), normal.Z()
        return (high - low) / 2 * (self._weight @ self._integrand(places, normals))


def _spread(low: float, high: float, at: Floats) -> list[float]:
    return [float(t) for t in (low + high) / 2 + (high - low) / 2 * at]


def _crossing(coordinate: Callable[[float], float], knot: float, fine: Floats, i: int, a: float) -> float:
    low, high = float(fine[i]), float(fine[i + 1])
    for _ in range(50):
        middle = (low + high) / 2
        if (coordinate(middle) - knot) * a > 0:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def _knots(surface: BRepAdaptor_Surface) -> tuple[list[float], list[float]]:
    """Where a swept face is not smooth, in u and in v, its ends included."""
    u0, u1 = surface.FirstUParameter(), surface.LastUParameter()
    v0, v1 = surface.FirstVParameter(), surface.LastVParameter()
    kind = surface.GetType()
    if kind == GeomAbs_SurfaceType.GeomAbs_SurfaceOfRevolution:
        return _turn(u0, u1), _knots_of(surface.BasisCurve(), v0, v1)
    if kind == GeomAbs_SurfaceType.GeomAbs_SurfaceOfExtrusion:
        return _knots_of(surface.BasisCurve(), u0, u1), [v0, v1]
    return [u0, u1], [v0, v1]


def _turn(low: float, high: float) -> list[float]:
    return [float(t) for t in np.linspace(low, high, 1 + max(1, math.ceil((high - low) / _TURN)))]


def _knots_of(curve: Adaptor3d_Curve | BRepAdaptor_Curve2d, low: float, high: float) -> list[float]:
    """Break places of a curve. Its intervals leave out the knots of one of degree five: the curve is asked itself."""
    kind = curve.GetType()
    if kind == GeomAbs_CurveType.GeomAbs_Line:
        return [low, high]
    if kind == GeomAbs_CurveType.GeomAbs_BSplineCurve:
        form = curve.BSpline()
        knots = [form.Knot(i) for i in range(1, form.NbKnots() + 1)]
        if form.IsPeriodic():
            knots = [k + j * curve.Period() for j in (-1, 0, 1) for k in knots]
        return [low, *sorted({k for k in knots if low + 1e-12 < k < high - 1e-12}), high]
    if kind in (GeomAbs_CurveType.GeomAbs_Circle, GeomAbs_CurveType.GeomAbs_Ellipse):
        return _turn(low, high)
    count = curve.NbIntervals(GeomAbs_Shape.GeomAbs_CN)
    found = Array1_double(1, count + 1)
    curve.Intervals(found, GeomAbs_Shape.GeomAbs_CN)
    inner = (found.Value(i) for i in range(1, count + 2))
    return [low, *(t for t in inner if low + 1e-12 < t < high - 1e-12), high]
