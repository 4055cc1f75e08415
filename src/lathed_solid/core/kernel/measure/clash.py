"""Two solids that may be in each other's way: apart (and how far), touching, or overlapping (where, and by how much).

Triangles find what may overlap, the kernel's faces say whether it does: the triangles of a shaft and of its hole always
cross each other. Solids with helical faces are judged by their triangles alone, to their deflection: the kernel's own
cut of two threads takes minutes and may be wrong.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

import manifold3d
import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from ...arrays import Floats
from ..ground.check import KernelFailure
from ..ground.figures import Lump, Vector
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.skin import skin_of
from ..ground.topology import SOLID, Shape, subshapes
from .bodies import Placed
from .boxes import close_box
from .contact import contact
from .difference import FINE, pieces
from .mesh_rays import MeshRays
from .triangles import Triangles, cut_up, fresh_triangles

#: Volumes below this are none (mm³); gaps below this touch (mm).
LEAST, TOUCHES = 1e-6, 1e-6
#: A ray begins so far inside a triangle (mm).
_INTO = 2e-4
#: The triangles of an overlap lie within this share of its least size, but no closer than so much (mm; radians).
_SHARE, _FINEST, _TURN = 0.005, 1e-4, 0.1
#: How far the triangles of parts turn from one to the next (radians).
_COARSE = 0.15
#: A face of the overlap smaller than this share of its largest says nothing of its depth.
_COUNTS = 0.3
#: Rays start this share of its size apart.
_FINELY = 40.0


class Meeting(NamedTuple):
    """How two solids stand: ``gap`` mm between them and its two ends; of an overlap the volume (mm³), how deep it is
    (mm), its piece to be shown, and its corners (n, 3) packed; ``exact`` when it was measured on faces.
    """

    state: Literal["apart", "touching", "overlapping"]
    gap: float = 0.0
    ends: tuple[Vector, Vector] | None = None
    volume: float = 0.0
    deep: float = 0.0
    lump: Lump | None = None
    points: Floats | None = None
    exact: bool = True


def meeting(a: Placed, b: Placed, reach: float) -> Meeting:
    """How two placed bodies stand to each other; gaps are told up to ``reach`` mm. Raises KernelFailure when triangles
    do not close.
    """
    if a.body.members or b.body.members:
        return _of_members(a, b, reach)
    base, one, two = _side_by_side(a, b)
    common = one ^ two
    if float(common.volume()) > 1e-9:
        common = common.transform(base.stands)
        if a.body.is_plain and b.body.is_plain:
            # Triangles of a shaft and its hole cross each other, although their faces may not even touch; what is
            # thicker than triangles can be off is an overlap even if the kernel found nothing in common.
            return _common(a, b) or _thick(common) or _apart(a, b, reach)
        return _thick(common) or Meeting("touching", exact=False)
    return _apart(a, b, reach)


def _side_by_side(a: Placed, b: Placed) -> tuple[Placed, manifold3d.Manifold, manifold3d.Manifold]:
    """What the triangles of both enclose, in the axes of the one that has more of them, which is the first: to move it
    would take longer than to look at it.
    """
    if a.body.solid.num_tri() < b.body.solid.num_tri():
        a, b = b, a
    return a, a.body.solid, a.beside(b)


def crossing(a: Placed, b: Placed, deep: bool = True) -> Meeting | None:
    """What two placed bodies have in common by their triangles alone, thicker than these can be off: quick enough to be
    asked while a part moves; how ``deep`` it is takes longest. None for nothing. Raises KernelFailure when triangles do
    not close.
    """
    if a.body.members or b.body.members:
        every = (
            crossing(a._replace(body=one), b._replace(body=two), deep)
            for one in a.body.members or [a.body]
            for two in b.body.members or [b.body]
            if _boxes_near(a._replace(body=one), b._replace(body=two), 0.0)
        )
        return next((m for m in every if m is not None), None)
    base, one, two = _side_by_side(a, b)
    common = one ^ two
    return _thick(common.transform(base.stands), deep) if float(common.volume()) > 1e-9 else None


def _of_members(a: Placed, b: Placed, reach: float) -> Meeting:
    """The worst meeting of two bodies' solids; overlaps are added."""
    every = [
        meeting(a._replace(body=one), b._replace(body=two), reach)
        for one in a.body.members or [a.body]
        for two in b.body.members or [b.body]
        if _boxes_near(a._replace(body=one), b._replace(body=two), reach)
    ]
    over = [m for m in every if m.state == "overlapping"]
    if over:
        worst = max(over, key=lambda m: m.deep)
        points = np.concatenate([m.points for m in over if m.points is not None])
        exact = all(m.exact for m in over)
        return worst._replace(volume=sum(m.volume for m in over), points=points, exact=exact)
    return min(every, key=lambda m: m.gap, default=Meeting("apart", reach + 2 * FINE, exact=False))


