"""Decimal points, the smallest ink that changes a size tenfold: the room one takes, how the sheet draws its own, and
where none can stand.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from .model import Glyph, Run
from .repairing import plain

#: A point where a blank belongs: no pipe thread has one behind its fraction, and only small metric ones do (ISO 261).
_ODD_POINT = re.compile(r"[GRcp]\d*[ ]?\d*/\d+[.,]\d|M(?!(1[.,][12468]|2[.,][25]|3[.,]5)(\D|$))\d+[.,]\d")
#: Figures with a point between them stand farther apart than this, those without nearer than that, in heights: in eight
#: letterings with a point .33 to .63, without .05 to .32 (two ones .38).
_POINTED, _TOUCHING = 0.31, 0.42
#: A sheet's points are alike in width, height and place within this, in heights. Measured on scans, photographs and
#: JPEGs with ten letterings: 9 in 10 within .02; in one bit a dot more or less, .05.
_ALIKE = 0.05


class Dot(NamedTuple):
    """A point between figures, or before one: its size, and its middle over the letters' foot (in ``h``)."""

    width: float
    height: float
    up: float


def dots_of(runs: Sequence[Run]) -> tuple[Dot, ...]:
    """Every decimal point or comma of a sheet whose ink is known."""
    return tuple(dot for run in runs for dot in _dots_in(run))


def _dots_in(run: Run) -> list[Dot]:
    text, where = plain(run.plain.text), _ink_of(run)
    found = [where[m.start()] for m in re.finditer(r"[.,](?=\d)", text)] if where else []
    return [Dot(g.width, g.height, g.up) for g in found if g is not None]


def are_like_others(run: Run, every: Sequence[Dot]) -> bool:
    """Whether each point of a run is drawn like one of another run: a speck is as large, and stands as high, by chance
    only. False also where the ink does not tell which of it is the point.
    """
    if not re.search(r"[.,]\d", plain(run.plain.text)):
        return True
    own = _dots_in(run)
    return bool(own) and all(_count(dot, every) > _count(dot, own) for dot in own)


def _count(dot: Dot, others: Sequence[Dot]) -> int:
    return sum(_alike(dot, other) for other in others)


def _alike(a: Dot, b: Dot) -> bool:
    return max(abs(a.width - b.width), abs(a.height - b.height), abs(a.up - b.up)) <= _ALIKE


def have_room(run: Run) -> bool:
    """Whether figures stand apart as those with a point between them do, and only those."""
    text, where = plain(run.plain.text), _ink_of(run)
    if where is None:
        return True  # nothing can be said
    along = (run.box[3] - run.box[1] if run.turned else run.box[2] - run.box[0]) / run.height
    for m in re.finditer(r"\d(?=\d)", text):
        if _gap(where[m.start()], where[m.start() + 1], along) > _TOUCHING:
            return False
    return all(
        _gap(where[m.start()], where[m.start() + 2], along) > _POINTED for m in re.finditer(r"\d(?=[.,]\d)", text)
    )


def _ink_of(run: Run) -> list[Glyph | None] | None:
    """The ink of each character, nothing for a blank; None where they do not count the same."""
    text = plain(run.plain.text)
    if len(text.replace(" ", "")) != len(run.glyphs):
        return None
    ink = iter(run.glyphs)
    return [None if c == " " else next(ink) for c in text]


def _gap(left: Glyph | None, right: Glyph | None, along: float) -> float:
    assert left is not None and right is not None, "figures have ink"
    return (right.middle - left.middle) * along - (left.width + right.width) / 2


def stand_oddly(note: str, unit: str) -> bool:
    """Whether a point stands where none can; in mm a nought goes before it, and before that of an angle everywhere."""
    first = r"(?<!\d)\s?[.,]\d"
    begins = re.search(first + r"+\s?°" if unit == "in" else first, note)
    return bool(begins or _ODD_POINT.search(note))
