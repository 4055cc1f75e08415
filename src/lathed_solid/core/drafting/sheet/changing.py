"""A sheet as it is changed, and the sheets that a document has: pure functions from sheets to sheets."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import msgspec

from ...refusal import Refusal
from .model import NAMED_CUTS, XY, Detail, Label, NoSuchView, Sheet, SheetView, ratio
from .paper import frame_of, size_of

#: Views whose zeros are nearer than this in one direction are in line there (mm).
_IN_LINE = 0.01
#: Letters of sections and details: I, O and Q are left out, as in revisions.
_LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"
#: Sheets and views of one document that anybody means.
MOST_SHEETS, MOST_VIEWS = 50, 40


# --- all sheets of a document
def fresh_id(sheets: Sequence[Sheet]) -> str:
    """The id of a sheet that is to come. Raises Refusal when there are more than anybody means."""
    if len(sheets) >= MOST_SHEETS:
        raise Refusal(f"There are {MOST_SHEETS} sheets already. Remove one first.")
    return _free({s.id for s in sheets}, "d")


def _free(taken: set[str], prefix: str) -> str:
    return next(name for n in range(1, len(taken) + 2) if (name := f"{prefix}{n}") not in taken)


def called(sheets: Sequence[Sheet], id_: str) -> Sheet:
    """Raises NoSuchView."""
    for sheet in sheets:
        if sheet.id == id_:
            return sheet
    raise NoSuchView("This drawing sheet is no longer there.")


def put(sheets: Sequence[Sheet], sheet: Sheet) -> tuple[Sheet, ...]:
    """A sheet in the place of the one of its id, or at the end."""
    if any(s.id == sheet.id for s in sheets):
        return tuple(sheet if s.id == sheet.id else s for s in sheets)
    return (*sheets, sheet)


def taken_out(sheets: Sequence[Sheet], id_: str) -> tuple[Sheet, ...]:
    """Raises NoSuchView."""
    gone = called(sheets, id_)
    return tuple(s for s in sheets if s is not gone)


def set_sheet(sheet: Sheet, **fields: Any) -> Sheet:
    """Change what a sheet says of itself. Raises Refusal for paper or a scale there is not."""
    if "size" in fields:
        size_of(fields["size"])
    if "scale" in fields:
        ratio(fields["scale"])
    return msgspec.structs.replace(sheet, **fields)


# --- views
def add_view(sheet: Sheet, view: SheetView) -> tuple[Sheet, str]:
    """A view more; its id is given here, and its letter if it is a section seen as such or a detail. Raises Refusal."""
    if len(sheet.views) >= MOST_VIEWS:
        raise Refusal(f"There are {MOST_VIEWS} views on this sheet already. Take another sheet.")
    if view.scale:
        ratio(view.scale)
    named = view.detail is not None or (view.cut is not None and view.cut.kind in NAMED_CUTS)
    letter = view.letter or (_free_letter(sheet) if named else "")
    made = msgspec.structs.replace(view, id=_free({v.id for v in sheet.views}, "v"), letter=letter)
    return _with_views(sheet, (*sheet.views, made)), made.id


def _free_letter(sheet: Sheet) -> str:
    taken = {v.letter for v in sheet.views}
    return next((c for c in _LETTERS if c not in taken), f"Z{len(sheet.views)}")


def set_view(sheet: Sheet, view: str, **fields: Any) -> Sheet:
    """Change one view. Raises Refusal for a scale there is not."""
    if fields.get("scale"):
        ratio(fields["scale"])
    made = msgspec.structs.replace(sheet.view(view), **fields)
    return _with_views(sheet, [made if v.id == view else v for v in sheet.views])


def remove_view(sheet: Sheet, view: str) -> Sheet:
    """A view goes with the details of it; what was written by them is on no view any more."""
    sheet.view(view)
    gone = {view, *(v.id for v in sheet.views if v.detail is not None and v.detail.of == view)}
    labels = tuple(e for e in sheet.labels if e.view not in gone)
    rest = _with_views(sheet, [v for v in sheet.views if v.id not in gone])
    return msgspec.structs.replace(rest, labels=labels)


def move_view(sheet: Sheet, view: str, by: XY) -> Sheet:
    """Move a view on its sheet (mm); what is in line with it beside it or above it stays in line."""
    moved = sheet.view(view)

    def there(v: SheetView) -> SheetView:
        free = v.detail is not None or moved.detail is not None or "three faces" in (v.way, moved.way)
        if v.id != view and free:
            return v
        dx = by[0] if v.id == view or abs(v.at[0] - moved.at[0]) < _IN_LINE else 0.0
        dy = by[1] if v.id == view or abs(v.at[1] - moved.at[1]) < _IN_LINE else 0.0
        return msgspec.structs.replace(v, at=(v.at[0] + dx, v.at[1] + dy)) if dx or dy else v

    return _with_views(sheet, [there(v) for v in sheet.views])


def _with_views(sheet: Sheet, views: Iterable[SheetView]) -> Sheet:
    return msgspec.structs.replace(sheet, views=tuple(views))


def detail_of(sheet: Sheet, view: str, middle: XY, radius: float, at: XY, scale: str) -> SheetView:
    """A circle of a view drawn larger; of a detail, of the view that it is of."""
    source = sheet.view(view)
    of = source.detail.of if source.detail is not None else view
    kept = sheet.view(of)
    detail = Detail(of=of, middle=middle, radius=radius)
    return msgspec.structs.replace(kept, id="", at=at, scale=scale, letter="", detail=detail, breaks=())


# --- tables
def show_holes(sheet: Sheet, on: bool) -> Sheet:
    """A table of the holes, in the lower left corner until it is moved; or none."""
    left, bottom, _, _ = frame_of(sheet.size)
    return msgspec.structs.replace(sheet, holes=(left + 4.0, bottom + 4.0) if on else None)


def move_holes(sheet: Sheet, by: XY) -> Sheet:
    """The table of holes moved on the sheet (mm)."""
    at = sheet.holes
    return sheet if at is None else msgspec.structs.replace(sheet, holes=(at[0] + by[0], at[1] + by[1]))


# --- what is written
def set_labels(sheet: Sheet, labels: Sequence[Label]) -> Sheet:
    """What was decided about labels, in place of what was known of those numbers; new ones are added."""
    by_number = {e.number: e for e in labels}
    kept = tuple(by_number.pop(e.number, e) for e in sheet.labels)
    return msgspec.structs.replace(sheet, labels=(*kept, *by_number.values()))


def place_label(sheet: Sheet, number: int, at: XY | None) -> Sheet:
    """Put a label by hand (mm of paper from its view's zero), or let it stand by itself again (None)."""
    label = sheet.label(number)
    if label is None:
        raise Refusal(f"Number {number} is not on this sheet.")
    fresh: dict[str, Any] = (
        {"at": at} if at is not None else {"at": None, "side": "", "rank": -1, "tip": None, "height": None}
    )
    return set_labels(sheet, [msgspec.structs.replace(label, **fresh)])


def remove_label(sheet: Sheet, number: int) -> Sheet:
    return msgspec.structs.replace(sheet, labels=tuple(e for e in sheet.labels if e.number != number))