def _boxes_near(a: Placed, b: Placed, reach: float) -> bool:
    """Whether the box of one, turned as it stands, comes near that of the other, in the other's axes."""
    low, high = a.box_round(b)
    return bool((low - reach <= a.body.box[1]).all() and (high + reach >= a.body.box[0]).all())


def _apart(a: Placed, b: Placed, reach: float) -> Meeting:
    _, one, two = _side_by_side(a, b)
    if not (a.body.is_plain and b.body.is_plain):
        gap = float(one.min_gap(two, reach))
        return Meeting("apart" if gap > FINE else "touching", gap, exact=False)
    if (at := contact(a, b)) is not None:
        return Meeting("touching", 0.0, (at, at))
    if float(one.min_gap(two, 2 * reach)) > reach + 2 * FINE:
        return Meeting("apart", reach + 2 * FINE, exact=False)
    near = BRepExtrema_DistShapeShape(a.faces_near(b, 2 * reach), b.faces_near(a, 2 * reach))
    if not near.IsDone() or near.NbSolution() < 1:
        raise KernelFailure("The distance of two parts could not be measured.")
    gap = float(near.Value())
    ends = (triple(near.PointOnShape1(1)), triple(near.PointOnShape2(1)))
    return Meeting("apart" if gap > TOUCHES else "touching", gap, ends)


def _common(a: Placed, b: Placed) -> Meeting | None:
    """What both have, exactly; None when that is nothing."""
    operation = BRepAlgoAPI_Common(a.body.placed(a.where), b.body.placed(b.where))
    if not operation.IsDone():
        raise KernelFailure("What two parts have in common could not be worked out.")
    shape = operation.Shape()
    volume = NamedBody(shape, ()).volume if subshapes(shape, SOLID) else 0.0
    if volume < LEAST:
        return None
    return _overlapping([_finely(piece) for piece in subshapes(shape, SOLID)], volume, exact=True)


def _finely(piece: Shape) -> Triangles:
    """Depth is read off triangles: they must lie closer than what is to be read."""
    thin = min(b - a for a, b in zip(*close_box(piece), strict=True))
    return fresh_triangles(piece, min(FINE, max(thin * _SHARE, _FINEST)), _TURN)


def _overlapping(found: Sequence[Triangles], volume: float, exact: bool, is_deep: bool = True) -> Meeting:
    """An overlap in one or more pieces: it is as deep as the deepest, if that is asked."""
    points = np.concatenate([mesh.points for mesh in found])
    low, high = points.min(axis=0), points.max(axis=0)
    deep = max(depth(mesh) for mesh in found) if is_deep else 0.0
    skin = skin_of([(mesh.points, mesh.corners, 1.0) for mesh in found])
    lump = Lump(True, volume, _vector((low + high) / 2), _vector(high - low), deep, skin)
    return Meeting("overlapping", 0.0, None, volume, deep, lump, points, exact)


def depth(mesh: Triangles) -> float:
    """How deep an overlap is, mm: rays through it from its larger faces; of each the thickest, of those the least."""
    rays = MeshRays(mesh)
    size = float(np.ptp(mesh.points, axis=0).max(initial=0.0))
    own = np.arange(len(mesh.corners))
    pieces, owner = cut_up(mesh.points[mesh.corners], own, max(size / _FINELY, _INTO))
    normals, face = rays.normals[owner], mesh.face[owner]
    hits = rays.cast(pieces.mean(axis=1) - _INTO * normals, -normals)
    good = (hits.triangle >= 0) & (hits.far > 1e-6)
    a, b, c = (mesh.points[mesh.corners[:, k]] for k in range(3))
    areas = np.bincount(mesh.face, np.linalg.norm(np.cross(b - a, c - a), axis=1))
    large = np.nonzero(areas > _COUNTS * areas.max())[0]
    thickest = [float(hits.far[good & (face == f)].max(initial=0.0)) + _INTO for f in large]
    told = [t for t in thickest if t > 2 * _INTO]
    return min(told) if told else 0.0


def _thick(crossing: manifold3d.Manifold, deep: bool = True) -> Meeting | None:
    """What two meshes have in common that is more than their deflections; None when that is nothing."""
    found = sorted(pieces(crossing), key=lambda p: -p[2])
    if not found:
        return None
    meshes = [Triangles(points, corners, np.ones(len(corners), int)) for points, corners, _ in found]
    return _overlapping(meshes, sum(volume for *_, volume in found), exact=False, is_deep=deep)


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])
