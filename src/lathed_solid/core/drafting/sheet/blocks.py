"""A callout as it is lettered: its text, what is framed of it and its balloon, as a block, or on one line."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import msgspec

from .scene import XY, Arrow, Mark, Path, Round, Words
from .symbols import ROW, Row, drawn, row_of
from .words import HEIGHT, LEADING, drawable, parted, width

#: Widest line before it is parted, balloons' radius (mm).
WIDEST, BALLOON = 52.0, 2.9
#: Clear of anything else, mm; a balloon takes so much beside its text; so far apart stands what is framed in a line.
CLEAR, _BESIDE, _APART = 1.0, 2 * BALLOON + 1.0, 1.5
#: The triangle of a datum: half its foot (mm), as high as that is long.
_FOOT = 1.4

Box = tuple[float, float, float, float]


class Block(NamedTuple):
    """``lines`` of text, below them what is framed, ``width`` and ``height`` with the balloon (mm); ``number`` 0 for
    none.
    """

    lines: tuple[str, ...]
    rows: tuple[Row, ...]
    number: int
    width: float
    height: float

    def marks(self, left: float, middle: float, of: str) -> Iterator[Mark]:
        """The block with its left edge and its middle height there."""
        before, at = numbered(self.number, left, middle, of)
        yield from before
        top = middle + _high(self.lines, self.rows) / 2
        for k, line in enumerate(self.lines):
            yield Words(line, (at, top - HEIGHT - k * LEADING * HEIGHT), HEIGHT, of=of)
        foot = top - _high(self.lines, self.rows) + len(self.rows) * ROW
        for k, row in enumerate(self.rows, 1):
            yield from drawn(row, (at, foot - k * ROW), of)

    def amid(self, box: Box) -> XY:
        """The middle of its text where the block fills a box."""
        return (box[0] + box[2] + (_BESIDE if self.number else 0.0)) / 2, (box[1] + box[3]) / 2

    @property
    def clear(self) -> float:
        """How far from it its leader begins, mm: at a frame without text it begins at the frame itself."""
        return CLEAR if self.lines or not self.rows else 0.0

    @property
    def is_datum(self) -> bool:
        """Whether it is a datum's letter and no size."""
        return not self.lines and any(row.kind == "datum" for row in self.rows)

    def end(self, tip: XY, way: XY, of: str, up: XY) -> tuple[Mark, XY]:
        """What its leader ends in: a triangle that stands on the datum's face, which looks ``up`` (ISO 5459, 7.2),
        else an arrow; and where it reaches that.
        """
        if not self.is_datum:
            return Arrow(tip, way, of), tip
        (x, y), (u, v) = tip, up
        peak = x + 2 * _FOOT * u, y + 2 * _FOOT * v
        a, b = (x - _FOOT * v, y + _FOOT * u), (x + _FOOT * v, y - _FOOT * u)
        return Path("dimension", (a, b, peak, a), of), peak


class Line(NamedTuple):
    """A callout on one line: its text, what is framed after it, ``width`` with the balloon (mm)."""

    text: str
    rows: tuple[Row, ...]
    number: int
    width: float

    @property
    def whole(self) -> str:
        """All that it says."""
        return " ".join((self.text, *(r.text for r in self.rows)))

    @property
    def long(self) -> float:
        """Without the balloon, mm."""
        return self.width - (_BESIDE if self.number else 0.0)

    @property
    def half(self) -> float:
        """Half of how high it is, mm."""
        return max(HEIGHT / 2, BALLOON if self.number else 0.0, ROW / 2 if self.rows else 0.0)

    def words(self, start: float, off: float, level: bool, of: str) -> Iterator[Path | Words]:
        """All but the balloon, from ``start`` on along a line that runs level at the height ``off``, or upright."""
        yield _laid(Words(self.text, (start, -HEIGHT / 2), HEIGHT, of=of), off, level)
        at = start + width(self.text, HEIGHT) + _APART
        for row in self.rows:
            for mark in drawn(row, (at, -ROW / 2), of):
                yield _laid(mark, off, level)
            at += row.width + _APART


def _laid(mark: Path | Words, off: float, level: bool) -> Path | Words:
    """A mark about the x axis, as it is about a level line or about an upright one, which is read from the right."""

    def place(p: XY) -> XY:
        return (p[0], off + p[1]) if level else (off - p[1], p[0])

    if isinstance(mark, Path):
        return msgspec.structs.replace(mark, points=tuple(map(place, mark.points)))
    return msgspec.structs.replace(mark, at=place(mark.at), turn=0 if level else 90)


def block_of(text: str, number: int, symbols: Sequence[str] = ()) -> Block:
    """Callout ``number`` (0: without a balloon) lettered in lines no wider than ``WIDEST`` mm, what it says of finish,
    form, place and datums framed below them.
    """
    lines, rows = parted(drawable(text), HEIGHT, WIDEST) if text else [], tuple(map(row_of, symbols))
    if number and not lines and not rows:  # an item number alone
        return Block((), (), number, 2 * BALLOON, 2 * BALLOON)
    across = max([*(width(line, HEIGHT) for line in lines), *(r.width for r in rows)], default=0.0)
    high = _high(lines, rows)
    if not number:
        return Block(tuple(lines), rows, 0, across, high)
    return Block(tuple(lines), rows, number, across + _BESIDE, max(high, 2 * BALLOON))


def in_line(text: str, number: int, symbols: Sequence[str] = ()) -> Line:
    """Callout ``number`` (0: without a balloon) on one line, however long that is."""
    text, rows = drawable(text), tuple(map(row_of, symbols))
    across = width(text, HEIGHT) + sum(r.width + _APART for r in rows)
    return Line(text, rows, number, across + (_BESIDE if number else 0.0))


def _high(lines: Sequence[str], rows: Sequence[Row]) -> float:
    text = HEIGHT + (len(lines) - 1) * LEADING * HEIGHT if lines else 0.0
    return text + (CLEAR if lines and rows else 0.0) + len(rows) * ROW


def balloon(number: int, middle: XY, of: str) -> Iterator[Round | Words]:
    """A balloon: the callout's number in a circle."""
    size = 2.0 if number < 100 else 1.6
    yield Round("dimension", middle, BALLOON, 0.0, 2 * math.pi, of)
    yield Words(str(number), (middle[0], middle[1] - size / 2), size, "middle", of=of)


def numbered(number: int, left: float, middle: float, of: str) -> tuple[list[Mark], float]:
    """The balloon before a block, if it has a ``number``, and where its text begins."""
    if not number:
        return [], left
    return list(balloon(number, (left + BALLOON, middle), of)), left + _BESIDE


def boxed(left: float, middle: float, wide: float, high: float) -> Box:
    """Left, bottom, right, top of a block."""
    return left, middle - high / 2, left + wide, middle + high / 2


def meet(a: Box, b: Box) -> bool:
    """Whether two boxes share more than an edge."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def leader(points: tuple[XY, ...], of: str) -> Path:
    return Path("dimension", points, of)
