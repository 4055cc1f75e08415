"""Lengths of a view: which callouts are written on lines of their own, and where those run, level, upright, slanted."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

import msgspec

from .blocks import Box, Line, meet
from .lanes import Length, in_lanes, lane_at, out_of_the_way, with_text, written
from .leaders import Written, runs_through
from .model import Beside, Label
from .placing import Placing
from .running import from_one_end, told_at_ends
from .scene import XY
from .seen import LEVEL, Hold, places_at_level


def length_of(placing: Placing, hold: Hold, label: Label, text: Line) -> Length | None:
    """A length that runs level or upright in the view; None for any other."""
    run = hold.run
    if run is None or placing.detail is not None:
        return None
    way = placing.ways(run.way)
    level, upright = abs(abs(way[0]) - 1) < 1e-6, abs(abs(way[1]) - 1) < 1e-6
    if not level and not upright:
        return None
    k = 0 if level else 1
    flats = [placing.flat(run.a), placing.flat(run.b)]
    if not all(placing.holds_place(p) for p in flats):
        return None
    ends = [placing.at(p)[k] for p in flats]
    shown = [_at_level(placing, f, flat, k) for f, flat in zip(run.faces, flats, strict=True)]
    if not any(f and s for f, s in zip(run.faces, shown, strict=True)):
        return None
    box = placing.box()
    assert box is not None
    side = label.side or _lane_side(shown, box, level)
    near = [
        _nearest_to_lane(s, end, side, placing.at(flat), k) for s, end, flat in zip(shown, ends, flats, strict=True)
    ]
    if ends[0] > ends[1]:
        ends, near = ends[::-1], near[::-1]
    size = abs((flats[1][0] - flats[0][0]) if level else (flats[1][1] - flats[0][1]))
    decided = msgspec.structs.replace(label, side=side)
    return Length(decided, text, level, ends[0], ends[1], (near[0], near[1]), size)


def across(placing: Placing, hold: Hold, label: Label, text: Line) -> Length | None:
    """A diameter written across the part, its axis level or upright in the view: beside an end past which nothing of
    the part is thicker, so that no line of it is crossed; None where there is no such end.
    """
    girth, box = hold.girth, placing.box()
    if girth is None or box is None or not placing.is_plain:
        return None
    way = placing.ways(girth.axis)
    level, upright = abs(abs(way[1]) - 1) < 1e-6, abs(abs(way[0]) - 1) < 1e-6  # of the line, square to the axis
    if not level and not upright:
        return None
    k = 0 if level else 1
    before = label if label.tip is None else msgspec.structs.replace(label, side="", rank=-1, tip=None, height=None)
    sides: tuple[Beside, Beside] = ("below", "above") if level else ("left", "right")
    free = list[tuple[float, Beside, XY, XY]]()
    for place in girth.places:
        amid = placing.flat(place)
        low, high = (tuple(c + s * girth.radius * (n == k) for n, c in enumerate(amid)) for s in (-1, 1))
        if not all(_ends_at(placing, girth.face, end, k, True) for end in (low, high)):  # type: ignore[arg-type]
            continue
        for side, sign in zip(sides, (-1.0, 1.0), strict=True):
            if not _is_thicker(placing, amid, girth.radius, k, sign):
                edge = box[1 - k] if sign < 0 else box[3 - k]
                far = abs(placing.at(amid)[1 - k] - edge)
                free.append((far, side, placing.at(low), placing.at(high)))  # type: ignore[arg-type]
    free = [f for f in free if f[1] == before.side] or free
    if not free:
        return None
    _, side, a, b = min(free, key=lambda f: f[0])
    return Length(msgspec.structs.replace(before, side=side), text, level, a[k], b[k], (a, b), 2 * girth.radius)


def _is_thicker(placing: Placing, amid: XY, radius: float, k: int, sign: float) -> bool:
    """Whether the part is somewhere past a place, to that side, as thick as the diameter or thicker."""
    for stroke in placing.seen.strokes:
        for p in stroke.points if stroke.visible else ():
            if sign * (p[1 - k] - amid[1 - k]) > LEVEL and abs(p[k] - amid[k]) > radius - LEVEL:
                return True
    return False


def _at_level(placing: Placing, face: int, flat: XY, k: int) -> list[XY]:
    """Where a face is seen at the place a length ends; where it is only hidden, if hidden lines are drawn."""
    for visible in (True, False) if placing.view.hidden else (True,):
        if found := _ends_at(placing, face, flat, k, visible):
            return found
    return []


def _ends_at(placing: Placing, face: int, flat: XY, k: int, visible: bool) -> list[XY]:
    places = places_at_level(placing.seen, face, flat, k, visible)
    return [placing.at(p) for p in places if placing.holds_place(p)]


def _lane_side(shown: Sequence[Sequence[XY]], box: Box, level: bool) -> Beside:
    """The side that is nearer to what the length ends at; below and right where both are alike."""
    places = [p for s in shown for p in s]
    k = 1 if level else 0
    low = sum(min(p[k] for p in s) - box[k] for s in shown if s) if places else 0.0
    high = sum(box[k + 2] - max(p[k] for p in s) for s in shown if s) if places else 0.0
    if level:
        return "below" if low <= high + 1.0 else "above"
    return "right" if high <= low + 1.0 else "left"


def _nearest_to_lane(shown: Sequence[XY], end: float, side: Beside, at: XY, k: int) -> XY:
    """Where an extension line starts: as near to its lane as the part is there."""
    away = {"below": -1.0, "left": -1.0}.get(side, 1.0)
    best = max(shown, key=lambda p: away * p[1 - k], default=at)
    return (end, best[1]) if k == 0 else (best[0], end)


def beside(
    lengths: Sequence[Length], box: Box, running: bool = False, lines: Sequence[tuple[XY, XY]] = (),
    before: Sequence[Written] = (),
) -> list[Written]:  # fmt: skip
    """Each on its line beside the view; texts keep clear of extension lines, and where they can of ``lines`` and of the
    texts of other sides, as those stood ``before`` that. Those from one end share a line where that is to be
    (``running``).
    """
    found, standing = list[Written](), {w.label.number: w for w in before}
    for side in ("below", "above", "left", "right"):
        own = [i for i in lengths if i.label.side == side]
        zero, shared, own = from_one_end(own) if running else (0.0, [], own)
        laid = in_lanes([with_text(i, own) for i in own])
        if lines or standing:
            others = [w for w in standing.values() if w.label.side != side]
            laid = out_of_the_way(laid, partial(_hits, box, side, own, lines, others))
        for item, lane in laid:
            of = f"label:{item.label.number}"
            mark, text = written(item, lane_at(box, side, lane), of)
            found.append(Written(msgspec.structs.replace(item.label, rank=lane), (mark,), text))
            standing |= {item.label.number: found[-1]} if before else {}
        if shared:
            lane, out = max((n + 1 for _, n in laid), default=0), -1.0 if side in ("below", "left") else 1.0
            drawn = told_at_ends(shared, zero, lane_at(box, side, lane), out)
            found += [Written(msgspec.structs.replace(i.label, rank=-1), (mark,), text) for i, mark, text in drawn]
    return found


def _hits(
    box: Box, side: str, own: Sequence[Length], lines: Sequence[tuple[XY, XY]], others: Sequence[Written],
    item: Length, lane: int,
) -> int:  # fmt: skip
    """How many of the lines, and of other lengths' extension lines, run through its text, and how many texts of
    ``others`` it lies on.
    """
    _, text = written(item, lane_at(box, side, lane), "")
    k = 0 if item.level else 1
    ends = [e for o in own if o.label.number != item.label.number for e in (o.low, o.high)]
    through = sum(runs_through(a, b, text) for a, b in lines) + sum(text[k] < e < text[k + 2] for e in ends)
    return through + sum(meet(text, w.box) for w in others)


def by_hand(placing: Placing, item: Length) -> Written:
    assert item.label.at is not None
    x, y = placing.view.at[0] + item.label.at[0], placing.view.at[1] + item.label.at[1]
    mark, text = written(
        item._replace(amid=x if item.level else y), y if item.level else x, f"label:{item.label.number}"
    )
    return Written(item.label, (mark,), text)
