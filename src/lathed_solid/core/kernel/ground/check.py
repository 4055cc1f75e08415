"""The accept rule after every operation: the kernel can be silently wrong, so nothing is believed unchecked."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Literal, TypeVar

import numpy as np
from OCP.BOPAlgo import BOPAlgo_ArgumentAnalyzer
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeShape
from OCP.BRepCheck import BRepCheck_Analyzer, BRepCheck_Shell, BRepCheck_Status
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS

from ...abreast import is_forked
from ...refusal import Refusal, said
from ...tolerance import SLIVER
from .named import NamedBody, Pair
from .placing import triple
from .topology import SHELL, SOLID, Face, Shape, box_of, compound_of, subshapes, surface_properties

Change = Literal["more", "less", "any"]
Operation = TypeVar("Operation", bound=BRepBuilderAPI_MakeShape)


class KernelFailure(Refusal):
    """An operation that did not give a sound solid; the text says what was found, in shop words."""


class NothingChanged(KernelFailure):
    """A cut in the air, or an addition inside the part: the solid is sound, and as it was."""


def accept(
    shape: Shape,
    pairs: Iterable[Pair],
    before: NamedBody | None,
    change: Change,
    look_at: Sequence[Shape] | None = None,
) -> NamedBody:
    """The one sound solid in ``shape`` with its names. Raises KernelFailure; NothingChanged when that is all.

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
    fresh = body.fresh()  # asked before the volume, which lets go of the body before
    if not (_sound(body, fresh) if look_at is None else _each_valid(look_at) and _closed(body)):
        raise KernelFailure("The result is not a sound solid: faces cross or do not close.")
    if body.volume <= 0:
        raise KernelFailure("The result encloses no material.")
    if look_at is None and before is not None:
        _no_sliver(body, fresh)
    old = before.volume if before is not None else 0.0
    margin = max(1e-9 * max(old, body.volume), 1e-9)
    if change == "more" and body.volume <= old + margin:
        raise NothingChanged("No material was added: it lies inside what is already there.")
    if change == "less" and body.volume >= old - margin:
        raise NothingChanged("No material was removed: the tool does not touch the part.")
    return body


def _no_sliver(body: NamedBody, fresh: Sequence[Face]) -> None:
    """No new face may be too narrow to be meant; the next step would stumble over it."""
    for face in fresh:
        width = _width(face, body.share(face))
        if width < SLIVER:
            x, y, z = triple(surface_properties(face).CentreOfMass())
            raise KernelFailure(
                f"It leaves a sliver only about {said(width)} mm wide near {said(x)}, {said(y)}, {said(z)}. "
                "Let the two faces meet, or keep them clearly apart."
            )


def _width(face: Face, share: float) -> float:
    """About how wide a flat or round face is, mm; large for others. ``share`` is what it adds to the volume.

    Of a flat face the share is a third of its area times its distance from part zero, so the area costs nothing.
    """
    surface = BRepAdaptor_Surface(face)
    kind = surface.GetType()
    if kind in (GeomAbs_SurfaceType.GeomAbs_Cylinder, GeomAbs_SurfaceType.GeomAbs_Cone):
        radius = surface.Cylinder().Radius() if kind == GeomAbs_SurfaceType.GeomAbs_Cylinder else 1.0
        turn = surface.LastUParameter() - surface.FirstUParameter()
        return float(min(surface.LastVParameter() - surface.FirstVParameter(), turn * radius))
    if kind != GeomAbs_SurfaceType.GeomAbs_Plane:
        return math.inf
    away = abs(surface.Plane().Distance(gp_Pnt(0.0, 0.0, 0.0)))
    area = 3 * abs(share) / away if away > 1e-3 else float(surface_properties(face).Mass())
    if area > 1.0:  # longer than a metre before it is a sliver
        return math.inf
    low, high = np.split(np.array(box_of(face)), 2)
    return area / max(float(np.linalg.norm(high - low)), 1e-9)


def _sound(body: NamedBody, fresh: Sequence[Face]) -> bool:
    """Whether the solid is closed and its faces are valid; those it shares with the body before were checked there."""
    if len(fresh) > body.face_count // 2:
        return bool(BRepCheck_Analyzer(body.shape, True, not is_forked()).IsValid())
    return bool(BRepCheck_Analyzer(compound_of(fresh), True, not is_forked()).IsValid()) and _closed(body)


def _each_valid(look_at: Sequence[Shape]) -> bool:
    """Each by itself: the kernel's check on several threads gives false alarms, 3 in 100, where two of what it is
    given have a wire in common, which faces of a solid never have.
    """
    return all(BRepCheck_Analyzer(shape, True, False).IsValid() for shape in look_at)


def _closed(body: NamedBody) -> bool:
    no_error = BRepCheck_Status.BRepCheck_NoError
    shells = [TopoDS.Shell(s) for s in subshapes(body.shape, SHELL)]
    return all(BRepCheck_Shell(s).Closed(False) == no_error for s in shells) and all(
        BRepCheck_Shell(s).Orientation(False) == no_error for s in shells
    )


def done(operation: Operation, otherwise: str) -> Operation:
    """``operation`` if it finished. Never ask an unfinished one for its shape: that can end the process."""
    if not operation.IsDone():
        raise KernelFailure(otherwise)
    return operation


def crosses_itself(shape: Shape) -> bool:
    """The check that plain validity leaves out: faces that run through each other (swept and hollowed shapes)."""
    analyzer = BOPAlgo_ArgumentAnalyzer()
    analyzer.SetShape1(shape)
    analyzer.SelfInterMode = True
    analyzer.Perform()
    return bool(analyzer.HasFaulty())
