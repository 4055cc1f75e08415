"""Measuring faces: what each surface of the finished boundary is, as plain figures."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec
from msgspec.structs import replace
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools
from OCP.Geom import Geom_Line
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.GeomAPI import GeomAPI_IntCS
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Cone, gp_Cylinder, gp_Dir, gp_Lin, gp_Pnt, gp_Sphere, gp_Torus
from OCP.GProp import GProp_GProps
from OCP.IntCurvesFace import IntCurvesFace_Intersector
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_Orientation, TopAbs_State
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from ..ground.figures import Circle, MassProperties, Surface, Vector
from ..ground.geometry import along, cross, dot
from ..ground.integral import LEAST, uncertainty
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.topology import EDGE, VERTEX, Edge, Face, Shape, edges_of, is_reversed, subshapes, surface_properties
from .boxes import close_box


def measure_faces(body: NamedBody, known: NamedBody | None = None) -> tuple[Surface, ...]:
    """Every face of ``body``, in the order of its indices; faces it shares with ``known`` are not measured again."""
    if body.measured is None:
        before = known.measured if known is not None else None
        found = []
        for index in range(1, body.face_count + 1):
            face = body.face(index)
            at = known.same(face) if known is not None and before is not None else 0
            if at and before is not None:
                found.append(msgspec.structs.replace(before[at - 1], index=index))
            else:
                found.append(measure_face(face, index))
        body.measured = tuple(found)
    return body.measured


def measure_face(face: Face, index: int = 0) -> Surface:
    adaptor = BRepAdaptor_Surface(face)
    properties = surface_properties(face)
    plain = Surface(
        kind="other",
        index=index,
        area=float(properties.Mass()),
        center=triple(properties.CentreOfMass()),
        circles=_circles(face),
    )
    reader = _READERS.get(adaptor.GetType())
    return plain if reader is None else reader(plain, face, adaptor)


def _plane(plain: Surface, face: Face, adaptor: BRepAdaptor_Surface) -> Surface:
    plane = adaptor.Plane()
    axis = triple(plane.Axis().Direction())
    if is_reversed(face) == plane.Direct():
        axis = (-axis[0], -axis[1], -axis[2])
    return replace(plain, kind="plane", origin=triple(plane.Location()), axis=axis)


def _round(plain: Surface, face: Face, quadric: gp_Cylinder | gp_Cone | gp_Torus | gp_Sphere) -> Surface:
    """What all round faces have in common."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    return replace(
        plain,
        origin=triple(quadric.Location()),
        axis=triple(quadric.Position().Direction()),
        span=(v0, v1),
        turn=u1 - u0,
        hollow=is_reversed(face) == quadric.Position().Direct(),
    )


def _cylinder(plain: Surface, face: Face, adaptor: BRepAdaptor_Surface) -> Surface:
    quadric = adaptor.Cylinder()
    return replace(_round(plain, face, quadric), kind="cylinder", radius=quadric.Radius())


def _cone(plain: Surface, face: Face, adaptor: BRepAdaptor_Surface) -> Surface:
    quadric = adaptor.Cone()
    found, angle = _round(plain, face, quadric), quadric.SemiAngle()
    # A cone's parameter runs along its side; the span is wanted along the axis.
    axis, (low, high) = found.axis, (v * math.cos(angle) for v in found.span)
    if angle < 0:
        axis, low, high = (-axis[0], -axis[1], -axis[2]), -high, -low
    return replace(found, kind="cone", radius=quadric.RefRadius(), half_angle=abs(angle), axis=axis, span=(low, high))


def _torus(plain: Surface, face: Face, adaptor: BRepAdaptor_Surface) -> Surface:
    quadric = adaptor.Torus()
    found = _round(plain, face, quadric)
    return replace(found, kind="torus", radius=quadric.MinorRadius(), major=quadric.MajorRadius())


def _sphere(plain: Surface, face: Face, adaptor: BRepAdaptor_Surface) -> Surface:
    quadric = adaptor.Sphere()
    return replace(_round(plain, face, quadric), kind="sphere", radius=quadric.Radius())


_READERS = {
    GeomAbs_SurfaceType.GeomAbs_Plane: _plane,
    GeomAbs_SurfaceType.GeomAbs_Cylinder: _cylinder,
    GeomAbs_SurfaceType.GeomAbs_Cone: _cone,
    GeomAbs_SurfaceType.GeomAbs_Torus: _torus,
    GeomAbs_SurfaceType.GeomAbs_Sphere: _sphere,
}


def _circles(face: Face) -> tuple[Circle, ...]:
    found = []
    for edge in edges_of(face):
        if (circle := circle_of(edge)) is not None:
            found.append(circle)
    return tuple(found)


