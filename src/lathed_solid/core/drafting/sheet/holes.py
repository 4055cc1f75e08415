"""A table of holes: each tagged in the view that shows it end-on, with its place from machine zero and its note."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from .blocks import Box, meet
from .model import XY, Sheet
from .placing import Placing
from .scene import Mark, Path, Words
from .seen import Hold, Seen, SeenView
from .words import drawable, width

#: Height of rows, of their text, and of the tags (mm).
_ROW, _TEXT, _TAG = 5.0, 2.0, 2.2
#: Holes nearer than this are one (mm of the part).
_ONE = 1e-3
#: Letters that no note begins with: C5 would be read as a chamfer, R3 as a radius, M6, G1 and T8 as threads.
_LETTERS = "ABDEFHJKLNPQUVWXYZ"


class Tagged(NamedTuple):
    """One hole: its tag, the view that shows it, its place there and its radius (mm of the part), and its note."""

    tag: str
    view: str
    place: XY
    radius: float
    note: str


def tagged(sheet: Sheet, seen: Seen) -> list[Tagged]:
    """The holes of a sheet, by callout and then from left to right and upwards."""
    found: list[Tagged] = []
    for hold in seen.holds:
        if not hold.alike or len(found) > 200:
            continue
        view, places = _best(hold, sheet, seen)
        letter = _letter(len({t.tag.rstrip("0123456789") for t in found}))
        ordered = sorted(places, key=lambda p: (round(p[0][1], 2), round(p[0][0], 2)))
        for n, (place, radius) in enumerate(ordered, 1):
            found.append(Tagged(f"{letter}{n}", view, place, radius, hold.text if n == 1 else ""))
    return found


def _letter(n: int) -> str:
    return _LETTERS[n] if n < len(_LETTERS) else f"Z{n}"


def _best(hold: Hold, sheet: Sheet, seen: Seen) -> tuple[str, list[tuple[XY, float]]]:
    """The view that shows most of a callout's holes end-on, and where."""
    best: tuple[str, list[tuple[XY, float]]] = ("", [])
    for view in sheet.views:
        if view.detail is None and view.cut is None and view.way != "three faces" and view.id in seen.views:
            places = _circles(hold, seen.views[view.id])
            if len(places) > len(best[1]):
                best = (view.id, places)
    return best


def _circles(hold: Hold, view: SeenView) -> list[tuple[XY, float]]:
    """Middles and radii of the whole circles that a callout's holes leave."""
    own, found = set(hold.alike), dict[tuple[int, int], tuple[XY, float]]()
    for stroke in view.strokes:
        if stroke.visible and stroke.arc is not None and own & set(stroke.faces) and abs(stroke.arc.sweep) > 1.0:
            at = stroke.arc.center
            key = (round(at[0] / _ONE), round(at[1] / _ONE))
            if key not in found or found[key][1] < stroke.arc.radius:
                found[key] = (at, stroke.arc.radius)
    return list(found.values())


def marked(
    sheet: Sheet, seen: Seen, holes: Sequence[Tagged], length: Callable[[float], str], taken: Sequence[Box]
) -> Iterator[Mark]:
    """The tags beside the holes, and the table."""
    boxes = list(taken)
    for hole in holes:
        view = sheet.view(hole.view)
        placing = Placing(sheet, view, seen.views[view.id])
        x, y = placing.at(hole.place)
        out = hole.radius * placing.scale * 0.71 + 0.6
        wide = width(hole.tag, _TAG)
        left, low = x - out - wide, y - out - _TAG
        corners = [(x + out, y + out), (left, y + out), (x + out, low), (left, low)]
        at = next((c for c in corners if not any(meet(_box(c, wide), b) for b in boxes)), corners[0])
        boxes.append(_box(at, wide))
        yield Words(hole.tag, at, _TAG, of=f"view:{view.id}")
    yield from _table(sheet, holes, length)


def _box(at: XY, wide: float) -> Box:
    return at[0] - 0.3, at[1] - 0.3, at[0] + wide + 0.3, at[1] + _TAG + 0.3


def table_rows(holes: Sequence[Tagged], length: Callable[[float], str]) -> list[tuple[str, str, str, str]]:
    """What the table says, its heads first."""
    rows = [("Hole", "X", "Y", "Size")]
    for hole in holes:
        rows.append((hole.tag, length(hole.place[0]), length(hole.place[1]), drawable(hole.note) or "as above"))
    return rows


def table_box(sheet: Sheet, holes: Sequence[Tagged], length: Callable[[float], str]) -> Box | None:
    """Where the table stands; None without one."""
    if sheet.holes is None or not holes:
        return None
    rows = table_rows(holes, length)
    x, y = sheet.holes
    return x, y, x + sum(_widths(rows)), y + len(rows) * _ROW


def _widths(rows: Sequence[tuple[str, ...]]) -> list[float]:
    return [max(width(row[k], _TEXT) for row in rows) + 3.0 for k in range(4)]


def _table(sheet: Sheet, holes: Sequence[Tagged], length: Callable[[float], str]) -> Iterator[Mark]:
    box = table_box(sheet, holes, length)
    if box is None:
        return
    rows, of = table_rows(holes, length), "table:holes"
    widths = _widths(rows)
    for n, row in enumerate(rows):
        y, x = box[3] - (n + 1) * _ROW, box[0]
        yield Path("table", ((box[0], y), (box[2], y)), of)
        for text, wide in zip(row, widths, strict=True):
            yield Words(text, (x + 1.5, y + 1.5), _TEXT, of=of)
            x += wide
    yield Path("table", ((box[0], box[3]), (box[2], box[3])), of)
    x = box[0]
    for wide in (*widths, 0.0):
        yield Path("table", ((x, box[1]), (x, box[3])), of)
        x += wide
