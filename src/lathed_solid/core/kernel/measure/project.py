"""Edges, silhouettes and cuts of a body seen square onto a plane, as flat pieces for sketches."""

from __future__ import annotations

import math
from typing import NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Section
from OCP.BRepLib import BRepLib
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape, HLRBRep_TypeOfResultingEdge
from OCP.TopoDS import TopoDS

from ...names import bare
from ...tolerance import ONE_PLACE, PARALLEL
from ..ground.check import KernelFailure, done
from ..ground.figures import Vector
from ..ground.geometry import Frame, cross, dot, minus
from ..ground.named import NamedBody
from ..ground.placing import plane_of, triple
from ..ground.topology import Edge, Face, edges_of

XY = tuple[float, float]
#: Pieces shorter than this (mm) are not shown: what an outline leaves where it turns through a pole.
SHORTEST = 1e-4
#: Places on a curve that has no plain form on the plane.
PLACES = 13


class Straight(NamedTuple):
    start: XY
    end: XY


class Round(NamedTuple):
    """An arc, counter-clockwise from ``start`` to ``end``; a whole circle when they are one place."""

    center: XY
    radius: float
    start: XY
    end: XY


class Oval(NamedTuple):
    """A whole ellipse: the end of one half axis, and the length of the other."""

    center: XY
    end: XY
    other: float


class Free(NamedTuple):
    """Places along a curve of another form."""

    places: tuple[XY, ...]


Flat = Straight | Round | Oval | Free


class Seen(NamedTuple):
    """A flat piece, and the face it has on its other side ("" where it turns away from the viewer)."""

    piece: Flat
    beside: str = ""


def middle_of(edge: Edge) -> Vector:
    """A place in the middle of an edge, mm."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    return triple(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2))


def edge_between(body: NamedBody, a: str, b: str, frame: Frame) -> list[Seen]:
    """The edge(s) between two faces. Raises LostReference."""
    return _distinct([Seen(p) for e in body.edges_between(a, b) if (p := flat_piece(e, frame)) is not None])


def silhouette(body: NamedBody, face: str, frame: Frame) -> list[Seen]:
    """The outline of a face as seen along the plane's normal. Raises LostReference or KernelFailure."""
    found: list[Seen] = []
    for index in body.find(face):
        shape = body.face(index)
        edges = _outline_edges(shape, frame) + edges_of(shape)
        for edge in edges:
            if BRep_Tool.IsClosed_s(TopoDS.Edge(edge), TopoDS.Face(shape)) and edge in edges[-1:]:
                continue
            if (piece := flat_piece(edge, frame)) is not None:
                found.append(Seen(piece, _beside(body, edge, index)))
    if not found:
        raise KernelFailure("This face shows no outline from here.")
    return _distinct(found)


def _beside(body: NamedBody, edge: Edge, index: int) -> str:
    """The face on the other side of an edge of face ``index``."""
    sides = body.edge_names(edge) or ()
    own = body.names.get(index, set())
    return next((n for n in sides if bare(n) not in own), "")


def _outline_edges(face: Face, frame: Frame) -> list[Edge]:
    """Where a round face turns away from the viewer. The view is turned by a hair, which spares the kernel its worst
    case (edges that lie exactly behind each other).
    """
    hidden = HLRBRep_Algo()
    hidden.Add(face, 0)
    n = frame.normal
    tilt = (n[0] + 5e-7 * frame.x[0], n[1] + 5e-7 * frame.x[1], n[2] + 5e-7 * frame.x[2])
    hidden.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(*frame.origin), gp_Dir(*tilt), gp_Dir(*frame.x))))
    hidden.Update()
    hidden.Hide()
    reader = HLRBRep_HLRToShape(hidden)
    edges: list[Edge] = []
    for visible in (True, False):
        compound = reader.CompoundOfEdges(HLRBRep_TypeOfResultingEdge.HLRBRep_OutLine, visible, True)
        if compound is not None and not compound.IsNull():
            BRepLib.BuildCurves3d_s(compound)
            edges += edges_of(compound)
    return edges


def cut(body: NamedBody, face: str, frame: Frame) -> list[Seen]:
    """Where the plane cuts a face. Raises LostReference, or KernelFailure when it does not."""
    found: list[Seen] = []
    for index in body.find(face):
        section = BRepAlgoAPI_Section(body.face(index), plane_of(frame), False)
        section.ComputePCurveOn1(False)
        section.Approximation(True)
        section.Build()
        done(section, "The plane could not be cut with this face.")
        found += [Seen(p, face) for e in edges_of(section.Shape()) if (p := flat_piece(e, frame)) is not None]
    if not found:
        raise KernelFailure("The plane of the sketch does not cut this face.")
    return _distinct(found)


# --- from a kernel edge to a flat piece
def flat_piece(edge: Edge, frame: Frame) -> Flat | None:
    """An edge seen square onto the frame's plane; None for one that is seen as a point."""
    edge = TopoDS.Edge(edge)
    if BRep_Tool.Degenerated_s(edge):
        return None
    curve = BRepAdaptor_Curve(edge)
    first, last = curve.FirstParameter(), curve.LastParameter()

    def at(t: float) -> XY:
        p = minus(triple(curve.Value(t)), frame.origin)
        return dot(p, frame.x), dot(p, frame.y)

    places = tuple(at(first + (last - first) * k / (PLACES - 1)) for k in range(PLACES))
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        return _straight(places[0], places[-1])
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle and (line := _edge_on(curve, frame)) is not None:
        return line
    if (line := _folded(places)) is not None:
        return line if math.dist(line.start, line.end) > SHORTEST else None
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
        return _circle(curve, frame, places)
    return _rounded(places) or Free(places)


