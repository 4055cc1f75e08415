"""Fillets made as tools: for edges where the kernel's rolling ball gives up.

It refuses a radius that uses up a whole face, and an edge that runs out where one of its faces ends tangent to the
other (a rib beside a hub). On a straight edge between two flat faces, and on a round one between a flat face and a
cylinder square to it, the material to take away or to fill in is known exactly.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_State
from OCP.TopoDS import TopoDS

from ...tolerance import LEVEL
from ..form.outline import XY, ArcSegment, Loop, Segment, flat_face
from ..form.sweep import prism, revolve, revolve_part
from ..ground.check import KernelFailure, NothingChanged
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, along, cross, dot, frame_about, minus, norm, unit
from ..ground.named import SPENT, NamedBody, first_vertex, last_vertex
from ..ground.placing import triple
from ..ground.topology import EDGE, FACE, VERTEX, Edge, Vertex, ancestors, items
from ..measure.boxes import box
from ..measure.surfaces import left_of, measure_face, reach
from .boolean import combine


class _Corner(NamedTuple):
    """The middle of an edge: its place, its direction, and into each of its two faces."""

    place: Vector
    way: Vector
    into: tuple[Vector, Vector]
    faces: tuple[Surface, Surface]
    convex: bool


def rolled(body: NamedBody, groups: Mapping[str, Sequence[Edge]], radius: float) -> NamedBody | None:
    """``body`` with the edges of every group rounded; the faces of the group called ``s4/e0`` are ``s4/e0/side``.

    None when one of the edges is of another kind, or the tools give no sound solid.
    """
    tools: dict[bool, list[NamedBody]] = {True: [], False: []}
    table = ancestors(body.shape, EDGE, FACE)
    for called, edges in groups.items():
        tag, _, name = called.rpartition("/")
        for edge in edges:
            corner = _corner(body, edge)
            tool = _tool(body, edge, corner, radius, tag, name) if corner is not None else None
            if corner is None or tool is None:
                return None
            tools[corner.convex].append(tool)
    beside: dict[str, set[str]] = {}
    for called, edges in groups.items():
        sides = (body.names.get(body.index(f), set()) for e in edges for f in items(table.FindFromKey(e)))
        beside[f"{called}/side"] = {name for names in sides for name in names}
    made = body
    try:
        for tool in tools[False]:
            made = combine("add", made, [tool])
        for tool in tools[True]:
            made = combine("cut", made, [tool])
    except KernelFailure:
        return None
    meant = sum(t.volume for t in tools[False]) - sum(t.volume for t in tools[True])
    # Tools that overlap, or reach into other material, are no fillets any more.
    if abs(made.volume - body.volume - meant) > 1e-7 * max(body.volume, 1.0):
        return None
    left = {name for names in made.names.values() for name in names}
    for names in made.names.values():
        names |= {n + SPENT for own in names & beside.keys() for n in beside[own] - left}
    return made


def _corner(body: NamedBody, edge: Edge) -> _Corner | None:
    sides = [body.index(f) for f in items(ancestors(body.shape, EDGE, FACE).FindFromKey(edge))]
    if len(sides) != 2:
        return None
    first, second = (measure_face(body.face(i), i) for i in sides)
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    place, tangent = gp_Pnt(), gp_Vec()
    curve.D1((curve.FirstParameter() + curve.LastParameter()) / 2, place, tangent)
    at, way = triple(place), unit(triple(tangent))
    into, normals = [], []
    for surface in (first, second):
        normal = _outward(surface, at)
        if normal is None:
            return None
        left = 1.0 if left_of(body.face(surface.index), edge) else -1.0
        w = cross(normal, way)
        into.append((w[0] * left, w[1] * left, w[2] * left))
        normals.append(normal)
    if abs(dot(into[0], into[1])) > 1 - LEVEL:
        return None
    return _Corner(at, way, (into[0], into[1]), (first, second), dot(into[0], normals[1]) < 0)


def _outward(surface: Surface, at: Vector) -> Vector | None:
    """The outward normal of a flat or round face at a place on it."""
    if surface.kind == "plane":
        return surface.axis
    if surface.kind != "cylinder":
        return None
    gap = minus(at, surface.origin)
    out = unit(minus(gap, along((0.0, 0.0, 0.0), surface.axis, dot(gap, surface.axis))))
    return (-out[0], -out[1], -out[2]) if surface.hollow else out


def _tool(body: NamedBody, edge: Edge, corner: _Corner, radius: float, tag: str, name: str) -> NamedBody | None:
    if not _fits(body, edge, corner, radius):
        return None
    kinds = sorted(s.kind for s in corner.faces)
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge)).GetType()
    if kinds == ["plane", "plane"] and curve == GeomAbs_CurveType.GeomAbs_Line:
        return _straight(body, edge, corner, radius, tag, name)
    if kinds == ["cylinder", "plane"] and curve == GeomAbs_CurveType.GeomAbs_Circle:
        return _turned(body, edge, corner, radius, tag, name)
    return None


def _fits(body: NamedBody, edge: Edge, corner: _Corner, radius: float) -> bool:
    """Whether the fillet ends on both faces: at the middle of the edge, and along all of a straight one."""
    u, v = corner.into
    leg = radius / math.tan(math.acos(dot(u, v)) / 2)
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    places = [corner.place]
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        places += [triple(curve.Value(curve.FirstParameter())), triple(curve.Value(curve.LastParameter()))]
    outside = TopAbs_State.TopAbs_OUT
    for surface, way in zip(corner.faces, corner.into, strict=True):
        face = body.face(surface.index)
        for place in places:
            point = gp_Pnt(*along(place, way, leg))
            if BRepClass_FaceClassifier(face, point, 1e-6).State() == outside:
                return False
    return True


def _section(u: XY, v: XY, at: XY, radius: float, name: str) -> Loop:
    """Between a corner ``at``, whose sides run along ``u`` and ``v``, and the arc that touches both."""
    half = math.acos(max(-1.0, min(1.0, u[0] * v[0] + u[1] * v[1]))) / 2
    leg = radius / math.tan(half)
    size = math.hypot(u[0] + v[0], u[1] + v[1])
    mid = (u[0] + v[0]) / size, (u[1] + v[1]) / size
    far = radius / math.sin(half)
    a = at[0] + u[0] * leg, at[1] + u[1] * leg
    b = at[0] + v[0] * leg, at[1] + v[1] * leg
    through = at[0] + mid[0] * (far - radius), at[1] + mid[1] * (far - radius)
    return (Segment("land", at, a), ArcSegment(name, a, through, b), Segment("land2", b, at))


def _straight(body: NamedBody, edge: Edge, corner: _Corner, radius: float, tag: str, name: str) -> NamedBody | None:
    """A prism as long as the edge, which must end square at flat faces."""
    ends = first_vertex(edge), last_vertex(edge)
    if not all(_square(body, v, corner) for v in ends):
        return None
    start, end = (triple(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in ends)
    u, v = corner.into
    y = unit(minus(v, along((0.0, 0.0, 0.0), u, dot(u, v))))
    frame = Frame(start, u, y)
    loop = _section((1.0, 0.0), (dot(v, u), dot(v, y)), (0.0, 0.0), radius, name)
    return prism(flat_face(loop, (), frame), minus(end, start), tag)


def _square(body: NamedBody, vertex: Vertex, corner: _Corner) -> bool:
    own = {s.index for s in corner.faces}
    others = {body.index(f) for f in items(ancestors(body.shape, VERTEX, FACE).FindFromKey(vertex))} - own
    found = [measure_face(body.face(i), i) for i in others]
    return bool(found) and all(s.kind == "plane" and abs(dot(s.axis, corner.way)) > 1 - LEVEL for s in found)


def _turned(body: NamedBody, edge: Edge, corner: _Corner, radius: float, tag: str, name: str) -> NamedBody | None:
    """A ring about the cylinder; beside an edge that ends, as far as the walls at its ends let it go."""
    flat, round_ = sorted(corner.faces, key=lambda s: s.kind == "cylinder")
    if abs(dot(flat.axis, round_.axis)) < 1 - LEVEL:
        return None
    gap = minus(corner.place, round_.origin)
    foot = along(round_.origin, round_.axis, dot(gap, round_.axis))
    out = unit(minus(corner.place, foot))
    u, v = ((dot(w, out), dot(w, round_.axis)) for w in corner.into)
    if round_.radius + min(u[0], v[0]) * radius < 1e-9:
        return None
    loop = _section(u, v, (round_.radius, 0.0), radius, name)
    if first_vertex(edge).IsSame(last_vertex(edge)):
        return revolve(flat_face(loop, (), Frame(foot, out, round_.axis)), foot, round_.axis, tag)
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    begin = triple(curve.Value(curve.FirstParameter()))
    turn = curve.LastParameter() - curve.FirstParameter()
    way = triple(curve.Circle().Axis().Direction())
    section = flat_face(loop, (), Frame(foot, unit(minus(begin, foot)), round_.axis))
    return _between_walls(body, edge, corner, revolve_part(section, foot, way, turn, tag), radius)


def _between_walls(body: NamedBody, edge: Edge, corner: _Corner, ring: NamedBody, radius: float) -> NamedBody | None:
    """The part of a ring behind the flat walls that its edge ends at."""
    own = {s.index for s in corner.faces}
    table = ancestors(body.shape, VERTEX, FACE)
    for vertex in (first_vertex(edge), last_vertex(edge)):
        for index in {body.index(f) for f in items(table.FindFromKey(vertex))} - own:
            wall = measure_face(body.face(index), index)
            if wall.kind != "plane":
                return None
            ring = _behind(ring, triple(BRep_Tool.Pnt_s(TopoDS.Vertex(vertex))), wall.axis)
    return ring


def _behind(tool: NamedBody, place: Vector, normal: Vector) -> NamedBody:
    """What of a tool lies behind a plane with an outward ``normal``."""
    frame = frame_about(place, normal)
    far = 4 * reach(tool.shape, place, normal) + 4 * norm(minus(box(tool.shape)[1], box(tool.shape)[0]))
    corners = [(-far, -far), (far, -far), (far, far), (-far, far)]
    loop = tuple(Segment("beyond", a, b) for a, b in zip(corners, (*corners[1:], corners[0]), strict=True))
    try:
        return combine("cut", tool, [prism(flat_face(loop, (), frame), along((0.0, 0.0, 0.0), normal, far), "beyond")])
    except NothingChanged:
        return tool
