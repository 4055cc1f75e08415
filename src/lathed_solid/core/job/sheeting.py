"""The drawing sheets of a job: put in, taken out, changed, and kept in step with the ledger."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import msgspec

from ..drafting.sheet import changing
from ..drafting.sheet.model import Sheet
from .model import Content


def without(sheets: Sequence[Sheet], number: int) -> tuple[Sheet, ...]:
    """Sheets without a callout that is no more."""
    return tuple(changing.remove_label(s, number) if s.label(number) else s for s in sheets)


def renumbered(sheets: Sequence[Sheet], numbers: Mapping[int, int]) -> tuple[Sheet, ...]:
    """Sheets after the balloons were numbered anew."""
    return tuple(
        msgspec.structs.replace(
            s, labels=tuple(msgspec.structs.replace(e, number=numbers.get(e.number, e.number)) for e in s.labels)
        )
        for s in sheets
    )


def with_sheet(content: Content, sheet: Sheet) -> Content:
    """A sheet put in the place of the one of its id, or added at the end."""
    return msgspec.structs.replace(content, sheets=changing.put(content.sheets, sheet))


def changed(content: Content, id_: str, change: Callable[[Sheet], Sheet]) -> Content:
    """One sheet changed. Raises NoSuchView."""
    return with_sheet(content, change(content.drawing_sheet(id_)))
