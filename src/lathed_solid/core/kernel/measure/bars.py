"""What surrounds a part, as plain figures: neither kernel nor arrays are loaded for it."""

from __future__ import annotations

import msgspec

from ..ground.figures import Vector


class Bar(msgspec.Struct, frozen=True):
    """The least bar of one section round the part: ``size`` is its diameter, its width across flats or its side (mm),
    ``at`` the middle in the two directions across, ``turn`` how far the section is turned (radians).
    """

    size: float
    at: tuple[float, float]
    turn: float = 0.0


class Along(msgspec.Struct, frozen=True):
    """A part seen along an axis. ``bore`` is the diameter of what runs clear through it about the middle of ``round``,
    0 where material closes it. The directions across follow the axis: Y, Z along X; Z, X along Y; X, Y along Z.
    """

    round: Bar
    hexagon: Bar
    square: Bar
    bore: float


class Envelope(msgspec.Struct, frozen=True):
    """``low`` and ``high`` are the corners of the box (mm), ``along`` what is seen along X, Y and Z."""

    low: Vector
    high: Vector
    along: tuple[Along, Along, Along]

    @property
    def size(self) -> Vector:
        a, b = self.low, self.high
        return (b[0] - a[0], b[1] - a[1], b[2] - a[2])


def seen_as_round(bar: Bar, around: Bar, close: float) -> Bar:
    """A round part lies against each flat: between the places its outline was followed by, it only seems narrower."""
    return Bar(around.size, around.at) if abs(bar.size - around.size) < close else bar


def moved(envelope: Envelope, by: Vector) -> Envelope:
    """The same envelope elsewhere."""

    def there(bar: Bar, axis: int) -> Bar:
        u, v = bar.at
        return Bar(bar.size, (u + by[(axis + 1) % 3], v + by[(axis + 2) % 3]), bar.turn)

    x, y, z = (
        Along(there(a.round, k), there(a.hexagon, k), there(a.square, k), a.bore) for k, a in enumerate(envelope.along)
    )
    low, high = (tuple(c + b for c, b in zip(corner, by, strict=True)) for corner in (envelope.low, envelope.high))
    return Envelope((low[0], low[1], low[2]), (high[0], high[1], high[2]), (x, y, z))
