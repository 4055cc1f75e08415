"""Move a body: shift and turn it, or set a copy of it down there."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ..copying import body_claims, body_copies
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector
    from ...kernel.ground.placing import Transform

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


def build(step: Shift, shop: Workshop) -> Built:
    if not step.of_bodies:
        raise Unfinished("Tick the body to move.")
    if step.stays == "moved" and step.joined == "joined":
        raise StepFailure(
            "A body that is moved away cannot be joined to itself. Let it stay, or keep the copy separate."
        )
    body_copies(step.id, step.of_bodies, step.joined, shop, {_KEY: _place(step, shop)})
    if step.stays == "moved":
        for source in step.of_bodies:
            del shop.bodies[source]
        shop.active = f"{step.id}/{_KEY}/{step.of_bodies[-1]}"
    return Built(shop.body)


def _place(step: Shift, shop: Workshop) -> Transform:
    from ...kernel.ground.placing import shifting, turning_about

    by: Vector = (
        shop.value(step.x, "X", positive=False),
        shop.value(step.y, "Y", positive=False),
        shop.value(step.z, "Z", positive=False),
    )
    angle = shop.value(step.turn, "Turned by", "angle", positive=False) if step.turn.strip() else 0.0
    origin, way = shop.axis(step.axis) if step.axis.name else ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    made = turning_about(origin, way, angle)
    made.Multiply(shifting(by))
    return made


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
    build,
    claims,
    summary,
)
