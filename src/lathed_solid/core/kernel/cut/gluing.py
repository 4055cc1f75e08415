"""A round face exchanged for a thread's skin, without a boolean: exact, quick, and it cannot fail halfway."""

from __future__ import annotations

import math
from typing import NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopoDS import TopoDS

from ...tolerance import PARALLEL
from ..form.helicoid import Skin
from ..form.outline import Loop, Segment, flat_face
from ..form.sweep import revolve
from ..ground.check import accept
from ..ground.geometry import Frame, along, dot, minus, norm
from ..ground.named import NamedBody, Pair
from ..ground.placing import triple
from ..ground.topology import (
    EDGE,
    FACE,
    AncestorMap,
    Edge,
    Face,
    Shape,
    Wire,
    ancestors,
    edges_of,
    items,
    run_back,
    solid_of,
    turned_over,
    wires_of,
)
from .rest import Rest


class End(NamedTuple):
    """One end of a cylinder: the flat face square to it, the wire that bounds it there, and the chamfer between the two
    (0 for none).
    """

    flat: int
    wire: Wire
    level: float
    chamfer: int = 0


class Band(NamedTuple):
    """A full cylinder between two flat faces square to it, chamfered or not; levels along the frame's normal."""

    low: End
    high: End

    @property
    def chamfers(self) -> list[End]:
        return [end for end in self if end.chamfer]


def band(body: NamedBody, index: int, frame: Frame) -> Band | None:
    """The ends of a cylinder face, along the frame's normal; None when it has others."""
    table = ancestors(body.shape, EDGE, FACE)
    ends: list[End] = []
    for edge, other in _neighbours(body, table, index):
        end = _flat_end(body, other, edge, frame)
        if end is None and BRepAdaptor_Surface(body.face(other)).GetType() == GeomAbs_SurfaceType.GeomAbs_Cone:
            beyond = [(e, f) for e, f in _neighbours(body, table, other) if f != index]
            found = _flat_end(body, beyond[0][1], beyond[0][0], frame) if len(beyond) == 1 else None
            end = found._replace(chamfer=other) if found is not None else None
        if end is None:
            return None
        ends.append(end)
    if len(ends) != 2 or ends[0].flat == ends[1].flat:
        return None
    return Band(*sorted(ends, key=lambda end: end.level))


def _neighbours(body: NamedBody, table: AncestorMap, index: int) -> list[tuple[Edge, int]]:
    """The edges of a face with the face beyond each; a seam has none."""
    found = []
    for edge in edges_of(body.face(index)):
        sides = {body.index(f) for f in items(table.FindFromKey(edge))} - {index}
        found += [(edge, side) for side in sides]
    return found


def _flat_end(body: NamedBody, flat: int, edge: Edge, frame: Frame) -> End | None:
    """The end of a band in a flat face that is bounded there by one full circle; None for any other face."""
    face = body.face(flat)
    wire = _wire_with(face, edge)
    adaptor = BRepAdaptor_Surface(face)
    if wire is None or len(edges_of(wire)) != 1 or adaptor.GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
        return None
    plane = adaptor.Plane()
    if abs(abs(dot(triple(plane.Axis().Direction()), frame.normal)) - 1) > PARALLEL:
        return None
    return End(flat, wire, dot(minus(triple(plane.Location()), frame.origin), frame.normal))


def _wire_with(face: Face, edge: Edge) -> Wire | None:
    for wire in wires_of(face):
        if any(e.IsSame(edge) for e in edges_of(wire)):
            return wire
    return None


