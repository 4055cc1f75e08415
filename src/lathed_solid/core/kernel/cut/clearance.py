"""What of a body a round tool comes near: boxes first, then exact distances on flat and round faces."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.topology import Face, Wire, box_of, edges_of, wires_of

Where = Literal["inside", "outside", "touches"]


class FaceRegion:
    """The region of a flat face: whether circles that lie in its plane lie inside it, clear of its edges."""

    def __init__(self, face: Face, clear: float) -> None:
        self._wires, self._clear = wires_of(face), clear
        self._boxes = np.array([box_of(w) for w in self._wires])
        self._outer = int(np.linalg.norm(self._boxes[:, 3:] - self._boxes[:, :3], axis=1).argmax())
        self._loops: dict[int, _Loop] = {}

    @property
    def outer(self) -> Wire:
        return self._wires[self._outer]

    def holds(self, center: Floats, radius: float) -> Where:
        """Where the circle about ``center`` (in the plane) lies; "touches" also when that is not certain."""
        reach = radius + self._clear
        low, high = self._boxes[:, :3], self._boxes[:, 3:]
        near = np.all((low <= center + reach) & (high >= center - reach), axis=1)
        if not near[self._outer]:
            return "outside"
        for at in [self._outer, *(int(i) for i in np.nonzero(near)[0] if i != self._outer)]:
            if at not in self._loops:
                self._loops[at] = _Loop(self._wires[at])
            where = self._loops[at].holds(center, reach)
            if where == "touches":
                return "touches"
            if (where == "inside") != (at == self._outer):
                return "outside"
        return "inside"


class _Loop:
    """One wire of a flat face made of lines and circles; anything else touches everything near."""

    def __init__(self, wire: Wire) -> None:
        lines, circles, self._sure = [], [], True
        for edge in edges_of(wire):
            curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
            if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
                ends = (curve.Value(curve.FirstParameter()), curve.Value(curve.LastParameter()))
                lines.append([triple(p) for p in ends])
            elif curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
                circle = curve.Circle()
                circles.append((*triple(circle.Location()), *triple(circle.Axis().Direction()), circle.Radius()))
            else:
                self._sure = False
        self._lines = np.array(lines).reshape(-1, 2, 3)
        self._circles = np.array(circles).reshape(-1, 7)

    def holds(self, center: Floats, reach: float) -> Where:
        if not self._sure:
            return "touches"
        if len(self._lines) and _to_lines(center, self._lines).min() <= reach:
            return "touches"
        away = np.zeros(0)
        if len(self._circles):
            away = _off_axis(center, self._circles[:, :3], self._circles[:, 3:6])
            if np.abs(away - self._circles[:, 6]).min() <= reach:
                return "touches"
        if len(self._lines) == 0 and len(self._circles) == 1:
            return "inside" if away[0] < self._circles[0, 6] else "outside"
        if len(self._circles):
            return "touches"  # arcs and lines together: left to the kernel
        return "inside" if _even_odd(center, self._lines) else "outside"


def _flattened(lines: Floats) -> tuple[Floats, Floats]:
    """Unit vectors in the plane of a closed polygon."""
    steps = lines[:, 1] - lines[:, 0]
    u = steps[int(np.linalg.norm(steps, axis=1).argmax())]
    u = u / np.linalg.norm(u)
    rest = steps - np.outer(steps @ u, u)
    v = rest[int(np.linalg.norm(rest, axis=1).argmax())]
    size = np.linalg.norm(v)
    return u, v / size if size > 0 else v  # all in one line: beside them the face is bounded by arcs


def _to_lines(center: Floats, lines: Floats) -> Floats:
    """Distances in the polygon's plane from a place to line pieces."""
    u, v = _flattened(lines)
    plane = np.array([u, v])
    a, b, c = lines[:, 0] @ plane.T, lines[:, 1] @ plane.T, plane @ center
    d = b - a
    t = np.clip(((c - a) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-30), 0, 1)
    return np.asarray(np.linalg.norm(a + t[:, None] * d - c, axis=1))


