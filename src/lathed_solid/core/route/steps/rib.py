"""Rib or gusset: a thin wall between a drawn line and the material behind it."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Between, Claim, claim
from ..kinds import RouteView, StepKind
from ..model import Param, StepBase


class Rib(StepBase, frozen=True, kw_only=True, tag="rib"):
    """The line is carried on at both ends until it meets the part; the wall fills to the ``side`` of it, seen with the
    plane's normal towards you, ``thickness`` thick: half on each side of the plane, or all to one side of it.
    """

    sketch: str = ""
    thickness: Formula = ""
    side: Literal["left", "right"] = "right"
    lies: Literal["middle", "forward", "backward"] = "middle"


def claims(step: Rib, view: RouteView) -> list[Claim]:
    return claim(step.thickness, Between(f"{step.id}/start", f"{step.id}/end"))


def summary(step: Rib, view: RouteView) -> str:
    return f"{view.text(step.thickness)} thick · to the {step.side}"


KIND = StepKind(
    Rib,
    "Rib or gusset",
    "rib",
    (
        Param("sketch", "Line", "sketch", help="An open run of lines; it is carried on to the part."),
        Param("thickness", "Thickness", "length"),
        Param("side", "Fills to the", "choice", (("right", "right of the line"), ("left", "left of the line"))),
        Param(
            "lies",
            "Lies",
            "choice",
            (("middle", "half each side of the plane"), ("forward", "forward of it"), ("backward", "behind it")),
        ),
    ),
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
