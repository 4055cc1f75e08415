"""Cuts turned by table: undercuts at shoulders, thread run-outs, centre holes."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim, Diameter, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Undercut(StepBase, frozen=True, kw_only=True, tag="undercut"):
    """Where the round ``face`` meets the flat ``shoulder``: DIN 509 form ``E`` (into the round face) or ``F`` (into
    both), or a thread run-out by DIN 76-1 for ``thread``.
    """

    face: FaceRef = FaceRef("")
    shoulder: FaceRef = FaceRef("")
    form: Literal["E", "F", "thread"] = "E"
    size: str = "0.6x0.3"
    thread: Formula = ""


class CentreHole(StepBase, frozen=True, kw_only=True, tag="centre-hole"):
    """DIN 332-1 on the axis of a flat ``face``: ``A`` plain, ``B`` with a protecting sink, ``R`` with a curved seat."""

    face: FaceRef = FaceRef("")
    form: Literal["A", "B", "R"] = "A"
    pilot: Formula = ""


def no_claims(step: Undercut, view: RouteView) -> list[Claim]:
    return []


def centre_claims(step: CentreHole, view: RouteView) -> list[Claim]:
    return claim(step.pilot, Diameter(f"{step.id}/pilot"))


def undercut_summary(step: Undercut, view: RouteView) -> str:
    return f"run-out for {step.thread}" if step.form == "thread" else f"DIN 509 {step.form} {step.size}"


def centre_summary(step: CentreHole, view: RouteView) -> str:
    return f"DIN 332 {step.form} {view.text(step.pilot)}"


UNDERCUT = StepKind(
    Undercut,
    "Undercut",
    "undercut",
    (
        Param("face", "Round face", "face"),
        Param("shoulder", "Shoulder", "face"),
        Param(
            "form",
            "Form",
            "choice",
            (("E", "DIN 509 E, round face only"), ("F", "DIN 509 F, both faces"), ("thread", "run-out of a thread")),
        ),
        Param("size", "Size", "text", when={"form": ("E", "F")}, help="Radius x depth, as 0.6x0.3."),
        Param("thread", "Thread", "thread", when={"form": ("thread",)}),
    ),
    no_claims,
    undercut_summary,
    repeatable=True,
)
CENTRE = StepKind(
    CentreHole,
    "Centre hole",
    "centre",
    (
        Param("face", "End face", "face"),
        Param("form", "Type", "choice", (("A", "A, plain"), ("B", "B, protected"), ("R", "R, curved seat"))),
        Param("pilot", "Pilot Ø", "length", help="1 to 10 as DIN 332-1 has them."),
    ),
    centre_claims,
    centre_summary,
    repeatable=True,
)
