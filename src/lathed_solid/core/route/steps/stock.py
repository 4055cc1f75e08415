"""The blank as the first step: a bar, a tube or a block that the part is cut from."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Param, StepBase

Section = Literal["round", "hexagon", "square", "block", "tube"]


class Stock(StepBase, frozen=True, kw_only=True, tag="stock"):
    """``a`` is the diameter, the width across flats, the side, or the block's size in the first direction across, ``b``
    the block's in the second, or the tube's wall. Directions across follow the axis: Y, Z along X; Z, X along Y; X, Y
    along Z. ``u`` and ``v`` are the middle there; the piece begins at ``start`` on its axis and is ``length`` long.
    """

    section: Section = "round"
    a: Formula = ""
    b: Formula = ""
    along: Literal["x", "y", "z"] = "z"
    length: Formula = ""
    start: Formula = "0"
    u: Formula = "0"
    v: Formula = "0"
    turn: Formula = "0°"

    @property
    def is_turned(self) -> bool:
        """Whether it goes into a chuck along the turning axis, on that axis."""
        return self.along == "z" and self.section in ("round", "hexagon", "tube")


def claims(step: Stock, view: RouteView) -> list[Claim]:
    """A blank claims nothing: what a part was cut from is no size of it."""
    return []


def summary(step: Stock, view: RouteView) -> str:
    a, b, length = (view.text(text) for text in (step.a, step.b, step.length))
    size = {
        "round": f"Ø{a}",
        "hexagon": f"{a} across flats",
        "square": f"{a} square",
        "block": f"{a} x {b}",
        "tube": f"Ø{a}, wall {b}",
    }[step.section]
    return f"{size} · {length} long, along {step.along.upper()}"


KIND = StepKind(
    Stock,
    "Blank",
    "blank",
    (
        Param(
            "section",
            "Section",
            "choice",
            (
                ("round", "round"),
                ("hexagon", "hexagon"),
                ("square", "square"),
                ("block", "flat or block"),
                ("tube", "tube"),
            ),
        ),
        Param("a", "Size across", "length", help="Diameter, across flats, side, or the first side of a block."),
        Param("b", "Other size", "length", when={"section": ("block", "tube")}, help="Second side, or the wall."),
        Param("along", "Runs along", "choice", (("x", "X"), ("y", "Y"), ("z", "Z, the turning axis"))),
        Param("length", "Length", "length"),
        Param("start", "Begins at", "length", help="On its axis, from the part's zero."),
        Param("u", "Middle, first way", "length", help="Across the axis: Y along X, Z along Y, X along Z.", more=True),
        Param("v", "Middle, second way", "length", help="Across the axis: Z along X, X along Y, Y along Z.", more=True),
        Param("turn", "Turned by", "angle", more=True),
    ),
    claims,
    summary,
)
