"""Limits of a size: those a general tolerance gives, and those a note states itself."""

from __future__ import annotations

import math
import re

from ..quantity.quantity import with_unit
from ..standards import fits, general
from ..standards.general import ByPlaces
from ..standards.tables import NotTabled
from .model import Kind, Shape

#: A class of ISO 2768-1 (``f``, ``m``, ``c``, ``v``) or a title block that goes by decimal places.
General = str | ByPlaces
#: Half band in mm within which a model must meet a theoretically exact (boxed) size.
BOXED = 0.001


def by_rule(
    rule: General, kind: Kind, shape: Shape, key: str, nominal: float, main: float, written: str
) -> tuple[float, float, str]:
    """Lower limit, upper limit and basis by the general tolerance; ``main`` mm decides for angles.

    Raises NotTabled when the standard states none for such a size.
    """
    if kind in ("count", "thread"):
        return nominal, nominal, "exact"
    if kind in ("finish", "geometric"):
        return 0.0, nominal, "stated"
    if kind == "ratio":
        return _ratio(rule, nominal, main)
    if isinstance(rule, ByPlaces):
        spread, basis = (rule.angle, "angles, title block") if kind == "angle" else rule.linear(places(written))
    else:
        basis = f"ISO 2768-{rule}"
        if kind == "angle":
            spread = general.angle(main, rule)
        elif kind == "radius" or (shape == "chamfer" and key in ("", "leg2")):
            spread = general.edge(nominal, rule)
        else:
            spread = general.linear(nominal, rule)
    return nominal - spread, nominal + spread, basis


def _ratio(rule: General, nominal: float, main: float) -> tuple[float, float, str]:
    """A taper has no general tolerance of its own; it takes that of the angle between its sides."""
    if isinstance(rule, ByPlaces):
        spread, basis = rule.angle, "angles, title block"
    else:
        spread, basis = general.angle(main, rule), f"ISO 2768-{rule} as an angle"
    angle = 2 * math.atan(nominal / 2)
    return max(0.0, 2 * math.tan((angle - spread) / 2)), 2 * math.tan((angle + spread) / 2), basis


def places(written: str) -> int | None:
    """Decimal places a size is written with; None for fractions. A formula counts its most exact number."""
    if re.search(r"\d\s*/\s*\d", written) and "." not in written:
        return None
    return max((len(found) for found in re.findall(r"\d*\.(\d+)", written)), default=1)


def unequal(text: str, unit: str) -> tuple[float, float, str]:
    """Lower and upper deviation (mm or radians) of ``+0.2/-0.1``, ``+0.2 -0.1`` or ``-0.1/-0.3``, and plain text."""
    first, second = re.findall(r"[+-]?\s*\d*\.?\d+", text.replace("/", " / "))
    upper, lower = "".join(first.split()), "".join(second.split())
    values = [with_unit(float(v), unit).magnitude for v in (lower, upper)]
    return values[0], values[1], f"{_signed(upper)}/{_signed(lower)}"


def _signed(text: str) -> str:
    return "0" if float(text) == 0 else text if text[0] in "+-" else f"+{text}"


def limits_of_size(text: str, unit: str) -> tuple[float, float, str]:
    """Both limits of ``12.00/11.98`` in mm, smaller first, and the text with the larger first. Raises NotTabled."""
    first, second = (part.strip() for part in text.split("/"))
    low, high = sorted((first, second), key=float)
    if float(high) > 1.25 * float(low):
        raise NotTabled(
            f"{text} looks like limits, but they lie too far apart. For a division write ({first})/({second})."
        )
    return with_unit(float(low), unit).magnitude, with_unit(float(high), unit).magnitude, f"{high}/{low}"


def by_fit(nominal: float, letter: str) -> tuple[float, float, str]:
    """Deviations in mm and basis of an ISO 286 class. Raises NotTabled."""
    lower, upper = fits.deviations(nominal, letter)
    return lower, upper, f"{letter}, ISO 286"
