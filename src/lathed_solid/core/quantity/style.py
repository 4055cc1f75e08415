"""How numbers are printed: a job's unit, its decimals or fractions. Nothing is rounded inside."""

from __future__ import annotations

import math
from fractions import Fraction

import msgspec

from ..units import INCH, UNITS


class Style(msgspec.Struct, frozen=True):
    """``unit`` is ``mm`` or ``in``; ``fractions`` prints inches as the nearest exact 1/64, else decimals."""

    unit: str = "mm"
    decimals: int = 3
    fractions: bool = False

    def length(self, value: float, *, unit: bool = False) -> str:
        """``value`` in mm as text in the job's unit, trailing zeros dropped."""
        text = self._inches(value / INCH) if self.unit == "in" else _trimmed(value, self.decimals)
        return f"{text} {self.unit}" if unit else text

    def fixed(self, value: float) -> str:
        """``value`` in mm with all its decimals, for columns of figures."""
        scale = UNITS[self.unit]
        text = f"{value / scale:.{self.places}f}"
        return text.lstrip("-") if not text.strip("-0.") else text

    @property
    def places(self) -> int:
        return self.decimals + 1 if self.unit == "in" else self.decimals

    def angle(self, value: float) -> str:
        """``value`` in radians as degrees."""
        return _trimmed(math.degrees(value), 3) + "°"

    def volume(self, value: float) -> str:
        """``value`` in mm³ as text in mm³ or in³."""
        if self.unit == "in":
            return f"{value / INCH**3:.4f} in³"
        return f"{value:,.2f} mm³".replace(",", " ")

    def area(self, value: float) -> str:
        """``value`` in mm² as text in mm² or in²."""
        if self.unit == "in":
            return f"{value / INCH**2:.4f} in²"
        return f"{value:,.2f} mm²".replace(",", " ")

    def _inches(self, value: float) -> str:
        if self.fractions:
            nearest = Fraction(round(value * 64), 64)
            if abs(float(nearest) - value) < 1e-9:
                return _mixed(nearest)
        return _trimmed(value, self.decimals + 1)


def _trimmed(value: float, decimals: int) -> str:
    text = f"{value:.{decimals}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _mixed(value: Fraction) -> str:
    sign = "-" if value < 0 else ""
    whole, rest = divmod(abs(value), 1)
    if not rest:
        return f"{sign}{whole}"
    return f"{sign}{whole} {rest}" if whole else f"{sign}{rest}"


def mass(grams: float) -> str:
    """Grams, or kilograms from ten up."""
    return f"{grams:.2f} g" if abs(grams) < 10_000 else f"{grams / 1000:.3f} kg"
