"""Helical groove: a round-bottomed or square groove wound round a cylinder, for a line, a spring or oil."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim, HelixSize, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Groove(StepBase, frozen=True, kw_only=True, tag="groove"):
    """``width`` at the bottom form: twice its radius when round. ``begins`` is the place of the groove's middle along
    the axis from the face's low end; it goes on by ``pitch`` a turn.
    """

    face: FaceRef = FaceRef("")
    form: Literal["round", "square"] = "round"
    width: Formula = ""
    depth: Formula = ""
    pitch: Formula = ""
    turns: Formula = ""
    begins: Formula = ""
    hand: Literal["right", "left"] = "right"
    start: Formula = "0°"


def claims(step: Groove, view: RouteView) -> list[Claim]:
    floor, face = f"{step.id}/floor", step.face.name
    ends, walls = (f"{step.id}/start", f"{step.id}/end"), (f"{step.id}/wall1", f"{step.id}/wall2")
    found = claim(step.pitch, HelixSize(floor, face, "pitch")) + claim(step.depth, HelixSize(floor, face, "depth"))
    found += claim(step.width, HelixSize(floor, face, "width"), floor, *walls, *ends)
    found += claim(step.turns, HelixSize(floor, face, "turns", ends))
    return found + claim(step.begins, HelixSize(floor, face, "begins", ends))


def summary(step: Groove, view: RouteView) -> str:
    return f"{step.form} · pitch {view.text(step.pitch)} · {view.text(step.turns, 'number')} turns"


KIND = StepKind(
    Groove,
    "Helical groove",
    "groove",
    (
        Param("face", "Round face", "face"),
        Param("form", "Bottom", "choice", (("round", "round"), ("square", "square"))),
        Param("width", "Width", "length", help="Of a round bottom: its diameter."),
        Param("depth", "Depth", "length"),
        Param("pitch", "Pitch", "length"),
        Param("turns", "Turns", "number"),
        Param("begins", "Begins at", "length", help="The groove's middle, from the low end of the face."),
        Param("hand", "Hand", "choice", (("right", "right"), ("left", "left"))),
        Param("start", "Turned by", "angle", more=True),
    ),
    claims,
    summary,
    repeatable=True,
)
