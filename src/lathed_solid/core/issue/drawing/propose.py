"""A sheet from nothing: which views the part asks for, at what scale, where they lie, and what is written by each."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec
import numpy as np

from ...drafting.sheet.compose import compose, extent
from ...drafting.sheet.homes import homes
from ...drafting.sheet.model import Cut, Label, Level, Sheet, SheetView, Way
from ...drafting.sheet.paper import INCH_SCALES, SCALES, frame_of
from ...drafting.sheet.seen import Seen
from ...drafting.sheet.title import Facts, notes_of, revised, title_box
from ...job.attachments import Store
from ...job.model import Content
from ...route.rebuild import Cache
from .facts import facts_of
from .views import seen

Box = tuple[float, float, float, float]
#: Between views, mm.
_GAP = 10.0
#: Larger paper is taken when a part would be drawn smaller than this.
_SMALLEST = 0.2
_METRIC, _INCH = ("A3", "A2", "A1", "A0"), ("ANSI B", "ANSI C", "ANSI D", "ANSI E")
#: Where views lie from the front one, columns to the right and rows up, in third angle.
_CELLS: dict[Way, tuple[int, int]] = {
    "front": (0, 0), "right": (1, 0), "left": (-1, 0), "top": (0, 1), "bottom": (0, -1), "back": (2, 0),
}  # fmt: skip


def proposed(
    content: Content, id_: str, size: str = "", cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None,
) -> tuple[Sheet, Seen]:  # fmt: skip
    """A whole sheet of the part, and what its views show. Raises CannotWrite when there is no part."""
    first = Sheet(id=id_, views=tuple(_candidates(content)))
    found = seen(content, first, cache, store, going)
    first = _with_views(first, found, content.turned)
    facts = facts_of(content, first, found, None)
    sizes = (size,) if size else _INCH if content.header.style.unit == "in" else _METRIC
    sheet = first
    for name in sizes:
        sheet = arranged(msgspec.structs.replace(first, size=name), found, facts, content)
        if sheet.scale_of(sheet.views[0]) >= _SMALLEST:
            break
    return sheet, found


def _candidates(content: Content) -> list[SheetView]:
    ways: tuple[Way, ...] = ("front", "right", "left", "top") if content.turned else ("front", "top", "right", "left")
    views = [SheetView(id=f"v{n}", way=w, hidden=not content.turned) for n, w in enumerate(ways, 1)]
    if content.turned:  # the upper half as it is seen, the lower one cut open
        views[0] = msgspec.structs.replace(views[0], cut=Cut(kind="half", levels=(Level(at="0"),)))
    return [*views, SheetView(id=f"v{len(views) + 1}", way="three faces", hidden=False, tangent=True, centres=False)]


def _with_views(sheet: Sheet, found: Seen, turned: bool) -> Sheet:
    """The views that something is written by, the front one, the picture; a turned part without a bore is not cut."""
    front = sheet.views[0]
    if turned and not _is_bored(found, front.id):
        plain = sheet.views[1:]
        sheet = msgspec.structs.replace(sheet, views=(msgspec.structs.replace(front, cut=None), *plain))
    wanted = homes(found.holds, sheet, found)
    views = tuple(v for v in sheet.views if v is sheet.views[0] or v.way == "three faces" or v.id in wanted.values())
    sheet = msgspec.structs.replace(sheet, views=views)
    labels = tuple(Label(number=n, view=wanted[n]) for n in (h.number for h in found.holds) if n in wanted)
    return msgspec.structs.replace(sheet, labels=labels)


def _is_bored(found: Seen, view: str) -> bool:
    return bool(found.views[view].areas) and any(h.hole for h in found.holds)


def arranged(sheet: Sheet, found: Seen, facts: Facts, content: Content) -> Sheet:
    """The views laid out at the largest scale at which everything stands clear, with what was decided of the labels;
    the picture of three faces where there is room left for it, smaller if need be.
    """
    scales = INCH_SCALES if content.header.style.unit == "in" else SCALES
    return laid_out_at(sheet, found, facts, scales, content.header.projection == "first", [])


def laid_out_at(
    sheet: Sheet, found: Seen, facts: Facts, scales: Sequence[str], first_angle: bool, also: Sequence[Box]
) -> Sheet:
    """The same at one of ``scales``, clear of what ``also`` stands on the sheet."""
    flat = msgspec.structs.replace(sheet, views=tuple(v for v in sheet.views if v.way != "three faces"))
    made, boxes, by = flat, dict[str, Box](), (0.0, 0.0)
    for scale in scales:
        made, boxes = _placed(msgspec.structs.replace(flat, scale=scale), found, first_angle)
        if boxes and (moved := _fitted(boxes, made, [*_taken(made, facts), *also])) is not None:
            by = moved
            break
    views = [msgspec.structs.replace(v, at=(round(v.at[0] + by[0], 2), round(v.at[1] + by[1], 2))) for v in made.views]
    taken = [*((b[0] + by[0], b[1] + by[1], b[2] + by[0], b[3] + by[1]) for b in boxes.values())]
    taken += [*_taken(made, facts), *also]
    for view in sheet.views:
        if view.way == "three faces" and (at := _room_for(view, made, found, taken, scales)) is not None:
            views.append(at)
    made = msgspec.structs.replace(made, views=tuple(views))
    return msgspec.structs.replace(made, labels=compose(made, found, facts).labels)


def _taken(sheet: Sheet, facts: Facts) -> list[Box]:
    """What of a sheet is not for views."""
    return [title_box(sheet.size), notes_of(facts, sheet.size)[1], revised(facts.revisions, sheet.size)[1]]


def _room_for(
    view: SheetView, sheet: Sheet, found: Seen, taken: Sequence[Box], scales: Sequence[str]
) -> SheetView | None:
    """The view where it stands clear of everything, as far up and to the right as it can; None where it cannot."""
    left, bottom, right, top = frame_of(sheet.size)
    start = scales.index(sheet.scale)
    for scale in scales[start : start + 3]:
        tried = msgspec.structs.replace(view, at=(0.0, 0.0), scale="" if scale == sheet.scale else scale)
        box = extent(msgspec.structs.replace(sheet, views=(tried,)), tried, found)
        if box is None:
            return None
        for y in np.arange(top - 6.0 - box[3], bottom + 6.0 - box[1], -4.0):
            for x in np.arange(right - 6.0 - box[2], left + 6.0 - box[0], -4.0):
                there = (box[0] + x, box[1] + y, box[2] + x, box[3] + y)
                if not any(_near(there, t, 6.0) for t in taken):
                    return msgspec.structs.replace(tried, at=(round(float(x), 2), round(float(y), 2)))
    return None


def _placed(sheet: Sheet, found: Seen, first_angle: bool) -> tuple[Sheet, dict[str, Box]]:
    """Views in columns and rows about the front one, which has its zero at the sheet's."""
    zeroed = msgspec.structs.replace(sheet, views=tuple(msgspec.structs.replace(v, at=(0.0, 0.0)) for v in sheet.views))
    own = {v.id: box for v in zeroed.views if (box := extent(zeroed, v, found)) is not None}
    cells = {v.id: _cell(v, first_angle) for v in sheet.views if v.id in own}
    across = _lines({i: (c[0], own[i][0], own[i][2]) for i, c in cells.items()})
    upward = _lines({i: (c[1], own[i][1], own[i][3]) for i, c in cells.items()})
    views, boxes = [], {}
    for view in sheet.views:
        if view.id in own:
            at = across[cells[view.id][0]], upward[cells[view.id][1]]
            view = msgspec.structs.replace(view, at=at)
            b = own[view.id]
            boxes[view.id] = (b[0] + at[0], b[1] + at[1], b[2] + at[0], b[3] + at[1])
        views.append(view)
    return msgspec.structs.replace(sheet, views=tuple(views)), boxes


