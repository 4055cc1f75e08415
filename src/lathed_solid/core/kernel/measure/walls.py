"""The thinnest walls of a solid: rays through the material find the pairs of faces, the kernel measures those exactly.

Recipe: from many places on every face along the inward normal to where the material ends; the thinnest pairs are then
measured between the faces themselves. What lies between them must be material: the nearest places of two faces are
often on an end edge with air between them. The same rays give a map of the wall behind every place.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints, Truths
from ...tolerance import MESH_LINEAR
from ..ground.figures import Vector, Wall, WallMap
from ..ground.geometry import dot, minus
from ..ground.named import NamedBody
from ..ground.topology import EDGE, FACE, ancestors, items
from .inside import Inside
from .mesh_rays import MeshRays
from .pair import nearest
from .surfaces import outward_at
from .triangles import Triangles, cut_up, triangles

#: Rays in all, and pairs that are measured exactly.
RAYS, PAIRS = 40_000, 24
#: How far inside a ray begins (mm).
_START = 2e-3
#: Faces nearer than this touch (mm).
_LEAST = 1e-3
#: Thinner than this, two faces that share an edge are only the wedge at that edge, and one face is beside its chords.
_WEDGE = 2 * MESH_LINEAR
#: The longest side of what triangles are cut into, as a share of the part's diagonal.
_FINE = 80.0
#: How squarely (cosine) the material ends where a ray leaves it.
_SQUARELY = 0.3
#: Two faces meet at a feather edge when the material between them is narrower than 30° (cosine).
_FEATHER = math.cos(math.radians(30))
#: How squarely (cosine) the way between the nearest places goes into the material: across a gap it goes out.
_INTO = 0.1
#: Between two faces there is material when it is at these shares of the way, taken so far aside towards the ray.
_BETWEEN, _ASIDE = (0.1, 0.5, 0.9), 0.1


class _Rays(NamedTuple):
    """Rays through the material, one from each piece of a triangle: its corners (n, 3, 3), the face it is on, the place
    and way, the face where the material ends (0: none that counts) and how thick it is there (NaN: not known).
    """

    corners: Floats
    face: Ints
    place: Floats
    way: Floats
    other: Ints
    thick: Floats


def walls(
    body: NamedBody, rays: int = RAYS, going: Callable[[], object] = lambda: None
) -> tuple[tuple[Wall, ...], WallMap]:
    """The walls between pairs of faces, the thinnest first, and the map. ``going`` is called now and then and may
    raise.
    """
    through, found = _through(body, rays), dict[tuple[int, int], Wall]()
    going()
    for at in np.argsort(through.thick, kind="stable"):
        if not np.isfinite(through.thick[at]):
            break
        pair = sorted((int(through.face[at]), int(through.other[at])))
        if pair[0] == pair[1] or (pair[0], pair[1]) in found:
            continue
        thick, place, way = float(through.thick[at]), through.place[at], through.way[at]
        found[pair[0], pair[1]] = Wall(thick, (pair[0], pair[1]), (_vector(place), _vector(place + thick * way)), False)
    thinnest, made = list(found.values()), list[Wall]()
    inside = Inside(body.shape)
    for wall in thinnest[:PAIRS]:
        going()
        if (exact := _exactly(wall, body, inside)) is not None:
            made.append(exact)
    return tuple(sorted([*made, *thinnest[PAIRS:]], key=lambda w: w.thick)), _map_of(through)


def _through(body: NamedBody, rays: int) -> _Rays:
    mesh = triangles(body.shape)
    corners, face = _pieces(mesh, rays)
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(normal, axis=1)
    sound = size > 1e-9
    corners, face, way = corners[sound], face[sound], -normal[sound] / size[sound, None]
    place, caster = corners.mean(axis=1), MeshRays(mesh)
    hits = caster.cast(place + _START * way, way)
    met = hits.triangle >= 0
    other = np.where(met, mesh.face[hits.triangle], 0) if len(mesh.face) else np.zeros(len(face), int)
    leaves = np.einsum("ij,ij->i", caster.normals[hits.triangle], way) if len(mesh.face) else np.zeros(len(face))
    thick = np.where(met & (leaves > _SQUARELY), hits.far + _START, np.nan)
    touching = _touching(body, face, other)
    thick[(thick < _WEDGE) & (touching | (face == other))] = np.nan
    thick[touching & (leaves < _FEATHER)] = np.nan  # the corner between them, no wall
    return _Rays(corners, face, place, way, other, thick)


def _touching(body: NamedBody, face: Ints, other: Ints) -> Truths:
    """Which pairs of faces share an edge."""
    table = ancestors(body.shape, EDGE, FACE)
    beside = np.zeros((body.face_count + 1, body.face_count + 1), bool)
    for k in range(1, table.Extent() + 1):
        at = [body.index(f) for f in items(table.FindFromIndex(k))]
        beside[np.ix_(at, at)] = True
    return np.asarray(beside[face, other])


def _map_of(rays: _Rays) -> WallMap:
    """Thicknesses at the corners of the pieces: at each the middle of those of its face's pieces that meet there."""
    if not len(rays.face):
        return WallMap(np.zeros((0, 3)), np.zeros((0, 3), int), np.zeros(0))
    places = rays.corners.reshape(-1, 3)
    owner = np.repeat(rays.face, 3)
    keys = np.column_stack([np.round(places / 1e-4).astype(np.int64), owner])
    _, first, node = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    node = node.reshape(-1)
    thick = np.repeat(rays.thick, 3)
    known = np.isfinite(thick)
    total = np.bincount(node[known], thick[known], minlength=len(first))
    count = np.bincount(node[known], minlength=len(first))
    mean = np.divide(total, count, out=np.full(len(first), np.nan), where=count > 0)
    return WallMap(places[first], node.reshape(-1, 3), mean)


