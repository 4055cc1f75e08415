"""Finish, form and place, and datum letters as they are lettered: tolerance frames, the sign of a finish, a letter in
its box on a triangle.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal, NamedTuple

from .scene import XY, Path, Words
from .words import HEIGHT, width

#: Signs of form and place (ISO 1101 table 3), and of a boundary at most or least material (ISO 2692).
SIGNS = {
    "RUNOUT": "↗", "PERPENDICULARITY": "⊥", "FLATNESS": "⏥", "CONCENTRICITY": "◎", "PARALLELISM": "∥", "ROUNDNESS": "○",
    "ANGULARITY": "∠", "POSITION": "⌖", "CYLINDRICITY": "⌭", "SYMMETRY": "⌯", "TOTAL RUNOUT": "⌰", "STRAIGHTNESS": "⏤",
    "LINE PROFILE": "⌒", "PROFILE": "⌓",
}  # fmt: skip
_MATERIAL = {"M": "Ⓜ", "L": "Ⓛ"}
#: Height of a frame and of a datum's box: twice that of the lettering (ISO 7083).
ROW = 2 * HEIGHT
#: Between two cells of a frame stand so many blanks, so that its text is one line that reads back.
_GAP = "  "
#: Beside the text in a frame (mm); the sign of a finish before its text, and how far its legs reach (ISO 1302 annex A).
_INSIDE, _SIGN, _LEG = 1.1, 4.2, 0.6


class Row(NamedTuple):
    """One line: a frame of cells, a finish, or a datum's letter; ``cells`` of text, and how wide it is (mm)."""

    kind: Literal["frame", "finish", "datum"]
    cells: tuple[str, ...]
    width: float

    @property
    def text(self) -> str:
        """It in words, as it would be typed."""
        return f"DATUM {self.cells[0]}" if self.kind == "datum" else _GAP.join(self.cells)


def drawn(row: Row, corner: XY, of: str) -> Iterator[Path | Words]:
    """A line with its lower left corner there."""
    yield from _DRAWN[row.kind](row, corner, of)


def row_of(symbol: str) -> Row:
    """One thing that a callout says, as a reading writes it: "FLATNESS 0.02", "Ra 0.8 µm", "DATUM A"."""
    if symbol.startswith("Ra"):
        return Row("finish", (symbol,), _SIGN + width(symbol, HEIGHT) + 0.5)
    if symbol.startswith("DATUM"):
        return Row("datum", (symbol.removeprefix("DATUM "),), ROW)
    found = re.fullmatch(r"(\D+?) (Ø?[\d.]+)(?: ([ML])(?= |$))?((?: [A-Z](?:-[A-Z])?(?: [ML](?= |$))?)*)", symbol)
    if found is None:
        return Row("frame", (symbol,), width(symbol, HEIGHT) + 2 * _INSIDE)
    name, figure, most, letters = found.groups()
    cells = (SIGNS.get(name, name), f"{figure} {_MATERIAL[most]}" if most else figure, *_letters(letters))
    return Row("frame", cells, width(_GAP.join(cells), HEIGHT) + 2 * _INSIDE)


def _letters(text: str) -> list[str]:
    """Datum letters, each with its modifier behind it: " A M B" as A Ⓜ, B."""
    found: list[str] = []
    for letter in text.split():
        if letter in _MATERIAL and found and " " not in found[-1]:
            found[-1] += f" {_MATERIAL[letter]}"
        else:
            found.append(letter)
    return found


def _frame(row: Row, corner: XY, of: str) -> Iterator[Path | Words]:
    """A box of cells; its text is one line."""
    x, y = corner
    yield _box(corner, row.width, of)
    for k in range(1, len(row.cells)):
        before = width(_GAP.join(row.cells[:k]), HEIGHT) + width(_GAP, HEIGHT) / 2
        yield Path("dimension", ((x + _INSIDE + before, y), (x + _INSIDE + before, y + ROW)), of)
    yield Words(_GAP.join(row.cells), (x + _INSIDE, y + (ROW - HEIGHT) / 2), HEIGHT, of=of)


def _finish(row: Row, corner: XY, of: str) -> Iterator[Path | Words]:
    """The sign of a surface with material removed, its figure under the long leg's arm."""
    x, y = corner
    foot, low = (x + 1.3, y + 0.4), y + 0.4 + 0.45 * ROW
    peak = x + _SIGN - _LEG, y + ROW
    yield Path("dimension", ((x, low), foot, peak, (x + row.width, y + ROW)), of)
    share = (low - foot[1]) / (peak[1] - foot[1])
    yield Path("dimension", ((x, low), (foot[0] + share * (peak[0] - foot[0]), low)), of)
    yield Words(row.cells[0], (x + _SIGN, y + (ROW - HEIGHT) / 2 - 0.3), HEIGHT, of=of)


def _datum(row: Row, corner: XY, of: str) -> Iterator[Path | Words]:
    x, y = corner
    yield _box(corner, row.width, of)
    yield Words(row.cells[0], (x + ROW / 2, y + (ROW - HEIGHT) / 2), HEIGHT, "middle", of=of)


def _box(corner: XY, wide: float, of: str) -> Path:
    (x, y), corners = corner, ((0, 0), (wide, 0), (wide, ROW), (0, ROW), (0, 0))
    return Path("dimension", tuple((x + dx, y + dy) for dx, dy in corners), of)


_DRAWN = {"frame": _frame, "finish": _finish, "datum": _datum}
