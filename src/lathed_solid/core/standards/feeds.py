"""Feeds to begin with, and the minutes a cut takes."""

from __future__ import annotations

from itertools import pairwise

from .tables import table


def _between(rows: list[list[float]], diameter: float) -> float:
    """Straight between the rows of a table (diameter, feed), level beyond its ends."""
    if diameter <= rows[0][0]:
        return float(rows[0][1])
    for (a, fa), (b, fb) in pairwise(rows):
        if diameter <= b:
            return float(fa + (fb - fa) * (diameter - a) / (b - a))
    return float(rows[-1][1])


def drill_feed(diameter: float) -> float:
    """mm a turn for a drill of a diameter (mm)."""
    return _between(table("feeds")["drill"], diameter)


def tooth_feed(diameter: float) -> float:
    """mm a tooth for an end mill of a diameter (mm)."""
    return _between(table("feeds")["tooth"], diameter)


def feed(cut: str) -> float:
    """mm a turn for a cut in the lathe: turn, face, taper, bore, groove or part_off."""
    return float(table("feeds")["turn"][cut])


def share(material: str) -> float:
    """What of these feeds a material bears; 1 for one that is not in the table."""
    rows = table("feeds")["share"]
    return float(next((r["of"] for r in rows if r["material"].casefold() == material.casefold()), 1.0))


def source() -> str:
    return str(table("feeds")["source"])
