"""A cut that spares the faces a tool cannot reach.

The kernel meets every face whose box meets the tool's: a fillet round a hub is met by the keyway in its bore, and
meeting a torus takes longer than all the rest. Here faces that the tool certainly misses are left out, the others are
met with it, their pieces are sorted by where they lie, and the skin is put together again. Where anything is not
certain (faces that coincide, a part that falls apart, a tool wholly inside) the boolean cuts as ever.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from OCP.BOPTools import BOPTools_AlgoTools3D
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_BuilderAlgo
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.gp import gp_Pnt, gp_Pnt2d
from OCP.IntTools import IntTools_Context
from OCP.TopoDS import TopoDS

from ...abreast import is_forked
from ...arrays import Floats
from ..ground.check import KernelFailure, NothingChanged, accept
from ..ground.figures import Vector
from ..ground.named import NamedBody
from ..ground.placing import triple
from ..ground.topology import (
    EDGE,
    FACE,
    SHELL,
    VERTEX,
    Face,
    Shape,
    ancestors,
    compound_of,
    edges_of,
    items,
    shape_list,
    shape_map,
    solid_of,
    subshapes,
)
from ..measure.inside import Inside
from .clearance import outward, radii

#: What comes nearer than this counts as touching, mm.
CLEAR = 1e-4
#: More tools than this go to the boolean: every piece is asked about every tool.
MOST = 8


def cut_near(body: NamedBody, tools: Sequence[NamedBody]) -> NamedBody | None:
    """``body`` with ``tools`` taken away; None when nothing would be spared or the boolean must decide.

    Raises NothingChanged.
    """
    if not 0 < len(tools) <= MOST or any(
        len(subshapes(s, SHELL)) != 1 for s in (body.shape, *(t.shape for t in tools))
    ):
        return None
    reaches = [_Reach(tool) for tool in tools]
    if any(a.meets_box(b.low, b.high) for a, b in itertools.combinations(reaches, 2)):
        return None
    met = {i for reach in reaches for i in reach.faces(body)}
    boxed = {i for reach in reaches for i in reach.boxed(body)}
    if not met or met == boxed:
        return None
    fuse = BRepAlgoAPI_BuilderAlgo()
    fuse.SetArguments(shape_list([compound_of(body.face(i) for i in sorted(met)), *(t.shape for t in tools)]))
    fuse.SetRunParallel(not is_forked())
    fuse.Build()
    if not fuse.IsDone():
        return None
    skin = _skin(body, reaches, sorted(met), fuse)
    if skin is None or not _in_one_piece([face for face, _ in skin]):
        return None
    pairs = [(face, name) for face, names in skin for name in names]
    try:
        return accept(solid_of(face for face, _ in skin), pairs, body, "less")
    except NothingChanged:
        raise
    except KernelFailure:
        return None


class _Reach:
    """What a tool can reach: its box, the corners of its hull, and the planes it lies behind."""

    def __init__(self, tool: NamedBody) -> None:
        self.tool = tool
        self.low, self.high = tool.boxes[:, :3].min(axis=0) - CLEAR, tool.boxes[:, 3:].max(axis=0) + CLEAR
        curves = (BRepAdaptor_Curve(e) for e in edges_of(tool.shape))
        if all(c.GetType() == GeomAbs_CurveType.GeomAbs_Line for c in curves):
            corners = [triple(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in subshapes(tool.shape, VERTEX)]
        else:
            corners = [*itertools.product(*zip(self.low, self.high, strict=True))]
        self._corners: Floats = np.array(corners)
        planes = [found for i in range(1, tool.face_count + 1) if (found := outward(tool.face(i))) is not None]
        self._ways: Floats = np.array([way for _, way in planes]).reshape(-1, 3)
        self._ends: Floats = (self._corners @ self._ways.T).max(axis=0) + CLEAR
        levels = np.array([place @ way for place, way in planes])
        #: Whether the tool is just what lies behind all its faces, flat ones only.
        self._is_convex = len(levels) == tool.face_count and bool((self._ends - CLEAR <= levels + 1e-9).all())

    @cached_property
    def _inside(self) -> Inside:
        return Inside(self.tool.shape)

    def holds(self, place: Vector) -> bool:
        """Whether a place lies inside the tool."""
        if self._is_convex:
            return bool((self._ways @ place < self._ends - CLEAR).all())
        return self._inside(place)

    def meets_box(self, low: Floats, high: Floats) -> bool:
        return bool(np.all(self.low <= high) and np.all(self.high >= low))

    def boxed(self, body: NamedBody) -> list[int]:
        """Faces whose boxes meet the tool's."""
        meets = np.all((body.boxes[:, :3] <= self.high) & (body.boxes[:, 3:] >= self.low), axis=1)
        return [int(i) + 1 for i in np.nonzero(meets)[0]]

    def faces(self, body: NamedBody) -> list[int]:
        """Those of them that the tool may touch."""
        return [i for i in self.boxed(body) if not self._beyond(body.boxes[i - 1]) and not self._rounded(body.face(i))]

    def _beyond(self, box: Floats) -> bool:
        """Whether a box lies wholly on the far side of one of the tool's flat faces."""
        corners = np.array([*itertools.product(*zip(box[:3], box[3:], strict=True))])
        return bool(((corners @ self._ways.T).min(axis=0) > self._ends).any())

    def _rounded(self, face: Face) -> bool:
        """Whether a round face goes round all of the tool, or lies wholly on one side when it is flat."""
        surface = BRepAdaptor_Surface(face)
        if surface.GetType() == GeomAbs_SurfaceType.GeomAbs_Plane:
            plane = surface.Plane()
            off = (self._corners - triple(plane.Location())) @ triple(plane.Axis().Direction())
            return bool(off.min() > CLEAR or off.max() < -CLEAR)
        span = radii(surface)
        if span is None:
            return False
        place, way, least, _ = span
        out = self._corners - place
        return bool(np.linalg.norm(out - np.outer(out @ way, way), axis=1).max() < least - CLEAR)