def circle_of(edge: Edge) -> Circle | None:
    """The circle an edge lies on; None for other curves."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    if curve.GetType() != GeomAbs_CurveType.GeomAbs_Circle:
        return None
    circle = curve.Circle()
    return Circle(triple(circle.Location()), triple(circle.Axis().Direction()), float(circle.Radius()))


def outward_at(face: Face, place: Vector) -> Vector:
    """The outward normal of a face where it is nearest to a place; (0, 0, 0) where it has none."""
    surface = BRep_Tool.Surface_s(face)
    uv = ShapeAnalysis_Surface(surface).ValueOfUV(gp_Pnt(*place), 1e-6)
    found = GeomLProp_SLProps(surface, uv.X(), uv.Y(), 1, 1e-9)
    if not found.IsNormalDefined():
        return (0.0, 0.0, 0.0)
    x, y, z = triple(found.Normal())
    return (-x, -y, -z) if is_reversed(face) else (x, y, z)


def extent(face: Face, way: Vector) -> float:
    """How far the corners of a face lie apart along a unit direction, mm."""
    along_it = [dot(p, way) for p in corner_places(face)]
    return float(max(along_it) - min(along_it))


def corner_places(face: Face) -> list[Vector]:
    """The corners of a face, mm."""
    return [triple(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in subshapes(face, VERTEX)]


def struck(face: Face, place: Vector, way: Vector) -> list[tuple[gp_Pnt, Vector]]:
    """Where a line through ``place`` meets a face, in the order of ``way``, with the outward normals there."""
    crossing = IntCurvesFace_Intersector(TopoDS.Face(face), 1e-7)
    crossing.Perform(gp_Lin(gp_Pnt(*place), gp_Dir(*way)), -1e6, 1e6)
    if not crossing.IsDone():
        return []
    found = [(crossing.WParameter(k), crossing.Pnt(k)) for k in range(1, crossing.NbPnt() + 1)]
    return [(p, outward_at(face, triple(p))) for _, p in sorted(found, key=lambda f: f[0])]


def axis_meets(face: Face, place: Vector, way: Vector) -> list[Vector]:
    """Where a line meets the surface of a face, also where the face itself was cut away."""
    line = Geom_Line(gp_Pnt(*place), gp_Dir(*way))
    found = GeomAPI_IntCS(line, BRep_Tool.Surface_s(face))
    return [triple(found.Point(k)) for k in range(1, found.NbPoints() + 1)] if found.IsDone() else []


def edge_in_face(face: Face, edge: Edge) -> tuple[Vector, Vector] | None:
    """A place on a straight edge of a flat face, and the unit direction in the face away from it; None for others."""
    surface, curve = measure_face(face), BRepAdaptor_Curve(TopoDS.Edge(edge))
    belongs = any(e.IsSame(edge) for e in _oriented(face))
    if not belongs or surface.kind != "plane" or curve.GetType() != GeomAbs_CurveType.GeomAbs_Line:
        return None
    into = cross(surface.axis, triple(curve.Line().Direction()))
    sign = 1.0 if left_of(face, edge) else -1.0
    return triple(curve.Value(curve.FirstParameter())), (into[0] * sign, into[1] * sign, into[2] * sign)


def left_of(face: Face, edge: Edge) -> bool:
    """Whether a face lies to the left of an edge's own direction, seen from outside."""
    mine = next((e for e in _oriented(face) if e.IsSame(edge)), None)
    return mine is None or bool(mine.Orientation() == TopAbs_Orientation.TopAbs_FORWARD)


def _oriented(face: Face) -> Iterator[Shape]:
    """The edges of a face, turned as they run round it."""
    walk = TopExp_Explorer(face, EDGE)
    while walk.More():
        yield walk.Current()
        walk.Next()


class Outline:
    """Whether places lie inside the outer edge of a flat face, holes in it not counted; one face asked many times."""

    def __init__(self, face: Face) -> None:
        plane = BRepAdaptor_Surface(face).Plane()
        outer = BRepBuilderAPI_MakeFace(plane, BRepTools.OuterWire_s(TopoDS.Face(face)), True)
        self._face = outer.Face() if outer.IsDone() else None

    def reached(self, place: Vector, radius: float) -> bool:
        """Whether a circle of ``radius`` mm about a place in the plane lies at least partly inside."""
        if self._face is None or self(place):
            return True
        vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(*place)).Vertex()
        return float(BRepExtrema_DistShapeShape(vertex, self._face).Value()) < radius - 1e-6

    def __call__(self, place: Vector) -> bool:
        if self._face is None:
            return True
        state = BRepClass_FaceClassifier(self._face, gp_Pnt(*place), 1e-6).State()
        return bool(state in (TopAbs_State.TopAbs_IN, TopAbs_State.TopAbs_ON))


def mass_properties(body: NamedBody) -> MassProperties:
    """Figures of a body, integrated face by face; the volume is the one the route reports."""
    low, high = close_box(body.shape)
    off = max(uncertainty([body.face(i) for i in range(1, body.face_count + 1)]), LEAST * body.volume)
    return MassProperties(body.volume, area_of(body), body.center, low, high, off)


def area_of(body: NamedBody) -> float:
    """The surface of a body, mm²."""
    return sum(s.area for s in measure_faces(body))


def inertia(shape: Shape) -> tuple[float, float, float, float, float, float]:
    """Moments about the centre of mass at unit density, mm⁵: xx, yy, zz, and the products xy, xz, yz (as they stand in
    the tensor).
    """
    found = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, found)
    I = found.MatrixOfInertia()  # noqa: E741
    return I.Value(1, 1), I.Value(2, 2), I.Value(3, 3), I.Value(1, 2), I.Value(1, 3), I.Value(2, 3)


def reach(shape: Shape, start: Vector, direction: Vector) -> float:
    """How far along ``direction`` from ``start`` any part of the shape's box lies, mm (at least 0)."""
    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box)
    low, high = triple(box.CornerMin()), triple(box.CornerMax())
    tip = along((0.0, 0.0, 0.0), direction, 1.0)
    farthest = sum((high[i] if tip[i] > 0 else low[i]) * tip[i] for i in range(3))
    return max(0.0, farthest - sum(start[i] * direction[i] for i in range(3)))
