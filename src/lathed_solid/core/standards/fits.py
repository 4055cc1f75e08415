"""Limits of size by ISO 286-1: tolerance grades and fundamental deviations up to 500 mm."""

from __future__ import annotations

import re

from .tables import band, table

_CLASS = re.compile(r"(js|JS|[d-hkmnpD-H])(\d{1,2})")


def deviations(nominal: float, tolerance_class: str) -> tuple[float, float]:
    """Lower and upper deviation in mm of ``nominal`` (mm) for a class such as ``h6`` or ``H7``.

    Source: ISO 286-1:2010 tables 1 to 5. Raises LookupError for a class or size the tables do not hold.
    """
    match = _CLASS.fullmatch(tolerance_class)
    if not match:
        raise LookupError(
            f"The fit {tolerance_class} is not in the tables. Known: shafts d e f g h js k m n p, "
            "holes D E F G H JS, grades 5 to 13."
        )
    data = table("iso286")
    letter, grade = match[1], match[2]
    if grade not in data["grades"]:
        raise LookupError(f"Grade {grade} is not in the tables; they hold 5 to 13.")
    if nominal <= 0:
        raise LookupError("A fit needs a size above zero.")
    at = band(data["up_to"], nominal)
    width = data["grades"][grade][at] / 1000
    if letter in ("js", "JS"):
        return -width / 2, width / 2
    if letter.lower() in data["clearance"]:
        gap = data["clearance"][letter.lower()][at] / 1000
        return (gap, gap + width) if letter.isupper() else (-gap - width, -gap + 0.0)
    base = data["interference"][letter][at] / 1000
    if letter == "k" and int(grade) > 7:
        base = 0.0
    return base, base + width
