"""What numbers on a sheet are no sizes: those in balloons, and those in ruled tables."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from .paper import Word

Box = tuple[float, float, float, float]
#: Lines end in one place within this share of the sheet's width; a table has so many lines each way at least.
_SAME, _LEAST = 1.5e-3, 3
#: A balloon is no larger than this times the height of its number.
_LARGE = 5.0


class Ruling(NamedTuple):
    """Lines of a sheet in its own units, from the top left: ``level`` (y, left, right), ``upright`` (x, top, bottom),
    and the boxes (left, top, right, bottom) of whole circles.
    """

    level: tuple[tuple[float, float, float], ...] = ()
    upright: tuple[tuple[float, float, float], ...] = ()
    rounds: tuple[Box, ...] = ()


def sizes_only(words: Iterable[Word], ruling: Ruling, size: tuple[float, float]) -> tuple[Word, ...]:
    """Words without numbers in balloons and what stands in ruled tables; ``size`` of the sheet in its units."""
    wide, high = size
    grids = tables(ruling, _SAME * wide)

    def kept(word: Word) -> bool:
        x, y = word.middle[0] * wide, word.middle[1] * high
        if any(b[0] < x < b[2] and b[1] < y < b[3] for b in grids):
            return False
        return not any(_numbers(b, word, size) for b in ruling.rounds)

    return tuple(_unnumbered(w, ruling.rounds, size) for w in words if kept(w))


def _unnumbered(word: Word, rounds: Sequence[Box], size: tuple[float, float]) -> Word:
    """A note without the balloon before it, which the reader of a file may take for the beginning of its line."""
    number, _, rest = word.text.partition(" ")
    if not number.isdigit() or not rest:
        return word
    left, top, right, bottom = _box(word, size)
    for ball in rounds:
        wide = ball[2] - ball[0]
        x, y = (ball[0] + ball[2]) / 2, (ball[1] + ball[3]) / 2
        inside = left - wide / 2 < x < right + wide / 2 and top - wide / 2 < y < bottom + wide / 2
        if inside and wide < _LARGE * min(right - left, bottom - top):
            return word._replace(text=rest)
    return word


def _box(word: Word, size: tuple[float, float]) -> Box:
    return word.left * size[0], word.top * size[1], word.right * size[0], word.bottom * size[1]


def _numbers(ball: Box, word: Word, size: tuple[float, float]) -> bool:
    """Whether a circle is the balloon of a number: it holds all of it, amid, and is hardly larger."""
    left, top, right, bottom = _box(word, size)
    wide, tall = ball[2] - ball[0], bottom - top
    holds = ball[0] < left and right < ball[2] and ball[1] < top and bottom < ball[3]
    amid = abs((left + right) / 2 - (ball[0] + ball[2]) / 2) < 0.25 * wide
    return word.text[:1].isdigit() and holds and amid and wide < _LARGE * max(tall, 1e-9)


def tables(ruling: Ruling, near: float) -> list[Box]:
    """Boxes of ruled tables: level lines of one length under each other, closed by upright ones at both ends, and
    parted by others as high. Dimension lines above each other differ in length, or nothing closes them.
    """
    found = []
    for left, right, ys in _alike(ruling.level, near):
        top, bottom = min(ys), max(ys)
        closing = [u for u in ruling.upright if abs(u[1] - top) < near and abs(u[2] - bottom) < near]
        xs = sorted(u[0] for u in closing if left - near < u[0] < right + near)
        if len(xs) >= _LEAST and abs(xs[0] - left) < near and abs(xs[-1] - right) < near:
            found.append((left, top, right, bottom))
    return found


def _alike(lines: Sequence[tuple[float, float, float]], near: float) -> list[tuple[float, float, list[float]]]:
    """Level lines with the same ends: these, and their heights."""
    groups: dict[tuple[int, int], list[tuple[float, float, float]]] = {}
    for y, left, right in lines:
        groups.setdefault((round(left / near / 2), round(right / near / 2)), []).append((y, left, right))
    return [
        (own[0][1], own[0][2], [y for y, _, _ in own])
        for own in groups.values()
        if len({round(y / near) for y, _, _ in own}) >= _LEAST
    ]


def straight(
    a: tuple[float, float], b: tuple[float, float], near: float
) -> tuple[str, tuple[float, float, float]] | None:
    """A line as a ruling has it, and which way it runs; None for a slanted or a short one."""
    if abs(a[1] - b[1]) < near < abs(a[0] - b[0]):
        return "level", ((a[1] + b[1]) / 2, min(a[0], b[0]), max(a[0], b[0]))
    if abs(a[0] - b[0]) < near < abs(a[1] - b[1]):
        return "upright", ((a[0] + b[0]) / 2, min(a[1], b[1]), max(a[1], b[1]))
    return None
