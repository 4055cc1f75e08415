"""Two mistakes at once: by what each was found to add, those that close a gap together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import NamedTuple

import numpy as np

from ...refusal import Refusal
from ..model import Content
from .faults import Fault

#: So many pairs are built.
_MOST = 60
#: Only a figure that is good to this tells pairs apart: with a coarser one hundreds would do.
GOOD = 2e-6
#: A pair is so much rarer than either of its mistakes.
_RARE = 0.1


class Single(NamedTuple):
    """A mistake that was built, what it added (mm³), and the number of the solid that came."""

    fault: Fault
    added: float
    solid: int


def pairs(singles: Sequence[Single], missing: float, half: float, going: Callable[[], object]) -> Iterator[Fault]:
    """Pairs whose effects add up to what is missing within ``half`` (mm³), the commonest mistakes first. Those that
    would not come to the same in either order touch each other, and their sum says nothing: they are left out.
    """
    best: dict[int, Single] = {}
    for one in singles:
        if one.solid not in best or best[one.solid].fault.weight < one.fault.weight:
            best[one.solid] = one
    every = list(best.values())
    if len(every) < 2:
        return
    added = np.array([s.added for s in every])
    off = np.abs(added[:, None] + added[None, :] - missing)
    rows, columns = np.nonzero(np.triu(off <= half * (1 + 1e-6), k=1))
    found = [(every[i].fault, every[j].fault) for i, j in zip(rows, columns, strict=True)]
    found.sort(key=lambda pair: -pair[0].weight * pair[1].weight)
    for a, b in found[:_MOST]:
        going()
        words = f"{a.words}; and {b.words[0].lower()}{b.words[1:]}"
        yield Fault("pair", words, partial(_both, a, b), rare=_RARE * a.weight * b.weight)


class Entangled(Refusal):
    """Two mistakes of which the second undoes part of the first."""


def _both(one: Fault, other: Fault, content: Content) -> Content:
    made = other.make(one.make(content))
    if one.make(other.make(content)) != made:
        raise Entangled("The two touch each other.")
    return made
