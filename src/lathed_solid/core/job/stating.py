"""Figures that a title block states of the whole part: what each means, how it was rounded, and what the solid has."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, NamedTuple

from ..kernel.ground.figures import MassProperties, Vector
from ..plan.zero import Standing
from ..prove.proof import StatedCheck, StatedKind, Weighed
from ..quantity import evaluate
from ..quantity.expression import Plain
from ..refusal import Refusal
from ..units import INCH
from .model import Header, Three

if TYPE_CHECKING:
    from ..kernel.ground.named import NamedBody

#: A figure is written with so many decimals at most.
_PLACES = 6
#: A length without decimals is meant exactly; so near it must be, mm.
_EXACT = 0.005
#: Lengths are farther than this from nobody's part, mm.
_FARTHEST = 1e6
AXES = "XYZ"
_BETWEEN = re.compile(r"\s*[x×;]\s*|,\s+")
_NOT_STATED = ("", "-", "–", "—", "?")


class StatedFigure(NamedTuple):
    """One figure: ``what`` in words, its value (mm, mm², mm³, g), ``half`` a unit of its last digit as typed, and
    ``within`` which it agrees.
    """

    what: str
    kind: StatedKind
    value: float
    half: float
    within: float

    def closes(self, found: float) -> bool:
        """Whether a solid's figure is the stated one, as far as its rounding tells."""
        return abs(found - self.value) <= self.half * (1 + 1e-6) + 1e-9 * abs(self.value)

    def rank(self, found: float) -> int:
        """How far a solid's figure is off: 0 within the rounding of the stated one, then a class a power of ten."""
        if self.closes(found):
            return 0
        return 1 + max(0, math.floor(math.log10(abs(found - self.value) / self.half)))


def stated_figures(header: Header) -> tuple[StatedFigure, ...]:
    """All that a title block states, the most telling first."""
    stated, found = header.stated, list[StatedFigure]()
    inch = header.units == "in"
    wholes: tuple[tuple[str, StatedKind, float | None, float], ...] = (
        ("volume", "volume", stated.volume, INCH**3 if inch else 1.0),
        ("mass", "mass", stated.mass, 1.0),
        ("surface area", "area", stated.area, INCH**2 if inch else 1.0),
    )
    for what, kind, value, unit in wholes:
        if value:
            half = _half(value, header.typed.get("area" if kind == "area" else what, ""), unit)
            found.append(StatedFigure(what, kind, value, half, stated.tolerance * value))
    for field, words in (("size", "size along"), ("center", "centre of mass in")):
        typed = _BETWEEN.split(header.typed.get(field, ""))
        for k, value in enumerate(getattr(stated, field)):
            if value is None:
                continue
            half = _half_of_length(value, typed[k] if len(typed) == 3 else "", inch)
            within = max(half, stated.tolerance * value) if field == "size" else half
            found.append(StatedFigure(f"{words} {AXES[k]}", "length", value, half, within))
    return tuple(found)


def figures_of(weighed: Weighed, where: Standing, body: NamedBody) -> Mapping[str, float]:
    """What a solid has of everything that may be stated; places and sizes in machine axes, also where those lean."""
    figures, grams = weighed
    size, center = _size(figures, where, body), where.machine(figures.center)
    found = {"volume": figures.volume, "mass": grams, "surface area": figures.area}
    for k, name in enumerate(AXES):
        found |= {f"size along {name}": size[k], f"centre of mass in {name}": center[k]}
    return found


def _size(figures: MassProperties, where: Standing, body: NamedBody) -> Vector:
    """The sides of the box along the machine's axes: that along the part's own says nothing of leaning ones."""
    if where.is_level:
        return where.sizes(figures.low, figures.high)
    from ..kernel.ground.placing import moved, rigid
    from ..kernel.measure.boxes import close_box

    f = where.frame
    low, high = close_box(moved(body.shape, rigid((f.x, f.y, f.normal), (0.0, 0.0, 0.0))))
    return high[0] - low[0], high[1] - low[1], high[2] - low[2]


def checks(header: Header, weighed: Weighed, where: Standing, body: NamedBody) -> tuple[StatedCheck, ...]:
    """Every stated figure against the solid's."""
    if header.stated.is_empty:
        return ()
    has = figures_of(weighed, where, body)
    return tuple(
        StatedCheck(
            f.what, f.kind, f.value, has[f.what], f.within,
            "in" if abs(has[f.what] - f.value) <= f.within * (1 + 1e-9) else "out",
        )
        for f in stated_figures(header)
    )  # fmt: skip


def read_three(text: str, unit: str, least: float) -> Three:
    """Three lengths as they are typed, in mm: ``120 x 80 x 25``, ``12.5, 0, -``; ``-`` for one that is not stated.

    Raises Refusal for anything else, or for a length under ``least``.
    """
    parts = _BETWEEN.split(text.strip()) if text.strip() else ["", "", ""]
    if len(parts) != 3:
        raise Refusal("Type X, Y and Z with “x” or a comma and a space between; “-” for one not stated.")
    x, y, z = (None if part.strip() in _NOT_STATED else _length(part, unit, least) for part in parts)
    return x, y, z


def _length(text: str, unit: str, least: float) -> float:
    value = evaluate(text, Plain(unit), "length")
    if not least < value < _FARTHEST:
        raise Refusal("It must be above zero, and less than a kilometre." if least >= 0 else "It is too far off.")
    return value


def _half(value: float, text: str, unit: float) -> float:
    """Half a unit of the last digit, as it was typed, else as the figure is written shortest."""
    typed = re.match(r"\s*(\d*)[.,]?(\d*)", text)
    if typed is not None and (typed[1] or typed[2]):
        return 0.5 * 10.0 ** -len(typed[2]) * (1000.0 if "kg" in text else unit)
    figure = value / unit
    places = next((k for k in range(_PLACES) if abs(round(figure, k) - figure) < 1e-9 * figure), _PLACES)
    return 0.5 * 10.0**-places * unit


def _half_of_length(value: float, text: str, inch: bool) -> float:
    """As above; a length that has no decimals is meant exactly."""
    unit = 1.0 if "mm" in text or not (inch or "in" in text) else INCH
    figure = abs(value) / unit
    shortest = next((k for k in range(_PLACES) if abs(round(figure, k) - figure) < 1e-9), _PLACES)
    typed = re.search(r"[.,](\d+)", text)
    places = len(typed[1]) if typed is not None else 0 if text.strip() else shortest
    return 0.5 * 10.0**-places * unit if places else _EXACT
