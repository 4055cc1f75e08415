"""A length that runs slanted in its view, on a line of its own beside the part."""

from __future__ import annotations

import math
from typing import NamedTuple

from .blocks import Box, leader
from .placing import Placing
from .scene import XY, Arrow, Path
from .seen import Hold

#: From the part to the line of a slanted length (mm).
_SLANTED = 8.0


class Slanted(NamedTuple):
    """A length on a slanted line of its own: from ``a`` to ``b`` on the part, its line from ``low`` to ``high``, along
    ``way``, ``size`` mm of the part; ``marks`` are how the line is drawn.
    """

    a: XY
    b: XY
    low: XY
    high: XY
    way: XY
    size: float
    marks: tuple[Path | Arrow, ...]

    @property
    def middle(self) -> XY:
        return (self.low[0] + self.high[0]) / 2, (self.low[1] + self.high[1]) / 2


def slanted(placing: Placing, hold: Hold, box: Box) -> Slanted | None:
    """A length that runs slanted in the view, on a line of its own beside the part."""
    run = hold.run
    if run is None or placing.detail is not None:
        return None
    u, v = placing.ways(run.way)
    if abs(math.hypot(u, v) - 1) > 1e-6 or max(abs(u), abs(v)) > 1 - 1e-6:
        return None
    flats = [placing.flat(p) for p in (run.a, run.b)]
    a, b = map(placing.at, flats)
    along = (b[0] - a[0]) * u + (b[1] - a[1]) * v
    across = (-v, u)
    amid = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    corners = [(x, y) for x in (box[0], box[2]) for y in (box[1], box[3])]
    off = [(c[0] - a[0]) * across[0] + (c[1] - a[1]) * across[1] for c in corners]
    outside = (a[0] - amid[0]) * across[0] + (a[1] - amid[1]) * across[1] >= 0
    by = max(off) + _SLANTED if outside else min(off) - _SLANTED
    by = math.copysign(min(abs(by), 3 * _SLANTED), by)
    low = a[0] + by * across[0], a[1] + by * across[1]
    high = low[0] + along * u, low[1] + along * v
    of, sign = f"label:{hold.number}", math.copysign(1.0, along)
    size = abs((flats[1][0] - flats[0][0]) * u + (flats[1][1] - flats[0][1]) * v)
    marks = (
        leader((a, low), of), leader((b, high), of), leader((low, high), of),
        Arrow(low, (-sign * u, -sign * v), of), Arrow(high, (sign * u, sign * v), of),
    )  # fmt: skip
    return Slanted(a, b, low, high, (u, v), size, marks)
