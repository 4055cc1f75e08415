"""The loops round a flat face, or round what a plane cuts of a body, set off for the width of a cut; for cutting."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffset
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.Standard import Standard_Failure
from OCP.TopoDS import TopoDS

from ...tolerance import ONE_PLACE
from ..ground.check import KernelFailure, done
from ..ground.geometry import Frame, dot, minus
from ..ground.placing import plane_of
from ..ground.topology import FACE, WIRE, Edge, Face, Shape, Wire, subshapes, surface_properties
from .boxes import box
from .curves import length_of, places_on
from .project import XY, Round, Straight, flat_piece

#: A curve that is neither line nor arc is followed in steps of so many mm, no more than so many.
_STEP, _MOST = 0.25, 720


class Loop(NamedTuple):
    """A closed loop in order, mm on its plane: lines and arcs, an arc with ``bulge`` the tangent of a quarter of its
    turn, above 0 to the left. A whole circle stands alone.
    """

    places: tuple[XY, ...]
    bulges: tuple[float, ...]
    circle: Round | None = None
    hole: bool = False


def loops_of(faces: Sequence[Face], frame: Frame, kerf: float = 0.0) -> list[Loop]:
    """Loops of flat faces that lie in ``frame``. A cut of width ``kerf`` (mm) eats half of it on each side: outer loops
    are set off outwards by that, holes inwards. Raises KernelFailure where nothing is left of a hole.
    """
    found: list[Loop] = []
    for face in faces:
        outer = BRepTools.OuterWire_s(face)
        for wire in subshapes(face, WIRE):
            hole = not wire.IsSame(outer)
            for set_off in _set_off(TopoDS.Wire(wire), (-kerf if hole else kerf) / 2):
                found.append(_loop(set_off, frame)._replace(hole=hole))
    return found


def cut_faces(body: Shape, frame: Frame) -> list[Face]:
    """What the frame's plane cuts of a body. Raises KernelFailure when it meets nothing."""
    low, high = box(body)
    size = 2 * math.dist(low, high) + 1
    plane = BRepBuilderAPI_MakeFace(plane_of(frame), -size, size, -size, size).Face()
    operation = BRepAlgoAPI_Common(plane, body)
    done(operation, "The section could not be worked out here; move the plane a little.")
    found = [TopoDS.Face(f) for f in subshapes(operation.Shape(), FACE)]
    if not found:
        raise KernelFailure("The plane does not meet the part. Move it into the part.")
    return found


def _set_off(wire: Wire, by: float) -> list[Wire]:
    """Bigger by ``by``, or smaller where that is below 0."""
    if by == 0.0:
        return [wire]
    area = _area(wire)
    for sign in (1.0, -1.0):  # which way the kernel goes depends on how the wire happens to run
        made = _moved(wire, sign * by)
        if made and (sum(map(_area, made)) > area) == (by > 0):
            return made
    raise KernelFailure(
        "A cut this wide leaves nothing of a hole or a slot. Take a narrower kerf, or leave the hole for the drill."
    )


def _area(wire: Wire) -> float:
    return float(surface_properties(BRepBuilderAPI_MakeFace(wire, True).Face()).Mass())


def _moved(wire: Wire, by: float) -> list[Wire]:
    try:
        maker = BRepOffsetAPI_MakeOffset(wire, GeomAbs_JoinType.GeomAbs_Arc)
        maker.Perform(by)
        return [TopoDS.Wire(w) for w in subshapes(maker.Shape(), WIRE)] if maker.IsDone() else []
    except Standard_Failure:
        return []


def _loop(wire: Wire, frame: Frame) -> Loop:
    places: list[XY] = []
    bulges: list[float] = []
    for piece in _in_order(_pieces(wire, frame)):
        if isinstance(piece, Round):
            return Loop((), (), piece)
        if isinstance(piece, _Turned):
            places.append(piece.start)
            bulges.append(piece.bulge)
        else:
            places += piece[:-1]
            bulges += [0.0] * (len(piece) - 1)
    return Loop(tuple(places), tuple(bulges))


class _Turned(NamedTuple):
    """An arc as a loop runs through it."""

    start: XY
    end: XY
    bulge: float


_Run = Round | _Turned | tuple[XY, ...]


def _pieces(wire: Wire, frame: Frame) -> Iterator[_Run]:
    walk = BRepTools_WireExplorer(TopoDS.Wire(wire))
    while walk.More():
        edge = walk.Current()
        flat = flat_piece(edge, frame)
        if isinstance(flat, Straight):
            yield (flat.start, flat.end)
        elif isinstance(flat, Round):
            whole = math.dist(flat.start, flat.end) < ONE_PLACE
            yield flat if whole else _Turned(flat.start, flat.end, _bulge(flat))
        elif flat is not None:
            yield _followed(edge, frame)
        walk.Next()


def _bulge(arc: Round) -> float:
    a, b = (math.atan2(p[1] - arc.center[1], p[0] - arc.center[0]) for p in (arc.start, arc.end))
    return math.tan(((b - a) % (2 * math.pi)) / 4)


def _followed(edge: Edge, frame: Frame) -> tuple[XY, ...]:
    count = min(_MOST, max(8, math.ceil(length_of(edge) / _STEP)))
    away = [minus(p, frame.origin) for p in places_on(edge, count + 1)]
    return tuple((dot(p, frame.x), dot(p, frame.y)) for p in away)


def _in_order(pieces: Iterator[_Run]) -> list[_Run]:
    """Each piece turned so that it begins where the one before ends."""
    rest = list(pieces)
    if len(rest) < 2:
        return rest
    found: list[_Run] = []
    first, second = _ends(rest[0]), _ends(rest[1])
    forwards = min(math.dist(first[1], p) for p in second) <= min(math.dist(first[0], p) for p in second)
    here = first[0] if forwards else first[1]
    for piece in rest:
        a, b = _ends(piece)
        if math.dist(here, b) < math.dist(here, a):
            piece, (a, b) = _turned_round(piece), (b, a)
        found.append(piece)
        here = b
    return found


def _ends(piece: _Run) -> tuple[XY, XY]:
    return (piece.start, piece.end) if isinstance(piece, Round | _Turned) else (piece[0], piece[-1])


def _turned_round(piece: _Run) -> _Run:
    if isinstance(piece, _Turned):
        return _Turned(piece.end, piece.start, -piece.bulge)
    return piece if isinstance(piece, Round) else piece[::-1]
