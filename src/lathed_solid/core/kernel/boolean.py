"""Adding and cutting with names carried through, many tools in one call."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from .check import KernelFailure, accept, done
from .named import NamedBody, carry
from .topology import shape_list

Mode = Literal["add", "cut", "keep"]
_OPERATIONS = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "keep": BRepAlgoAPI_Common}


def combine(mode: Mode, body: NamedBody, tools: Sequence[NamedBody]) -> NamedBody:
    """``body`` with all ``tools`` added, cut away, or only what lies inside them kept. Raises KernelFailure."""
    operation = _OPERATIONS[mode]()
    operation.SetArguments(shape_list([body.shape]))
    operation.SetTools(shape_list(t.shape for t in tools))
    operation.SetRunParallel(True)
    operation.Build()
    done(operation, "The kernel could not combine the shapes.")
    pairs = carry(operation, [*body.pairs(), *(p for t in tools for p in t.pairs())])
    combined = accept(operation.Shape(), pairs, body, "more" if mode == "add" else "less")
    return _merged(combined) if mode == "add" else combined


def _merged(body: NamedBody) -> NamedBody:
    """Faces that lie in one surface after an addition become one face, as the drawing shows them."""
    unify = ShapeUpgrade_UnifySameDomain(body.shape, True, True, False)
    unify.Build()
    shape = unify.Shape()
    if shape is None or shape.IsNull():
        raise KernelFailure("Faces in one plane could not be joined.")
    return accept(shape, carry(unify.History(), body.pairs()), body, "any")
