"""Two mistakes at once: by what each was found to add, those that close a gap together."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial
from typing import NamedTuple

import numpy as np

from ...refusal import Refusal
from ..model import Content
from ..numbers import Number, value_of
from .faults import Fault, as_value
from .written import root, written

#: So many pairs are built.
_MOST = 60
#: Only a figure that is good to this tells pairs apart: with a coarser one hundreds would do.
GOOD = 2e-6
#: What a number adds is known so well beforehand, of the gap.
_CURVED = 1e-6
#: With every digit more a number is so many times less likely the one that was meant.
_ROUNDER = 3.0
#: A number is solved for between so much of it and so many times it.
_FEW, _MANY = 0.1, 5.0
#: A pair is so much rarer than either of its mistakes.
_RARE = 0.1


class Single(NamedTuple):
    """A mistake that was built, what it added (mm³), and the number of the solid that came."""

    fault: Fault
    added: float
    solid: int


def pairs(singles: Sequence[Single], missing: float, half: float) -> list[Fault]:
    """Pairs whose effects add up to what is missing within ``half`` (mm³), the commonest mistakes first. Those that
    would not come to the same in either order touch each other, and their sum says nothing: they are left out.
    """
    best: dict[int, Single] = {}
    for one in singles:
        if one.solid not in best or best[one.solid].fault.weight < one.fault.weight:
            best[one.solid] = one
    every = list(best.values())
    if len(every) < 2:
        return []
    added = np.array([s.added for s in every])
    off = np.abs(added[:, None] + added[None, :] - missing)
    rows, columns = np.nonzero(np.triu(off <= half * (1 + 1e-6), k=1))
    found = [(every[i].fault, every[j].fault) for i, j in zip(rows, columns, strict=True)]
    found.sort(key=lambda pair: -pair[0].weight * pair[1].weight)
    return [_pair(a, b) for a, b in found[:_MOST]]


def _pair(a: Fault, b: Fault) -> Fault:
    words = f"{a.words}; and {b.words[0].lower()}{b.words[1:]}"
    return Fault("pair", words, partial(_both, a, b), rare=_RARE * a.weight * b.weight)


def with_values(
    singles: Sequence[Single],
    numbers: Sequence[tuple[Number, tuple[float, float]]],
    missing: float,
    half: float,
    is_inch: bool,
) -> Iterator[Fault]:
    """Pairs of a mistake and a number that nothing suggests: it is solved for what the mistake leaves, by how much each
    number adds (slope and bend), and must come out as it would be written, with no more decimals than it has now.
    """
    found: list[tuple[float, Fault, Fault]] = []
    for one in singles:
        for number, curve in numbers:
            by = root(curve, missing - one.added) if number.kind != "count" and number != one.fault.number else None
            text = next(written(number.value + by, number.text, is_inch), "") if by is not None else ""
            if not text or not _meant(value_of(text) / number.value) or _decimals(text) > _decimals(number.text):
                continue
            by = value_of(text) - number.value
            off = abs(one.added + curve[0] * by + curve[1] * by * by - missing)
            if abs(by) > 1e-9 and off <= max(half, _CURVED * abs(missing)):
                found.append((off, one.fault, as_value(number, text)))
    # of numbers that would do, the rounder one was meant
    weighed = [(_RARE * a.weight * b.weight / _ROUNDER ** (_digits(b) - 1), off, a, b) for off, a, b in found]
    weighed.sort(key=lambda f: (-f[0], f[1]))
    for rare, _, a, b in weighed[:_MOST]:
        words = f"{a.words}; and {b.words[0].lower()}{b.words[1:]}"
        yield Fault("pair", words, partial(_both, a, b), rare=rare)


def _meant(share: float) -> bool:
    """Whether anybody would write so much of a number for it."""
    return _FEW <= share <= _MANY


def _decimals(text: str) -> int:
    return len(text.partition(".")[2])


def _digits(fault: Fault) -> int:
    """How many digits that count the number of a fault is written with."""
    return max(1, len(f"{fault.value:.9g}".replace(".", "").strip("0")))


class Entangled(Refusal):
    """Two mistakes of which the second undoes part of the first."""


def _both(one: Fault, other: Fault, content: Content) -> Content:
    made = other.make(one.make(content))
    if one.make(other.make(content)) != made:
        raise Entangled("The two touch each other.")
    return made
