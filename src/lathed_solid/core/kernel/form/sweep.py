"""Flat faces swept into bodies: full revolves and straight prisms, with named faces."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Ax3, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure, done
from ..ground.figures import Vector
from ..ground.geometry import Frame
from ..ground.named import NamedBody, Pair, Turned, first_vertex, generated_faces, last_vertex
from ..ground.placing import axes_of, moved_frame
from ..ground.topology import EDGE, FACE, Edge, ShapeMap, ancestors, items
from .outline import FlatFace, Loop, Segment, flat_face


def revolve(flat: FlatFace, origin: Vector, direction: Vector, tag: str, suffix: str = "/side") -> NamedBody:
    """Full turn of ``flat`` about an axis; faces are ``tag/<edge>`` and ``suffix``. Raises KernelFailure."""
    operation = BRepPrimAPI_MakeRevol(flat.face, gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction)))
    done(operation, "The outline cannot be turned about this axis; does it cross it?")
    shape = operation.Shape()
    circles = ancestors(shape, EDGE, FACE)
    named: list[Pair] = []
    taken, later = ShapeMap(), []
    for edge, name in flat.edges:
        made = generated_faces(operation, edge)
        for face in made:
            taken.Add(face)
            named.append((face, f"{tag}/{name}{suffix}"))
        if not made:
            later.append((edge, name))
    # Flat discs and rings are not in the history; they are the face that holds the circles of both edge ends.
    for edge, name in later:
        holders = [
            items(circles.FindFromKey(circle))
            for vertex in (first_vertex(edge), last_vertex(edge))
            for circle in items(operation.Generated(vertex))
            if circles.Contains(circle)
        ]
        if not holders:
            continue
        for held in holders[0]:
            if not taken.Contains(held) and all(any(held.IsSame(f) for f in h) for h in holders[1:]):
                taken.Add(held)
                named.append((held, f"{tag}/{name}{suffix}"))
                break
    return positive(NamedBody(shape, named))


def revolve_part(flat: FlatFace, origin: Vector, direction: Vector, angle: float, tag: str) -> NamedBody:
    """Part of a turn by ``angle`` radians; faces are ``tag/<edge>/side``, ``tag/start`` and ``tag/end``.

    Raises KernelFailure.
    """
    operation = BRepPrimAPI_MakeRevol(flat.face, gp_Ax1(gp_Pnt(*origin), gp_Dir(*direction)), angle)
    done(operation, "The outline cannot be turned about this axis; does it cross it?")
    named: list[Pair] = [
        (f, f"{tag}/{name}/side") for edge, name in flat.edges for f in generated_faces(operation, edge)
    ]
    named += [(operation.FirstShape(), f"{tag}/start"), (operation.LastShape(), f"{tag}/end")]
    return positive(NamedBody(operation.Shape(), named))


def prism(flat: FlatFace, vector: Vector, tag: str) -> NamedBody:
    """Straight sweep; faces are ``tag/<edge>/side``, ``tag/start`` and ``tag/end``. Raises KernelFailure."""
    operation = BRepPrimAPI_MakePrism(flat.face, gp_Vec(*vector))
    done(operation, "The outline cannot be extruded.")
    named: list[Pair] = [
        (f, f"{tag}/{name}/side") for edge, name in flat.edges for f in generated_faces(operation, edge)
    ]
    named += [(operation.FirstShape(), f"{tag}/start"), (operation.LastShape(), f"{tag}/end")]
    return positive(NamedBody(operation.Shape(), named))


def positive(body: NamedBody) -> NamedBody:
    """A swept body must enclose material; an inside-out one would quietly reverse later cuts."""
    if body.volume > 0:
        return body
    body = NamedBody(body.shape.Reversed(), body.pairs())
    if body.volume <= 0:
        raise KernelFailure("The outline encloses no material when it is swept.")
    return body


def turned_tool(points: Sequence[tuple[float, float]], names: Sequence[str], frame: Frame, tag: str) -> NamedBody:
    """A tool of revolution: ``points`` are (radius, depth) mm from the top on the axis round to the bottom on it.

    ``names[i]`` names the piece from point i to i + 1; the closing piece lies on the axis. Depth runs along the
    frame's normal.
    """
    loop: Loop = tuple(
        Segment(name, a, b) for name, a, b in zip((*names, "axis"), points, (*points[1:], points[0]), strict=True)
    )
    # The half section stands on the frame's x (radius) and normal (depth).
    section = Frame(frame.origin, frame.x, frame.normal)
    flat = flat_face(loop, (), section)
    made = revolve(flat, frame.origin, frame.normal, tag, "")
    made.turned = Turned(tuple(points), tuple(names), frame, tag)
    return made


def set_elsewhere(body: NamedBody, there: Frame, here: Frame, retag: tuple[str, str]) -> NamedBody:
    """A copy of a tool made in the frame ``there``, set down in ``here``; nothing of it is computed again."""
    change = gp_Trsf()
    change.SetDisplacement(gp_Ax3(axes_of(there)), gp_Ax3(axes_of(here)))
    place = TopLoc_Location(change)
    old, new = retag
    named = [(face.Moved(place), new + name.removeprefix(old)) for face, name in body.pairs()]
    made = NamedBody(body.shape.Moved(place), named)
    if body.turned is not None:
        made.turned = body.turned._replace(frame=here, tag=new)
    return made


def moved(body: NamedBody, transform: gp_Trsf, retag: tuple[str, str]) -> NamedBody:
    """A copy of ``body`` elsewhere, its names' leading part exchanged (old, new)."""
    operation = BRepBuilderAPI_Transform(body.shape, transform, True)
    old, new = retag
    named = [(operation.ModifiedShape(face), new + name.removeprefix(old)) for face, name in body.pairs()]
    made = NamedBody(operation.Shape(), named)
    if body.turned is not None and not transform.IsNegative():
        frame = moved_frame(body.turned.frame, transform)
        made.turned = body.turned._replace(frame=frame, tag=new + body.turned.tag.removeprefix(old))
    return made


def edges_moved(edges: Sequence[Edge], transform: gp_Trsf) -> tuple[Edge, ...]:
    """Copies of edges elsewhere."""
    return tuple(TopoDS.Edge(BRepBuilderAPI_Transform(e, transform, True).Shape()) for e in edges)
