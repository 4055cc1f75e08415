"""Move a body: shift and turn it, or set a copy of it down there."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..copying import body_claims
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase

#: What the moved bodies' faces are called after the step, in place of a copy's number.
_KEY = "m"


class Shift(StepBase, frozen=True, kw_only=True, tag="shift"):
    """``x``, ``y``, ``z`` along the part's axes, then ``turn`` about ``axis`` (a round face or an axis of an earlier
    step, the turning axis when empty). ``stays`` leaves the body where it was and sets down a copy.
    """

    of_bodies: tuple[str, ...] = ()
    joined: Literal["separate", "joined"] = "separate"
    x: Formula = "0"
    y: Formula = "0"
    z: Formula = "0"
    turn: Formula = "0°"
    axis: FaceRef = FaceRef("")
    stays: Literal["moved", "copied"] = "moved"


def claims(step: Shift, view: RouteView) -> list[Claim]:
    return body_claims(step.id, [_KEY], view)


def summary(step: Shift, view: RouteView) -> str:
    told = zip("XYZ", (step.x, step.y, step.z), strict=True)
    by = [f"{axis} {view.text(text)}" for axis, text in told if text.strip() not in ("", "0")]
    turn = [f"turned {view.text(step.turn, 'angle')}"] if step.turn.strip() not in ("", "0", "0°") else []
    return f"{'a copy' if step.stays == 'copied' else 'moved'} · {', '.join([*by, *turn]) or 'nowhere yet'}"


KIND = StepKind(
    Shift,
    "Move or copy a body",
    "move",
    (
        Param("of_bodies", "Bodies", "bodies"),
        Param("x", "X", "length"),
        Param("y", "Y", "length"),
        Param("z", "Z", "length"),
        Param("turn", "Turned by", "angle"),
        Param("axis", "About", "face", help="A round face or an axis; empty: the turning axis.", more=True),
        Param("stays", "The body", "choice", (("moved", "is moved"), ("copied", "stays; a copy is set down"))),
        Param(
            "joined",
            "The copy",
            "choice",
            (("separate", "stays separate"), ("joined", "is joined to it")),
            when={"stays": ("copied",)},
        ),
    ),
    claims,
    summary,
)
