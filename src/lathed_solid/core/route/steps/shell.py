"""Shell: the part hollowed to an even wall."""

from __future__ import annotations

from ...formulas import Formula
from ..gauges import Claim, Walls, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Shell(StepBase, frozen=True, kw_only=True, tag="shell"):
    """``open`` faces are taken away; everywhere else ``wall`` mm are left."""

    open: tuple[FaceRef, ...] = ()
    wall: Formula = ""


def claims(step: Shell, view: RouteView) -> list[Claim]:
    return claim(step.wall, Walls(step.id))


def summary(step: Shell, view: RouteView) -> str:
    return f"wall {view.text(step.wall)} · {len(step.open)} open"


KIND = StepKind(
    Shell,
    "Shell",
    "shell",
    (Param("open", "Open faces", "faces"), Param("wall", "Wall", "length")),
    claims,
    summary,
)
