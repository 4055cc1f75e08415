"""Mirror: what other steps cut or added, on the other side of a plane."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..copying import REPEATS, Repeating, copied_claims, names_of
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param


class Mirror(Repeating, frozen=True, kw_only=True, tag="mirror"):
    """About a main plane at ``offset``, a flat ``face``, or midway between the faces ``face`` and ``other``."""

    about: Literal["yz", "xz", "xy", "face", "midway"] = "yz"
    offset: Formula = "0"
    face: FaceRef = FaceRef("")
    other: FaceRef = FaceRef("")

    @property
    def makes_whole(self) -> bool:
        """Whether it joins a whole body to its image about a main plane."""
        return self.about in ("yz", "xz", "xy") and bool(self.of_bodies) and self.joined == "joined"


def claims(step: Mirror, view: RouteView) -> list[Claim]:
    return copied_claims(step, ["m"], "", view, turned_over=True)


def summary(step: Mirror, view: RouteView) -> str:
    where = {"yz": "across X", "xz": "across Y", "xy": "across Z", "face": "about a face", "midway": "about the middle"}
    return f"{names_of(step.of, view)} · {where[step.about]}"


KIND = StepKind(
    Mirror,
    "Mirror",
    "mirror",
    (
        *REPEATS,
        Param(
            "about",
            "About",
            "choice",
            (
                ("yz", "the plane across X"),
                ("xz", "the plane across Y"),
                ("xy", "the plane across Z"),
                ("face", "a flat face"),
                ("midway", "midway between two faces"),
            ),
        ),
        Param("offset", "Offset", "length", when={"about": ("yz", "xz", "xy")}),
        Param("face", "Face", "face", when={"about": ("face", "midway")}),
        Param("other", "Second face", "face", when={"about": ("midway",)}),
    ),
    claims,
    summary,
    repeatable=True,
)