def _exactly(wall: Wall, body: NamedBody, inside: Inside) -> Wall | None:
    """A wall measured between its faces, where it is material that lies between. Faces that touch are a wall only where
    they meet at a feather edge: then it is left as the ray found it. None for any other corner.
    """
    a, b = (body.face(i) for i in wall.faces)
    found = nearest(a, b)
    if found is None:
        return wall
    thick, (start, end) = found
    if thick < _LEAST:
        return wall if dot(outward_at(a, start), outward_at(b, end)) < -_FEATHER else None
    if thick > wall.thick + 2 * MESH_LINEAR:
        return wall
    way = minus(end, start)
    into = -dot(outward_at(a, start), way) / thick, dot(outward_at(b, end), way) / thick
    if min(into) > _INTO:
        return Wall(thick, wall.faces, (start, end), True)
    # At the tip of a cone nothing is square, and on a rim nothing is inside: a little towards the ray there is.
    near, far = (_mixed(p, q, _ASIDE) for p, q in zip((start, end), wall.ends, strict=True))
    between = all(inside(_mixed(near, far, share)) for share in _BETWEEN)
    return Wall(thick, wall.faces, (start, end), True) if between else wall


def _mixed(a: Vector, b: Vector, share: float) -> Vector:
    x, y, z = (p + share * (q - p) for p, q in zip(a, b, strict=True))
    return x, y, z


def _pieces(mesh: Triangles, rays: int) -> tuple[Floats, Ints]:
    """The triangles cut up, the same way for the same part: the kernel's run from end to end of a face."""
    corners, face = mesh.points[mesh.corners], mesh.face
    edge = float(np.linalg.norm(np.ptp(mesh.points, axis=0))) / _FINE if len(face) else 1.0
    while True:
        cut, owner = cut_up(corners, face, edge)
        if len(cut) <= rays or edge > 1e4:
            return cut, owner
        edge *= 1.3


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])
