"""Finish, form and place, and datum letters as they are lettered: tolerance frames, the sign of a finish, a letter in
its box on a triangle.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

from .blocks import BALLOON, HEIGHT, numbered
from .scene import XY, Arrow, Mark, Path, Words
from .words import width

#: Signs of form and place that our typeface has (ISO 1101 table 3); the others are written out.
SIGNS = {
    "RUNOUT": "↗", "PERPENDICULARITY": "⊥", "FLATNESS": "⏥", "CONCENTRICITY": "◎", "PARALLELISM": "∥", "ROUNDNESS": "○",
    "ANGULARITY": "∠",
}  # fmt: skip
#: Height of a frame and of a datum's box: twice that of the lettering (ISO 7083).
_BOX = 2 * HEIGHT
#: Between two cells of a frame stand so many blanks, so that its text is one line that reads back.
_GAP = "  "
#: Beside the text in a frame (mm); the sign of a finish before its text, and how far its legs reach (ISO 1302 annex A).
_INSIDE, _SIGN, _LEG = 1.1, 4.2, 0.6
#: The triangle of a datum: half its foot and its height (mm).
_FOOT = 1.4


class Row(NamedTuple):
    """One line: a frame of cells, a finish, or a datum's letter; ``cells`` of text, and how wide it is (mm)."""

    kind: Literal["frame", "finish", "datum"]
    cells: tuple[str, ...]
    width: float


class Framed(NamedTuple):
    """A callout that says nothing but finish, form, place or a datum's letter: the same as a block of text to whoever
    places it.
    """

    rows: tuple[Row, ...]
    number: int
    width: float
    height: float

    def marks(self, left: float, middle: float, of: str) -> Iterator[Mark]:
        """The rows with their left edge and their middle height there."""
        before, at = numbered(self.number, left, middle, of)
        yield from before
        top = middle + len(self.rows) * _BOX / 2
        for k, row in enumerate(self.rows):
            yield from _DRAWN[row.kind](row, (at, top - (k + 1) * _BOX), of)

    @property
    def is_datum(self) -> bool:
        return any(row.kind == "datum" for row in self.rows)

    @property
    def clear(self) -> float:
        """Its leader begins at the frame itself."""
        return 0.0

    def end(self, tip: XY, way: XY, of: str, up: XY) -> tuple[Mark, XY]:
        """What the leader ends in: a triangle that stands on the datum's face, which looks ``up`` (ISO 5459, 7.2),
        else an arrow; and where it reaches that.
        """
        if not self.is_datum:
            return Arrow(tip, way, of), tip
        (x, y), (u, v) = tip, up
        peak = x + 2 * _FOOT * u, y + 2 * _FOOT * v
        a, b = (x - _FOOT * v, y + _FOOT * u), (x + _FOOT * v, y - _FOOT * u)
        return Path("dimension", (a, b, peak, a), of), peak


def framed(symbols: Sequence[str], number: int) -> Framed:
    """Callout ``number`` (0: without a balloon) of which ``symbols`` are all it says: "FLATNESS 0.02", "Ra 0.8 µm",
    "DATUM A", as a reading writes them.
    """
    rows = tuple(map(_row, symbols))
    across, high = max(r.width for r in rows), len(rows) * _BOX
    if not number:
        return Framed(rows, 0, across, high)
    return Framed(rows, number, across + 2 * BALLOON + 1.0, max(high, 2 * BALLOON))


def _row(symbol: str) -> Row:
    if symbol.startswith("Ra"):
        return Row("finish", (symbol,), _SIGN + width(symbol, HEIGHT) + 0.5)
    if symbol.startswith("DATUM"):
        return Row("datum", (symbol.removeprefix("DATUM "),), _BOX)
    found = re.fullmatch(r"(\D+?) (Ø?[\d.]+)(?: ([ML])(?= |$))?((?: [A-Z](?:-[A-Z])?(?: [ML](?= |$))?)*)", symbol)
    if found is None:
        return Row("frame", (symbol,), width(symbol, HEIGHT) + 2 * _INSIDE)
    name, figure, most, letters = found.groups()
    cells = (SIGNS.get(name, name), f"{figure} ({most})" if most else figure, *_letters(letters))
    return Row("frame", cells, width(_GAP.join(cells), HEIGHT) + 2 * _INSIDE)


def _letters(text: str) -> list[str]:
    """Datum letters, each with its modifier behind it: " A M B" as A (M), B."""
    found: list[str] = []
    for letter in text.split():
        if letter in "ML" and found and "(" not in found[-1]:
            found[-1] += f" ({letter})"
        else:
            found.append(letter)
    return found


def _frame(row: Row, corner: XY, of: str) -> Iterator[Mark]:
    """A box of cells; its text is one line."""
    x, y = corner
    yield _box(corner, row.width, of)
    for k in range(1, len(row.cells)):
        before = width(_GAP.join(row.cells[:k]), HEIGHT) + width(_GAP, HEIGHT) / 2
        yield Path("dimension", ((x + _INSIDE + before, y), (x + _INSIDE + before, y + _BOX)), of)
    yield Words(_GAP.join(row.cells), (x + _INSIDE, y + (_BOX - HEIGHT) / 2), HEIGHT, of=of)


def _finish(row: Row, corner: XY, of: str) -> Iterator[Mark]:
    """The sign of a surface with material removed, its figure under the long leg's arm."""
    x, y = corner
    foot, low = (x + 1.3, y + 0.4), y + 0.4 + 0.45 * _BOX
    peak = x + _SIGN - _LEG, y + _BOX
    yield Path("dimension", ((x, low), foot, peak, (x + row.width, y + _BOX)), of)
    share = (low - foot[1]) / (peak[1] - foot[1])
    yield Path("dimension", ((x, low), (foot[0] + share * (peak[0] - foot[0]), low)), of)
    yield Words(row.cells[0], (x + _SIGN, y + (_BOX - HEIGHT) / 2 - 0.3), HEIGHT, of=of)


def _datum(row: Row, corner: XY, of: str) -> Iterator[Mark]:
    x, y = corner
    yield _box(corner, row.width, of)
    yield Words(row.cells[0], (x + _BOX / 2, y + (_BOX - HEIGHT) / 2), HEIGHT, "middle", of=of)


def _box(corner: XY, wide: float, of: str) -> Path:
    (x, y), corners = corner, ((0, 0), (wide, 0), (wide, _BOX), (0, _BOX), (0, 0))
    return Path("dimension", tuple((x + dx, y + dy) for dx, dy in corners), of)


_DRAWN = {"frame": _frame, "finish": _finish, "datum": _datum}
