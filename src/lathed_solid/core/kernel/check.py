"""The accept rule after every operation: the kernel can be silently wrong, so nothing is believed unchecked."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepCheck import BRepCheck_Analyzer, BRepCheck_Shell, BRepCheck_Status
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.TopoDS import TopoDS

from ..tolerance import SLIVER
from .geometry import triple
from .named import NamedBody, Pair
from .topology import SHELL, SOLID, Shape, box_of, compound_of, subshapes, surface_properties

Change = Literal["more", "less", "any"]


class KernelFailure(Exception):
    """An operation that did not give a sound solid; the text says what was found, in shop words."""


def accept(
    shape: Shape, pairs: Iterable[Pair], before: NamedBody | None, change: Change, look_at: list[Shape] | None = None
) -> NamedBody:
    """The one sound solid in ``shape`` with its names. Raises KernelFailure.

    ``before`` is the body the operation began with; ``change`` the way its volume must have gone. ``look_at`` are the
    faces, or what of them is new, that must be checked; left out, all that ``before`` had not.
    """
    if shape is None or shape.IsNull():
        raise KernelFailure("The operation gave nothing.")
    solids = subshapes(shape, SOLID)
    if not solids:
        raise KernelFailure("Nothing solid is left.")
    if len(solids) > 1:
        raise KernelFailure(f"The part falls into {len(solids)} separate pieces.")
    body = NamedBody(solids[0], pairs, before)
    if not _sound(body, look_at):
        raise KernelFailure("The result is not a sound solid: faces cross or do not close.")
    if body.volume <= 0:
        raise KernelFailure("The result encloses no material.")
    if look_at is None and before is not None:
        _no_sliver(body)
    old = before.volume if before is not None else 0.0
    margin = max(1e-9 * max(old, body.volume), 1e-9)
    if change == "more" and body.volume <= old + margin:
        raise KernelFailure("No material was added: it lies inside what is already there.")
    if change == "less" and body.volume >= old - margin:
        raise KernelFailure("No material was removed: the tool does not touch the part.")
    return body


def _no_sliver(body: NamedBody) -> None:
    """Faces too narrow to be meant: two that nearly meet leave them, and the next step stumbles over them."""
    for face in body.fresh():
        if BRepAdaptor_Surface(face).GetType() == GeomAbs_SurfaceType.GeomAbs_BSplineSurface:
            continue  # thread flanks; their middle takes long to find
        low, high = np.split(np.array(box_of(face)), 2)
        properties = surface_properties(face)
        width = properties.Mass() / max(float(np.linalg.norm(high - low)), 1e-9)
        if width < SLIVER:
            x, y, z = triple(properties.CentreOfMass())
            raise KernelFailure(
                f"It leaves a sliver only about {width:.1g} mm wide near {x:.4g}, {y:.4g}, {z:.4g}. "
                "Let the two faces meet, or keep them clearly apart."
            )


def _sound(body: NamedBody, look_at: list[Shape] | None) -> bool:
    """Whether the solid is closed and its faces are valid; those it shares with the body before were checked there."""
    fresh = body.fresh() if look_at is None else look_at
    if look_at is None and len(fresh) > body.face_count // 2:
        return bool(BRepCheck_Analyzer(body.shape, True, True).IsValid())
    if not BRepCheck_Analyzer(compound_of(fresh), True, True).IsValid():
        return False
    no_error = BRepCheck_Status.BRepCheck_NoError
    shells = [TopoDS.Shell(s) for s in subshapes(body.shape, SHELL)]
    return all(BRepCheck_Shell(s).Closed(False) == no_error for s in shells) and all(
        BRepCheck_Shell(s).Orientation(False) == no_error for s in shells
    )


def done(operation: Any, otherwise: str) -> Any:
    """``operation`` if it finished. Never ask an unfinished one for its shape: that can end the process."""
    if not operation.IsDone():
        raise KernelFailure(otherwise)
    return operation
