"""Split and combine: one body made into several, several into one."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Split(StepBase, frozen=True, kw_only=True, tag="split"):
    """The body is parted by a plane or by a face carried on; ``keep`` says what stays. The part on the far side of a
    plane's normal keeps the body's place, the other becomes a body of its own.
    """

    by: Literal["face", "xy", "xz", "yz"] = "face"
    face: FaceRef = FaceRef("")
    offset: Formula = "0"
    keep: Literal["both", "front", "back"] = "both"


class Combine(StepBase, frozen=True, kw_only=True, tag="combine"):
    """The bodies ``others`` are added to the body worked on, cut from it, or only what they share is kept.

    With ``tools`` kept the others stay as they are.
    """

    mode: Literal["add", "cut", "keep"] = "add"
    others: tuple[str, ...] = ()
    tools: Literal["used", "kept"] = "used"


def claims(step: StepBase, view: RouteView) -> list[Claim]:
    return []


def split_summary(step: Split, view: RouteView) -> str:
    return {"both": "both parts stay", "front": "front part stays", "back": "back part stays"}[step.keep]


def combine_summary(step: Combine, view: RouteView) -> str:
    count = len(step.others)
    how = {"add": "add", "cut": "cut away", "keep": "keep what is shared with"}[step.mode]
    return f"{how} {count} bod{'y' if count == 1 else 'ies'}"


SPLIT = StepKind(
    Split,
    "Split",
    "part_off",
    (
        Param(
            "by",
            "By",
            "choice",
            (
                ("face", "a face or plane"),
                ("xy", "the plane across Z"),
                ("xz", "the plane across Y"),
                ("yz", "the plane across X"),
            ),
        ),
        Param("face", "Face", "face", when={"by": ("face",)}),
        Param("offset", "Offset", "length"),
        Param(
            "keep", "Stays", "choice", (("both", "both parts"), ("front", "the front part"), ("back", "the back part"))
        ),
    ),
    claims,
    split_summary,
)
COMBINE = StepKind(
    Combine,
    "Combine bodies",
    "combine",
    (
        Param("mode", "How", "choice", (("add", "add"), ("cut", "cut away"), ("keep", "keep what they share"))),
        Param("others", "Bodies", "bodies"),
        Param("tools", "Those bodies", "choice", (("used", "are used up"), ("kept", "stay"))),
    ),
    claims,
    combine_summary,
)
