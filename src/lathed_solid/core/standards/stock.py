"""Sizes that material is sold in."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple, cast

from ..refusal import Refusal
from ..units import UNITS
from .tables import NotTabled, table

FORMS = ("round", "hexagon", "square", "flat", "tube", "plate")
#: Sizes of these are pairs: thickness x width, outside diameter x wall.
PAIRS = ("flat", "tube")


class Stock(NamedTuple):
    """``name`` as it is written; ``size`` in mm: a diameter, a width across flats, a side, thickness and width, outside
    diameter and wall, or a thickness.
    """

    name: str
    size: tuple[float, ...]


def listed(form: str, unit: str) -> str:
    """The sizes of a form in ``mm`` or ``in`` as text. Raises NotTabled for a form or unit without a list."""
    row = table("stock").get(form, {})
    if unit not in row:
        raise NotTabled(f"There is no list of {form} stock in {unit}. There are lists of {', '.join(FORMS)}.")
    return " ".join(cast(str, row[unit]).split())


def bars(form: str, unit: str) -> tuple[tuple[str, float], ...]:
    """``(name, mm)`` of the sizes of round, hexagon or square bar in ``mm`` or ``in``. Raises NotTabled."""
    return tuple((f"{s.name} {unit}", s.size[0]) for s in read_sizes(form, listed(form, unit), unit))


def source(form: str) -> str:
    """Where the list of a form comes from."""
    return str(table("stock")[form]["source"])


@lru_cache(maxsize=64)
def read_sizes(form: str, text: str, unit: str) -> tuple[Stock, ...]:
    """The sizes of a list such as ``10, 12, 16``, or ``10 x 20, 25; 12 x 30`` for pairs, the smallest first.

    Raises Refusal naming what is no size.
    """
    found: dict[str, Stock] = {}
    for group in filter(str.strip, text.split(";")):
        first, *more = group.replace("×", "x").split("x")
        if (form in PAIRS) != (len(more) == 1):
            how = "such as “10 x 20, 25”" if form in PAIRS else "such as “10, 12, 16”"
            raise Refusal(f"“{group.strip()[:40]}” is no list of {form} sizes. Write them {how}.")
        words = (more[0] if more else first).split(",")
        if not any(map(str.strip, words)):
            raise Refusal(f"“{group.strip()[:40]}” names no size.")
        for word in words:
            if word.strip():
                parts = (first, word) if more else (word,)
                name = " x ".join(" ".join(p.split()) for p in parts)
                found[name] = Stock(name, tuple(_length(p, unit) for p in parts))
    return tuple(sorted(found.values(), key=lambda s: s.size))


def _length(text: str, unit: str) -> float:
    try:
        value = float(sum(Fraction(w) for w in text.split())) if text.strip() else 0.0
    except (ValueError, ZeroDivisionError):
        value = 0.0
    if not 0 < value < 1e5:
        raise Refusal(f"“{text.strip()[:40]}” is no size of stock. Write a number, or a fraction such as 1 1/4.")
    return value * UNITS[unit]
