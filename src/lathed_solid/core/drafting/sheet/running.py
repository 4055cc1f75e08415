"""Lengths from one end told on one line, each at its own end (running dimensioning, ISO 129-1 clause 9.4)."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from ..columns import stacked
from .blocks import BALLOON, Box, balloon
from .lanes import OFF, Length
from .scene import XY, Arrow, Path, Round, Sized, Words

#: So many lengths from one end are worth a line of their own; ends agree within this (mm).
_LEAST, _SAME = 3, 0.01
#: From the line to where extension lines have stepped aside, and to the text; free space between texts (mm).
_STEP, _TEXT, _FREE = 3.0, 3.8, 1.0
_ZERO = 0.8

Drawn = Path | Round | Arrow | Words


def from_one_end(lengths: Sequence[Length]) -> tuple[float, list[Length], list[Length]]:
    """Of lengths on one side of a view: the end that most of them share, those that do, the rest; none share it where
    they are too few.
    """
    ends = [e for i in lengths for e in (i.low, i.high)]
    zero = max(ends, key=lambda e: sum(abs(o - e) < _SAME for o in ends), default=0.0)
    own = [i for i in lengths if min(abs(i.low - zero), abs(i.high - zero)) < _SAME]
    if len(own) < _LEAST:
        return zero, [], list(lengths)
    return zero, own, [i for i in lengths if i not in own]


def told_at_ends(own: Sequence[Length], zero: float, at: float, out: float) -> list[tuple[Length, Sized, Box]]:
    """Each length as it is drawn, and the box of its text; the line runs at ``at``, texts stand on its side ``out``
    (-1 below or left, +1 above or right).
    """
    ordered = sorted(own, key=_far(zero))
    tall = 2 * max(i.text.half for i in ordered)
    places = stacked([_far(zero)(i) for i in ordered], [tall + _FREE] * len(ordered), -1e6, 1e6)
    farthest = max(ordered, key=lambda i: abs(_far(zero)(i) - zero))
    return [_one(i, zero, at, out, place, i is farthest) for i, place in zip(ordered, places, strict=True)]


def _far(zero: float) -> Callable[[Length], float]:
    """The end of a length that is not the common one."""
    return lambda i: i.high if abs(i.low - zero) < _SAME else i.low


def _one(item: Length, zero: float, at: float, out: float, place: float, whole: bool) -> tuple[Length, Sized, Box]:
    level, of = item.level, f"label:{item.label.number}"
    is_low = abs(item.low - zero) < _SAME
    end, near = (item.high, item.near[1]) if is_low else (item.low, item.near[0])
    first = item.near[0] if is_low else item.near[1]

    def on(along: float, off: float) -> XY:
        return (along, off) if level else (off, along)

    start = near[1] if level else near[0]
    points = [on(end, start + math.copysign(OFF, at - start)), on(end, at), on(place, at + out * _STEP)]
    marks: list[Drawn] = [Path("dimension", tuple(points), of)]
    marks.append(Arrow(on(end, at), on(math.copysign(1.0, end - zero), 0.0), of))
    if whole:  # the line and its origin are drawn once, with what reaches farthest
        begin = first[1] if level else first[0]
        marks.append(Path("dimension", (on(zero, begin + math.copysign(OFF, at - begin)), on(zero, at)), of))
        marks.append(Path("dimension", (on(zero, at), on(end, at)), of))
        marks.append(Round("dimension", on(zero, at), _ZERO, 0.0, 2 * math.pi, of))
    begin = at + out * _TEXT
    text, box = _text(item, place, begin, out, of)
    mid = on(place, begin + out * item.text.long / 2)
    sized = Sized(*item.near, on(zero, at), on(1.0, 0.0), item.text.whole, item.size, (*marks, *text), mid, of)
    return item, sized, box


def _text(item: Length, place: float, at: float, out: float, of: str) -> tuple[list[Drawn], Box]:
    """The text from ``at`` outwards, across the line; its balloon beyond it."""
    text, number = item.text, item.text.number
    reach = text.long + (2 * BALLOON + 0.8 if number else 0.0)
    ball = at + out * (text.long + 0.8 + BALLOON)
    low, high = sorted((at, at + out * reach))
    found: list[Drawn] = [*text.words(at if out > 0 else at - text.long, place, not item.level, of)]
    if number:
        found += balloon(number, (place, ball) if item.level else (ball, place), of)
    if item.level:
        return found, (place - text.half, low, place + text.half, high)
    return found, (low, place - text.half, high, place + text.half)
