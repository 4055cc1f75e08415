"""What a job keeps of its operation sheet: the set-ups, in order, and which operations are done in each."""

from __future__ import annotations

import math
from typing import Literal

import msgspec

from ...kernel.ground.figures import Vector
from ...route.model import FaceRef

Machine = Literal["lathe", "mill"]
Holding = Literal["chuck", "collet", "centres", "chuck_centre", "vise", "table", "dividing"]

#: How work is held, in words, and on which machine.
HOLDINGS: dict[Holding, tuple[str, Machine]] = {
    "chuck": ("chuck", "lathe"),
    "collet": ("collet", "lathe"),
    "chuck_centre": ("chuck and centre", "lathe"),
    "centres": ("between centres", "lathe"),
    "vise": ("vise", "mill"),
    "table": ("clamped on the table", "mill"),
    "dividing": ("dividing head or rotary table", "mill"),
}


class SetUp(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One holding of the work. ``up`` is the unit way to the tool in the part's own axes: out of the chuck, or up from
    the table. ``seat`` is the face the part lies or stops on; None for the one that lies farthest from the tool.
    ``operations`` are keys, in order; ``minutes`` is what setting it up takes.
    """

    id: str
    name: str = ""
    holding: Holding = "vise"
    up: Vector = (0.0, 0.0, 1.0)
    seat: FaceRef | None = None
    operations: tuple[str, ...] = ()
    minutes: float = 10.0
    note: str = ""

    @property
    def machine(self) -> Machine:
        return HOLDINGS[self.holding][1]


class OperationSheet(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Without set-ups it is as the program proposes."""

    setups: tuple[SetUp, ...] = ()


#: More of anything is no sheet of a shop.
MOST_SETUPS, MOST_OPERATIONS, LONGEST_NAME, LONGEST_NOTE, MOST_MINUTES = 60, 5000, 120, 2000, 10_000.0


def is_meant(setup: SetUp) -> bool:
    """Whether a set-up holds together: a way of unit length, figures that somebody means."""
    size = math.sqrt(sum(c * c for c in setup.up))
    return (
        abs(size - 1) < 1e-6
        and 0 <= setup.minutes <= MOST_MINUTES
        and len(setup.name) <= LONGEST_NAME
        and len(setup.note) <= LONGEST_NOTE
        and len(setup.operations) <= MOST_OPERATIONS
    )
