"""Draft: faces leaned about a neutral plane, as for a casting or a taper."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepOffsetAPI import BRepOffsetAPI_DraftAngle
from OCP.gp import gp_Dir

from ..ground.check import KernelFailure, accept
from ..ground.geometry import Frame
from ..ground.named import NamedBody, Pair
from ..ground.placing import plane_of
from ..ground.topology import items


def draft(body: NamedBody, names: Sequence[str], neutral: Frame, angle: float) -> NamedBody:
    """Lean the named faces by ``angle`` (radians) about the plane ``neutral``; material gets less along its normal
    when the angle is positive. Raises LostReference or KernelFailure.
    """
    maker = BRepOffsetAPI_DraftAngle(body.shape)
    for name in dict.fromkeys(names):
        for index in body.find(name):
            maker.Add(body.face(index), gp_Dir(*neutral.normal), angle, plane_of(neutral), True)
            if not maker.AddDone():
                raise KernelFailure(f"The face {name} cannot be leaned: it must be flat, a cylinder or a cone.")
    maker.Build()
    if not maker.IsDone():
        raise KernelFailure("The faces cannot be leaned that far: they would cross. Try a smaller angle.")
    pairs: list[Pair] = []
    for face, name in body.pairs():
        became = items(maker.Generated(face)) or items(maker.Modified(face)) or [face]
        pairs += [(f, name) for f in became]
    return accept(maker.Shape(), pairs, None, "any")
