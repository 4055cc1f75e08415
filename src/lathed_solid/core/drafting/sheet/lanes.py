"""Lengths written on lines beside a view: shortest nearest, each in the first lane where it fits (ISO 129-1)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from .blocks import BALLOON, CLEAR, Box, Line, balloon
from .model import Label
from .scene import ARROW, XY, Arrow, Path, Round, Sized, Words

#: From the view to the first lane, and from lane to lane (mm); extension lines begin and end so far off.
FIRST, PITCH, OFF, PAST = 9.0, 7.5, 1.0, 1.5
#: Text stands so far above its line.
_LIFT = 0.9


class Length(NamedTuple):
    """A length to be written: along x (``level``) or y; ``low`` and ``high`` where it runs, ``near`` the places on the
    part that its extension lines start from, low end first.
    """

    label: Label
    text: Line
    level: bool
    low: float
    high: float
    near: tuple[XY, XY]
    size: float
    #: Where the middle of its text is wanted.
    amid: float = 0.0

    @property
    def is_short(self) -> bool:
        """Whether its arrows have to stand outside."""
        return self.high - self.low < 3 * ARROW[0]

    @property
    def line(self) -> tuple[float, float]:
        """From where to where its line is drawn: beneath its text, and past arrows that stand outside."""
        over, half = (2 * ARROW[0] if self.is_short else 0.0), self.text.width / 2
        return min(self.low - over, self.amid - half), max(self.high + over, self.amid + half)

    @property
    def need(self) -> tuple[float, float]:
        """What it takes up of its lane."""
        low, high = self.line
        return low - 2 * CLEAR, high + 2 * CLEAR


def _places(item: Length) -> list[float]:
    """Where the middle of its text may be: amid its line where it fits there, else beside."""
    half, over = item.text.width / 2 + CLEAR, (2 * ARROW[0] if item.is_short else ARROW[0])
    inside = [item.low + s * (item.high - item.low) for s in (0.5, 0.35, 0.65, 0.2, 0.8)]
    fits = [m for m in inside if m - half > item.low and m + half < item.high]
    return [*fits, item.low - over - half, item.high + over + half]


def with_text(item: Length, others: Sequence[Length]) -> Length:
    """The text where no extension line of another runs through it."""
    half = item.text.width / 2 + CLEAR
    ends = [e for o in others if o is not item for e in (o.low, o.high)]

    def through(middle: float) -> int:
        return sum(middle - half < e < middle + half for e in ends)

    return item._replace(amid=min(_places(item), key=through))


def out_of_the_way(laid: Sequence[tuple[Length, int]], hits: Callable[[Length, int], int]) -> list[tuple[Length, int]]:
    """Texts moved along their lines where ``hits`` says that something runs through them; all stay in their lanes."""
    found = list(laid)
    for n, (item, lane) in enumerate(found):
        if not hits(item, lane):
            continue
        beside = [o.need for k, (o, other) in enumerate(found) if other == lane and k != n]
        moved = [item._replace(amid=m) for m in _places(item)]
        free = [i for i in moved if not any(i.need[0] < b and a < i.need[1] for a, b in beside)]
        found[n] = min([item, *free], key=lambda i: hits(i, lane)), lane
    return found


def in_lanes(lengths: Sequence[Length]) -> list[tuple[Length, int]]:
    """Each with the number of its lane. Who had one keeps it while it is free; the others take the first that is,
    shortest first.
    """
    taken: dict[int, list[tuple[float, float]]] = {}
    found = []
    for item in sorted(lengths, key=lambda i: (i.label.rank < 0, i.label.rank, i.high - i.low)):
        lane = max(0, item.label.rank)
        low, high = item.need
        while any(low < b and a < high for a, b in taken.get(lane, ())):
            lane += 1
        taken.setdefault(lane, []).append((low, high))
        found.append((item, lane))
    return found


def lane_at(box: Box, side: str, lane: int) -> float:
    """Where a lane runs on a side of a view's box."""
    out = FIRST + PITCH * lane
    return {"below": box[1] - out, "above": box[3] + out, "left": box[0] - out, "right": box[2] + out}[side]


def written(item: Length, at: float, of: str) -> tuple[Sized, Box]:
    """A length on its line at ``at`` (y of a level one, else x)."""
    level = item.level

    def place(along: float, off: float) -> XY:
        return (along, off) if level else (off, along)

    marks: list[Path | Round | Arrow | Words] = []
    for near, end in zip(item.near, (item.low, item.high), strict=True):
        start = near[1] if level else near[0]
        sign = 1.0 if at > start else -1.0
        marks.append(Path("dimension", (place(end, start + sign * OFF), place(end, at + sign * PAST)), of))
    low, high = item.line
    marks.append(Path("dimension", (place(low, at), place(high, at)), of))
    outwards = 1.0 if item.is_short else -1.0
    marks += [
        Arrow(place(item.low, at), place(outwards, 0.0), of),
        Arrow(place(item.high, at), place(-outwards, 0.0), of),
    ]
    text, box, amid = _text(item.text, level, at, item.amid, of)
    way, all_of_it = place(1.0, 0.0), (*marks, *text)
    sized = Sized(*item.near, place(item.low, at), way, item.text.whole, item.size, all_of_it, amid, of)
    return sized, box


def _text(text: Line, level: bool, at: float, amid: float, of: str) -> tuple[list[Path | Round | Words], Box, XY]:
    """The text above its line, read from below or from the right, its balloon before it; its box, and its middle
    without the balloon.
    """
    half, high = text.width / 2, text.half
    lift = _LIFT + (BALLOON - 0.6 if text.number else high)
    start, off = amid - half, at + lift if level else at - lift
    found: list[Path | Round | Words] = []
    if text.number:
        along = start + BALLOON
        found += balloon(text.number, (along, off) if level else (off, along), of)
    found += text.words(amid + half - text.long, off, level, of)
    middle = amid + half - text.long / 2
    if level:
        return found, (amid - half, off - high, amid + half, off + high), (middle, off)
    return found, (off - high, amid - half, off + high, amid + half), (off, middle)


def reach(boxes: Iterable[Box], box: Box) -> Box:
    """A box that holds all of them."""
    for b in boxes:
        box = min(box[0], b[0]), min(box[1], b[1]), max(box[2], b[2]), max(box[3], b[3])
    return box
