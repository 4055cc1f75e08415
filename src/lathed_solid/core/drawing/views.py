"""The views that a DXF's outline layer shows: what stands together, whether it is alike on both sides, its circles."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

import msgspec

from .outline import XY, Piece, layers, pieces_of

if TYPE_CHECKING:
    from .dxf import DxfPaper

#: Views stand farther apart than this share of what is drawn in all.
APART = 0.08
#: Places nearer than this are one (mm on the sheet): outlines are drawn to hundredths.
_ONE = 0.01
#: More pieces are no views that anyone could tell apart.
_MOST = 3_000
#: The share that the halves of a section have alike; a hole may be drawn on one side only.
_CUT_OPEN = 0.6
Box = tuple[float, float, float, float]


class DrawnView(msgspec.Struct, frozen=True):
    """One view. ``box`` (left, low, right, high) and circles (middle, radius) in sheet units times ``scale``, mm where
    the file says its unit; ``on_sheet`` the box in fractions of the sheet from the top left. ``pieces`` are its lines,
    arcs and circles. ``upright`` and ``level`` say whether it is alike on both sides of its middle.
    """

    box: Box
    on_sheet: Box
    pieces: int
    circles: tuple[tuple[XY, float], ...] = ()
    upright: float = 0.0
    level: float = 0.0

    @property
    def size(self) -> XY:
        return self.box[2] - self.box[0], self.box[3] - self.box[1]

    @property
    def middle(self) -> XY:
        return (self.box[0] + self.box[2]) / 2, (self.box[1] + self.box[3]) / 2


def views_of(paper: DxfPaper) -> tuple[DrawnView, ...]:
    """The views on the fullest layer, the one with most pieces first; none where nothing can be told apart."""
    named = layers(paper)
    scale = paper.natural_scale() or 1.0
    pieces = pieces_of(paper, named[0]).pieces if named else []
    if not 0 < len(pieces) <= _MOST:
        return ()

    def on_sheet(box: Box) -> Box:
        (left, top), (right, low) = (paper.place(x / scale, y / scale) for x, y in ((box[0], box[3]), (box[2], box[1])))
        return left, top, right, low

    found = [_view(group, on_sheet) for group in _groups(pieces)]
    return tuple(sorted(found, key=lambda v: -v.pieces))


def _view(group: Sequence[Piece], on_sheet: Callable[[Box], Box]) -> DrawnView:
    box = _around(group)
    x, y = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    circles = tuple((p.center, p.radius) for p in group if p.center is not None and p.a == p.b)
    upright, level = _alike(group, lambda at: (2 * x - at[0], at[1])), _alike(group, lambda at: (at[0], 2 * y - at[1]))
    return DrawnView(box, on_sheet(box), len(group), circles, upright, level)


# --- what stands together
def _groups(pieces: Sequence[Piece]) -> list[list[Piece]]:
    """Cut apart at the widest empty strip, again and again, while it is wide enough; halves that face each other alike
    are one view, cut open along an axis.
    """
    whole = _around(pieces)
    least = APART * max(whole[2] - whole[0], whole[3] - whole[1])
    waiting, groups = [list(pieces)], []
    while waiting:
        group = waiting.pop()
        parted = max((_parted(group, k) for k in (0, 1)), key=lambda found: found[0])
        if parted[0] <= least or _is_cut_open(group):
            groups.append(group)
        else:
            waiting += parted[1:]
    return groups


def _parted(group: list[Piece], k: int) -> tuple[float, list[Piece], list[Piece]]:
    """The widest strip along x (0) or y (1) that nothing lies in, and what lies on its sides."""
    spans = sorted(((_box(p)[k], _box(p)[k + 2], n) for n, p in enumerate(group)), key=lambda span: span[:2])
    best, reach, at = 0.0, spans[0][1], 0
    for n, (low, high, _) in enumerate(spans):
        if low - reach > best:
            best, at = low - reach, n
        reach = max(reach, high)
    return best, [group[i] for *_, i in spans[:at]], [group[i] for *_, i in spans[at:]]


def _is_cut_open(group: Sequence[Piece]) -> bool:
    """Whether a group is two halves of a section on the sides of its axis."""
    box = _around(group)
    across = max(range(2), key=lambda k: _parted(list(group), k)[0])
    middle = (box[across] + box[across + 2]) / 2
    strip = [p for p in group if _box(p)[across] <= middle <= _box(p)[across + 2]]
    if any(p.center is not None for p in strip):
        return False

    def image(at: XY) -> XY:
        return (2 * middle - at[0], at[1]) if across == 0 else (at[0], 2 * middle - at[1])

    halves = [p for p in group if p not in strip and (p.center is None or p.a != p.b)]
    return bool(halves) and len(halves) == len(group) - len(strip) and _alike(halves, image) > _CUT_OPEN


def _box(p: Piece) -> Box:
    """An arc by its whole circle would reach too far; its ends and middle do for telling views apart."""
    xs, ys = [p.a[0], p.b[0]], [p.a[1], p.b[1]]
    if p.center is not None and p.a == p.b:
        xs, ys = ([c - p.radius, c + p.radius] for c in p.center)
    return min(xs), min(ys), max(xs), max(ys)


def _around(group: Sequence[Piece]) -> Box:
    boxes = [_box(p) for p in group]
    return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)


# --- what is alike
def _alike(group: Sequence[Piece], image: Callable[[XY], XY]) -> float:
    """The share of pieces whose image is there."""
    there: dict[tuple[int, int], list[Piece]] = {}
    for p in group:
        there.setdefault(_cell(_at(p)), []).append(p)
    return sum(_is_there(_imaged(p, image), there) for p in group) / len(group)


def _imaged(p: Piece, image: Callable[[XY], XY]) -> Piece:
    return Piece(image(p.a), image(p.b), image(p.center) if p.center is not None else None, p.radius)


def _is_there(p: Piece, there: Mapping[tuple[int, int], Sequence[Piece]]) -> bool:
    x, y = _cell(_at(p))
    near = (q for i in (-1, 0, 1) for j in (-1, 0, 1) for q in there.get((x + i, y + j), ()))
    return any(_is_one(p, q) for q in near)


def _is_one(p: Piece, q: Piece) -> bool:
    """Whether two pieces are one, whichever end comes first."""
    if (p.center is None) != (q.center is None) or (p.a == p.b) != (q.a == q.b) or abs(p.radius - q.radius) > _ONE:
        return False
    if p.center is not None and q.center is not None and math.dist(p.center, q.center) > _ONE:
        return False
    if p.a == p.b:
        return True
    straight = max(math.dist(p.a, q.a), math.dist(p.b, q.b))
    return min(straight, max(math.dist(p.a, q.b), math.dist(p.b, q.a))) < _ONE


def _at(p: Piece) -> XY:
    """One place of a piece that its image has at the image of that place."""
    if p.center is not None and p.a == p.b:
        return p.center
    return (p.a[0] + p.b[0]) / 2, (p.a[1] + p.b[1]) / 2


def _cell(at: XY) -> tuple[int, int]:
    return round(at[0] / _ONE), round(at[1] / _ONE)
