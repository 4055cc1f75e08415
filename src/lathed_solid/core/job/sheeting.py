"""Drawing sheets as they are changed: pure functions from sheets to sheets."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import msgspec

from ..drafting.sheet.model import NAMED_CUTS, XY, Detail, Label, Sheet, SheetView, ratio
from ..drafting.sheet.paper import frame_of, size_of
from ..refusal import Refusal
from .model import Content, fresh_id

#: Views whose zeros are nearer than this in one direction are in line there (mm).
_IN_LINE = 0.01
#: Letters of sections and details: I, O and Q are left out, as in revisions.
_LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"
#: Sheets and views of one job that anybody means.
MOST_SHEETS, MOST_VIEWS = 50, 40


def without(sheets: Sequence[Sheet], number: int) -> tuple[Sheet, ...]:
    """Sheets without a callout that is no more."""
    return tuple(
        msgspec.structs.replace(s, labels=tuple(e for e in s.labels if e.number != number)) if s.label(number) else s
        for s in sheets
    )


def renumbered(sheets: Sequence[Sheet], numbers: Mapping[int, int]) -> tuple[Sheet, ...]:
    """Sheets after the balloons were numbered anew."""
    return tuple(
        msgspec.structs.replace(
            s, labels=tuple(msgspec.structs.replace(e, number=numbers.get(e.number, e.number)) for e in s.labels)
        )
        for s in sheets
    )


def not_on_any(content: Content) -> tuple[int, ...]:
    """The callouts that no sheet has, in the ledger's order."""
    there = {e.number for s in content.sheets for e in s.labels}
    return tuple(c.number for c in content.callouts if c.number not in there)


# --- sheets
def fresh_sheet_id(content: Content) -> str:
    """The id of a sheet that is to come. Raises Refusal when there are more than anybody means."""
    if len(content.sheets) >= MOST_SHEETS:
        raise Refusal(f"There are {MOST_SHEETS} sheets already. Remove one first.")
    return fresh_id({s.id for s in content.sheets}, "d")


def with_sheet(content: Content, sheet: Sheet) -> Content:
    """A sheet put in the place of the one of its id, or added at the end."""
    if any(s.id == sheet.id for s in content.sheets):
        sheets = tuple(sheet if s.id == sheet.id else s for s in content.sheets)
    else:
        sheets = (*content.sheets, sheet)
    return msgspec.structs.replace(content, sheets=sheets)


def without_sheet(content: Content, id_: str) -> Content:
    content.drawing_sheet(id_)
    return msgspec.structs.replace(content, sheets=tuple(s for s in content.sheets if s.id != id_))


def set_sheet(content: Content, id_: str, **fields: Any) -> Content:
    """Change what a sheet says of itself. Raises Refusal for paper or a scale there is not."""
    if "size" in fields:
        size_of(fields["size"])
    if "scale" in fields:
        ratio(fields["scale"])
    return with_sheet(content, msgspec.structs.replace(content.drawing_sheet(id_), **fields))


# --- views
def add_view(content: Content, id_: str, view: SheetView) -> tuple[Content, str]:
    """A view more; its id is given here, and its letter if it is a section seen as such or a detail. Raises Refusal."""
    sheet = content.drawing_sheet(id_)
    if len(sheet.views) >= MOST_VIEWS:
        raise Refusal(f"There are {MOST_VIEWS} views on this sheet already. Take another sheet.")
    if view.scale:
        ratio(view.scale)
    named = view.detail is not None or (view.cut is not None and view.cut.kind in NAMED_CUTS)
    letter = view.letter or (_free_letter(sheet) if named else "")
    made = msgspec.structs.replace(view, id=fresh_id({v.id for v in sheet.views}, "v"), letter=letter)
    return with_sheet(content, msgspec.structs.replace(sheet, views=(*sheet.views, made))), made.id


def _free_letter(sheet: Sheet) -> str:
    taken = {v.letter for v in sheet.views}
    return next((c for c in _LETTERS if c not in taken), f"Z{len(sheet.views)}")


