"""The accept rule after every operation: the kernel can be silently wrong, so nothing is believed unchecked."""

from __future__ import annotations

from typing import Any, Literal

from OCP.BRepCheck import BRepCheck_Analyzer

from .topology import SOLID, Shape, subshapes, volume

Change = Literal["more", "less", "any"]


class KernelFailure(Exception):
    """An operation that did not give a sound solid; the text says what was found, in shop words."""


def accept(shape: Shape, before: float, change: Change) -> Shape:
    """The one valid solid in ``shape``. Raises KernelFailure.

    ``before`` is the volume in mm³ before the operation; ``change`` the direction it must have gone.
    """
    if shape is None or shape.IsNull():
        raise KernelFailure("The operation gave nothing.")
    solids = subshapes(shape, SOLID)
    if not solids:
        raise KernelFailure("Nothing solid is left.")
    if len(solids) > 1:
        raise KernelFailure(f"The part falls into {len(solids)} separate pieces.")
    if not BRepCheck_Analyzer(solids[0]).IsValid():
        raise KernelFailure("The result is not a sound solid: faces cross or do not close.")
    now = volume(solids[0])
    if now <= 0:
        raise KernelFailure("The result encloses no material.")
    margin = max(1e-9 * max(before, now), 1e-9)
    if change == "more" and now <= before + margin:
        raise KernelFailure("No material was added: it lies inside what is already there.")
    if change == "less" and now >= before - margin:
        raise KernelFailure("No material was removed: the tool does not touch the part.")
    return solids[0]


def done(operation: Any, otherwise: str) -> Any:
    """``operation`` if it finished. Never ask an unfinished one for its shape: that can end the process."""
    if not operation.IsDone():
        raise KernelFailure(otherwise)
    return operation
