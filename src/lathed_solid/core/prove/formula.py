"""Sizes that stand in a formula: what was measured is the formula's value, and each callout's own follows from it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from ..callout import Characteristic, Ledger
from ..callout.notation import NoteError
from ..names import callout_refs
from ..quantity import ExpressionError, Quantity, evaluate
from ..quantity.expression import NoReference
from ..route.gauges import AnyGauge, CircleThrough, Claim, Diameter, DiameterAt, Drawn, Radius, WidestCircle
from .plate import Measured, Unmeasurable

#: Differences of a formula (mm) below this are none.
_FELT = 1e-6


class Measurement(NamedTuple):
    """Values of one characteristic (mm, radians, a count), the faces touched, how far off they may be, and words.

    One that does not prove is a check on others: it may find a size wrong, but never right by itself.
    """

    values: tuple[float, ...]
    faces: tuple[int, ...] = ()
    spread: float = 0.0
    words: str = ""
    proves: bool = True


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
    as stated. Raises Unmeasurable when the formula does not depend on it straight.

    A formula that does not show the callout by itself still checks it, but proves nothing.
    """
    others = {k: v for k, v in known.items() if k != (claim.number, claim.key)}
    values = tuple(_solved(claim, c, v, ledger, others) for v in found.values)
    factor = abs(values[0] / found.values[0]) if found.values[0] else 1.0
    words, proves = f"Measured in {claim.formula}.", _shows(claim, c, ledger)
    return Measurement(values, found.faces, found.spread * factor, words, proves)


class OnlyAPart(Unmeasurable):
    """A callout that stands only in a formula which does not show it."""

    def __init__(self, formula: str) -> None:
        super().__init__(
            f"Used only as a part of {formula}, which does not show it by itself. Pick its faces and bind them to it."
        )


#: From across flats to across corners and back, of hexagons and squares.
_ACROSS = tuple(f for n in (4, 6) for f in (math.cos(math.pi / n), 1 / math.cos(math.pi / n)))
#: How a size of a kind may enter what a gauge reads: a wall twice in a diameter, a diameter half in a radius.
_NATURAL = {
    ("diameter", "diameter"): (1.0,),
    ("diameter", "radius"): (0.5,),
    ("diameter", "length"): (0.5, 1.0, *_ACROSS),
    ("radius", "diameter"): (2.0,),
    ("length", "diameter"): (1.0, 2.0, *_ACROSS),
    ("length", "length"): (1.0, 2.0, *_ACROSS),
}


def _shows(claim: Claim, c: Characteristic, ledger: Ledger) -> bool:
    """Whether a formula shows the callout: a sum of callouts, this one in it as a whole, and no loose number.

    ``#2 - #10`` shows both. ``#9 + 2`` shows nothing that is stated; ``#9/2`` is half a size, and may be a slip.
    """
    if c.kind not in ("length", "diameter", "radius"):
        return False
    named: set[tuple[int, str]] = set(callout_refs(claim.formula))
    try:
        stated = {k: ledger.characteristic(*k).nominal for k in named}
        zero, once, twice = (_value(claim, _Tried(ledger, {k: f * v for k, v in stated.items()})) for f in (0, 1, 2))
        more = _value(claim, _Tried(ledger, {**stated, (claim.number, claim.key): c.nominal + 1.0}))
    except (NoReference, NoteError, Unmeasurable):
        return False
    if abs(zero) > _FELT or abs(twice - 2 * once) > _FELT:
        return False
    share = abs(more - once)
    return any(abs(share - n) < _FELT for n in _NATURAL.get((c.kind, _reads(claim.gauge)), (1.0,)))


def _reads(gauge: AnyGauge) -> str:
    if isinstance(gauge, Diameter | DiameterAt | WidestCircle | CircleThrough):
        return "diameter"
    if isinstance(gauge, Radius):
        return "radius"
    return gauge.what if isinstance(gauge, Drawn) and gauge.what in ("diameter", "radius") else "length"


def _value(claim: Claim, scope: _Tried) -> float:
    try:
        return evaluate(claim.formula, scope)
    except ExpressionError as error:
        raise Unmeasurable(f"The formula {claim.formula} cannot be worked out: {error.message}") from None


def _solved(
    claim: Claim, c: Characteristic, measured: float, ledger: Ledger, others: Mapping[tuple[int, str], float]
) -> float:
    """The formula must be straight in this callout: one step from its nominal leads there."""
    own = claim.number, claim.key
    low, high, far = (_value(claim, _Tried(ledger, {**others, own: c.nominal + step})) for step in (0.0, 1.0, 2.0))
    if abs(high - low) < _FELT or abs(far - 2 * high + low) > _FELT:
        raise OnlyAPart(claim.formula)
    return c.nominal + (math.copysign(measured, low) - low) / (high - low)
