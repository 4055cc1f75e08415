"""Knurl: a note on a round face, or modelled grooves on request."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase

#: DIN 82: A axial, BL and BR to the left and right, GE crossed with raised points.
_CODES = {"axial": "RAA", "left": "RBL", "right": "RBR", "crossed": "RGE"}


class Knurl(StepBase, frozen=True, kw_only=True, tag="knurl"):
    """``pitch`` round the face as DIN 82 has it; grooves are 90° and so half as deep as they are wide."""

    face: FaceRef = FaceRef("")
    pattern: Literal["axial", "left", "right", "crossed"] = "axial"
    pitch: Formula = "1"
    form: Literal["cosmetic", "modelled"] = "cosmetic"


def claims(step: Knurl, view: RouteView) -> list[Claim]:
    return []


def summary(step: Knurl, view: RouteView) -> str:
    return f"DIN 82 - {_CODES[step.pattern]} {view.text(step.pitch)} · {step.form}"


KIND = StepKind(
    Knurl,
    "Knurl",
    "knurl",
    (
        Param("face", "Round face", "face"),
        Param(
            "pattern",
            "Pattern",
            "choice",
            (
                ("axial", "axial (RAA)"),
                ("left", "left hand (RBL)"),
                ("right", "right hand (RBR)"),
                ("crossed", "crossed (RGE)"),
            ),
        ),
        Param("pitch", "Pitch", "length"),
        Param("form", "Shown", "choice", (("cosmetic", "by its note"), ("modelled", "modelled"))),
    ),
    claims,
    summary,
)
