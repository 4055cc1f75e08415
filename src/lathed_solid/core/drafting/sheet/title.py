"""The frame of a sheet, its title block, the list of revisions and the common notes: a design of our own."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from .paper import frame_of, size_of
from .scene import XY, Mark, Path, Round, Words
from .words import LEADING, drawable, parted, width

#: The title block (mm), its rows, and the heights of captions and figures.
WIDE, ROW = 180.0, 11.0
_CAPTION, _FIGURE, _LARGE = 1.5, 2.5, 3.5
_NOTE = 2.2


class Facts(NamedTuple):
    """What the title block says, all of it text; ``first_angle`` is how views lie, ``revisions`` (letter, date)."""

    name: str
    number: str
    revision: str
    material: str
    mass: str
    units: str
    limits: str
    proof: str
    first_angle: bool
    notes: tuple[str, ...] = ()
    revisions: tuple[tuple[str, str], ...] = ()


Box = tuple[float, float, float, float]


def title_box(size: str) -> Box:
    """Where the title block stands."""
    left, bottom, right, _ = frame_of(size)
    return right - min(WIDE, right - left), bottom, right, bottom + 3 * ROW + 4.0


def framed(size: str) -> Iterator[Mark]:
    """The frame with its centring marks and fields (ISO 5457 clause 4)."""
    left, bottom, right, top = frame_of(size)
    paper = size_of(size)
    yield Path("frame", ((left, bottom), (right, bottom), (right, top), (left, top), (left, bottom)))
    middle = (paper.width / 2, paper.height / 2)
    for a, b in (
        ((middle[0], 5.0), (middle[0], bottom + 5)), ((middle[0], paper.height - 5), (middle[0], top - 5)),
        ((5.0, middle[1]), (left + 5, middle[1])), ((paper.width - 5, middle[1]), (right - 5, middle[1])),
    ):  # fmt: skip
        yield Path("frame", (a, b))


def titled(facts: Facts, size: str, scale: str, number: int, total: int) -> Iterator[Mark]:
    """The title block in the lower right corner."""
    left, bottom, right, top = title_box(size)
    wide = right - left
    f = facts
    rows = (
        (("Part", f.name, 0.5, _LARGE), ("Number", f.number, 0.36, _LARGE), ("Revision", f.revision, 0.14, _LARGE)),
        (("Material", f.material, 0.36, _FIGURE), ("Mass", f.mass, 0.16, _FIGURE),
         ("Sizes without limits", f.limits, 0.34, _FIGURE), ("Unit", f.units, 0.14, _FIGURE)),
        (("Measured back on the solid", f.proof, 0.52, _FIGURE), ("Views lie", "", 0.17, _FIGURE),
         ("Scale", scale, 0.17, _LARGE), ("Sheet", f"{number} of {total}", 0.14, _FIGURE)),
    )  # fmt: skip
    yield Path("frame", ((left, bottom), (left, top), (right, top)))
    for n, row in enumerate(rows):
        y, x = top - ROW * (n + 1), left
        yield Path("table", ((left, y), (right, y)))
        for k, (caption, text, share, high) in enumerate(row):
            if k:
                yield Path("table", ((x, y), (x, y + ROW)))
            yield Words(caption, (x + 1.5, y + ROW - 3.0), _CAPTION)
            room = share * wide - 3.0
            yield Words(_fitting(drawable(text), high, room), (x + 1.5, y + 2.2), _fit(drawable(text), high, room))
            if caption == "Views lie":
                yield from _symbol((x + share * wide / 2, y + 4.2), facts.first_angle)
            x += share * wide
    yield Words(
        _fitting(_CAUTION, 1.5, wide - 3.0), (left + 1.5, bottom + 1.3), _fit(_CAUTION, 1.5, wide - 3.0)
    )  # fmt: skip


_CAUTION = (
    "Made from a measured model, which is no approval of the part. Whoever answers for the work checks before use."
)


def _fit(text: str, high: float, room: float) -> float:
    """A smaller lettering for what is too long, down to what can still be read."""
    across = width(text, high)
    return high if across <= room else max(1.4, high * room / across)


def _fitting(text: str, high: float, room: float) -> str:
    """What fits in the smallest lettering; the rest is told by dots."""
    size = _fit(text, high, room)
    while len(text) > 1 and width(text, size) > room + 1e-6:
        text = text[:-2].rstrip() + "…"
    return text


def _symbol(at: XY, first: bool) -> Iterator[Mark]:
    """The projection symbol (ISO 5456-2 figures 5 and 8): a cut cone from the side and end-on."""
    x, y = at
    side, end = (x - 5.5, x + 5.0) if first else (x + 5.5, x - 5.0)
    # The narrow end is seen end-on: in first angle that view lies beyond the cone, in third angle before it.
    small, large, half = 1.3, 2.6, 3.2
    near, far = side - half, side + half
    yield Path("visible", ((near, y - small), (near, y + small), (far, y + large), (far, y - large), (near, y - small)))
    for radius in (small, large):
        yield Round("visible", (end, y), radius, 0.0, 2 * math.pi)
    yield Path("centre", ((side - half - 1.2, y), (side + half + 1.2, y)))
    yield Path("centre", ((end - large - 1.2, y), (end + large + 1.2, y)))
    yield Path("centre", ((end, y - large - 1.2), (end, y + large + 1.2)))


def notes_of(facts: Facts, size: str) -> tuple[list[str], Box]:
    """The common notes in lines, and where they stand: above the title block."""
    left, _, right, top = title_box(size)
    wide = min(95.0, right - left)
    lines: list[str] = []
    for n, note in enumerate(facts.notes, 1):
        parts = parted(drawable(note), _NOTE, wide - 6.0)
        lines += [f"{n}.  {parts[0]}", *(f"      {p}" for p in parts[1:])]
    high = (len(lines) + 1.6) * _NOTE * LEADING + 2.0 if lines else 0.0
    return lines, (right - wide, top, right, top + high)


def noted(facts: Facts, size: str) -> Iterator[Mark]:
    lines, box = notes_of(facts, size)
    if not lines:
        return
    y = box[3] - _NOTE - 2.0
    yield Words("Notes", (box[0] + 1.5, y), _NOTE)
    for line in lines:
        y -= _NOTE * LEADING
        yield Words(line, (box[0] + 1.5, y), _NOTE)


def revised(revisions: Sequence[tuple[str, str]], size: str) -> tuple[list[Mark], Box]:
    """The list of issued revisions in the upper right corner, the newest three, and the room it takes."""
    _, _, right, top = frame_of(size)
    rows = [("Revision", "Issued"), *revisions[-3:]]
    if len(rows) == 1:
        return [], (right, top, right, top)
    high, wide = 5.0, 46.0
    marks: list[Mark] = []
    for n, (letter, date) in enumerate(rows):
        y = top - high * (n + 1)
        marks.append(Path("table", ((right - wide, y), (right, y))))
        size_ = _CAPTION if n == 0 else 2.0
        marks.append(Words(drawable(letter), (right - wide + 1.5, y + 1.5), size_))
        marks.append(Words(drawable(date), (right - wide + 20.0, y + 1.5), size_))
    bottom = top - high * len(rows)
    marks.append(Path("table", ((right - wide, bottom), (right - wide, top))))
    marks.append(Path("table", ((right - wide + 18.0, bottom), (right - wide + 18.0, top))))
    return marks, (right - wide, bottom, right, top)
