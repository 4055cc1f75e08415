"""Sizes that bars are sold in."""

from __future__ import annotations

from fractions import Fraction

from ..units import INCH
from .tables import NotTabled, table


def bars(form: str, unit: str) -> tuple[tuple[str, float], ...]:
    """``(name, mm)`` of the stock sizes of ``round``, ``hexagon`` (across flats) or ``flat`` bar in ``mm`` or ``in``.

    Raises NotTabled for a form without a list in that unit.
    """
    values = table("stock").get(f"{form}_{unit}")
    if values is None:
        raise NotTabled(f"There is no list of {form} bar in {unit}.")
    if unit == "mm":
        return tuple((f"{v:g} mm", float(v)) for v in values)
    return tuple((f"{v} in", float(sum(Fraction(w) for w in v.split())) * INCH) for v in values)