def _cell(view: SheetView, first_angle: bool) -> tuple[int, int]:
    column, row = _CELLS.get(view.way, (2, 1))
    return (-column, -row) if first_angle else (column, row)


def _lines(spans: dict[str, tuple[int, float, float]]) -> dict[int, float]:
    """Where the zeros of columns (or rows) lie, so that none meets its neighbour; that of number 0 is 0."""
    low: dict[int, float] = {}
    high: dict[int, float] = {}
    for n, a, b in spans.values():
        low[n], high[n] = min(low.get(n, a), a), max(high.get(n, b), b)
    at = {0: 0.0} if 0 in low else {min(low): 0.0}
    start = next(iter(at))
    for n in sorted(k for k in low if k > start):
        before = max(k for k in at if k < n)
        at[n] = at[before] + high[before] - low[n] + _GAP
    for n in sorted((k for k in low if k < start), reverse=True):
        before = min(k for k in at if k > n)
        at[n] = at[before] + low[before] - high[n] - _GAP
    return at


def _fitted(boxes: dict[str, Box], sheet: Sheet, taken: Sequence[Box]) -> tuple[float, float] | None:
    """How far all views are to be moved so that they lie in the frame, clear of what is ``taken``."""
    left, bottom, right, top = (v + s * 4.0 for v, s in zip(frame_of(sheet.size), (1, 1, -1, -1), strict=True))
    low = min(b[0] for b in boxes.values()), min(b[1] for b in boxes.values())
    high = max(b[2] for b in boxes.values()), max(b[3] for b in boxes.values())
    spare = right - left - (high[0] - low[0]), top - bottom - (high[1] - low[1])
    if min(spare) < 0:
        return None
    for share_y in (0.5, 0.65, 0.8, 1.0, 0.35, 0.2, 0.0):
        for share_x in (0.5, 0.35, 0.2, 0.0, 0.65, 0.8, 1.0):
            by = left - low[0] + share_x * spare[0], bottom - low[1] + share_y * spare[1]
            moved = [(b[0] + by[0], b[1] + by[1], b[2] + by[0], b[3] + by[1]) for b in boxes.values()]
            if not any(_near(b, t) for b in moved for t in taken):
                return by
    return None


def _near(a: Box, b: Box, room: float = 4.0) -> bool:
    return a[0] < b[2] + room and b[0] < a[2] + room and a[1] < b[3] + room and b[1] < a[3] + room
