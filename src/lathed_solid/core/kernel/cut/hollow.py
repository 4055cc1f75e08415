"""Shell: a solid hollowed to an even wall, open where faces are taken away."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepOffset import BRepOffset_Mode
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeThickSolid
from OCP.GeomAbs import GeomAbs_JoinType

from ...refusal import said
from ..ground.check import KernelFailure, accept, crosses_itself
from ..ground.named import NamedBody, Pair
from ..ground.topology import items, shape_list


def shell(body: NamedBody, open_faces: Sequence[str], wall: float, tag: str) -> NamedBody:
    """``body`` with walls ``wall`` mm thick inside its faces; inner faces are called ``tag/<outer name>``.

    Raises LostReference or KernelFailure.
    """
    gone = [body.face(i) for name in open_faces for i in body.find(name)]
    if not gone:
        raise KernelFailure("Pick at least one face that stays open.")
    maker = BRepOffsetAPI_MakeThickSolid()
    maker.MakeThickSolidByJoin(
        body.shape, shape_list(gone), -wall, 1e-4, BRepOffset_Mode.BRepOffset_Skin, False, False,
        GeomAbs_JoinType.GeomAbs_Intersection,
    )  # fmt: skip
    if not maker.IsDone():
        raise KernelFailure(f"A wall of {said(wall)} does not fit inside this shape.")
    pairs: list[Pair] = []
    for face, name in body.pairs():
        if any(face.IsSame(g) for g in gone):
            pairs += [(f, name) for f in items(maker.Modified(face)) + items(maker.Generated(face))]
            continue
        pairs += [(f, name) for f in items(maker.Modified(face)) or [face]]
        pairs += [(f, f"{tag}/{name}") for f in items(maker.Generated(face))]
    made = accept(maker.Shape(), pairs, None, "any")
    if made.volume >= body.volume * (1 - 1e-9):
        raise KernelFailure(f"With a wall of {said(wall)} there is nothing to hollow out: the part is too thin.")
    if crosses_itself(made.shape):
        raise KernelFailure(f"With a wall of {said(wall)} the inner faces run through each other. Try a thinner wall.")
    return made
