"""A size of the ledger found on a solid that knows nothing of it: to be taken, or not."""

from __future__ import annotations

import msgspec

from ..route.gauges import AnyGauge


class Offer(msgspec.Struct, frozen=True):
    """One size found: with what gauges, what they read (mm, radians, a count), on which faces. ``fit`` is how many
    places of the part would do as well; only where that is one it is sure.
    """

    number: int
    key: str
    note: str
    gauges: tuple[AnyGauge, ...]
    measured: float
    faces: tuple[int, ...]
    fit: int

    @property
    def is_sure(self) -> bool:
        return self.fit == 1
