"""Two solids held against each other: what one has more, piece by piece, with volumes and the largest deviation.

By meshes: the kernel's own cut of two solids may give back a whole body and call it done. Meshes lie beside their
faces by their deflection; pieces no thicker than that are dropped, and the volumes are good to deflection times area.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import manifold3d
import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from ...arrays import Floats, Ints, Truths
from ..ground.figures import HELD, Difference, Lump, Vector
from ..ground.skin import skin_of
from ..ground.topology import SHELL, Shape, subshapes
from .mesh_rays import MeshRays
from .triangles import Triangles, closed, cut_up, fresh_triangles

#: How near the triangles lie to the faces (mm, radians).
FINE, _TURN = HELD, 0.15
#: So many pieces are told, the largest first, and at so many places of each the deviation is measured.
_TOLD, _PLACES = 24, 16
#: A ray begins so far inside a triangle (mm).
_INTO = 1e-3
#: Places between corners lie this share of the piece apart.
_SHARE = 16.0


def meshed(shape: Shape) -> Triangles:
    """The triangles of a shape as they are held against others."""
    return fresh_triangles(shape, FINE, _TURN)


def difference(
    ours: Triangles, theirs: Triangles, our_shape: Shape | None, their_shape: Shape | None,
    going: Callable[[], object] = lambda: None,
) -> Difference:  # fmt: skip
    """What the other solid has more and less than ours. The shapes, where there are any, tell the deviation exactly.

    Raises KernelFailure when the triangles of one do not close.
    """
    a, b = closed(ours), closed(theirs)
    going()
    more = _lumps(b - a, ours, our_shape, True, going)
    less = _lumps(a - b, theirs, their_shape, False, going)
    lumps = sorted([*more, *less], key=lambda lump: -lump.volume)
    off = FINE * max(float(a.surface_area()), float(b.surface_area()))
    return Difference(sum(x.volume for x in more), sum(x.volume for x in less), off, tuple(lumps[:_TOLD]), len(lumps))


def _lumps(
    solid: manifold3d.Manifold, skin: Triangles, against: Shape | None, more: bool, going: Callable[[], object]
) -> list[Lump]:
    """The pieces; the triangles and the shape are those of the solid that they are off from."""
    found = []
    for points, corners, volume in pieces(solid):
        going()
        low, high = points.min(axis=0), points.max(axis=0)
        deep = _deviation(points, corners, skin, against) if against is not None else None
        own = skin_of([(points, corners, 1.0)])
        found.append(Lump(more, volume, _vector((low + high) / 2), _vector(high - low), deep, own))
    return found


def pieces(solid: manifold3d.Manifold) -> Iterator[tuple[Floats, Ints, float]]:
    """Points, triangles and volume of every piece that is more than two meshes beside each other. Where both solids
    share a flat face cut into other triangles, pieces hang together by flaps of no thickness: these are parted.
    """
    for piece in solid.decompose():
        volume = float(piece.volume())
        if volume <= FINE * piece.surface_area():
            continue
        flat = piece.to_mesh64()
        points, corners = np.asarray(flat.vert_properties)[:, :3], np.asarray(flat.tri_verts).astype(int)
        parts = [p for p in _parted(points, corners[_thick(points, corners)]) if p[2] > 0]
        share = volume / sum(p[2] for p in parts) if parts else 1.0  # flaps have none; what they closed is open now
        yield from ((its, own, share * v) for its, own, v in parts or [(points, corners, volume)])


def _parted(points: Floats, corners: Ints) -> Iterator[tuple[Floats, Ints, float]]:
    """Triangles that hang together, with what volume they enclose, about."""
    ends = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]]])
    graph = coo_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(len(points), len(points)))
    _, piece = connected_components(graph, directed=False)
    for label in np.unique(piece[corners[:, 0]]):
        used, renumbered = np.unique(corners[piece[corners[:, 0]] == label], return_inverse=True)
        its, own = points[used], renumbered.reshape(-1, 3)
        a, b, c = (its[own[:, k]] - its.mean(axis=0) for k in range(3))
        volume = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum()) / 6
        area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2
        if volume > FINE * area:
            yield its, own, volume


def _thick(points: Floats, corners: Ints) -> Truths:
    """Which triangles have more than a flap behind them."""
    rays = MeshRays(Triangles(points, corners, np.zeros(len(corners), int)))
    hits = rays.cast(points[corners].mean(axis=1) - _INTO * rays.normals, -rays.normals)
    return np.asarray((hits.triangle >= 0) & (hits.far > FINE))


def _deviation(points: Floats, corners: Ints, skin: Triangles, against: Shape) -> float:
    """How far the piece reaches from the other solid's skin, mm: where its triangles say it is farthest, measured on
    the faces themselves.
    """
    size = float(np.ptp(points, axis=0).max())
    edge = size / _SHARE
    pieces, _ = cut_up(points[corners], np.zeros(len(corners), int), edge)
    places = _thinned(np.concatenate([points, pieces.mean(axis=1)]), edge / 2)
    # Part of a piece's own surface is that skin: no place of it is farther from it than the piece is large.
    low, high = points.min(axis=0) - size, points.max(axis=0) + size
    near = skin.points[skin.corners]
    near = near[((near.min(axis=1) < high) & (near.max(axis=1) > low)).all(axis=1)]
    its, _ = cut_up(near, np.zeros(len(near), int), 2 * edge)
    marks = np.concatenate([its.mean(axis=1), its.reshape(-1, 3)])
    marks = marks[((marks < high) & (marks > low)).all(axis=1)]
    if len(marks):
        away, _ = cKDTree(_thinned(marks, edge / 2)).query(places)
        places = places[np.argsort(-away)]
    return max(_from_skin(_vector(p), against) for p in places[:_PLACES])


def _thinned(places: Floats, apart: float) -> Floats:
    """One of the places in every cube so large (mm): narrow triangles cut up have thousands in one."""
    cube = np.floor((places - places.min(axis=0)) / apart).astype(np.int64)
    many = cube.max(axis=0) + 1
    _, first = np.unique((cube[:, 0] * many[1] + cube[:, 1]) * many[2] + cube[:, 2], return_index=True)
    return np.asarray(places[first])


def _from_skin(place: Vector, shape: Shape) -> float:
    """A solid's inside is at no distance from it: its skin is asked."""
    vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(*place)).Vertex()
    found = (BRepExtrema_DistShapeShape(vertex, shell) for shell in subshapes(shape, SHELL))
    return min((float(d.Value()) for d in found if d.IsDone()), default=math.inf)


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])
