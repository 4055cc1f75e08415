"""Limits of size by ISO 286-1: tolerance grades and fundamental deviations up to 500 mm."""

from __future__ import annotations

import re

from .tables import NotTabled, band, table

_CLASS = re.compile(r"(js|JS|[a-hkmnprsA-HKMNPS])(\d{1,2})")


def deviations(nominal: float, tolerance_class: str) -> tuple[float, float]:
    """Lower and upper deviation in mm of ``nominal`` (mm) for a class such as ``h6`` or ``H7``.

    Source: ISO 286-1:2010 tables 1 to 5 and clause 4.3 (holes K to P from shafts k to p, with the delta of the
    grade). Raises NotTabled for a class or size the tables do not hold.
    """
    match = _CLASS.fullmatch(tolerance_class)
    if not match:
        raise NotTabled(
            f"The fit {tolerance_class} is not in the tables. Known: shafts a to h, js, k, m, n, p, r, s; "
            "holes A to H, JS, K, M, N, P, S; grades 3 to 16."
        )
    letter, grade = match[1], int(match[2])
    if nominal <= 0:
        raise NotTabled("A fit needs a size above zero.")
    width = _grade(nominal, grade)
    low = letter.lower()
    if low == "js":
        return -width / 2, width / 2
    at = band(table("iso286")["steps"], nominal)
    if low in table("iso286")["clearance"]:
        if nominal <= 1 and low in "ab":
            raise NotTabled(f"ISO 286 has no {tolerance_class} for sizes up to 1 mm.")
        gap = table("iso286")["clearance"][low][at] / 1000
        return (gap, gap + width) if letter.isupper() else (-gap - width, -gap + 0.0)
    base = table("iso286")["interference"][low][at] / 1000
    if letter.isupper():
        upper = _hole_upper(low, nominal, grade, base)
        return upper - width, upper
    if letter == "k" and not 4 <= grade <= 7:
        base = 0.0
    return base, base + width


def _grade(nominal: float, grade: int) -> float:
    """Width of a standard tolerance grade, mm (table 1)."""
    data = table("iso286")
    if str(grade) not in data["grades"]:
        raise NotTabled(f"Grade {grade} is not in the tables; they hold 3 to 16.")
    return float(data["grades"][str(grade)][band(data["up_to"], nominal)]) / 1000


def _hole_upper(letter: str, nominal: float, grade: int, base: float) -> float:
    """Upper deviation ES in mm of a hole K, M, N, P or S from the shaft's lower deviation ``base``."""
    small = nominal <= 3
    if letter == "k" and grade > 8:
        if not small:
            raise NotTabled("ISO 286 has no holes K above grade 8 for sizes over 3 mm.")
        return 0.0
    if letter == "n" and grade > 8:
        return -base if small else 0.0
    if letter == "m" and grade == 6 and 250 < nominal <= 315:
        return -0.009  # the one exception of table 3
    fine_enough = grade <= (8 if letter in "kmn" else 7)
    if small or not fine_enough or grade < 4:
        return -base
    return -base + _grade(nominal, grade) - _grade(nominal, grade - 1)
