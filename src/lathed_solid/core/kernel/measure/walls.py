"""The thinnest walls of a solid: rays through the material find the pairs of faces, the kernel measures those exactly.

Recipe: from many places on every face along the inward normal to where the material ends; the thinnest pairs are then
measured between the faces themselves. What lies between them must be material: the nearest places of two faces are
often on an end edge with air between them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from ...arrays import Floats, Ints
from ...tolerance import MESH_LINEAR
from ..ground.figures import Vector, Wall
from ..ground.geometry import along, dot, minus
from ..ground.named import NamedBody
from .inside import Inside
from .pair import nearest
from .surfaces import outward_at
from .triangles import Triangles, triangles

#: Rays in all, and pairs that are measured exactly.
RAYS, PAIRS = 6000, 24
#: How far inside a ray begins (mm): beyond what the triangles lie beside their face. Thinner walls are not seen.
_START = 1.5 * MESH_LINEAR
#: Faces nearer than this touch (mm).
_LEAST = 1e-3
#: The longest side of what triangles are cut into, as a share of the part's diagonal.
_FINE = 26.0
#: How squarely (cosine) the way between the nearest places goes into the material: across a gap it goes out.
_INTO = 0.1


def walls(body: NamedBody, rays: int = RAYS, going: Callable[[], object] = lambda: None) -> tuple[Wall, ...]:
    """The walls between pairs of faces, the thinnest first. ``going`` is called now and then and may raise."""
    inside, found = Inside(body.shape), dict[tuple[int, int], Wall]()
    for count, (face, place, way) in enumerate(_samples(triangles(body.shape), rays)):
        if count % 64 == 0:
            going()
        wall = _through(inside, face, along(place, way, _START), way)
        if wall is not None and (wall.faces not in found or wall.thick < found[wall.faces].thick):
            found[wall.faces] = wall
    thinnest, made = sorted(found.values(), key=lambda w: w.thick), list[Wall]()
    for wall in thinnest[:PAIRS]:
        going()
        made.append(_exactly(wall, body))
    return tuple(sorted([*made, *thinnest[PAIRS:]], key=lambda w: w.thick))


def _through(inside: Inside, face: int, begin: Vector, way: Vector) -> Wall | None:
    """The material on both sides of a place in it: a triangle lies beside its face, so the face itself is met again."""
    ahead, back = inside.met(begin, way), inside.met(begin, (-way[0], -way[1], -way[2]))
    if (
        ahead is None
        or back is None
        or not ahead.outward
        or not back.outward
        or back.face != face
        or ahead.face == face
    ):
        return None
    ends = along(begin, way, -back.far), along(begin, way, ahead.far)
    return Wall(ahead.far + back.far, (min(face, ahead.face), max(face, ahead.face)), ends, False)


def _exactly(wall: Wall, body: NamedBody) -> Wall:
    """A wall measured between its faces, where it is material that lies between: from both ends it goes inwards."""
    a, b = (body.face(i) for i in wall.faces)
    found = nearest(a, b)
    if found is None or found[0] < _LEAST or found[0] > wall.thick * (1 + 1e-6):
        return wall
    thick, (start, end) = found
    way = minus(end, start)
    into = -dot(outward_at(a, start), way) / thick, dot(outward_at(b, end), way) / thick
    return Wall(thick, wall.faces, (start, end), True) if min(into) > _INTO else wall


def _samples(mesh: Triangles, rays: int) -> Iterator[tuple[int, Vector, Vector]]:
    """Places on the faces with the way into the material; the same ones for the same part. The kernel's triangles run
    from end to end of a face, so they are cut up until none is long.
    """
    corners, face = mesh.points[mesh.corners], mesh.face
    edge = float(np.linalg.norm(np.ptp(mesh.points, axis=0))) / _FINE if len(face) else 1.0
    while True:
        cut, owner = _cut_up(corners, face, edge)
        if len(cut) <= rays:
            break
        edge *= 1.3
        if edge > 1e4:
            break
    normal = np.cross(cut[:, 1] - cut[:, 0], cut[:, 2] - cut[:, 0])
    size = np.linalg.norm(normal, axis=1)
    for at in np.flatnonzero(size > 1e-9):
        yield int(owner[at]), _vector(cut[at].mean(axis=0)), _vector(-normal[at] / size[at])


def _cut_up(corners: Floats, face: Ints, edge: float) -> tuple[Floats, Ints]:
    """Every triangle halved across its longest side until that is no longer than ``edge``."""
    done, owners = list[Floats](), list[Ints]()
    while len(corners):
        sides = np.linalg.norm(corners - np.roll(corners, -1, axis=1), axis=2)
        longest = sides.argmax(axis=1)
        small = sides.max(axis=1) <= edge
        done.append(corners[small])
        owners.append(face[small])
        rest, at, face = corners[~small], longest[~small], face[~small]
        rows = np.arange(len(rest))
        a, b, c = rest[rows, at], rest[rows, (at + 1) % 3], rest[rows, (at + 2) % 3]
        m = (a + b) / 2
        corners = np.concatenate([np.stack([a, m, c], axis=1), np.stack([m, b, c], axis=1)])
        face = np.concatenate([face, face])
    return np.concatenate(done), np.concatenate(owners)


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])
