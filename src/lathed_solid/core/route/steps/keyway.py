"""Keyways: seats for parallel and Woodruff keys in shafts, slots for keys in bores."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import NOWHERE, Between, Claim, Diameter, Drawn, Site, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Keyway(StepBase, frozen=True, kw_only=True, tag="keyway"):
    """Sizes left empty come from the table for the face's diameter. ``at`` is the middle of the seat along the axis
    from part zero; ``depth`` of a shaft's seat is from the top of the shaft, of a bore's slot ``across`` to the far
    side of the bore.
    """

    face: FaceRef = FaceRef("")
    form: Literal["round", "square", "woodruff", "bore"] = "round"
    width: Formula = ""
    length: Formula = ""
    depth: Formula = ""
    across: Formula = ""
    cutter: Formula = ""
    at: Formula = "0"
    angle: Formula = "0°"


def claims(step: Keyway, view: RouteView) -> list[Claim]:
    found = claim(step.width, Between(f"{step.id}/side1/side", f"{step.id}/side2/side"))
    if step.form == "bore":
        return found + claim(step.across, Between(f"{step.id}/floor/side", step.face.name, True))
    if step.form == "woodruff":
        return claim(step.width, Between(f"{step.id}/side1", f"{step.id}/side2")) + claim(
            step.cutter, Diameter(f"{step.id}/floor")
        )
    found += claim(step.depth, Between(f"{step.id}/end", step.face.name))
    found += claim(step.length, Between(f"{step.id}/end1/side", f"{step.id}/end2/side", far=True))
    ends = tuple(_end_site(step, k) for k in (1, 2))
    middle = Drawn(f"{step.id}/end1/side", f"{step.id}/frame", "along", (Site("zero"), Site("middle", of=ends)))
    return found + claim(step.at, middle)


def _end_site(step: Keyway, k: int) -> Site:
    """A place at an end of a shaft's seat, the same one at both: its centre, or its corner with one side."""
    end = Site("edge", f"{step.id}/end{k}/side", near=NOWHERE, way=(0.0, 1.0))
    if step.form == "round":
        return Site("centre", of=(end,))
    return Site("crossing", of=(end, Site("edge", f"{step.id}/side1/side", near=NOWHERE)))


def summary(step: Keyway, view: RouteView) -> str:
    what = {"round": "round-ended", "square": "square-ended", "woodruff": "Woodruff", "bore": "in a bore"}[step.form]
    return what + (f" · {view.text(step.width)} wide" if step.width.strip() else " · by table")


KIND = StepKind(
    Keyway,
    "Keyway",
    "keyway",
    (
        Param("face", "Shaft or bore", "face"),
        Param(
            "form",
            "Form",
            "choice",
            (
                ("round", "in a shaft, round ends"),
                ("square", "in a shaft, square ends"),
                ("woodruff", "in a shaft, Woodruff"),
                ("bore", "through a bore"),
            ),
        ),
        Param("width", "Width", "length", help="Empty: from DIN 6885-1 or DIN 6888 for this diameter."),
        Param("length", "Length", "length", when={"form": ("round", "square")}),
        Param(
            "depth",
            "Depth",
            "length",
            when={"form": ("round", "square", "woodruff")},
            help="From the top of the shaft; empty: by table.",
        ),
        Param("cutter", "Cutter Ø", "length", when={"form": ("woodruff",)}, help="Empty: by table."),
        Param(
            "across", "Floor to far side", "length", when={"form": ("bore",)}, help="Across the bore; empty: by table."
        ),
        Param("at", "Middle at", "length", when={"form": ("round", "square", "woodruff")}),
        Param("angle", "Angle", "angle"),
    ),
    claims,
    summary,
    repeatable=True,
)
