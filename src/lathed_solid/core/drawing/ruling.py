"""What lines about words mean: numbers in balloons and in ruled tables are no sizes, a letter in a box is a datum's."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from .paper import Word

Box = tuple[float, float, float, float]
#: Lines end in one place within this share of the sheet's width; a table has so many lines each way at least.
_SAME, _LEAST = 1.5e-3, 3
#: A balloon is no larger than this times the height of its number.
_LARGE = 5.0
#: Rows are no higher than this times their text; so much of the cells holds text.
_HIGH, _FULL = 5.0, 0.7
#: A datum's letter stands in the middle of its box up to this share of it, and the box is a square up to that.
_AMID = 0.25


class Ruling(NamedTuple):
    """Lines of a sheet in its own units, from the top left: ``level`` (y, left, right), ``upright`` (x, top, bottom),
    and the boxes (left, top, right, bottom) of whole circles and of rectangles drawn as one line.
    """

    level: tuple[tuple[float, float, float], ...] = ()
    upright: tuple[tuple[float, float, float], ...] = ()
    rounds: tuple[Box, ...] = ()
    squares: tuple[Box, ...] = ()


def sizes_only(words: Iterable[Word], ruling: Ruling, size: tuple[float, float]) -> tuple[Word, ...]:
    """Words without numbers in balloons and what stands in ruled tables, datum letters said as such; ``size`` of the
    sheet in its units.
    """
    every = list(words)
    listed = {w for table in tables(ruling, _SAME * size[0]) for w in _listed(table, every, size)}

    def kept(word: Word) -> bool:
        return word not in listed and not any(_numbers(b, word, size) for b in ruling.rounds)

    return tuple(_lettered(_unnumbered(w, ruling.rounds, size), ruling.squares, size) for w in every if kept(w))


def _lettered(word: Word, squares: Sequence[Box], size: tuple[float, float]) -> Word:
    """A single letter amid a square box of its own is that of a datum (ISO 5459 clause 7.2)."""
    if len(word.text) != 1 or not "A" <= word.text <= "Z":
        return word
    left, top, right, bottom = _box(word, size)
    x, y, tall = (left + right) / 2, (top + bottom) / 2, bottom - top
    for a, b, c, d in squares:
        wide, high = c - a, d - b
        amid = abs((a + c) / 2 - x) < _AMID * wide and abs((b + d) / 2 - y) < _AMID * high
        if amid and abs(wide - high) < _AMID * wide and tall < high < _LARGE * tall:
            return word._replace(text=f"DATUM {word.text}")
    return word


def _listed(table: Table, words: Sequence[Word], size: tuple[float, float]) -> list[Word]:
    """The words in a table; none where its cells are too high for their text or mostly empty: that is no table but the
    outline of a part, with sizes in it.
    """
    inside = [(w, _box(w, size)) for w in words]
    left, top, right, bottom = table.box
    inside = [(w, b) for w, b in inside if left < (b[0] + b[2]) / 2 < right and top < (b[1] + b[3]) / 2 < bottom]
    if not inside:
        return []
    tall = sorted(b[3] - b[1] for _, b in inside)[len(inside) // 2]
    rows = list(itertools.pairwise(table.levels))
    filled = all(any(a < (b[1] + b[3]) / 2 < c for _, b in inside) for a, c in rows)
    low = max(c - a for a, c in rows) < _HIGH * tall
    pieces = sum(len(w.text.split()) for w, _ in inside)  # a reader may take a whole row for one run
    return [w for w, _ in inside] if filled and low and pieces >= _FULL * len(rows) * table.columns else []


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
    amid = abs((left + right) / 2 - (ball[0] + ball[2]) / 2) < _AMID * wide
    numbered = word.text.split(" ", 1)[0].isdigit()
    return numbered and holds and amid and wide < _LARGE * max(tall, 1e-9)


class Table(NamedTuple):
    """Ruled fields: the box of all, the heights of the level lines from above, and how many columns."""

    box: Box
    levels: tuple[float, ...]
    columns: int


def tables(ruling: Ruling, near: float) -> list[Table]:
    """What may be ruled tables: level lines of one length under each other, closed by upright ones at both ends, and
    parted by others as high. Dimension lines above each other differ in length, or nothing closes them.
    """
    found = []
    for left, right, ys in _alike(ruling.level, near):
        top, bottom = min(ys), max(ys)
        closing = [u for u in ruling.upright if abs(u[1] - top) < near and abs(u[2] - bottom) < near]
        xs = sorted(u[0] for u in closing if left - near < u[0] < right + near)
        if len(xs) >= _LEAST and abs(xs[0] - left) < near and abs(xs[-1] - right) < near:
            found.append(Table((left, top, right, bottom), tuple(sorted(ys)), len(xs) - 1))
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


def square(flat: Sequence[tuple[float, float]], near: float) -> Box | None:
    """The box of a closed line that is a level rectangle."""
    ends = flat[:-1] if len(flat) == 5 and math.dist(flat[0], flat[-1]) < near else flat
    if len(ends) != 4:
        return None
    xs, ys = [p[0] for p in ends], [p[1] for p in ends]
    box = min(xs), min(ys), max(xs), max(ys)
    corners = {(x - box[0] < near, y - box[1] < near) for x, y in ends}
    on = all(min(x - box[0], box[2] - x) < near and min(y - box[1], box[3] - y) < near for x, y in ends)
    return box if on and len(corners) == len(ends) else None


def straight(
    a: tuple[float, float], b: tuple[float, float], near: float
) -> tuple[str, tuple[float, float, float]] | None:
    """A line as a ruling has it, and which way it runs; None for a slanted or a short one."""
    if abs(a[1] - b[1]) < near < abs(a[0] - b[0]):
        return "level", ((a[1] + b[1]) / 2, min(a[0], b[0]), max(a[0], b[0]))
    if abs(a[0] - b[0]) < near < abs(a[1] - b[1]):
        return "upright", ((a[0] + b[0]) / 2, min(a[1], b[1]), max(a[1], b[1]))
    return None
