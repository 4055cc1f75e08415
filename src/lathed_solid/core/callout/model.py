"""What a callout is: the note as written, and the characteristics it states."""

from __future__ import annotations

from typing import Literal

import msgspec

from ..standards.threads import MetricThread

Origin = Literal["drawing", "calipers", "derived"]
Kind = Literal["length", "diameter", "radius", "angle", "count", "thread"]
Shape = Literal["length", "diameter", "radius", "chamfer", "angle", "thread"]


class Callout(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One balloon. ``number`` is what formulas refer to (``#12``); ``note`` is kept just as typed."""

    number: int
    note: str
    label: str = ""
    origin: Origin = "drawing"


class Characteristic(msgspec.Struct, frozen=True):
    """One thing to be measured. ``nominal``, ``lower`` and ``upper`` in mm, radians, or a count.

    ``key`` is empty for the main size, else ``depth``, ``seat``, ``seat_depth``, ``angle``, ``circle``, ``count``,
    ``at``, ``drill``, ``drill_depth``, ``tip``, ``thru`` (open ends of a hole, always 2). ``basis``
    says where the limits come from.
    """

    key: str
    kind: Kind
    nominal: float
    lower: float
    upper: float
    basis: str


class Reading(msgspec.Struct, frozen=True):
    """A note understood. ``seat`` is ``counterbore``, ``countersink`` or empty; ``thru`` as stated."""

    shape: Shape
    characteristics: tuple[Characteristic, ...]
    thru: bool = False
    seat: str = ""
    thread: MetricThread | None = None
    fit: str = ""

    def get(self, key: str) -> Characteristic | None:
        return next((c for c in self.characteristics if c.key == key), None)

    @property
    def main(self) -> Characteristic:
        return self.characteristics[0]

    @property
    def count(self) -> int:
        found = self.get("count")
        return round(found.nominal) if found else 1
