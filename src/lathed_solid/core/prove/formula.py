"""Sizes that stand in a formula: what was measured is the formula's value, and each callout's own follows from it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from ..callout import Characteristic, Ledger
from ..quantity import ExpressionError, Quantity, evaluate
from ..route.gauges import Claim
from .plate import Measured, Unmeasurable

_STEPS = 12
#: A formula that a callout changes by less than this share of itself does not show it.
_FELT = 1e-3


class Measurement(NamedTuple):
    """Values of one characteristic (mm, radians, a count), the faces touched, how far off they may be, and words."""

    values: tuple[float, ...]
    faces: tuple[int, ...] = ()
    spread: float = 0.0
    words: str = ""


class _Tried:
    """The ledger with some sizes as measured, and one as it is being tried."""

    def __init__(self, ledger: Ledger, known: Mapping[tuple[int, str], float]) -> None:
        self._ledger, self.known = ledger, dict(known)

    @property
    def length_unit(self) -> str:
        return self._ledger.length_unit

    def reference(self, number: int, key: str) -> Quantity:
        nominal = self._ledger.reference(number, key)
        value = self.known.get((number, key))
        return nominal if value is None else msgspec.structs.replace(nominal, magnitude=value)


def own_value(
    claim: Claim, c: Characteristic, found: Measured, ledger: Ledger, known: Mapping[tuple[int, str], float]
) -> Measurement:
    """The value of one callout in a formula whose value was measured; the others are as measured where they were, else
    as stated. Raises Unmeasurable when the formula does not tell it.
    """
    others = {k: v for k, v in known.items() if k != (claim.number, claim.key)}
    values = tuple(_solved(claim, c, v, ledger, others) for v in found.values)
    factor = abs(values[0] / found.values[0]) if found.values[0] else 1.0
    return Measurement(values, found.faces, found.spread * factor, f"Measured in {claim.formula}.")


def _solved(
    claim: Claim, c: Characteristic, measured: float, ledger: Ledger, others: Mapping[tuple[int, str], float]
) -> float:
    scope = _Tried(ledger, others)
    want = "angle" if _is_angle(claim, ledger) else "length"

    def value(x: float) -> float:
        scope.known[claim.number, claim.key] = x
        try:
            return evaluate(claim.formula, scope, want)
        except ExpressionError as error:
            raise Unmeasurable(f"The formula {claim.formula} cannot be worked out: {error.message}") from None

    stated = value(c.nominal)
    target = math.copysign(measured, stated) if measured >= 0 else measured
    x, y = c.nominal, stated
    step = max(abs(x), 1.0) * 1e-4
    slope = (value(x + step) - value(x - step)) / (2 * step)
    if abs(slope) < _FELT:
        raise Unmeasurable(f"The formula {claim.formula} does not show this size.")
    for _ in range(_STEPS):
        if abs(y - target) <= 1e-13 * max(1.0, abs(target)):
            return x
        before, x = x, x - (y - target) / slope
        y_before, y = y, value(x)
        if x != before and y != y_before:
            slope = (y - y_before) / (x - before)
        else:
            return x
    return x


def _is_angle(claim: Claim, ledger: Ledger) -> bool:
    """Whether a formula comes out as an angle."""
    try:
        evaluate(claim.formula, ledger, "length")
    except ExpressionError:
        return True
    return False
