"""General tolerances by ISO 2768-1, for sizes that state none of their own."""

from __future__ import annotations

import math

from .tables import band, table

CLASSES = {"f": "fine", "m": "medium", "c": "coarse", "v": "very coarse"}


def linear(size: float, grade: str) -> float:
    """Plus-minus deviation in mm for a length or diameter (ISO 2768-1 table 1). Raises LookupError."""
    return _pick("linear", abs(size), grade)


def edge(size: float, grade: str) -> float:
    """Plus-minus deviation in mm for an edge radius or chamfer height (ISO 2768-1 table 2). Raises LookupError."""
    return _pick("edge", abs(size), grade)


def angle(shorter_leg: float, grade: str) -> float:
    """Plus-minus deviation in radians by the length of the shorter leg, mm (ISO 2768-1 table 3)."""
    return math.radians(_pick("angle", abs(shorter_leg), grade) / 60)


def _pick(kind: str, size: float, grade: str) -> float:
    data = table("iso2768")[kind]
    value = float(data[grade][band(data["up_to"], size)])
    if value < 0:
        raise LookupError(f"ISO 2768-{grade} states no tolerance for {size:g} mm; give it one of its own.")
    return value
