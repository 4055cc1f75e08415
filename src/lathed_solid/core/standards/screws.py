"""Holes and seats for screws: clearance holes, counterbores for socket heads, countersinks for flat heads."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from ..units import INCH
from .tables import NotTabled, table

Series = Literal["fine", "medium", "coarse"]


class Clearance(NamedTuple):
    """``diameter`` mm; ``fit`` is the class of the hole; ``source`` names the table."""

    diameter: float
    fit: str
    source: str


class Seat(NamedTuple):
    """``diameter`` mm and either ``depth`` mm (counterbore) or ``angle`` radians (countersink)."""

    diameter: float
    depth: float | None
    angle: float | None
    source: str


def clearance(size: str, series: Series = "medium") -> Clearance:
    """Clearance hole of a screw size (``M6``, ``1/4``, ``10``).

    Source: ISO 273:1979 (fine H12, medium H13, coarse H14); ASME B18.2.8 (close, normal, loose). Raises NotTabled.
    """
    at = ("fine", "medium", "coarse").index(series)
    if size.startswith("M"):
        row = _row("clearance_mm", size)
        return Clearance(row[at], ("H12", "H13", "H14")[at], f"ISO 273 {series}")
    row = _row("clearance_in", size)
    return Clearance(row[at] * INCH, "", f"ASME B18.2.8 {('close', 'normal', 'loose')[at]}")


def socket_head(size: str) -> Seat:
    """Counterbore for a socket head screw. Source: DIN 974-1 for ISO 4762; ASME B18.3. Raises NotTabled."""
    if size.startswith("M"):
        diameter, depth = _row("socket_mm", size)
        return Seat(diameter, depth, None, "DIN 974-1 for ISO 4762")
    diameter, depth = _row("socket_in", size)
    return Seat(diameter * INCH, depth * INCH, None, "ASME B18.3")


def flat_head(size: str) -> Seat:
    """Countersink for a flat head screw: 90° metric (ISO 15065), 82° inch (ASME B18.6.3). Raises NotTabled."""
    if size.startswith("M"):
        return Seat(_row("flat_mm", size), None, math.radians(90), "ISO 15065")
    return Seat(_row("flat_in", size) * INCH, None, math.radians(82), "ASME B18.6.3")


#: Usual included angle of a countersink when a drawing states none, radians.
def usual_sink(unit: str) -> tuple[float, str]:
    """The included angle (radians) and where it is the habit: 82° in inch practice, 90° in metric."""
    return (math.radians(82), "inch practice") if unit == "in" else (math.radians(90), "metric practice")


#: Point angle of a drill, radians, when none is stated (DIN 1412 type N; the same habit in inch practice).
DRILL_TIP = math.radians(118)


def _row(name: str, size: str):  # type: ignore[no-untyped-def]
    key = size.removeprefix("M")
    try:
        return table("screws")[name][key]
    except KeyError:
        known = ", ".join(("M" if name.endswith("mm") else "") + k for k in table("screws")[name])
        raise NotTabled(f"The table has no screw {size}. Known: {known}.") from None
