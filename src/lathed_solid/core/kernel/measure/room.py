"""Room for holes: where a hole through a floor keeps a wall to everything, on the solid as it is.

Recipe: the part's triangles are cut to the slab beneath the floor. What is air anywhere in it, and what stands above
the floor, is looked at from above as two shadows; the rest is free. A hole of diameter d may have its middle where it
stays d/2 and the wall away from both shadows. The triangles are right to about their deflection: the place is then
brought to the true edges, and the wall that it keeps is measured between the hole and the faces themselves.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial
from typing import NamedTuple

import manifold3d
import numpy as np
import shapely
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
from OCP.GeomAbs import GeomAbs_CurveType
from scipy.optimize import minimize
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from ...tolerance import PARALLEL
from ..ground.figures import RoomFound, Skin, Surface, Vector
from ..ground.geometry import Frame, dot, frame_about, minus
from ..ground.named import NamedBody
from ..ground.placing import axes_of, triple
from ..ground.skin import skin_of
from ..ground.topology import box_of, edges_of, faces
from .pair import nearest
from .surfaces import measure_face, measure_faces
from .triangles import closed, fresh_triangles

#: How near the triangles lie to the faces (mm, radians).
_FINE, _TURN = 0.02, 0.1
#: The slab stays so far off the floor and off the far side, which are faces of the part (mm).
_OFF = 1e-3
#: Edges this much off the wall that the triangles found may be what holds the hole (mm).
_NEAR = 0.08
#: A diameter is looked for this closely before it is fitted (mm).
_CLOSE = 1e-3
#: The shaded zone stands before the floor by this, mm.
_BEFORE = 0.02
#: A hole's mouth is drawn with so many corners.
_RIM = 48
_AXIAL = 1 - PARALLEL


class _Floor(NamedTuple):
    """A floor as it is looked at: its frame (normal up, origin on the axis that rings go round), the free area, and the
    true edges seen from above: circles (x, y, radius) and lines (x, y, and the unit normal).
    """

    frame: Frame
    free: BaseGeometry
    depth: float
    circles: tuple[tuple[float, float, float], ...]
    lines: tuple[tuple[float, float, float, float], ...]


def room_for(
    body: NamedBody, face: int, wall: float, many: int = 1, axis: tuple[Vector, Vector] | None = None,
    going: Callable[[], object] = lambda: None,
) -> RoomFound | None:  # fmt: skip
    """The largest hole through a flat face that keeps ``wall`` (mm) to everything, or the largest of a ring of ``many``
    about ``axis`` (a place and a way; by default the axis through part zero). None when nothing fits, or the face is
    not flat or not square to the axis.
    """
    surface = measure_face(body.face(face), face)
    place, way = axis or ((0.0, 0.0, 0.0), surface.axis)
    if surface.kind != "plane" or abs(dot(surface.axis, way)) < _AXIAL:
        return None
    floor = _looked_at(body, surface, place)
    going()
    found = _one(floor, wall) if many < 2 else _ring(floor, wall, many, going)
    if found is None:
        return None
    (x, y), diameter = _fitted(floor, wall, many, *found)
    going()
    kept = _kept(body, face, floor, (x, y), diameter, many)
    if kept < wall - 1e-6:  # an edge that is neither round nor straight holds it: the mesh was a little too generous
        diameter -= 2 * (wall - kept)
        kept = _kept(body, face, floor, (x, y), diameter, many) if diameter > 0 else 0.0
    if diameter <= 0:
        return None
    return RoomFound(diameter, floor.frame.at(x, y, 0.0), math.hypot(x, y), math.atan2(y, x), kept, many)


def zone_of(body: NamedBody, face: int, wall: float, diameter: float) -> Skin:
    """The middles that a hole of a diameter may have, to be laid over the part; empty where there are none."""
    surface = measure_face(body.face(face), face)
    if surface.kind != "plane":
        return skin_of(())
    floor = _looked_at(body, surface, (0.0, 0.0, 0.0))
    zone = floor.free.buffer(-(diameter / 2 + wall), quad_segs=32)
    if zone.is_empty:
        return skin_of(())
    triangled = shapely.constrained_delaunay_triangles(zone)
    corners = np.array([shapely.get_coordinates(t)[:3] for t in triangled.geoms])
    points = np.array([floor.frame.at(x, y, _BEFORE) for x, y in corners.reshape(-1, 2)])
    return skin_of([(points, np.arange(len(points)).reshape(-1, 3), diameter)])


def holes_of(body: NamedBody, face: int, found: RoomFound, axis: tuple[Vector, Vector] | None = None) -> Skin:
    """The mouths of the holes that fit, to be laid over the part."""
    surface = measure_face(body.face(face), face)
    about = frame_about(axis[0] if axis is not None else (0.0, 0.0, 0.0), surface.axis)
    x, y, height = _in(about, found.place)
    turns = np.linspace(0.0, 2 * math.pi, _RIM, endpoint=False)
    points, corners = list[Vector](), list[tuple[int, int, int]]()
    for k in range(found.many):
        c, s = math.cos(2 * math.pi * k / found.many), math.sin(2 * math.pi * k / found.many)
        u, v, r, first = c * x - s * y, s * x + c * y, found.diameter / 2, len(points)
        points += [about.at(u, v, height + 2 * _BEFORE)]
        points += [about.at(u + r * math.cos(t), v + r * math.sin(t), height + 2 * _BEFORE) for t in turns]
        corners += [(first, first + 1 + j, first + 1 + (j + 1) % _RIM) for j in range(_RIM)]
    return skin_of([(np.array(points), np.array(corners), found.diameter)])


# --- looking from above
def _looked_at(body: NamedBody, surface: Surface, place: Vector) -> _Floor:
    about = frame_about(place, surface.axis)
    height = dot(minus(surface.origin, place), surface.axis)
    frame = about._replace(origin=about.at(0.0, 0.0, height))
    flat = fresh_triangles(body.shape, _FINE, _TURN)
    points = (flat.points - np.array(frame.origin)) @ np.column_stack([frame.x, frame.y, frame.normal])
    solid = closed(flat._replace(points=points), frame.mirrored)
    low, high = points.min(axis=0) - 1.0, points.max(axis=0) + 1.0
    depth = -float(points[:, 2].min())
    slab = manifold3d.Manifold.cube((high[0] - low[0], high[1] - low[1], max(depth - 2 * _OFF, _OFF)))
    slab = slab.translate((low[0], low[1], -depth + _OFF))
    air = _shadow(slab - solid)
    above = _shadow(solid.trim_by_plane((0.0, 0.0, 1.0), _OFF))
    free = shapely.box(low[0], low[1], high[0], high[1]).difference(air).difference(above)
    return _Floor(frame, free, depth, *_edges(body, frame, depth))


def _shadow(solid: manifold3d.Manifold) -> BaseGeometry:
    """What a solid covers, seen from above."""
    loops = solid.project().to_polygons()
    covered: BaseGeometry = shapely.Polygon()
    rings = [shapely.Polygon(loop) for loop in loops if len(loop) >= 3]
    for ring in rings:  # outlines and holes, even-odd
        covered = covered.symmetric_difference(shapely.make_valid(ring))
    return covered


def _edges(body: NamedBody, frame: Frame, depth: float) -> tuple[
    tuple[tuple[float, float, float], ...], tuple[tuple[float, float, float, float], ...]
]:  # fmt: skip
    """True edges from the floor downwards and on it, seen from above: circles, and straight ones lying flat."""
    circles: dict[tuple[float, float, float], None] = {}
    lines: dict[tuple[float, float, float, float], None] = {}
    for edge in edges_of(body.shape):
        curve = BRepAdaptor_Curve(edge)
        if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
            circle = curve.Circle()
            if abs(dot(triple(circle.Axis().Direction()), frame.normal)) < _AXIAL:
                continue
            x, y, z = _in(frame, triple(circle.Location()))
            if -depth - _OFF < z < _OFF:
                circles[round(x, 9), round(y, 9), round(circle.Radius(), 9)] = None
        elif curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
            x, y, z = _in(frame, triple(curve.Value(curve.FirstParameter())))
            way = triple(curve.Line().Direction())
            u, v = dot(way, frame.x), dot(way, frame.y)
            if abs(dot(way, frame.normal)) < 1e-9 and -depth - _OFF < z < _OFF:
                lines[round(x, 9), round(y, 9), round(-v, 12), round(u, 12)] = None
    return tuple(circles), tuple(lines)


def _in(frame: Frame, place: Vector) -> Vector:
    away = minus(place, frame.origin)
    return dot(away, frame.x), dot(away, frame.y), dot(away, frame.normal)


# --- what fits
def _one(floor: _Floor, wall: float) -> tuple[tuple[float, float], float] | None:
    best: tuple[tuple[float, float], float] | None = None
    for part in _parts(floor.free):
        line = shapely.maximum_inscribed_circle(part, tolerance=_CLOSE)
        radius = line.length - wall
        if radius > 0 and (best is None or 2 * radius > best[1]):
            best = ((line.coords[0][0], line.coords[0][1]), 2 * radius)
    return best


def _ring(
    floor: _Floor, wall: float, many: int, going: Callable[[], object]
) -> tuple[tuple[float, float], float] | None:
    """The largest of a ring: where all are free at once, so far out that they keep the wall between them."""
    free = floor.free
    for k in range(1, many):
        free = free.intersection(affinity.rotate(floor.free, 360.0 * k / many, origin=(0, 0)))
    apart = 2 * math.sin(math.pi / many)

    def middle(diameter: float) -> tuple[float, float] | None:
        zone = free.buffer(-(diameter / 2 + wall), quad_segs=32)
        if zone.is_empty:
            return None
        out = shapely.get_coordinates(zone)
        far = int(np.argmax(np.hypot(out[:, 0], out[:, 1])))
        if math.hypot(*out[far]) * apart < diameter + wall:
            return None
        return float(out[far, 0]), float(out[far, 1])

    low, high = 0.0, float(max(free.bounds[2] - free.bounds[0], 0.0)) if not free.is_empty else 0.0
    while high - low > _CLOSE:
        going()
        half = (low + high) / 2
        low, high = (half, high) if middle(half) is not None else (low, half)
    at = middle(low) if low > 0 else None
    return (at, low) if at is not None else None


def _parts(area: BaseGeometry) -> Sequence[BaseGeometry]:
    return [p for p in getattr(area, "geoms", [area]) if p.area > 0]


def _fitted(
    floor: _Floor, wall: float, many: int, at: tuple[float, float], diameter: float
) -> tuple[tuple[float, float], float]:
    """Brought to the true edges that hold it: the largest hole between those that the triangles found at the wall."""
    reach = diameter / 2 + wall
    holding = [gap for gap in _gaps(floor, many) if abs(gap(at[0], at[1]) - reach) < _NEAR]
    if not holding:
        return at, diameter
    apart = 2 * math.sin(math.pi / many) if many > 1 else 0.0
    limits = [{"type": "ineq", "fun": lambda p, gap=gap: gap(p[0], p[1]) - wall - p[2] / 2} for gap in holding]
    if apart:
        limits.append({"type": "ineq", "fun": lambda p: math.hypot(p[0], p[1]) * apart - p[2] - wall})
    made = minimize(
        lambda p: -p[2], (*at, diameter), method="SLSQP", constraints=limits,
        bounds=[(at[0] - 1, at[0] + 1), (at[1] - 1, at[1] + 1), (diameter - 1, diameter + 1)],
        options={"ftol": 1e-12, "maxiter": 200},
    )  # fmt: skip
    x, y, d = (float(v) for v in made.x)
    return ((x, y), d) if made.success and abs(d - diameter) < 2 * _NEAR else (at, diameter)


def _gaps(floor: _Floor, many: int) -> list[Callable[[float, float], float]]:
    """How far a place lies from each true edge; of a ring, each of its places."""
    found: list[Callable[[float, float], float]] = []
    for k in range(many):
        found += [partial(_from_circle, _turn_of(k, many), circle) for circle in floor.circles]
        found += [partial(_from_line, _turn_of(k, many), line) for line in floor.lines]
    return found


def _turn_of(k: int, many: int) -> tuple[float, float]:
    """Cosine and sine of the angle of the k-th of a ring."""
    return math.cos(2 * math.pi * k / many), math.sin(2 * math.pi * k / many)


def _turned(turn: tuple[float, float], x: float, y: float) -> tuple[float, float]:
    return turn[0] * x - turn[1] * y, turn[1] * x + turn[0] * y


def _from_circle(turn: tuple[float, float], circle: tuple[float, float, float], x: float, y: float) -> float:
    u, v = _turned(turn, x, y)
    return abs(math.hypot(u - circle[0], v - circle[1]) - circle[2])


def _from_line(turn: tuple[float, float], line: tuple[float, float, float, float], x: float, y: float) -> float:
    u, v = _turned(turn, x, y)
    return abs((u - line[0]) * line[2] + (v - line[1]) * line[3])


def _kept(body: NamedBody, face: int, floor: _Floor, at: tuple[float, float], diameter: float, many: int) -> float:
    """The wall that every one of the holes keeps, measured between its side and every face but the floor and those it
    goes through, and between neighbours of a ring.
    """
    least = math.inf
    if many > 1:
        least = 2 * math.hypot(*at) * math.sin(math.pi / many) - diameter
    beside = [
        s.index
        for s in measure_faces(body)
        if s.index != face and not (s.kind == "plane" and abs(dot(s.axis, floor.frame.normal)) > _AXIAL)
    ]
    boxes = body.boxes[[i - 1 for i in beside]]
    for k in range(many):
        u, v = _turned(_turn_of(k, many), *at)
        frame = floor.frame._replace(origin=floor.frame.at(u, v, -floor.depth))
        tool = BRepPrimAPI_MakeCylinder(axes_of(frame), diameter / 2, floor.depth).Shape()
        side = next(f for f in faces(tool) if measure_face(f).kind == "cylinder")
        hole = np.array(box_of(side))
        gaps = np.maximum(np.maximum(boxes[:, :3] - hole[3:], hole[:3] - boxes[:, 3:]), 0.0)
        for at_least, index in sorted(zip(np.linalg.norm(gaps, axis=1).tolist(), beside, strict=True)):
            if at_least >= least:
                break  # no box nearer, so no face
            found = nearest(side, body.face(index))
            least = min(least, found[0]) if found is not None else least
    return least
