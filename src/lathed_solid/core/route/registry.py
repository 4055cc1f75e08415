"""All kinds of step, by what they are for. A new kind is its module in ``steps``, its icon, and one line here."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple, Union

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
    stock,
    straight_groove,
    sweep,
    thread,
    turned_cut,
)


class Family(NamedTuple):
    """Kinds that belong together in the list a step is added from."""

    title: str
    kinds: tuple[StepKind, ...]


FAMILIES = (
    Family("Body", (revolve.KIND, extrude.KIND, sweep.KIND, loft.KIND, rib.KIND, stock.KIND, foreign.KIND)),
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


def _by_struct(kinds: Iterable[StepKind]) -> dict[type[StepBase], StepKind]:
    """Raises ValueError for a kind that is there twice, by its struct, its tag or its icon."""
    found: dict[type[StepBase], StepKind] = {}
    for kind in kinds:
        tags = {k.__struct_config__.tag for k in found}
        icons = {k.icon for k in found.values()}
        if kind.struct in found or kind.struct.__struct_config__.tag in tags or kind.icon in icons:
            raise ValueError(f"the kind of step {kind.struct.__name__} is there twice")
        found[kind.struct] = kind
    return found


KINDS = _by_struct(kind for family in FAMILIES for kind in family.kinds)
#: Kinds that make a plane, an axis or a point.
DATUMS = tuple(k.struct for k in KINDS.values() if k.is_datum)

if TYPE_CHECKING:
    Step = StepBase
else:
    #: Any step, as files hold them.
    Step = Union[tuple(KINDS)]  # noqa: UP007  # made from the kinds, so that a new one is one line


def called(step: Step) -> str:
    """A step as it is spoken of: by its name, else by its kind."""
    return step.name or kind_of(step).title


def kind_of(step: StepBase) -> StepKind:
    return KINDS[type(step)]
