"""All kinds of step. A new kind is one module in ``steps`` and one line here."""

from __future__ import annotations

from .model import StepBase, StepKind
from .steps import edges, extrude, hole, mirror, revolve, ring, row, thread
from .steps.edges import Chamfer, Fillet
from .steps.extrude import Extrude
from .steps.hole import Hole
from .steps.mirror import Mirror
from .steps.revolve import Revolve
from .steps.ring import Ring
from .steps.row import Row
from .steps.thread import Thread

Step = Revolve | Extrude | Hole | Chamfer | Fillet | Ring | Row | Mirror | Thread

KINDS: dict[type[StepBase], StepKind] = {
    kind.struct: kind
    for kind in (
        revolve.KIND,
        extrude.KIND,
        hole.KIND,
        edges.CHAMFER,
        edges.FILLET,
        ring.KIND,
        row.KIND,
        mirror.KIND,
        thread.KIND,
    )
}


def kind_of(step: StepBase) -> StepKind:
    return KINDS[type(step)]
