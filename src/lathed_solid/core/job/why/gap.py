"""The gap between what is stated of a part and what its solid has, judged by how the figure was rounded."""

from __future__ import annotations

import math
import re
from typing import Literal, NamedTuple

from ...route.rebuild import RouteResult
from ...units import INCH
from ..model import Content, Header
from ..proving import weighed

#: A figure is written with so many decimals at most.
_PLACES = 6


class Gap(NamedTuple):
    """``stated`` is the volume that the figure means (mm³), ``half`` half a unit of its last digit, ``found`` what the
    solid has. ``what`` says which figure it is.
    """

    what: Literal["volume", "mass"]
    stated: float
    half: float
    found: float

    @property
    def missing(self) -> float:
        """What the solid has too little (mm³; less than zero: too much)."""
        return self.stated - self.found

    @property
    def is_closed(self) -> bool:
        return self.closes(self.found)

    def closes(self, volume: float) -> bool:
        """Whether a volume is the stated one, as far as its rounding tells."""
        return abs(volume - self.stated) <= self.half * (1 + 1e-6) + 1e-9 * self.stated

    def rank(self, volume: float) -> int:
        """How far a volume is from the stated one: 0 within its rounding, then a class for each power of ten."""
        if self.closes(volume):
            return 0
        return 1 + max(0, math.floor(math.log10(abs(volume - self.stated) / self.half)))


def gap_of(content: Content, result: RouteResult) -> Gap | None:
    """The gap of the stated volume; that of the stated mass where there is none, or none stated; None when neither is
    stated or there is no solid.
    """
    header, stated = content.header, content.header.stated
    if result.body is None:
        return None
    volume = sum(b.volume for b in result.bodies.values())
    by_volume = None
    if stated.volume:
        by_volume = Gap("volume", stated.volume, _half(stated.volume, "volume", header), volume)
    if not stated.mass or (by_volume is not None and not by_volume.is_closed):
        return by_volume
    density = density_of(content, result)
    by_mass = Gap("mass", stated.mass / density, _half(stated.mass, "mass", header) / density, volume)
    return by_volume if by_volume is not None and by_mass.is_closed else by_mass


def density_of(content: Content, result: RouteResult) -> float:
    """Grams per mm³ of all bodies together."""
    found = weighed(content, result)
    return found.grams / found.figures.volume


def _half(value: float, what: str, header: Header) -> float:
    """Half a unit of the last digit, as it was typed, else as the figure is written shortest."""
    unit = INCH**3 if what == "volume" and header.units == "in" else 1.0
    typed = re.match(r"\s*(\d*)[.,]?(\d*)", header.typed.get(what, ""))
    if typed is not None and (typed[1] or typed[2]):
        factor = 1000.0 if what == "mass" and "kg" in header.typed[what] else unit
        return 0.5 * 10.0 ** -len(typed[2]) * factor
    figure = value / unit
    places = next((k for k in range(_PLACES) if abs(round(figure, k) - figure) < 1e-9 * figure), _PLACES)
    return 0.5 * 10.0**-places * unit
