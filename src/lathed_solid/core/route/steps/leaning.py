"""Draft: picked faces leaned about a plane."""

from __future__ import annotations

from ...formulas import Formula
from ..gauges import Claim, FaceAngle, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Draft(StepBase, frozen=True, kw_only=True, tag="draft"):
    """Faces lean about the plane of ``neutral``, where they keep their size; material gets less along its normal."""

    faces: tuple[FaceRef, ...] = ()
    neutral: FaceRef = FaceRef("")
    angle: Formula = "3°"


def claims(step: Draft, view: RouteView) -> list[Claim]:
    return [c for f in step.faces for c in claim(step.angle, FaceAngle(f.name, step.neutral.name))]


def summary(step: Draft, view: RouteView) -> str:
    return f"{view.text(step.angle, 'angle')} · {len(step.faces)} face{'s' * (len(step.faces) != 1)}"


KIND = StepKind(
    Draft,
    "Draft",
    "draft",
    (
        Param("faces", "Faces", "faces"),
        Param("neutral", "About", "face", help="The plane where the faces keep their size."),
        Param("angle", "Angle", "angle", help="Negative: more material along the plane's normal."),
    ),
    claims,
    summary,
)
