"""All kinds of step, by what they are for. A new kind is one module in ``steps`` and one line here."""

from __future__ import annotations

from typing import NamedTuple

from .drilling.model import Hole
from .kinds import StepKind
from .model import StepBase
from .steps import (
    bodies,
    datum,
    edges,
    engrave,
    extrude,
    foreign,
    groove,
    hole,
    keyway,
    knurl,
    leaning,
    loft,
    mirror,
    polygon,
    revolve,
    rib,
    ring,
    row,
    scatter,
    shell,
    shift,
    straight_groove,
    sweep,
    thread,
    turned_cut,
)
from .steps.bodies import Combine, Split
from .steps.datum import DatumAxis, DatumPlane, DatumPoint
from .steps.edges import Chamfer, Fillet
from .steps.engrave import Engrave
from .steps.extrude import Extrude
from .steps.foreign import Foreign
from .steps.groove import Groove
from .steps.keyway import Keyway
from .steps.knurl import Knurl
from .steps.leaning import Draft
from .steps.loft import Loft
from .steps.mirror import Mirror
from .steps.polygon import Polygon
from .steps.revolve import Revolve
from .steps.rib import Rib
from .steps.ring import Ring
from .steps.row import Row
from .steps.scatter import Scatter
from .steps.shell import Shell
from .steps.shift import Shift
from .steps.straight_groove import StraightGroove
from .steps.sweep import Sweep
from .steps.thread import Thread
from .steps.turned_cut import CentreHole, Undercut

Step = (
    Revolve | Extrude | Sweep | Loft | Rib | Foreign
    | Hole | Thread | Keyway | StraightGroove | Undercut | CentreHole | Polygon | Groove | Knurl | Engrave
    | Chamfer | Fillet | Draft | Shell
    | Ring | Row | Scatter | Mirror
    | Split | Combine | Shift
    | DatumPlane | DatumAxis | DatumPoint
)  # fmt: skip


class Family(NamedTuple):
    """Kinds that belong together in the list a step is added from."""

    title: str
    kinds: tuple[StepKind, ...]


FAMILIES = (
    Family("Body", (revolve.KIND, extrude.KIND, sweep.KIND, loft.KIND, rib.KIND, foreign.KIND)),
    Family("Holes and threads", (hole.KIND, thread.KIND, turned_cut.CENTRE)),
    Family(
        "Turned and milled details",
        (keyway.KIND, straight_groove.KIND, turned_cut.UNDERCUT, polygon.KIND, groove.KIND, knurl.KIND, engrave.KIND),
    ),
    Family("Edges and faces", (edges.CHAMFER, edges.FILLET, leaning.KIND, shell.KIND)),
    Family("Repeat", (ring.KIND, row.KIND, scatter.KIND, mirror.KIND)),
    Family("Bodies", (bodies.SPLIT, bodies.COMBINE, shift.KIND)),
    Family("Planes and axes", (datum.PLANE, datum.AXIS, datum.POINT)),
)

#: Kinds whose tools a pattern or mirror can set down again.
REPEATABLE = (
    Extrude, Revolve, Sweep, Loft, Rib, Hole, Thread, Keyway, StraightGroove, Undercut, CentreHole, Polygon, Groove,
    Engrave,     Chamfer, Fillet, Ring, Row, Scatter, Mirror,
)  # fmt: skip
#: Kinds that make a plane, an axis or a point.
DATUMS = (DatumPlane, DatumAxis, DatumPoint)

KINDS: dict[type[StepBase], StepKind] = {kind.struct: kind for family in FAMILIES for kind in family.kinds}


def kind_of(step: StepBase) -> StepKind:
    return KINDS[type(step)]