def exchange(
    body: NamedBody,
    index: int,
    ends: Band,
    skin: Skin,
    frame: Frame,
    *,
    hollow: bool,
    left_hand: bool,
    tag: str,
    rest: Rest | None = None,
    rest_low: bool = False,
) -> NamedBody:
    """``body`` with its cylinder face ``index`` exchanged for ``skin``, whose ends lie in the flat faces; chamfers go.

    A thread that ends on the cylinder leaves the ``rest`` of it, at the low or the high end.
    The crest keeps the names of the face it stands for. Raises KernelFailure when the result is not sound.
    """
    faces: list[Pair] = []
    kept = sorted(body.names.get(index, ()))
    for face, name in skin.faces:
        # As they are made, a right-hand skin's normals point to the axis: out of the material of a nut.
        made = face if hollow != left_hand else turned_over(face)
        faces.append((made, f"{tag}/{name}"))
        if name == ("root" if hollow else "crest"):
            faces += [(made, n) for n in kept]
    shell: list[Shape] = [f for f, name in faces if name.startswith(f"{tag}/")]
    if rest is not None:
        plain = rest.face.Reversed() if hollow else rest.face
        shell.append(plain)
        faces += [(plain, n) for n in kept]
    for at in range(1, body.face_count + 1):
        if at == index or at in (ends.low.chamfer, ends.high.chamfer):
            continue
        face = body.face(at)
        for end, wire, is_low in ((ends.low, skin.low, True), (ends.high, skin.high, False)):
            if at != end.flat:
                continue
            if rest is not None and is_low == rest_low:
                face = _exchanged(face, end.wire, rest.circle, frame, left_hand=True)
            else:
                face = _exchanged(face, end.wire, wire, frame, left_hand)
        shell.append(face)
        faces += [(face, n) for n in body.names.get(at, ())]
    return accept(solid_of(shell), faces, None, "any")


def _exchanged(face: Face, old: Wire, wire: Wire, frame: Frame, left_hand: bool) -> Face:
    """A flat face with one of its wires exchanged; wires run with or against the surface's own normal."""
    orientation = face.Orientation()
    forward = TopoDS.Face(face.Oriented(TopAbs_Orientation.TopAbs_FORWARD))
    plane = BRepAdaptor_Surface(forward).Plane()
    normal = triple(plane.Axis().Direction())
    if not plane.Direct():
        normal = (-normal[0], -normal[1], -normal[2])
    outer = BRepTools.OuterWire_s(forward)
    # As it is made, a right-hand section runs clockwise about the frame's normal.
    clockwise = (not left_hand) == (dot(normal, frame.normal) > 0)
    is_outer = outer.IsSame(old)
    new = run_back(wire) if clockwise == is_outer else wire
    maker = BRepBuilderAPI_MakeFace(plane, new if is_outer else outer, False)
    for other in wires_of(forward):
        if other.IsSame(outer):
            continue
        maker.Add(new if other.IsSame(old) else TopoDS.Wire(other))
    return TopoDS.Face(maker.Face().Oriented(orientation))


def chamfer_tool(body: NamedBody, end: End, frame: Frame, *, hollow: bool, past: float) -> NamedBody:
    """What is cut off again to leave the chamfer of an ``end``: a ring round it, or a plug in a countersink.

    It reaches ``past`` (mm) beyond the chamfer on both sides. Its slanting face carries the chamfer's names.
    """
    cone = BRepAdaptor_Surface(body.face(end.chamfer))
    places = [cone.Value(cone.FirstUParameter(), v) for v in (cone.FirstVParameter(), cone.LastVParameter())]
    found = sorted((_radius_and_level(p, frame) for p in places), key=lambda place: abs(place[1] - end.level))
    (flat, level), (round_, shoulder) = found
    run = (flat - round_, level - shoulder)
    by = past / math.hypot(*run)
    deep = (round_ - by * run[0], shoulder - by * run[1])
    if not hollow:  # a ring whose slant would not reach the axis
        by = min(by, 0.9 * flat / -run[0])
    free = (flat + by * run[0], level + by * run[1])
    if hollow:
        points, names = [(0.0, deep[1]), deep, free, (0.0, free[1])], ["end", "slant", "end", "axis"]
    else:
        points, names = [deep, (deep[0], free[1]), free], ["round", "end", "slant"]
    loop: Loop = tuple(Segment(n, a, b) for n, a, b in zip(names, points, (*points[1:], points[0]), strict=True))
    made = revolve(flat_face(loop, (), Frame(frame.origin, frame.x, frame.normal)), frame.origin, frame.normal, "t", "")
    slanting = [face for face, name in made.pairs() if name == "t/slant"]
    return NamedBody(made.shape, [(face, n) for face in slanting for n in body.names.get(end.chamfer, ())])


def _radius_and_level(place: gp_Pnt, frame: Frame) -> tuple[float, float]:
    out = minus(triple(place), frame.origin)
    level = dot(out, frame.normal)
    return norm(minus(triple(place), along(frame.origin, frame.normal, level))), level
