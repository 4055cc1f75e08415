"""A round face exchanged for a thread's skin, without a boolean: exact, quick, and it cannot fail halfway."""

from __future__ import annotations

from typing import NamedTuple

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopoDS import TopoDS

from .check import accept
from .geometry import Frame, dot, triple
from .helicoid import Skin
from .named import NamedBody, Pair
from .topology import EDGE, FACE, WIRE, Shape, ancestors, items, solid_of, subshapes


class Band(NamedTuple):
    """A full cylinder between two flat faces square to it: the flat faces and their wires that bound it."""

    low: tuple[int, Shape]
    high: tuple[int, Shape]


def band(body: NamedBody, index: int, frame: Frame) -> Band | None:
    """The flat neighbours of a cylinder face, along the frame's normal; None when it has others."""
    table = ancestors(body.shape, EDGE, FACE)
    ends: dict[int, Shape] = {}
    for edge in subshapes(body.face(index), EDGE):
        sides = {body.index(f) for f in items(table.FindFromKey(edge))} - {index}
        if not sides:
            continue  # the seam
        other = sides.pop()
        wire = _wire_with(body.face(other), edge)
        if other in ends or sides or wire is None or len(subshapes(wire, EDGE)) != 1:
            return None
        adaptor = BRepAdaptor_Surface(body.face(other))
        if adaptor.GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
            return None
        if abs(abs(dot(triple(adaptor.Plane().Axis().Direction()), frame.normal)) - 1) > 1e-9:
            return None
        ends[other] = wire
    if len(ends) != 2:
        return None
    first, second = sorted(
        ends.items(), key=lambda e: dot(triple(BRepAdaptor_Surface(body.face(e[0])).Plane().Location()), frame.normal)
    )
    return Band(first, second)


def _wire_with(face: Shape, edge: Shape) -> Shape | None:
    for wire in subshapes(face, WIRE):
        if any(e.IsSame(edge) for e in subshapes(wire, EDGE)):
            return wire
    return None


def exchange(
    body: NamedBody, index: int, ends: Band, skin: Skin, frame: Frame, *, hollow: bool, left_hand: bool, tag: str
) -> NamedBody:
    """``body`` with its cylinder face ``index`` exchanged for ``skin``, whose ends lie in the flat neighbours.

    The crest keeps the names of the face it stands for. Raises KernelFailure when the result is not sound.
    """
    faces: list[Pair] = []
    kept = sorted(body.names.get(index, ()))
    for face, name in skin.faces:
        # As they are made, a right-hand skin's normals point to the axis: out of the material of a nut.
        made = face if hollow != left_hand else face.Reversed()
        faces.append((made, f"{tag}/{name}"))
        if name == ("root" if hollow else "crest"):
            faces += [(made, n) for n in kept]
    shell: list[Shape] = [f for f, name in faces if name.startswith(f"{tag}/")]
    for at in range(1, body.face_count + 1):
        if at == index:
            continue
        face = body.face(at)
        for end, wire in ((ends.low, skin.low), (ends.high, skin.high)):
            if at == end[0]:
                face = _exchanged(face, end[1], wire, frame, left_hand)
        shell.append(face)
        faces += [(face, n) for n in body.names.get(at, ())]
    return accept(solid_of(shell), faces, None, "any")


def _exchanged(face: Shape, old: Shape, wire: Shape, frame: Frame, left_hand: bool) -> Shape:
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
    new = TopoDS.Wire(wire.Reversed() if clockwise == is_outer else wire)
    maker = BRepBuilderAPI_MakeFace(plane, new if is_outer else outer, False)
    for other in subshapes(forward, WIRE):
        if other.IsSame(outer):
            continue
        maker.Add(new if other.IsSame(old) else TopoDS.Wire(other))
    return TopoDS.Face(maker.Face().Oriented(orientation))
