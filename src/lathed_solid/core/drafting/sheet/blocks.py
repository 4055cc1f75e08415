"""A callout as it is lettered: its lines of text and its balloon, as one block."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from .scene import XY, Arrow, Mark, Path, Round, Words
from .words import LEADING, drawable, parted, width

#: Height of capitals of callouts (ISO 3098-1 series), widest line before it is parted, balloons' radius (mm).
HEIGHT, WIDEST, BALLOON = 2.5, 52.0, 2.9
#: Clear of anything else, mm.
CLEAR = 1.0

Box = tuple[float, float, float, float]


class Block(NamedTuple):
    """``lines`` of text, ``width`` and ``height`` with the balloon (mm); ``number`` 0 for none."""

    lines: tuple[str, ...]
    number: int
    width: float
    height: float

    def marks(self, left: float, middle: float, of: str) -> Iterator[Mark]:
        """The block with its left edge and its middle height there."""
        before, at = numbered(self.number, left, middle, of)
        yield from before
        lead = LEADING * HEIGHT
        first = middle + (len(self.lines) - 1) * lead / 2 - HEIGHT / 2
        for k, line in enumerate(self.lines):
            yield Words(line, (at, first - k * lead), HEIGHT, of=of)

    @property
    def clear(self) -> float:
        """How far from it its leader begins, mm."""
        return CLEAR

    def end(self, tip: XY, way: XY, of: str, up: XY) -> tuple[Mark, XY]:
        """What its leader ends in, on a face that looks ``up``, and where it reaches that."""
        return Arrow(tip, way, of), tip


def block_of(text: str, number: int, wide: float = WIDEST) -> Block:
    """Callout ``number`` (0: without a balloon) lettered in lines no wider than ``wide`` mm."""
    lines = parted(drawable(text), HEIGHT, wide)
    if number and not text:  # an item number alone
        return Block((), number, 2 * BALLOON, 2 * BALLOON)
    across = max(width(line, HEIGHT) for line in lines)
    high = HEIGHT + (len(lines) - 1) * LEADING * HEIGHT
    if not number:
        return Block(tuple(lines), 0, across, high)
    return Block(tuple(lines), number, across + 2 * BALLOON + 1.0, max(high, 2 * BALLOON))


def balloon(number: int, middle: XY, of: str) -> Iterator[Round | Words]:
    """A balloon: the callout's number in a circle."""
    size = 2.0 if number < 100 else 1.6
    yield Round("dimension", middle, BALLOON, 0.0, 2 * math.pi, of)
    yield Words(str(number), (middle[0], middle[1] - size / 2), size, "middle", of=of)


def numbered(number: int, left: float, middle: float, of: str) -> tuple[list[Mark], float]:
    """The balloon before a block, if it has a ``number``, and where its text begins."""
    if not number:
        return [], left
    return list(balloon(number, (left + BALLOON, middle), of)), left + 2 * BALLOON + 1.0


def boxed(left: float, middle: float, wide: float, high: float) -> Box:
    """Left, bottom, right, top of a block."""
    return left, middle - high / 2, left + wide, middle + high / 2


def meet(a: Box, b: Box) -> bool:
    """Whether two boxes share more than an edge."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def leader(points: tuple[XY, ...], of: str) -> Path:
    return Path("dimension", points, of)
