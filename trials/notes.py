"""Nonsense typed where notes and formulas go: it is read or refused, and what is read has a finite value."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from lathed_solid.core.callout import read_note
from lathed_solid.core.callout.model import Reading
from lathed_solid.core.quantity import evaluate
from lathed_solid.core.quantity.expression import Plain

from .outcome import Outcome

#: Cases that were faults once, and their like.
KNOWN = (
    "1:100", "30 0/-\t0.1", "3/8-16 UNC-2A LH⌀8 js9", "9" * 400, "-" * 270 + "1", "+".join("1" * 600), "1:0", "0:1",
    "(" * 500 + "1" + ")" * 500, "sqrt(" * 80 + "1" + ")" * 80, "1/0", "12 1/0", "Ø1/0", "2^99999", "9**9**9", "1e999",
    "nan", "inf", "Ø nan", "\x00", "Ø5\ud800", "1000000000x Ø5", "taper 1:0", "#99999999999999999999", "M1e9",
)  # fmt: skip
SEEDS = (
    "Ø12 h6", "4x Ø6.6 THRU ⌴ Ø11 ↧6", "M12x1.5 - 6g", "3/8-16 UNC-2A LH", "R5 TYP", "45° ±0.5°", "1:10 taper",
    "Ø30 -0/+0.1", "0.5 x 45°", "6 hex", "keyway 8 x 33", "10 ±0.1", "⌵ 90° Ø12", "1 1/2 in", "25.4 (1.000)",
    "Ø20 H7 ↧30", "SR8", "□ 20", "5 deep", "ground Ra 0.8", "(#3 - #4)/2", "sqrt(2)*#1", "3 in + 2 mm", "30°15'",
)  # fmt: skip
PIECES = (*"0123456789.+-*/()#°'\"xXØ⌀↧⌴⌵□RMCHhg:±~^%, \t\n", " THRU", " H7", " mm", " in", "sqrt(", "UNC", "LH",
          "1/0", "0/", "#1", "#1.depth", "TYP", "deep")  # fmt: skip


def spoiled(rng: random.Random) -> str:
    """A note with a few things done to it."""
    text = rng.choice(SEEDS)
    for _ in range(rng.randrange(1, 6)):
        at, how = rng.randrange(len(text) + 1), rng.random()
        if how < 0.4:
            text = text[:at] + rng.choice(PIECES) + text[at:]
        elif how < 0.6:
            text = text[:at] + text[at + rng.randrange(1, 4) :]
        elif how < 0.8:
            text = text[:at] + rng.choice(SEEDS) + text[at:]
        else:
            text = text[:at] + text[at : at + 5] * rng.randrange(1, 8) + text[at:]
    return text


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Known cases first, then as many spoiled notes as there is time for."""
    found = Outcome()
    for text in KNOWN:
        _one(text, found)
    while going():
        _one(spoiled(rng), found)
    return found


def _one(text: str, found: Outcome) -> None:
    scope = Plain("in" if len(text) % 3 == 0 else "mm")
    reading = found.attempt(lambda: read_note(text, scope), text)
    stated = reading.characteristics if isinstance(reading, Reading) else ()
    sizes = [c.nominal for c in stated]  # a limit may be without end: 5 MIN has no upper one
    if any(math.isnan(v) for c in stated for v in (c.lower, c.upper)):
        found.fault("a limit that is no number", text)
    value = found.attempt(lambda: evaluate(text, scope), text)
    if not all(math.isfinite(v) for v in (*sizes, *([value] if isinstance(value, float) else []))):
        found.fault("a size without end", text)
