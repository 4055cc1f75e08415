"""Straight groove: a square groove round a shaft or in a bore, for a ring, a seal or a tool to run out."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Between, Claim, Diameter, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class StraightGroove(StepBase, frozen=True, kw_only=True, tag="straight-groove"):
    """``width`` wide, from ``at`` off the flat face ``datum`` on: an end or a shoulder (0: beside it). How deep is told
    by the diameter of its ``bottom`` or by the ``depth`` below the round ``face``.
    """

    face: FaceRef = FaceRef("")
    datum: FaceRef = FaceRef("")
    at: Formula = ""
    width: Formula = ""
    by: Literal["bottom", "depth"] = "bottom"
    bottom: Formula = ""
    depth: Formula = ""


def claims(step: StraightGroove, view: RouteView) -> list[Claim]:
    floor, near, far = (f"{step.id}/{name}" for name in ("floor", "near", "far"))
    # Beside a shoulder the near wall lies in it and is one face with it.
    found = claim(step.width, Between(near, far), near, far, or_else=(Between(far, step.datum.name),))
    if step.by == "bottom":
        found += claim(step.bottom, Diameter(floor))
    else:
        found += claim(step.depth, Between(floor, step.face.name), floor)
    return found + claim(step.at, Between(near, step.datum.name))


def summary(step: StraightGroove, view: RouteView) -> str:
    deep = f"Ø{view.text(step.bottom)}" if step.by == "bottom" else f"{view.text(step.depth)} deep"
    return f"{view.text(step.width)} wide · {deep} · {view.text(step.at)} from its face"


KIND = StepKind(
    StraightGroove,
    "Straight groove",
    "straight_groove",
    (
        Param("face", "Round face", "face", help="The shaft or bore that carries it."),
        Param("datum", "Measured from", "face", help="An end or a shoulder square to the axis."),
        Param("at", "From that face", "length", help="To the near wall of the groove; 0 is beside it."),
        Param("width", "Width", "length"),
        Param("by", "How deep", "choice", (("bottom", "bottom Ø"), ("depth", "depth below the face"))),
        Param("bottom", "Bottom Ø", "length", when={"by": ("bottom",)}),
        Param("depth", "Depth", "length", when={"by": ("depth",)}),
    ),
    claims,
    summary,
    repeatable=True,
)
