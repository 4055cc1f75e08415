"""Limits of screw threads: pitch, major and minor diameters by class, in mm."""

from __future__ import annotations

import itertools
import math
import re
from typing import NamedTuple

from ..units import INCH
from .tables import NotTabled, table
from .threads import ScrewThread


class ThreadLimits(NamedTuple):
    """Lower and upper limit in mm; ``major`` of an internal thread and ``minor`` of an external one are open (None)."""

    major: tuple[float, float] | None
    pitch: tuple[float, float]
    minor: tuple[float, float] | None
    basis: str


#: Class taken when the designation states none: medium fit.
_USUAL = {("M", True): "6H", ("M", False): "6g", ("UN", True): "2B", ("UN", False): "2A"}


def limits(thread: ScrewThread, internal: bool) -> ThreadLimits:
    """Limits of ``thread`` for its class, or for 6H/6g and 2B/2A when it states none.

    Source: ISO 965-1:2013 clause 13 for metric classes 6H and 6g, ASME B1.1-2019 section 8 for 1A to 3B. Raises
    NotTabled for what these formulas do not cover.
    """
    if thread.system == "M":
        return _metric(thread, internal)
    if thread.system == "UN":
        return _unified(thread, internal)
    raise NotTabled(f"There are no limits in the tables for {thread.designation}.")


def minor_limits(thread: ScrewThread) -> tuple[float, float]:
    """Limits in mm of the minor diameter of a tapped hole (the drill must come out inside them).

    Metric by grade 6 (ISO 965-1 table 3), unified by its class (ASME B1.1); pipe and trapezoidal threads take a plain
    allowance of a tenth of the pitch above the basic size.
    """
    if thread.system == "M":
        return thread.minor_diameter, thread.minor_diameter + _minor_tolerance_6(thread.pitch)
    if thread.system == "UN":
        found = _unified(thread, internal=True).minor
        assert found is not None
        return found
    if thread.system == "NPT":  # drilled for a thread that is cut tapered: anywhere between its two ends
        return thread.minor_diameter - 0.5 * thread.pitch, thread.minor_diameter + thread.pitch
    return thread.minor_diameter, thread.minor_diameter + 0.1 * thread.pitch


# --- ISO 965-1
_RANGES = (0.99, 1.4, 2.8, 5.6, 11.2, 22.4, 45, 90, 180, 355)
#: Printed figures that differ from the rounded formula: (range start, pitch) -> Td2(6), micrometres.
_PRINTED = {(2.8, 0.5): 75}


def _metric(thread: ScrewThread, internal: bool) -> ThreadLimits:
    wanted = thread.tolerance_class or _USUAL["M", internal]
    if wanted not in ("6H", "6g"):
        raise NotTabled(f"Limits are known for the classes 6H and 6g, not for {wanted}.")
    if internal != (wanted == "6H"):
        raise NotTabled(f"{wanted} is a class of {'internal' if wanted == '6H' else 'external'} threads.")
    d, p, d2 = thread.diameter, thread.pitch, thread.pitch_diameter
    width = _pitch_tolerance_6(d, p)
    basis = f"{wanted}, ISO 965-1"
    if internal:
        return ThreadLimits(None, (d2, d2 + _r40(1.32 * width * 1000, upward=True) / 1000), minor_limits(thread), basis)
    shift = table("iso_metric")["deviation_g"].get(f"{p:g}", 15 + 11 * p) / 1000
    crest = _r40(180 * p ** (2 / 3) - 3.15 / math.sqrt(p)) / 1000
    return ThreadLimits((d - shift - crest, d - shift), (d2 - shift - width, d2 - shift), None, basis)


