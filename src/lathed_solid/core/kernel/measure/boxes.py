"""The box round a part: quickly, or as near as the part reaches."""

from __future__ import annotations

from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.GCPnts import GCPnts_QuasiUniformDeflection
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Pnt2d
from OCP.TopAbs import TopAbs_State
from OCP.TopLoc import TopLoc_Location

from ...tolerance import ONE_PLACE
from ..ground.figures import Vector
from ..ground.picture import mesh
from ..ground.placing import triple
from ..ground.topology import Edge, Face, Shape, edges_of, faces

Box = tuple[Vector, Vector]
#: Edges of free faces are followed to this, mm.
NEAR = 0.002


def box(shape: Shape) -> Box:
    """Low and high corner of a box round a shape, mm: free faces are taken by their poles, so that it may be larger."""
    found = Bnd_Box()
    for face in faces(shape):
        _add(found, face)
    if found.IsVoid():  # lines only
        BRepBndLib.AddOptimal_s(shape, found, False, False)
    return triple(found.CornerMin()), triple(found.CornerMax())


def close_box(shape: Shape) -> Box:
    """The box as near as the part reaches: free faces that stick out of the others' box are followed."""
    others, free = Bnd_Box(), []
    for face in faces(shape):
        if _is_free(face):
            free.append(face)
        else:
            _add(others, face)
    if others.IsVoid():
        return _followed(None, free) if free else box(shape)
    return _followed((triple(others.CornerMin()), triple(others.CornerMax())), free)


def _followed(known: Box | None, free: list[Face]) -> Box:
    low, high = ([*known[0]], [*known[1]]) if known is not None else ([1e300] * 3, [-1e300] * 3)
    for face in free:
        by_poles = Bnd_Box()
        _add(by_poles, face)
        a, b = triple(by_poles.CornerMin()), triple(by_poles.CornerMax())
        if all(lo <= p and q <= hi for lo, p, q, hi in zip(low, a, b, high, strict=True)):
            continue
        for axis in range(3):
            if a[axis] < low[axis]:
                low[axis] = min(low[axis], -_farthest(face, axis, -1.0))
            if b[axis] > high[axis]:
                high[axis] = max(high[axis], _farthest(face, axis, 1.0))
    return (low[0], low[1], low[2]), (high[0], high[1], high[2])


def _is_free(face: Face) -> bool:
    return bool(BRepAdaptor_Surface(face).GetType() == GeomAbs_SurfaceType.GeomAbs_BSplineSurface)


def _add(found: Bnd_Box, face: Face) -> None:
    if _is_free(face):
        BRepBndLib.Add_s(face, found, False)
    else:
        BRepBndLib.AddOptimal_s(face, found, False, False)


def _farthest(face: Face, axis: int, sign: float) -> float:
    """How far a free face reaches along an axis: its edges followed, its inside climbed from the best corner."""
    best = max((sign * p[axis] for edge in edges_of(face) for p in followed(edge)), default=-1e300)
    mesh(face)
    place = TopLoc_Location()
    triangles = BRep_Tool.Triangulation_s(face, place)
    if triangles is None or not triangles.HasUVNodes():
        return best
    move = place.Transformation()
    reached = [sign * triple(triangles.Node(k).Transformed(move))[axis] for k in range(1, triangles.NbNodes() + 1)]
    top = max(range(len(reached)), key=reached.__getitem__)
    start = triangles.UVNode(top + 1)
    return max(best, reached[top], _climbed(face, axis, sign, start.X(), start.Y()))


def _climbed(face: Face, axis: int, sign: float, u: float, v: float) -> float:
    """The highest place of a face near a triangle's corner, by halving steps."""
    surface = BRepAdaptor_Surface(face)
    (u0, u1), (v0, v1) = (
        (surface.FirstUParameter(), surface.LastUParameter()),
        (surface.FirstVParameter(), surface.LastVParameter()),
    )

    def height(s: float, t: float) -> float:
        return sign * triple(surface.Value(s, t))[axis]

    best, step_u, step_v = height(u, v), (u1 - u0) / 64, (v1 - v0) / 64
    for _ in range(60):
        tries = [(u + i * step_u, v + j * step_v) for i in (-1, 0, 1) for j in (-1, 0, 1) if i or j]
        inside = [(s, t) for s, t in tries if u0 <= s <= u1 and v0 <= t <= v1]
        top = max(((height(s, t), s, t) for s, t in inside), default=(best, u, v))
        if top[0] > best and _lies_on(face, top[1], top[2]):
            best, u, v = top
        else:
            step_u, step_v = step_u / 2, step_v / 2
    return best


def _lies_on(face: Face, u: float, v: float) -> bool:
    state = BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), ONE_PLACE).State()
    return bool(state in (TopAbs_State.TopAbs_IN, TopAbs_State.TopAbs_ON))


def followed(edge: Edge) -> list[Vector]:
    """Places along an edge, no farther apart than leaves NEAR between chord and curve."""
    if BRep_Tool.Degenerated_s(edge):
        return []
    walk = GCPnts_QuasiUniformDeflection(BRepAdaptor_Curve(edge), NEAR)
    return [triple(walk.Value(k)) for k in range(1, walk.NbPoints() + 1)] if walk.IsDone() else []
