"""A solid with true faces out of a mesh: the faces found again in its triangles, between edges that both their
neighbours have.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.collections import HArray1_gp_Pnt
from OCP.Geom import (
    Geom_Circle,
    Geom_ConicalSurface,
    Geom_Curve,
    Geom_CylindricalSurface,
    Geom_Line,
    Geom_Plane,
    Geom_SphericalSurface,
    Geom_Surface,
    Geom_ToroidalSurface,
)
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Pnt
from OCP.Message import Message_ProgressRange
from OCP.ShapeFix import ShapeFix_Shape
from OCP.Standard import Standard_Failure
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopoDS import TopoDS_Edge, TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Vertex, TopoDS_Wire

from ....arrays import Floats, Ints
from ....tolerance import PARALLEL
from ....units import INCH
from ...ground.check import KernelFailure
from ...ground.integral import moments
from ...ground.topology import SOLID, Shape, subshapes
from ...measure.triangles import Triangles
from .fitting import Fitted, circle, squared
from .regions import Mesh, Region, pieces, regions

#: Sizes are written to so many decimals, in mm and in inch; a fit that comes as near to that is meant so (mm, radians).
_MM, _INCH, _MEANT, _ANGLE = 3, 4, 2e-5, 1e-5
#: An axis this near to one of the part's runs along it.
_SQUARE = 2e-5
#: Edges and corners lie on their faces to this (mm).
_TOLERANCE = 2e-4
#: What the rebuilt solid may have more or less than the mesh tells, of all that lies between the two.
_OFF = 0.05


def rebuilt(triangles: Triangles) -> list[Shape]:
    """A solid with true faces for each closed piece of a mesh (mm). Raises KernelFailure where they cannot be found, or
    do not close.
    """
    return [_rebuilt(mesh) for mesh in pieces(triangles)]


def _rebuilt(mesh: Mesh) -> Shape:
    if mesh.volume <= 0:
        raise KernelFailure("It is hollow inside, or its triangles look inwards.")
    found = _tidied(regions(mesh), mesh.near)
    try:
        made = _Builder(mesh, found).run()
    except Standard_Failure:
        raise KernelFailure("The faces found in its triangles do not meet in clean edges.") from None
    _hold(made, mesh, found)
    return made


# --- sizes as they are meant
def _tidied(found: list[Region], near: float) -> list[Region]:
    """One axis for what has one, and sizes as they are written where the fit is as near to that as a mesh tells."""
    lines: list[tuple[Floats, Floats]] = []
    done: list[Region] = []
    for region in sorted(found, key=lambda r: -len(r.triangles)):
        s = region.surface
        if s.kind == "plane":
            done.append(region._replace(surface=_flat(s)))
            continue
        if s.kind != "sphere":
            s = _on_line(s, lines, near)
        if s.kind in ("sphere", "torus"):
            s = s._replace(origin=_along(s, float(s.origin @ s.axis)))
        done.append(region._replace(surface=_sized(s)))
    return done


def _meant(value: float) -> float:
    mm, inch = round(value, _MM), round(value / INCH, _INCH) * INCH
    return mm if abs(value - mm) < _MEANT else inch if abs(value - inch) < _MEANT else value


def _flat(s: Fitted) -> Fitted:
    if np.count_nonzero(s.axis) != 1:
        return s
    k = int(np.abs(s.axis).argmax())
    origin = s.origin.copy()
    origin[k] = _meant(float(origin[k]))
    return s._replace(origin=origin)


def _on_line(s: Fitted, lines: list[tuple[Floats, Floats]], near: float) -> Fitted:
    """On the axis of a larger face, where it is the same."""
    axis = squared(s.axis, _SQUARE)
    for place, way in lines:
        gap = s.origin - place
        if abs(way @ axis) > 1 - 1e-8 and np.linalg.norm(gap - (gap @ way) * way) < 4 * near:
            return s._replace(origin=place + (gap @ way) * way, axis=way if way @ axis > 0 else -way)
    if np.count_nonzero(axis) == 1:
        k = int(np.abs(axis).argmax())
        origin = np.array([v if n == k else _meant(float(v)) for n, v in enumerate(s.origin)])
    else:
        origin = s.origin
    lines.append((origin, axis))
    return s._replace(origin=origin, axis=axis)


def _along(s: Fitted, place: float) -> Floats:
    return np.asarray(s.origin + (_meant(place) - place) * s.axis)


def _sized(s: Fitted) -> Fitted:
    if s.kind == "cone":
        degrees = round(math.degrees(s.half_angle), 2)
        half = math.radians(degrees) if abs(math.radians(degrees) - s.half_angle) < _ANGLE else s.half_angle
        return s._replace(half_angle=half)
    return s._replace(radius=_meant(2 * s.radius) / 2, major=_meant(s.major) if s.major else 0.0)


# --- topology
class _Builder:
    def __init__(self, mesh: Mesh, found: Sequence[Region]) -> None:
        self.mesh, self.found = mesh, found
        self.of: Ints = np.zeros(len(mesh.corners), int)
        for n, region in enumerate(found):
            self.of[region.triangles] = n
        self.make = BRep_Builder()
        self.vertices: dict[int, TopoDS_Vertex] = {}
        self.edges: dict[tuple[int, ...], TopoDS_Edge] = {}
        at = np.unique(np.column_stack([mesh.corners.reshape(-1), np.repeat(self.of, 3)]), axis=0)
        #: How many faces meet at each corner.
        self.meet: Ints = np.bincount(at[:, 0], minlength=len(mesh.points))

    def run(self) -> Shape:
        shell, solid = TopoDS_Shell(), TopoDS_Solid()
        self.make.MakeShell(shell)
        for n in range(len(self.found)):
            self.make.Add(shell, self._face(n))
        shell.Closed(True)
        self.make.MakeSolid(solid)
        self.make.Add(solid, shell)
        fix = ShapeFix_Shape(solid)
        fix.SetPrecision(1e-6)
        fix.SetMaxTolerance(10 * _TOLERANCE)
        fix.Perform(Message_ProgressRange())
        solids = subshapes(fix.Shape(), SOLID)
        if len(solids) != 1:
            raise KernelFailure("The faces found in its triangles do not close to one solid.")
        return solids[0]

    def _face(self, n: int) -> TopoDS_Face:
        region, face = self.found[n], TopoDS_Face()
        self.make.MakeFace(face, _surface(region.surface), _TOLERANCE)
        for loop in self._loops(n):
            wire = TopoDS_Wire()
            self.make.MakeWire(wire)
            for nodes, other in self._chains(loop):
                self.make.Add(wire, self._edge(nodes, n, other))
            wire.Closed(True)
            self.make.Add(face, wire.Reversed() if region.hollow else wire)
        face.Orientation(TopAbs_Orientation.TopAbs_REVERSED if region.hollow else TopAbs_Orientation.TopAbs_FORWARD)
        return face

    def _loops(self, n: int) -> list[list[tuple[int, int]]]:
        """The borders of a face, each as sides (triangle, its k-th) in the order in which they are walked."""
        sides = {
            (int(t), k)
            for t in self.found[n].triangles
            for k in range(3)
            if self.of[self.mesh.beside[t, k]] != n
        }  # fmt: skip
        found = []
        while sides:
            side = min(sides)
            loop = []
            while side in sides:
                sides.discard(side)
                loop.append(side)
                side = self._next(side, n)
            found.append(loop)
        return found

    def _next(self, side: tuple[int, int], n: int) -> tuple[int, int]:
        """Round the corner where a side ends, through triangles of the face, to its next side on the border."""
        t, k = side
        node = self.mesh.corners[t, (k + 1) % 3]
        k = (k + 1) % 3
        while self.of[other := int(self.mesh.beside[t, k])] == n:
            t, k = other, int(np.flatnonzero(self.mesh.corners[other] == node)[0])
        return t, k

    def _chains(self, loop: list[tuple[int, int]]) -> list[tuple[list[int], int]]:
        """A border cut where three faces meet: the corners of each piece, and the face beyond. A piece that closes has
        its first corner also as its last.
        """
        nodes = [int(self.mesh.corners[t, k]) for t, k in loop]
        beyond = [int(self.of[self.mesh.beside[t, k]]) for t, k in loop]
        cuts = [i for i, node in enumerate(nodes) if self.meet[node] > 2 or beyond[i] != beyond[i - 1]]
        if not cuts:
            return [([*nodes, nodes[0]], beyond[0])]
        ends = [*cuts[1:], cuts[0] + len(nodes)]
        return [([nodes[i % len(nodes)] for i in range(a, b + 1)], beyond[a]) for a, b in zip(cuts, ends, strict=True)]

    def _edge(self, nodes: list[int], n: int, other: int) -> Shape:
        """The edge along a chain, made once for its two faces; reversed for the one that walks it back."""
        closes = nodes[0] == nodes[-1]
        if closes:
            at = nodes.index(min(nodes))
            turned = [*nodes[at:-1], *nodes[: at + 1]]
            along = turned if turned[1] < turned[-2] else turned[::-1]
            is_back = along != turned
        else:
            along = min(nodes, nodes[::-1])
            is_back = along != nodes
        key = tuple(along)
        if key not in self.edges:
            self.edges[key] = self._made(along, self.found[n].surface, self.found[other].surface)
        return self.edges[key].Reversed() if is_back else self.edges[key]

    def _made(self, nodes: list[int], a: Fitted, b: Fitted) -> TopoDS_Edge:
        points = self.mesh.points[nodes]
        curve, first, last = _curve(points, a, b, self.mesh.near)
        edge = TopoDS_Edge()
        self.make.MakeEdge(edge, curve, _TOLERANCE)
        if nodes[0] == nodes[-1]:
            place = curve.Value(first)
            ends = [self._vertex(-1 - len(self.edges), place)] * 2
        else:
            ends = [self._vertex(node, gp_Pnt(*map(float, self.mesh.points[node]))) for node in (nodes[0], nodes[-1])]
        self.make.Add(edge, ends[0].Oriented(TopAbs_Orientation.TopAbs_FORWARD))
        self.make.Add(edge, ends[1].Oriented(TopAbs_Orientation.TopAbs_REVERSED))
        self.make.Range(edge, first, last)
        return edge

    def _vertex(self, node: int, place: gp_Pnt) -> TopoDS_Vertex:
        if node not in self.vertices:
            vertex = TopoDS_Vertex()
            self.make.MakeVertex(vertex, place, _TOLERANCE)
            self.vertices[node] = vertex
        return self.vertices[node]


def _surface(s: Fitted) -> Geom_Surface:
    axes = gp_Ax3(_point(s.origin), _way(s.axis))
    match s.kind:
        case "plane":
            return Geom_Plane(axes)
        case "cylinder":
            return Geom_CylindricalSurface(axes, s.radius)
        case "cone":
            return Geom_ConicalSurface(axes, s.half_angle, s.radius)
        case "sphere":
            return Geom_SphericalSurface(axes, s.radius)
    return Geom_ToroidalSurface(axes, s.major, s.radius)


def _point(p: Floats) -> gp_Pnt:
    return gp_Pnt(float(p[0]), float(p[1]), float(p[2]))


def _way(v: Floats) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


# --- edges
def _curve(points: Floats, a: Fitted, b: Fitted, near: float) -> tuple[Geom_Curve, float, float]:
    """The line, circle or free curve along corners between two faces, and its parameters at their first and last."""
    closes = bool(np.allclose(points[0], points[-1]))
    if not closes and _is_straight(points, a, b, near):
        way = points[-1] - points[0]
        length = float(np.linalg.norm(way))
        return Geom_Line(_point(points[0]), _way(way / length)), 0.0, length
    round_edge = _circle(points, a, b, near)
    if round_edge is not None:
        centre, axis, radius = round_edge
        x = points[0] - centre
        x = x - (x @ axis) * axis
        x /= np.linalg.norm(x)
        if np.cross(x, points[1] - centre) @ axis < 0:
            axis = -axis
        made = Geom_Circle(gp_Ax2(_point(centre), _way(axis), _way(x)), radius)
        if closes:
            return made, 0.0, 2 * math.pi
        gap = points[-1] - centre
        return made, 0.0, math.atan2(float(np.cross(axis, x) @ gap), float(x @ gap)) % (2 * math.pi)
    own = points[:-1] if closes else points
    places = HArray1_gp_Pnt(1, len(own))
    for k, p in enumerate(own, 1):
        places.SetValue(k, _point(p))
    through = GeomAPI_Interpolate(places, closes, 1e-7)
    through.Perform()
    if not through.IsDone():
        raise KernelFailure("An edge between two of its faces could not be drawn through its triangles.")
    spline = through.Curve()
    return spline, spline.FirstParameter(), spline.LastParameter()


def _is_straight(points: Floats, a: Fitted, b: Fitted, near: float) -> bool:
    way = (points[-1] - points[0]) / np.linalg.norm(points[-1] - points[0])
    gap = points - points[0]
    if np.linalg.norm(gap - np.outer(gap @ way, way), axis=1).max() > 2 * near:
        return False
    middle = (points[:1] + points[-1:]) / 2
    return len(points) > 2 or all(abs(s.off(middle)[0]) <= 4 * near for s in (a, b))


def _circle(points: Floats, a: Fitted, b: Fitted, near: float) -> tuple[Floats, Floats, float] | None:
    """Centre, axis and radius of the circle that corners lie on: about the axis of a face wherever that can be."""
    for s, other in ((a, b), (b, a)):
        if s.kind in ("plane", "sphere"):
            continue
        gap = points - s.origin
        z = gap @ s.axis
        r = np.linalg.norm(gap - np.outer(z, s.axis), axis=1)
        if np.ptp(z) > 4 * near or np.ptp(r) > 4 * near:
            continue
        place, radius = float(z.mean()), float(r.mean())
        if other.kind == "plane" and abs(other.axis @ s.axis) > 1 - PARALLEL:
            place = float((other.origin - s.origin) @ s.axis)
        if s.kind == "cylinder":
            radius = s.radius
        elif other.kind == "cylinder":
            radius = other.radius
        return s.origin + place * s.axis, s.axis, radius
    return _free_circle(points, a, b, near)


def _free_circle(points: Floats, a: Fitted, b: Fitted, near: float) -> tuple[Floats, Floats, float] | None:
    """About no axis of a face: a ball cut by a flat, or by another."""
    if len(points) < 4 or not any(s.kind in ("sphere", "torus") for s in (a, b)):
        return None
    middle = points.mean(axis=0)
    ways = np.linalg.svd(points - middle, full_matrices=False)[2]
    if np.abs((points - middle) @ ways[2]).max() > 2 * near:
        return None
    u, v = (points - middle) @ ways[0], (points - middle) @ ways[1]
    found = circle(u, v)
    if found is None:
        return None
    centre = middle + found[0] * ways[0] + found[1] * ways[1]
    r = np.linalg.norm(points - centre, axis=1)
    return (centre, ways[2], float(r.mean())) if np.ptp(r) < 4 * near else None


# --- is it the same solid?
def _hold(shape: Shape, mesh: Mesh, found: Sequence[Region]) -> None:
    """The solid has the volume of the mesh and of what lies between triangles and faces. Raises KernelFailure."""
    between = around = 0.0
    for region in found:
        corners = mesh.points[mesh.corners[region.triangles]]
        halves = (corners + np.roll(corners, -1, axis=1)) / 2
        off = np.mean([region.surface.off(halves[:, k]) for k in range(3)], axis=0)  # exact to the second power
        share = mesh.areas[region.triangles] * off * (1 if region.hollow else -1)
        between, around = between + float(share.sum()), around + float(np.abs(share).sum())
    has = _volume(shape)
    if abs(has - mesh.volume - between) > _OFF * around + 1e-5 * mesh.volume:
        share, how = 100 * abs(has / mesh.volume - 1), "more" if has > mesh.volume else "less"
        raise KernelFailure(f"The faces found in its triangles hold {share:.3g} % {how} than the triangles do.")


def _volume(shape: Shape) -> float:
    from ...ground.topology import faces

    return sum(moments(f)[0] for f in faces(shape))