def _rounded(places: tuple[XY, ...]) -> Round | None:
    """The arc through places that all lie on one circle: what a ball shows, which the kernel gives as a free curve."""
    (ax, ay), (bx, by), (cx, cy) = places[0], places[len(places) // 2], places[-1]
    d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by))
    if abs(d) < 1e-9:
        return None
    a, b, c = ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy
    center = (a * (by - cy) + b * (cy - ay) + c * (ay - by)) / d, (a * (cx - bx) + b * (ax - cx) + c * (bx - ax)) / d
    radius = math.dist(center, places[0])
    if max(abs(math.dist(center, p) - radius) for p in places) > ONE_PLACE:
        return None
    left = (ax - center[0]) * (places[1][1] - center[1]) - (ay - center[1]) * (places[1][0] - center[0]) > 0
    return Round(center, radius, *((places[0], places[-1]) if left else (places[-1], places[0])))


def _edge_on(curve: BRepAdaptor_Curve, frame: Frame) -> Straight | None:
    """A circle or arc seen from its side: as long as it reaches, which is beyond any places taken on it."""
    circle = curve.Circle()
    if abs(dot(triple(circle.Axis().Direction()), frame.normal)) > 1e-9:
        return None
    x, y = triple(circle.XAxis().Direction()), triple(circle.YAxis().Direction())
    along = cross(triple(circle.Axis().Direction()), frame.normal)  # the line it falls onto
    first, last = curve.FirstParameter(), curve.LastParameter()
    turn = math.atan2(dot(y, along), dot(x, along))
    reached = [turn + k * math.pi for k in range(-4, 5) if first < turn + k * math.pi < last]

    def at(t: float) -> tuple[float, XY]:
        p = triple(curve.Value(t))
        gap = minus(p, frame.origin)
        return dot(p, along), (dot(gap, frame.x), dot(gap, frame.y))

    places = sorted(at(t) for t in (first, last, *reached))
    return Straight(places[0][1], places[-1][1])


def _straight(a: XY, b: XY) -> Straight | None:
    return Straight(a, b) if math.dist(a, b) > SHORTEST else None


def _folded(places: tuple[XY, ...]) -> Straight | None:
    """A curve seen edge-on lies on a line, perhaps to and fro."""
    far = max(places, key=lambda p: math.dist(p, places[0]))
    near = max(places, key=lambda p: math.dist(p, far))
    size = math.dist(near, far)
    if size < ONE_PLACE:
        return Straight(near, far)
    ux, uy = (far[0] - near[0]) / size, (far[1] - near[1]) / size
    if all(abs(ux * (p[1] - near[1]) - uy * (p[0] - near[0])) < ONE_PLACE for p in places):
        return Straight(near, far)
    return None


def _circle(curve: BRepAdaptor_Curve, frame: Frame, places: tuple[XY, ...]) -> Flat:
    circle = curve.Circle()
    c = minus(triple(circle.Location()), frame.origin)
    center = (dot(c, frame.x), dot(c, frame.y))
    radius, axis = circle.Radius(), triple(circle.Axis().Direction())
    lean = abs(dot(axis, frame.normal))
    whole = math.dist(places[0], places[-1]) < ONE_PLACE
    if lean > 1 - PARALLEL:
        (ax, ay), (bx, by) = places[0], places[1]
        left = (ax - center[0]) * (by - center[1]) - (ay - center[1]) * (bx - center[0]) > 0
        start, end = (places[0], places[-1]) if left else (places[-1], places[0])
        return Round(center, radius, start, end)
    if not whole:
        return Free(places)
    # The half axis that stays true lies across the lean.
    t = (dot(axis, frame.x), dot(axis, frame.y))
    size = math.hypot(*t)
    return Oval(center, (center[0] - t[1] / size * radius, center[1] + t[0] / size * radius), radius * lean)


def _distinct(seen: list[Seen]) -> list[Seen]:
    """Without pieces that fall on each other (the near and the far rim of a hole)."""
    found: list[Seen] = []
    for one in seen:
        if not any(alike(one.piece, other.piece) for other in found):
            found.append(one)
    return found


def alike(a: Flat, b: Flat) -> bool:
    """Whether two pieces fall on each other."""
    if type(a) is not type(b):
        return False
    if isinstance(a, Straight) and isinstance(b, Straight):
        forth = math.dist(a.start, b.start) + math.dist(a.end, b.end)
        return min(forth, math.dist(a.start, b.end) + math.dist(a.end, b.start)) < 1e-4
    if isinstance(a, Free) and isinstance(b, Free):
        forth = max(math.dist(p, q) for p, q in zip(a.places, b.places, strict=True))
        back = max(math.dist(p, q) for p, q in zip(a.places, reversed(b.places), strict=True))
        return min(forth, back) < 1e-4
    numbers = [x for p in zip(a, b, strict=True) for x in _differences(*p)]
    return max(numbers) < 1e-4


def _differences(p: object, q: object) -> list[float]:
    if isinstance(p, tuple) and isinstance(q, tuple):
        return [abs(x - y) for x, y in zip(p, q, strict=True)]
    return [abs(float(p) - float(q))]  # type: ignore[arg-type]