def _even_odd(center: Floats, lines: Floats) -> bool:
    """Whether a place lies inside a closed polygon given as loose pieces."""
    u, v = _flattened(lines)
    y0, y1, x0, x1 = lines[:, 0] @ v, lines[:, 1] @ v, lines[:, 0] @ u, lines[:, 1] @ u
    x, y = float(center @ u), float(center @ v)
    crosses = (y0 > y) != (y1 > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x0 + (y - y0) / (y1 - y0) * (x1 - x0)
    return bool((crosses & (at > x)).sum() % 2)


def _off_axis(place: Floats, origins: Floats, ways: Floats) -> Floats:
    """How far a place lies from axes."""
    w = place - origins
    along = (w * ways).sum(axis=1, keepdims=True)
    return np.asarray(np.linalg.norm(w - along * ways, axis=1))


class Obstacles:
    """The faces of a body as seen by round tools that run along ``normal``."""

    def __init__(self, body: NamedBody, normal: Floats, clear: float) -> None:
        self._body, self.normal, self._clear = body, normal, clear
        self._boxes = body.boxes
        self._surfaces: dict[int, BRepAdaptor_Surface] = {}
        self._regions: dict[int, FaceRegion] = {}

    def near(self, origin: Floats, radius: float, depth: float) -> list[int]:
        """Faces whose boxes meet that of a tool."""
        aside = (radius + self._clear) * np.sqrt(np.maximum(1 - self.normal**2, 0)) + self._clear
        ends = np.array([origin, origin + depth * self.normal])
        low, high = ends.min(axis=0) - aside, ends.max(axis=0) + aside
        meets = np.all((self._boxes[:, :3] <= high) & (self._boxes[:, 3:] >= low), axis=1)
        return [int(i) + 1 for i in np.nonzero(meets)[0]]

    def _surface(self, index: int) -> BRepAdaptor_Surface:
        if index not in self._surfaces:
            self._surfaces[index] = BRepAdaptor_Surface(self._body.face(index))
        return self._surfaces[index]

    def region(self, index: int) -> FaceRegion:
        if index not in self._regions:
            self._regions[index] = FaceRegion(self._body.face(index), self._clear)
        return self._regions[index]

    def level(self, index: int, origin: Floats) -> tuple[float, float] | None:
        """Depth of a flat face square to the tools, and +1 when it faces the way they run; None for other faces."""
        flat = outward(self._body.face(index), self._surface(index))
        if flat is None:
            return None
        place, out = flat
        if abs(abs(out @ self.normal) - 1) > 1e-12:
            return None
        depth = (place - origin) @ self.normal
        return float(depth), float(np.sign(out @ self.normal))

    def depths(self, index: int, origin: Floats) -> tuple[float, float]:
        """Between which depths a face lies, by its box, so rather too many."""
        box = self._boxes[index - 1].reshape(2, 3) - origin
        ends = box * self.normal
        return float(ends.min(axis=0).sum()), float(ends.max(axis=0).sum())

    def clear_of(self, index: int, origin: Floats, radius: float) -> bool:
        """Whether a tool certainly misses a face that is not square to it, however long both were."""
        surface, reach = self._surface(index), radius + self._clear
        kind = surface.GetType()
        if kind == GeomAbs_SurfaceType.GeomAbs_Plane:
            plane = surface.Plane()
            out = np.array(triple(plane.Axis().Direction()))
            if abs(out @ self.normal) > 1e-12:
                return False
            return bool(abs((np.array(triple(plane.Location())) - origin) @ out) > reach)
        span = radii(surface)
        if span is None:
            return False
        place, way, least, most = span
        if abs(abs(way @ self.normal) - 1) > 1e-12:
            return False
        away = float(_off_axis(origin, place[None], way[None])[0])
        return away + reach < least or away - reach > most


def outward(face: Face, surface: BRepAdaptor_Surface | None = None) -> tuple[Floats, Floats] | None:
    """A place on a flat face and the direction out of the material; None for other faces."""
    surface = surface or BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
        return None
    plane = surface.Plane()
    out = np.array(triple(plane.Axis().Direction()))
    if plane.Direct() == (face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED):
        out = -out
    return np.array(triple(plane.Location())), out


def _cosines(first: float, last: float) -> tuple[float, float]:
    """Least and greatest cosine between two angles, radians."""
    found = [math.cos(first), math.cos(last)]
    if math.floor(last / (2 * math.pi)) >= math.ceil(first / (2 * math.pi)):
        found.append(1.0)
    if math.floor((last - math.pi) / (2 * math.pi)) >= math.ceil((first - math.pi) / (2 * math.pi)):
        found.append(-1.0)
    return min(found), max(found)


def radii(surface: BRepAdaptor_Surface) -> tuple[Floats, Floats, float, float] | None:
    """Axis (place, direction) of a round face and the radii it keeps between; None for other faces."""
    kind = surface.GetType()
    if kind == GeomAbs_SurfaceType.GeomAbs_Cylinder:
        cylinder = surface.Cylinder()
        axis, least, most = cylinder.Axis(), cylinder.Radius(), cylinder.Radius()
    elif kind == GeomAbs_SurfaceType.GeomAbs_Cone:
        cone = surface.Cone()
        ends = [
            cone.RefRadius() + v * np.sin(cone.SemiAngle())
            for v in (surface.FirstVParameter(), surface.LastVParameter())
        ]
        axis, least, most = cone.Axis(), 0.0 if min(ends) * max(ends) < 0 else min(map(abs, ends)), max(map(abs, ends))
    elif kind == GeomAbs_SurfaceType.GeomAbs_Torus:
        torus = surface.Torus()
        low, high = _cosines(surface.FirstVParameter(), surface.LastVParameter())
        axis, least = torus.Axis(), torus.MajorRadius() + low * torus.MinorRadius()
        most = torus.MajorRadius() + high * torus.MinorRadius()
    else:
        return None
    return np.array(triple(axis.Location())), np.array(triple(axis.Direction())), float(least), float(most)
