"""Callouts that a leader leads to, in columns left and right of their view: in the order of what they point at, none
over another, moved no more than they must be.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

import msgspec

from ...kernel.draw.strokes import Stroke
from ..columns import stacked
from .blocks import CLEAR, Block, Box, boxed, leader, meet
from .model import Beside, Label
from .placing import Placing, places_of
from .scene import XY, Mark, Path, Sized
from .seen import Hold
from .slanted import Slanted

#: From the view to a column, the level piece of a leader (mm).
_COLUMN, _SHOULDER = 11.0, 2.5
_ROUNDS = 3
#: From the corner to the first sign that stands on a line, and from one to the next (mm).
_FIRST, _NEXT = 4.0, 7.0
#: What of a column that is higher than its view lies below it, and how far all of it is moved (mm), as they are tried.
_TRIES = ((0.5, 0.0), (0.0, 0.0), (1.0, 0.0), (0.5, 6.0), (0.5, -6.0), (0.0, 12.0), (1.0, -12.0))
_SIDES: tuple[Beside, Beside] = ("right", "left")


class Written(NamedTuple):
    """A callout as it stands: its label with what was decided, how it is drawn, and the box of its text."""

    label: Label
    marks: tuple[Mark, ...]
    box: Box


class Leader(NamedTuple):
    """A callout that a leader leads to: the places it may point at, the one it does, and its block."""

    label: Label
    block: Block
    places: tuple[XY, ...]
    tip: XY
    #: A slanted length on its line, to the middle of which the leader leads.
    line: Slanted | None = None
    #: Straight lines of what it points at, on one of which a datum's triangle stands.
    lines: tuple[tuple[XY, XY], ...] = ()
    #: Which way a flat face looks in the view.
    out: XY | None = None


def pointable(placing: Placing, hold: Hold) -> list[XY]:
    """Where a leader may point: on lines of the face that is meant, where that is seen; else of others it takes hold
    of; on hidden ones when nothing else shows them and they are drawn.
    """
    for visible in (True, False) if placing.view.hidden else (True,):
        for wanted in (set(hold.faces[:1]) | set(hold.alike), set(hold.faces)):
            strokes = [
                s
                for s in placing.seen.strokes
                if s.visible is visible
                and wanted & set(s.faces)
                and (s.kind != "tangent" or (placing.view.tangent and visible))
            ]
            found = [p for s in _telling(placing, hold, strokes) for p in places_of(s) if placing.holds_place(p)]
            if found:
                return [placing.at(p) for p in found]
    return []


def straight_lines(placing: Placing, hold: Hold) -> tuple[tuple[XY, XY], ...]:
    """The seen straight lines of the face that is meant, on the sheet."""
    own = set(hold.faces[:1])
    strokes = [s for s in placing.seen.strokes if s.visible and s.is_straight and own & set(s.faces)]
    told = [s for s in _telling(placing, hold, strokes) if s.is_straight]
    return tuple((placing.at(s.points[0]), placing.at(s.points[-1])) for s in told)


def standing_places(lines: Sequence[tuple[XY, XY]], nth: int) -> tuple[XY, ...]:
    """Where the ``nth`` of several signs stands on each line of a face: near both ends, clear of the others, and of the
    corners, where it would be another face's.
    """
    found: list[XY] = []
    for a, b in lines:
        size = math.dist(a, b)
        off = _FIRST + nth * _NEXT
        share = min(off / size, 0.5) if size > 1e-6 else 0.5
        found += [(a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])) for t in (share, 1 - share)]
    return tuple(found)


def _telling(placing: Placing, hold: Hold, strokes: Sequence[Stroke]) -> Sequence[Stroke]:
    """Of a round face seen from the side its outline: its ends belong to the flats beside it as well."""
    if hold.axis is None:
        return strokes
    u, v = placing.ways(hold.axis)
    if math.hypot(u, v) < 1 - 1e-6:
        return strokes
    along = [s for s in strokes if s.is_straight and _runs(s.points[0], s.points[1], u, v)]
    return along or strokes


def _runs(a: XY, b: XY, u: float, v: float) -> bool:
    """Whether a line runs along the axis, or leans to it as the side of a cone does."""
    along, across = (b[0] - a[0]) * u + (b[1] - a[1]) * v, (b[1] - a[1]) * u - (b[0] - a[0]) * v
    return abs(along) > 1e-6 and abs(across) < 20 * abs(along)


def kept_tip(placing: Placing, label: Label, places: Sequence[XY]) -> XY:
    """The place nearest to where the leader pointed before; the middle one for a new label."""
    if label.tip is not None:
        before = placing.at(label.tip)
        return min(places, key=lambda p: math.dist(p, before))
    mean = sum(p[0] for p in places) / len(places), sum(p[1] for p in places) / len(places)
    return min(places, key=lambda p: math.dist(p, mean))


def by_hand(placing: Placing, item: Leader) -> Written:
    label, block = item.label, item.block
    assert label.at is not None
    x, y = placing.view.at[0] + label.at[0], placing.view.at[1] + label.at[1]
    box = (x - block.width / 2, y - block.height / 2, x + block.width / 2, y + block.height / 2)
    tip = min(item.places, key=lambda p: math.dist(p, (x, y)))
    if label.tip is not None:
        tip = kept_tip(placing, label, item.places)
    return _led(placing, item._replace(tip=tip), box)


def _led(placing: Placing, item: Leader, box: Box) -> Written:
    """A block with its leader: a level piece beside the text, then straight to the tip."""
    label, block, tip = item.label, item.block, item.tip
    of, middle = f"label:{label.number}", (box[1] + box[3]) / 2
    on_right = tip[0] < (box[0] + box[2]) / 2
    edge = box[0] - block.clear if on_right else box[2] + block.clear
    knee = (edge - _SHOULDER if on_right else edge + _SHOULDER, middle)
    size = math.dist(knee, tip) or 1.0
    way = (tip[0] - knee[0]) / size, (tip[1] - knee[1]) / size
    last, foot = block.end(tip, way, of, _up(item, tip, way))
    end = item.line.marks if item.line is not None else (last,)
    to = tip if item.line is not None else foot
    marks = (*block.marks(box[0], middle, of), leader(((edge, middle), knee, to), of), *end)
    if item.line is not None and len(block.lines) == 1:
        # A length of its own, as the level ones are: what reads the sheet knows from where to where it runs.
        s = item.line
        words = " ".join((*block.lines, *(r.text for r in block.rows)))
        marks = (Sized(s.a, s.b, s.low, s.way, words, s.size, marks, block.amid(box), of),)
    x, y = placing.back(tip)
    return Written(msgspec.structs.replace(label, tip=(round(x, 4), round(y, 4))), marks, box)


def _up(item: Leader, tip: XY, way: XY) -> XY:
    """The unit way in which a datum's triangle stands on what its leader points at: away from the material of a flat
    face, upright on the line of a round one on the side the leader comes from.
    """
    if item.out is not None and math.hypot(*item.out) > 0.5:  # of a face that looks at the eye nothing is seen of it
        return item.out
    through = [(a, b) for a, b in item.lines if math.dist(a, tip) + math.dist(tip, b) < math.dist(a, b) + 1e-6]
    if not through:
        return -way[0], -way[1]
    (x, y), (z, w) = max(through, key=lambda s: math.dist(*s))
    size = math.dist((x, y), (z, w)) or 1.0
    u, v = -(w - y) / size, (z - x) / size
    return (u, v) if u * way[0] + v * way[1] < 0 else (-u, -v)


def in_columns(
    placing: Placing, leaders: Sequence[Leader], box: Box, laid: Sequence[Written], taken: Sequence[Box]
) -> list[Written]:
    """Blocks in a column on each side, in the order of what they point at, none over another."""
    sides = _sides(leaders, box, laid)
    found: list[Written] = []
    for side in ("left", "right"):
        members = _in_order([i for i, s in zip(leaders, sides, strict=True) if s == side])
        found += _best_column(placing, members, side, box, laid, taken)
    return found


def _best_column(
    placing: Placing, members: list[Leader], side: Beside, box: Box, laid: Sequence[Written], taken: Sequence[Box]
) -> list[Written]:
    """The column as it wants to stand; taken up or down where its leaders would run through the text of a length."""
    best: tuple[int, list[Written]] = (10**6, [])
    for share, by in _TRIES if members else ():
        made = _column(placing, list(members), side, box, laid, taken, share, by)
        through = _through(made, laid)
        if through < best[0]:
            best = through, made
        if not through:
            break
    return best[1]


def _through(column: Sequence[Written], laid: Sequence[Written]) -> int:
    """How many leaders run through the text of a length."""
    return sum(runs_through(a, b, w.box) for a, b in lines_of(column) for w in laid)


def lines_of(column: Sequence[Written]) -> list[tuple[XY, XY]]:
    """The straight pieces of their leaders."""
    every = itertools.chain.from_iterable(_drawn(m) for w in column for m in w.marks)
    paths = [m.points for m in every if isinstance(m, Path)]
    return [piece for points in paths for piece in itertools.pairwise(points)]


def _drawn(mark: Mark) -> tuple[Mark, ...]:
    """What a slanted length is drawn with; any other mark is itself."""
    if isinstance(mark, Sized) and mark.is_slanted:
        return mark.marks
    return (mark,)


def runs_through(a: XY, b: XY, box: Box) -> bool:
    """Whether a straight line runs through a box."""
    return any(
        box[0] < a[0] + t * (b[0] - a[0]) < box[2] and box[1] < a[1] + t * (b[1] - a[1]) < box[3]
        for t in (k / 40 for k in range(41))
    )


def _sides(leaders: Sequence[Leader], box: Box, laid: Sequence[Written]) -> list[Beside]:
    """The side of each: as before; else where no lanes stand, but for what lies at the other end of the view; else
    those that point farthest to the left go there, so that both are about equally full.
    """
    lanes = {w.label.side for w in laid}
    room: list[Beside] = [s for s in _SIDES if s not in lanes] or list(_SIDES)
    found: dict[int, Beside] = {i.label.number: i.label.side for i in leaders if i.label.side in _SIDES}
    fresh = [i for i in leaders if i.label.number not in found]
    fresh.sort(key=lambda i: sum(p[0] for p in i.places) / len(i.places))
    if len(room) == 1:
        other: Beside = "left" if room[0] == "right" else "right"
        found |= {i.label.number: other if _beyond_middle(i, box, other) else room[0] for i in fresh}
    else:
        on_left = sum(s == "left" for s in found.values())
        many = max(0, min(len(fresh), (len(leaders) + (not found and _is_left(fresh, box))) // 2 - on_left))
        found |= {i.label.number: "left" if n < many else "right" for n, i in enumerate(fresh)}
    return [found[i.label.number] for i in leaders]


def _beyond_middle(item: Leader, box: Box, side: Beside) -> bool:
    """Whether all that a leader may point at lies in that third of the view."""
    third = (box[2] - box[0]) / 3
    if side == "right":
        return min(p[0] for p in item.places) > box[2] - third
    return max(p[0] for p in item.places) < box[0] + third


def _is_left(fresh: Sequence[Leader], box: Box) -> bool:
    """Whether the middle one of those to be written points to the left half."""
    amid = fresh[len(fresh) // 2].places if fresh else ()
    return bool(amid) and sum(p[0] for p in amid) / len(amid) < (box[0] + box[2]) / 2


def _in_order(members: Sequence[Leader]) -> list[Leader]:
    """Those with a rank as before, new ones put in by the height of what they point at."""
    old = sorted((i for i in members if i.label.rank >= 0), key=lambda i: i.label.rank)
    for item in sorted(members, key=lambda i: i.tip[1]):
        if item.label.rank < 0:
            at = next((n for n, o in enumerate(old) if o.tip[1] > item.tip[1]), len(old))
            old.insert(at, item)
    return old


def _column(
    placing: Placing, members: list[Leader], side: Beside, box: Box, laid: Sequence[Written], taken: Sequence[Box],
    share: float, by: float,
) -> list[Written]:  # fmt: skip
    """One column; ``share`` of what it needs beyond the height of the view is taken below it, new ones are wanted
    ``by`` mm higher than what they point at.
    """
    out = _COLUMN + max([0.0, *(_beyond(b, box, side) for b in (w.box for w in laid))])
    edge = box[2] + out if side == "right" else box[0] - out
    low, high = (v + by for v in _range(members, box, share))
    middles: list[float] = []
    for _ in range(_ROUNDS):
        middles = _heights(placing, members, edge, side, (low, high), taken, by)
        members = [_pointed(m, (edge, y), placing) for m, y in zip(members, middles, strict=True)]
        if not _uncrossed(members, middles, edge):
            break
    found = []
    for rank, (item, y) in enumerate(zip(members, middles, strict=True)):
        left = edge if side == "right" else edge - item.block.width
        label = msgspec.structs.replace(item.label, side=side, rank=rank, height=round(y - placing.view.at[1], 3))
        found.append(_led(placing, item._replace(label=label), boxed(left, y, item.block.width, item.block.height)))
    return found


def _beyond(b: Box, box: Box, side: str) -> float:
    return b[2] - box[2] if side == "right" else box[0] - b[0]


def _range(members: Sequence[Leader], box: Box, share: float) -> tuple[float, float]:
    """From where to where a column reaches that is new: as high as the view, more where it needs more."""
    need = sum(m.block.height + 2 * CLEAR for m in members) + 2.0
    more = max(0.0, need - (box[3] - box[1]))
    return box[1] - share * more, box[3] + (1 - share) * more


def _heights(
    placing: Placing, members: Sequence[Leader], edge: float, side: str, span: tuple[float, float],
    taken: Sequence[Box], by: float,
) -> list[float]:  # fmt: skip
    """Heights of the blocks, in order: of those that stood before as far from there as what they point at has moved,
    and of the others as high as what they point at. What was put by hand is kept clear of.
    """
    kept = any(m.label.height is not None and m.label.tip is not None for m in members)
    low, high = (-1e6, 1e6) if kept else span
    wide = max(m.block.width for m in members)
    strip = (edge, -1e9, edge + wide, 1e9) if side == "right" else (edge - wide, -1e9, edge, 1e9)
    sizes = [m.block.height + 2 * CLEAR for m in members]
    middles = stacked([_wanted(placing, m, by) for m in members], sizes, low, high)
    for _ in range(8):  # whoever would lie on a taken box goes above or below it, and pushes its neighbours on
        hit = next(((n, b) for n, y in enumerate(middles) for b in taken if _lies_on(y, sizes[n], strip, b)), None)
        if hit is None:
            break
        n, b = hit
        if middles[n] >= (b[1] + b[3]) / 2:
            rest = [max(y, b[3]) for y in middles[n:]]
            middles[n:] = stacked(rest, sizes[n:], b[3], max(high, b[3] + sum(sizes[n:])))
        else:
            rest = [min(y, b[1]) for y in middles[: n + 1]]
            middles[: n + 1] = stacked(rest, sizes[: n + 1], min(low, b[1] - sum(sizes[: n + 1])), b[1])
    return middles


def _lies_on(y: float, size: float, strip: Box, b: Box) -> bool:
    return meet(strip, b) and y - size / 2 < b[3] and b[1] < y + size / 2


def _wanted(placing: Placing, item: Leader, by: float) -> float:
    label = item.label
    if label.height is None or label.tip is None:
        return item.tip[1] + by
    return placing.view.at[1] + label.height + item.tip[1] - placing.at(label.tip)[1]


def _pointed(item: Leader, at: XY, placing: Placing) -> Leader:
    """A new label points at the place nearest to it; one that pointed before keeps its place."""
    if item.label.tip is not None:
        return item
    return item._replace(tip=min(item.places, key=lambda p: math.dist(p, at)))


def _uncrossed(members: list[Leader], middles: Sequence[float], edge: float) -> bool:
    """Exchange neighbours whose leaders cross, in place; whether any did."""
    changed = False
    for _ in range(len(members) ** 2):
        pair = next(
            (
                (i, j)
                for i in range(len(members))
                for j in range(i + 1, len(members))
                if _cross((edge, middles[i]), members[i].tip, (edge, middles[j]), members[j].tip)
            ),
            None,
        )
        if pair is None:
            return changed
        i, j = pair
        members[i], members[j] = members[j], members[i]
        changed = True
    return changed


def _cross(a: XY, b: XY, c: XY, d: XY) -> bool:
    def side(p: XY, q: XY, r: XY) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < -1e-12 and side(c, d, a) * side(c, d, b) < -1e-12
