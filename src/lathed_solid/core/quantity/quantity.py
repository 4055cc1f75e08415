"""A number with its dimension: powers of length (mm) and of angle (radians)."""

from __future__ import annotations

import math

import msgspec

from ..units import FOOT, INCH, THOU

#: Factor from one unit to mm (lengths) or radians (angles).
LENGTH_UNITS = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "um": 1e-3,
    "µm": 1e-3,
    "in": INCH,
    "inch": INCH,
    '"': INCH,
    "″": INCH,
    "thou": THOU,
    "ft": FOOT,
    "'": FOOT,
    "′": FOOT,
}
ANGLE_UNITS = {"deg": math.pi / 180, "°": math.pi / 180, "rad": 1.0}


class Quantity(msgspec.Struct, frozen=True):
    """``magnitude`` in mm to the power ``length`` times radians to the power ``angle``."""

    magnitude: float
    length: float = 0.0
    angle: float = 0.0

    @property
    def is_bare(self) -> bool:
        return self.length == 0 and self.angle == 0

    @property
    def is_length(self) -> bool:
        return self.length == 1 and self.angle == 0

    @property
    def is_angle(self) -> bool:
        return self.length == 0 and self.angle == 1

    def what(self) -> str:
        """The dimension in shop words, for messages."""
        if self.is_bare:
            return "a plain number"
        if self.is_length:
            return "a length"
        if self.is_angle:
            return "an angle"
        if self.angle == 0 and self.length == 2:
            return "an area"
        if self.angle == 0 and self.length == 3:
            return "a volume"
        return "neither a length nor an angle"


def with_unit(number: float, unit: str) -> Quantity:
    """``number`` of ``unit`` as a quantity. Raises KeyError for an unknown unit."""
    unit = unit.lower()
    if unit in ANGLE_UNITS:
        return Quantity(number * ANGLE_UNITS[unit], angle=1)
    return Quantity(number * LENGTH_UNITS[unit], length=1)
