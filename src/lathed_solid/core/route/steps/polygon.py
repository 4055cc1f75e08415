"""Hexagons and squares on turned parts, with turned corners."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ...quantity import ExpressionError, evaluate
from ..gauges import Between, Claim, Count, EndAngle, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Polygon(StepBase, frozen=True, kw_only=True, tag="polygon"):
    """Flats milled about the axis of a round ``face``, over its whole length or over ``length`` from its low or high
    end; ``corners`` are turned at ``angle`` to the end face, from the diameter ``flat`` (empty: across flats) outward.
    """

    face: FaceRef = FaceRef("")
    sides: Formula = "6"
    across: Formula = ""
    length: Formula = ""
    end: Literal["low", "high"] = "low"
    turned: Formula = "0°"
    corners: Literal["none", "low", "high", "both"] = "both"
    angle: Formula = "30°"
    flat: Formula = ""


def claims(step: Polygon, view: RouteView) -> list[Claim]:
    found: list[Claim] = []
    try:
        n = round(evaluate(step.sides, view.ledger, "number"))
    except ExpressionError:
        return []
    flats = [f"{step.id}/flat{k}/side" for k in range(1, n + 1)]
    if n % 2 == 0:
        for k in range(n // 2):
            found += claim(step.across, Between(flats[k], flats[k + n // 2]))
        found += claim(step.sides, Count(flats[0], tuple(flats[1:]), even=False))
    for end in ("low", "high"):
        if step.corners in (end, "both"):
            found += claim(step.angle, EndAngle(f"{step.id}/{end}/corner"))
    return found


def summary(step: Polygon, view: RouteView) -> str:
    corners = "" if step.corners == "none" else f" · corners {view.text(step.angle, 'angle')}"
    return f"{view.text(step.sides, 'number')} sides · {view.text(step.across)} A/F{corners}"


KIND = StepKind(
    Polygon,
    "Hexagon or square",
    "hexagon",
    (
        Param("face", "Round face", "face"),
        Param("sides", "Sides", "number"),
        Param("across", "Across flats", "length"),
        Param("length", "Length", "length", help="Empty: the whole face."),
        Param("end", "From", "choice", (("low", "its low end"), ("high", "its high end")), more=True),
        Param("turned", "Turned by", "angle", more=True),
        Param(
            "corners",
            "Turned corners",
            "choice",
            (("none", "none"), ("low", "at the low end"), ("high", "at the high end"), ("both", "at both ends")),
        ),
        Param("angle", "Corner angle", "angle", when={"corners": ("low", "high", "both")}),
        Param("flat", "Begins at Ø", "length", when={"corners": ("low", "high", "both")}, help="Empty: across flats."),
    ),
    claims,
    summary,
    repeatable=True,
)
