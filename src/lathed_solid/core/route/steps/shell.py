"""Shell: the part hollowed to an even wall."""

from __future__ import annotations

from ...formulas import Formula
from ..gauges import Claim, Walls, claim
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase
from ..workshop import Workshop


class Shell(StepBase, frozen=True, kw_only=True, tag="shell"):
    """``open`` faces are taken away; everywhere else ``wall`` mm are left."""

    open: tuple[FaceRef, ...] = ()
    wall: Formula = ""


def build(step: Shell, shop: Workshop) -> Built:
    from ...kernel.cut.hollow import shell

    return Built(shell(shop.body, [f.name for f in step.open], shop.value(step.wall, "Wall"), step.id))


def claims(step: Shell, view: RouteView) -> list[Claim]:
    return claim(step.wall, Walls(step.id))


def summary(step: Shell, view: RouteView) -> str:
    return f"wall {view.text(step.wall)} · {len(step.open)} open"


KIND = StepKind(
    Shell,
    "Shell",
    "shell",
    (Param("open", "Open faces", "faces"), Param("wall", "Wall", "length")),
    build,
    claims,
    summary,
)
