"""What lies round a face of a solid: sharp corners inside, what a straight line reaches, the wall beside a bore."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.GeomAbs import GeomAbs_Shape
from OCP.TopoDS import TopoDS

from ...arrays import Floats, Truths
from ...tolerance import MESH_LINEAR
from ..ground.figures import Surface, Vector
from ..ground.geometry import cross, dot, unit
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.topology import EDGE, FACE, VERTEX, Edge, ancestors, items
from .curves import on_edge
from .mesh_rays import MeshRays
from .pair import nearest
from .surfaces import left_of, outward_at
from .triangles import triangles

#: Of every face so many places are looked at, so far off it (mm): farther than the triangles beside it may lie.
_PLACES, _OFF = 24, 3 * MESH_LINEAR
#: Faces turn into each other sharply when this much is left of the sine.
_TURNS = 1e-3


def inside_corners(body: NamedBody) -> list[tuple[Vector, tuple[int, ...]]]:
    """Corners where three or more sharp edges meet that all turn inwards, with the faces round each."""
    edges = ancestors(body.shape, EDGE, FACE)
    inward: dict[int, tuple[int, int]] = {}
    for k in range(1, edges.Extent() + 1):
        edge = TopoDS.Edge(edges.FindKey(k))
        beside = [body.index(f) for f in items(edges.FindFromIndex(k))]
        if len(set(beside)) == 2 and _turns_in(body, edge, beside[0], beside[1]):
            inward[k] = (beside[0], beside[1])
    found = []
    table = ancestors(body.shape, VERTEX, EDGE)
    for k in range(1, table.Extent() + 1):
        at = {edges.FindIndex(e) for e in items(table.FindFromIndex(k))}
        if len(at) >= 3 and all(e in inward for e in at):
            place = triple(BRep_Tool.Pnt_s(TopoDS.Vertex(table.FindKey(k))))
            found.append((place, tuple(sorted({f for e in at for f in inward[e]}))))
    return found


def _turns_in(body: NamedBody, edge: Edge, one: int, two: int) -> bool:
    """Whether the faces at an edge turn sharply towards each other: there is a corner inside."""
    if BRep_Tool.Continuity_s(edge, body.face(one), body.face(two)) != GeomAbs_Shape.GeomAbs_C0:
        return False
    place, way = on_edge(edge, 0.5)
    a, b = outward_at(body.face(one), place), outward_at(body.face(two), place)
    into = cross(a, way)
    sign = 1.0 if left_of(body.face(one), edge) else -1.0
    return sign * dot(b, into) > _TURNS


def unreached(
    body: NamedBody, faces: Sequence[Surface], ways: Callable[[Surface], Sequence[Vector]],
    going: Callable[[], object] = lambda: None,
) -> list[int]:  # fmt: skip
    """Which of the faces no straight line reaches along any of the ``ways`` that come into question for each."""
    mesh = triangles(body.shape)
    caster = MeshRays(mesh)
    middle = mesh.points[mesh.corners].mean(axis=1)
    first, second = (mesh.points[mesh.corners[:, k]] - mesh.points[mesh.corners[:, 0]] for k in (1, 2))
    size = np.linalg.norm(np.cross(first, second), axis=1)
    found = []
    for face in faces:
        going()
        own = np.flatnonzero((mesh.face == face.index) & (size > 1e-6))
        own = own[np.argsort(-size[own])][:_PLACES]
        seen = np.zeros(len(own), bool)  # each place from some side: half of a round face from above, half from beneath
        for way in ways(face):
            seen |= _seen(caster, middle[own], caster.normals[own], way)
        if not seen.all():
            found.append(face.index)
    return found


def _seen(caster: MeshRays, places: Floats, normals: Floats, way: Vector) -> Truths:
    """At which places nothing of the part stands before them, looked at from ``way``."""
    toward = np.array(unit(way))
    hits = caster.cast(places + _OFF * normals + _OFF * toward, np.tile(toward, (len(places), 1)))
    return np.asarray(hits.triangle < 0)


def wall_beside(body: NamedBody, face: int, within: float) -> float:
    """The least distance (mm) from a bore's face to one that does not touch it, as far as ``within``; else infinite."""
    box = body.boxes
    low, high = box[face - 1, :3] - within, box[face - 1, 3:] + within
    near = np.flatnonzero(((box[:, :3] <= high) & (box[:, 3:] >= low)).all(axis=1)) + 1
    least = float("inf")
    for other in near:
        if int(other) == face:
            continue
        found = nearest(body.face(face), body.face(int(other)))
        if found is not None and 1e-6 < found[0] <= within:
            least = min(least, found[0])
    return least
