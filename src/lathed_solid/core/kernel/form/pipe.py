"""Sweep: an outline carried along a path."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe

from ..ground.check import KernelFailure, crosses_itself, done
from ..ground.geometry import Frame
from ..ground.named import NamedBody, Pair
from ..ground.topology import FACE, Edge, Wire, items
from .outline import FlatFace, Loop, path_edges
from .sweep import positive


def path_wire(pieces: Loop, frame: Frame) -> Wire:
    """An open or closed chain of pieces as a wire. Raises KernelFailure when they do not follow each other."""
    maker = BRepBuilderAPI_MakeWire()
    for edge, name in path_edges(pieces, frame):
        maker.Add(edge)
        if not maker.IsDone():
            raise KernelFailure(f"The path breaks at {name}.")
    return maker.Wire()


def wire_of(edges: Sequence[Edge]) -> Wire:
    """Edges of a solid as one path. Raises KernelFailure when they do not follow each other."""
    from ..ground.topology import shape_list

    maker = BRepBuilderAPI_MakeWire()
    maker.Add(shape_list(edges))
    if not maker.IsDone():
        raise KernelFailure("The picked edges do not follow each other, so they make no path.")
    return maker.Wire()


def pipe(flat: FlatFace, path: Wire, tag: str) -> NamedBody:
    """``flat`` along ``path``; faces are ``tag/<edge>/side``, ``tag/start`` and ``tag/end``. Raises KernelFailure."""
    operation = BRepOffsetAPI_MakePipe(path, flat.face)
    operation.Build()
    done(operation, "The outline cannot be carried along this path.")
    named: list[Pair] = []
    for edge, name in flat.edges:
        named += [(f, f"{tag}/{name}/side") for f in items(operation.Generated(edge)) if f.ShapeType() == FACE]
    for end, name in ((operation.FirstShape(), "start"), (operation.LastShape(), "end")):
        if end is not None and not end.IsNull():
            named.append((end, f"{tag}/{name}"))
    body = positive(NamedBody(operation.Shape(), named))
    if crosses_itself(body.shape):
        raise KernelFailure(
            "The swept outline runs through itself: the path bends tighter than the outline is wide there. "
            "Widen the bend or narrow the outline."
        )
    return body
