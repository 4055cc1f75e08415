"""The list of parts on a sheet: upwards from the title block, a row a line of the bill."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ....drafting.sheet.blocks import Box
from ....drafting.sheet.scene import Mark, Path, Words
from ....drafting.sheet.title import title_box
from ....drafting.sheet.words import drawable, width
from ....fit.mass import Line
from ....quantity.style import mass as mass_text

#: Rows of the list of parts and its columns' shares: item, number, name, material, how many, mass of one.
_ROW, _TEXT, _HEAD = 5.0, 2.0, 1.5
_SHARES = (
    ("Item", 0.07), ("Number", 0.18), ("Name", 0.33), ("Material", 0.22), ("How many", 0.09), ("Mass each", 0.11),
)  # fmt: skip


def list_box(size: str, rows: int) -> Box:
    """Where the list stands: upwards from the title block."""
    left, _, right, top = title_box(size)
    return left, top, right, top + (rows + 1) * _ROW


def parts_list(lines: Sequence[Line], size: str) -> Iterator[Mark]:
    left, bottom, right, _ = list_box(size, len(lines))
    wide = right - left
    rows = [tuple(name for name, _ in _SHARES)]
    for line in lines:
        one = mass_text(line.grams) if line.grams is not None else "unknown"
        rows.append((str(line.item), line.part.number, line.part.listed, line.part.material, str(line.many), one))
    for n, row in enumerate(rows):
        y, x = bottom + n * _ROW, left
        yield Path("table", ((left, y + _ROW), (right, y + _ROW)))
        for (_, share), text in zip(_SHARES, row, strict=True):
            high = _TEXT if n else _HEAD
            yield Words(_short(drawable(text), share * wide - 2.0, high), (x + 1.0, y + 1.5), high)
            x += share * wide
    x = left
    for _, share in _SHARES:
        yield Path("table", ((x, bottom), (x, bottom + len(rows) * _ROW)))
        x += share * wide


def _short(text: str, room: float, high: float) -> str:
    while len(text) > 1 and width(text, high) > room:
        text = text[:-2].rstrip() + "…"
    return text