def _pitch_tolerance_6(d: float, p: float) -> float:
    """Td2(6) in mm: 90 P^0.4 d^0.1 micrometres, d the geometric mean of its range, rounded to the R40 series."""
    for low, high in itertools.pairwise(_RANGES):
        if low <= d <= high:
            printed = _PRINTED.get((low, p))
            return (printed or _r40(90 * p**0.4 * math.sqrt(low * high) ** 0.1)) / 1000
    raise NotTabled(f"ISO 965-1 states no pitch diameter tolerance for M{d:g}.")


def _minor_tolerance_6(p: float) -> float:
    """TD1(6) in mm: table 3, else its formula 230 P^0.7 micrometres (433 P - 190 P^1.22 below 1 mm)."""
    width = table("iso_metric")["minor_tolerance_6"].get(f"{p:g}")
    if width is None:
        width = 433 * p - 190 * p**1.22 if p < 1 else 230 * p**0.7
    return float(width) / 1000


def _r40(value: float, upward: bool = False) -> float:
    """The nearest preferred number of the R40 series (ISO 3), or the next one up, as internal threads take it."""
    decade = math.pow(10, math.floor(math.log10(value)))
    series = (
        1, 1.06, 1.12, 1.18, 1.25, 1.32, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9, 2, 2.12, 2.24, 2.36, 2.5, 2.65, 2.8, 3,
        3.15, 3.35, 3.55, 3.75, 4, 4.25, 4.5, 4.75, 5, 5.3, 5.6, 6, 6.3, 6.7, 7.1, 7.5, 8, 8.5, 9, 9.5, 10,
    )  # fmt: skip
    if upward:
        return decade * next(s for s in series if s >= 0.99 * value / decade)
    return decade * min(series, key=lambda s: abs(math.log(value / decade / s)))


# --- ASME B1.1, worked in inches as the standard prints it
def _unified(thread: ScrewThread, internal: bool) -> ThreadLimits:
    wanted = thread.tolerance_class or _USUAL["UN", internal]
    if not re.fullmatch(r"[123][AB]", wanted):
        raise NotTabled(f"{wanted} is no class of unified threads.")
    if (wanted[1] == "B") != internal:
        raise NotTabled(f"{wanted} is a class of {'internal' if wanted[1] == 'B' else 'external'} threads.")
    d, p = thread.diameter / INCH, thread.pitch / INCH
    d2 = d - 0.649519053 * p
    engaged = d if thread.series in ("UNC", "UNF") else 9 * p
    base = 0.0015 * d ** (1 / 3) + 0.0015 * math.sqrt(engaged) + 0.015 * p ** (2 / 3)
    basis = f"{wanted}, ASME B1.1"
    if internal:
        width = base * {"1": 1.95, "2": 1.3, "3": 0.975}[wanted[0]]
        low = d - 1.082531755 * p
        return ThreadLimits(None, _mm(d2, d2 + width), _mm(low, low + _minor_width(d, p, wanted)), basis)
    width = base * {"1": 1.5, "2": 1.0, "3": 0.75}[wanted[0]]
    allowance = 0.0 if wanted[0] == "3" else 0.3 * base
    crest = (0.09 if wanted[0] == "1" else 0.06) * p ** (2 / 3)
    top = d - allowance
    return ThreadLimits(_mm(top - crest, top), _mm(d2 - allowance - width, d2 - allowance), None, basis)


def _minor_width(d: float, p: float, wanted: str) -> float:
    """Tolerance in inch of the internal minor diameter (ASME B1.1 section 8.3.2)."""
    fine = max(0.05 * math.pow(p, 2 / 3) + 0.03 * p / d - 0.002, 0.25 * p - 0.4 * p * p)
    if wanted == "3B":
        coarse = 0.23 * p - 1.5 * p * p if p <= 1 / 13 else 0.12 * p
        return min(fine, 0.394 * p) if d < 0.25 else coarse
    if d < 0.25:
        return min(fine, 0.394 * p)
    return 0.25 * p - 0.4 * p * p if p <= 0.25 else 0.15 * p


def _mm(low: float, high: float) -> tuple[float, float]:
    return low * INCH, high * INCH
