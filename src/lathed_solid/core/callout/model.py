"""What a callout is: the note as written, and the characteristics it states."""

from __future__ import annotations

from typing import Literal

import msgspec

from ..formulas import Formula
from ..standards.threads import ScrewThread
from ..tolerance import ON_LIMIT

Origin = Literal["drawing", "calipers", "derived", "scaled"]
Kind = Literal["length", "diameter", "radius", "angle", "count", "thread", "ratio", "finish", "geometric"]
Shape = Literal[
    "length",
    "diameter",
    "radius",
    "chamfer",
    "angle",
    "thread",
    "sphere",
    "square",
    "flats",
    "corners",
    "groove",
    "undercut",
    "taper",
    "keyway",
    "surface",
]

#: What a note may say besides sizes, as the normalised note prints it.
Flag = Literal[
    "REF",
    "BASIC",
    "TYP",
    "ALL",
    "EQ SP",
    "NEAR SIDE",
    "FAR SIDE",
    "BOTH SIDES",
    "ACROSS BORE",
    "MAX",
    "MIN",
    "SPOTFACE",
]

#: Kinds that are kept with the callout but judged on the part, not on its model.
ON_THE_PART = ("finish", "geometric")
#: Bases of sizes that are compared but never reject a part.
NO_CRITERION = ("reference", "scaled from the drawing")


class Place(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a callout stands on a drawing sheet: sheet number from 1, and its place as fractions of the sheet's width
    and height from the top left. ``cutout`` names the attachment that shows the original number, empty when there is
    none.
    """

    drawing: str
    sheet: int
    x: float
    y: float
    cutout: str = ""


class Callout(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One balloon. ``number`` is what formulas refer to (``#12``); ``note`` is kept just as typed.

    ``place`` is where it stands on the drawing; ``source`` says in words how a derived or measured one came about.
    """

    number: int
    note: Formula
    label: str = ""
    origin: Origin = "drawing"
    place: Place | None = None
    source: str = ""


class Characteristic(msgspec.Struct, frozen=True):
    """One thing to be measured. ``nominal``, ``lower`` and ``upper`` in mm, radians, a count, a ratio, or µm (finish).

    ``key`` is empty for the main size, else one of ``KEYS``. ``basis`` says where the limits come from; ``written`` and
    ``tolerance`` are the size and its limits as the note has them.
    """

    key: str
    kind: Kind
    nominal: float
    lower: float
    upper: float
    basis: str
    written: str = ""
    tolerance: str = ""

    @property
    def made(self) -> float:
        """What a solid is made to: the nominal size, or the middle of the limits where these leave it out (k6, g6)."""
        if self.lower - ON_LIMIT <= self.nominal <= self.upper + ON_LIMIT:
            return self.nominal
        return (self.lower + self.upper) / 2


#: Order of a callout's characteristics; ``thru`` counts the open ends of a hole (always 2).
KEYS = (
    "", "leg2", "length", "small", "across", "thru", "depth", "drill", "drill_depth", "seat", "seat_depth",
    "seat_angle", "circle", "at", "x", "y", "angle", "tip", "count", "finish",
)  # fmt: skip


class Reading(msgspec.Struct, frozen=True):
    """A note understood. ``seat`` is ``counterbore``, ``countersink`` or empty; ``thru`` as stated.

    ``completed`` are sizes the note leaves unsaid, filled in from standards; ``clears`` the screw a clearance hole is
    for; ``percent`` the share of thread asked for.
    """

    shape: Shape
    characteristics: tuple[Characteristic, ...]
    thru: bool = False
    seat: str = ""
    thread: ScrewThread | None = None
    fit: str = ""
    flags: tuple[Flag, ...] = ()
    completed: tuple[Characteristic, ...] = ()
    clears: str = ""
    seat_for: str = ""
    percent: float | None = None
    hexagon: bool = False

    def get(self, key: str) -> Characteristic | None:
        """A stated characteristic."""
        return next((c for c in self.characteristics if c.key == key), None)

    def known(self, key: str) -> Characteristic | None:
        """A stated characteristic, or the one a standard completes."""
        return self.get(key) or next((c for c in self.completed if c.key == key), None)

    @property
    def main(self) -> Characteristic:
        return self.characteristics[0]

    @property
    def count(self) -> int:
        found = self.get("count")
        return round(found.nominal) if found else 1

    @property
    def is_hole(self) -> bool:
        """Whether the note describes a hole rather than a turned or measured diameter."""
        if self.thread is not None and self.thread.internal is not None:
            return self.thread.internal
        said = self.thru or self.seat or self.clears or self.get("depth") or self.get("circle") or self.get("drill")
        return bool(self.shape in ("diameter", "thread") and said)