def set_view(content: Content, id_: str, view: str, **fields: Any) -> Content:
    """Change one view. Raises Refusal for a scale there is not."""
    if fields.get("scale"):
        ratio(fields["scale"])
    sheet = content.drawing_sheet(id_)
    made = msgspec.structs.replace(sheet.view(view), **fields)
    return with_sheet(content, _with_views(sheet, [made if v.id == view else v for v in sheet.views]))


def remove_view(content: Content, id_: str, view: str) -> Content:
    """A view goes with the details of it; what was written by them is on no view any more."""
    sheet = content.drawing_sheet(id_)
    sheet.view(view)
    gone = {view, *(v.id for v in sheet.views if v.detail is not None and v.detail.of == view)}
    labels = tuple(e for e in sheet.labels if e.view not in gone)
    rest = _with_views(sheet, [v for v in sheet.views if v.id not in gone])
    return with_sheet(content, msgspec.structs.replace(rest, labels=labels))


def move_view(content: Content, id_: str, view: str, by: XY) -> Content:
    """Move a view on its sheet (mm); what is in line with it beside it or above it stays in line."""
    sheet = content.drawing_sheet(id_)
    moved = sheet.view(view)

    def there(v: SheetView) -> SheetView:
        free = v.detail is not None or moved.detail is not None or "three faces" in (v.way, moved.way)
        if v.id != view and free:
            return v
        dx = by[0] if v.id == view or abs(v.at[0] - moved.at[0]) < _IN_LINE else 0.0
        dy = by[1] if v.id == view or abs(v.at[1] - moved.at[1]) < _IN_LINE else 0.0
        return msgspec.structs.replace(v, at=(v.at[0] + dx, v.at[1] + dy)) if dx or dy else v

    return with_sheet(content, _with_views(sheet, [there(v) for v in sheet.views]))


def _with_views(sheet: Sheet, views: Iterable[SheetView]) -> Sheet:
    return msgspec.structs.replace(sheet, views=tuple(views))


def detail_of(sheet: Sheet, view: str, middle: XY, radius: float, at: XY, scale: str) -> SheetView:
    """A circle of a view drawn larger; of a detail, of the view that it is of."""
    source = sheet.view(view)
    of = source.detail.of if source.detail is not None else view
    kept = sheet.view(of)
    detail = Detail(of=of, middle=middle, radius=radius)
    return msgspec.structs.replace(kept, id="", at=at, scale=scale, letter="", detail=detail, breaks=())


def show_holes(content: Content, id_: str, on: bool) -> Content:
    """A table of the holes, in the lower left corner until it is moved; or none."""
    left, bottom, _, _ = frame_of(content.drawing_sheet(id_).size)
    return set_sheet(content, id_, holes=(left + 4.0, bottom + 4.0) if on else None)


def move_holes(content: Content, id_: str, by: XY) -> Content:
    """The table of holes moved on the sheet (mm)."""
    at = content.drawing_sheet(id_).holes
    return content if at is None else set_sheet(content, id_, holes=(at[0] + by[0], at[1] + by[1]))


# --- callouts on sheets
def set_labels(content: Content, id_: str, labels: Sequence[Label]) -> Content:
    """What was decided about labels, in place of what was known of those callouts; new ones are added."""
    sheet = content.drawing_sheet(id_)
    by_number = {e.number: e for e in labels}
    kept = tuple(by_number.pop(e.number, e) for e in sheet.labels)
    return with_sheet(content, msgspec.structs.replace(sheet, labels=(*kept, *by_number.values())))


def place_label(content: Content, id_: str, number: int, at: XY | None) -> Content:
    """Put a callout by hand (mm of paper from its view's zero), or let it stand by itself again (None)."""
    label = content.drawing_sheet(id_).label(number)
    if label is None:
        raise Refusal(f"Callout {number} is not on this sheet.")
    fresh: dict[str, Any] = (
        {"at": at} if at is not None else {"at": None, "side": "", "rank": -1, "tip": None, "height": None}
    )
    return set_labels(content, id_, [msgspec.structs.replace(label, **fresh)])


def remove_label(content: Content, id_: str, number: int) -> Content:
    sheet = content.drawing_sheet(id_)
    return with_sheet(
        content, msgspec.structs.replace(sheet, labels=tuple(e for e in sheet.labels if e.number != number))
    )