def _skin(
    body: NamedBody, reaches: Sequence[_Reach], met: Sequence[int], fuse: BRepAlgoAPI_BuilderAlgo
) -> list[tuple[Shape, set[str]]] | None:
    """The faces of what is left, each with its names; None where a piece lies on both."""
    context, inside_body = IntTools_Context(), Inside(body.shape)
    skin: list[tuple[Shape, set[str]]] = []
    own: list[Shape] = []
    for index in range(1, body.face_count + 1):
        face, names = body.face(index), body.names.get(index, set())
        if index not in met:
            skin.append((face, names))
            continue
        for piece in _pieces(fuse, face):
            place = _place_on(piece, context)
            if place is None:
                return None
            own.append(piece)
            if not any(reach.holds(place) for reach in reaches):
                skin.append((piece, names))
    for tool in (reach.tool for reach in reaches):
        for index in range(1, tool.face_count + 1):
            for piece in _pieces(fuse, tool.face(index)):
                place = _place_on(piece, context)
                if place is None or any(piece.IsSame(o) for o in own):
                    return None
                if inside_body(place):
                    skin.append((TopoDS.Face(piece.Reversed()), tool.names.get(index, set())))
    return skin


def _pieces(fuse: BRepAlgoAPI_BuilderAlgo, face: Shape) -> Sequence[Shape]:
    became = [TopoDS.Face(f) for f in items(fuse.Modified(face)) if f.ShapeType() == FACE]
    return became or ([] if fuse.IsDeleted(face) else [face])


def _place_on(face: Shape, context: IntTools_Context) -> Vector | None:
    """A place well inside a face."""
    place, flat = gp_Pnt(), gp_Pnt2d()
    if BOPTools_AlgoTools3D.PointInFace_s(TopoDS.Face(face), place, flat, context) != 0:
        return None
    return triple(place)


def _in_one_piece(skin: Sequence[Shape]) -> bool:
    """Whether one can walk over shared edges from any face to any other."""
    whole = compound_of(skin)
    table, number = ancestors(whole, EDGE, FACE), shape_map(whole, FACE)
    over: dict[int, set[int]] = {k: set() for k in range(1, number.Extent() + 1)}
    for i in range(1, table.Extent() + 1):
        sides = {number.FindIndex(f) for f in items(table.FindFromIndex(i))}
        for side in sides:
            over[side] |= sides
    seen, ahead = {1}, [1]
    while ahead:
        fresh = over[ahead.pop()] - seen
        seen |= fresh
        ahead += fresh
    return len(seen) == len(over)
