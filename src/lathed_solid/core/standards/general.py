"""General tolerances for sizes that state none of their own: by class (ISO 2768-1) or by decimal places."""

from __future__ import annotations

import math

import msgspec

from ..units import INCH
from .tables import NotTabled, band, table

CLASSES = {"f": "fine", "m": "medium", "c": "coarse", "v": "very coarse"}


class ByPlaces(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The block of an American title block (ASME Y14.5 clause 4.1(b)): plus-minus deviations in mm by the number of
    decimal places a size is written with, for sizes written as fractions, and in radians for angles.
    """

    one: float = 2.54
    two: float = 0.254
    three: float = 0.127
    four: float = 0.0127
    fraction: float = INCH / 64
    angle: float = math.radians(0.5)

    def linear(self, places: int | None) -> tuple[float, str]:
        """The deviation in mm and its basis for a size with ``places`` decimals; None for a fraction."""
        if places is None:
            return self.fraction, "fractions, title block"
        known = (self.one, self.two, self.three, self.four)
        at = min(max(places, 1), 4)
        return known[at - 1], f".{'X' * at}, title block"


def linear(size: float, grade: str) -> float:
    """Plus-minus deviation in mm for a length or diameter (ISO 2768-1 table 1). Raises NotTabled."""
    return _pick("linear", abs(size), grade)


def edge(size: float, grade: str) -> float:
    """Plus-minus deviation in mm for an edge radius or chamfer height (ISO 2768-1 table 2). Raises NotTabled."""
    return _pick("edge", abs(size), grade)


def angle(shorter_leg: float, grade: str) -> float:
    """Plus-minus deviation in radians by the length of the shorter leg, mm (ISO 2768-1 table 3)."""
    return math.radians(_pick("angle", abs(shorter_leg), grade) / 60)


def _pick(kind: str, size: float, grade: str) -> float:
    data = table("iso2768")[kind]
    value = float(data[grade][band(data["up_to"], size)])
    if value < 0:
        raise NotTabled(f"ISO 2768-{grade} states no tolerance for {size:g} mm; give it one of its own.")
    return value
