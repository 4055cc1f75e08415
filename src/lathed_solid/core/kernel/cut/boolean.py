"""Adding, cutting, keeping and splitting with names carried through, many tools in one call."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal

from OCP.BRepAlgoAPI import (
    BRepAlgoAPI_BooleanOperation,
    BRepAlgoAPI_Common,
    BRepAlgoAPI_Cut,
    BRepAlgoAPI_Fuse,
    BRepAlgoAPI_Splitter,
)
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from ...abreast import is_forked
from ..ground.check import KernelFailure, accept, done
from ..ground.geometry import Frame, dot, minus
from ..ground.named import NamedBody, carry
from ..ground.topology import SOLID, Face, Shape, shape_list, subshapes
from .drilling import drilled
from .near_cut import cut_near

Mode = Literal["add", "cut", "keep"]
_OPERATIONS: dict[str, Callable[[], BRepAlgoAPI_BooleanOperation | BRepAlgoAPI_Splitter]] = {
    "add": BRepAlgoAPI_Fuse,
    "cut": BRepAlgoAPI_Cut,
    "keep": BRepAlgoAPI_Common,
    "split": BRepAlgoAPI_Splitter,
}


def combine(mode: Mode, body: NamedBody, tools: Sequence[NamedBody]) -> NamedBody:
    """``body`` with all ``tools`` added, cut away, or only what lies inside them kept. Raises KernelFailure."""
    if mode == "cut" and (made := drilled(body, tools) or cut_near(body, tools)) is not None:
        return made
    if mode == "keep" and len(tools) > 1:
        tools = [_one_tool(tools)]
    operation = _run(mode, body.shape, [t.shape for t in tools])
    pairs = carry(operation, [*body.pairs(), *(p for t in tools for p in t.pairs())])
    combined = accept(operation.Shape(), pairs, body, "more" if mode == "add" else "less")
    return merged(combined) if mode == "add" else combined


def _one_tool(tools: Sequence[NamedBody]) -> NamedBody:
    """Areas that touch keep one piece between them, not each its own."""
    operation = _run("add", tools[0].shape, [t.shape for t in tools[1:]])
    pairs = carry(operation, [p for t in tools for p in t.pairs()])
    return merged(NamedBody(operation.Shape(), pairs))


def apart(mode: Literal["cut", "keep", "split"], body: NamedBody, tools: Sequence[NamedBody]) -> list[NamedBody]:
    """The separate pieces that are left; none when nothing is. Raises KernelFailure."""
    operation = _run(mode, body.shape, [t.shape for t in tools])
    pairs = carry(operation, [*body.pairs(), *(p for t in tools for p in t.pairs())])
    return [accept(s, pairs, None, "any") for s in subshapes(operation.Shape(), SOLID)]


def split_by_face(body: NamedBody, face: Face, name: str) -> list[NamedBody]:
    """The pieces of ``body`` on both sides of a face; what the cut leaves is called ``name``. Raises KernelFailure."""
    operation = _run("split", body.shape, [face])
    pairs = carry(operation, [*body.pairs(), (face, name)])
    return [accept(s, pairs, None, "any") for s in subshapes(operation.Shape(), SOLID)]


def _run(mode: str, argument: Shape, tools: Sequence[Shape]) -> BRepAlgoAPI_BooleanOperation | BRepAlgoAPI_Splitter:
    operation = _OPERATIONS[mode]()
    operation.SetArguments(shape_list([argument]))
    operation.SetTools(shape_list(tools))
    operation.SetRunParallel(not is_forked())
    operation.Build()
    return done(operation, "The kernel could not combine the shapes.")


def in_order(pieces: Sequence[NamedBody], frame: Frame) -> list[NamedBody]:
    """Pieces by how far their middle lies along the frame's normal."""
    from ..ground.topology import volume_properties

    def place(piece: NamedBody) -> float:
        c = volume_properties(piece.shape, 1e-3).CentreOfMass()
        return dot(minus((c.X(), c.Y(), c.Z()), frame.origin), frame.normal)

    return sorted(pieces, key=place)


def merged(body: NamedBody) -> NamedBody:
    """Faces that lie in one surface become one face, as the drawing shows them. Raises KernelFailure."""
    unify = ShapeUpgrade_UnifySameDomain(body.shape, True, True, False)
    unify.Build()
    shape = unify.Shape()
    if shape is None or shape.IsNull():
        raise KernelFailure("Faces in one plane could not be joined.")
    return accept(shape, carry(unify.History(), body.pairs()), body, "any")
