"""Numbers as they stand in the notes of callouts: where, how they are written, and the note with another."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from ..units import INCH
from . import edits
from .model import Content

#: A number as it is written in a note, mixed fractions taken whole.
SIZE = re.compile(r"\d+\s+\d+/\d+|\d+/\d+|\d*\.\d+|\d+")
#: How many there are, before the size; and what ends a thread's designation.
_MANY = re.compile(r"\s*\(?\d+\)?\s*[xX×]\s*")
_AFTER_THREAD = re.compile(r"\s[xX×]\s|\bthru\b", re.IGNORECASE)
#: What a number may state that is changed as a size is; a count besides.
SIZES = frozenset(("length", "diameter", "radius", "angle"))


class Number(NamedTuple):
    """One number in a callout's note: where it stands, how it is written, what it states, and its limits in the
    drawing's unit.
    """

    callout: int
    note: str
    span: tuple[int, int]
    text: str
    kind: str
    limits: tuple[float, float]

    @property
    def value(self) -> float:
        return value_of(self.text)

    def noted(self, text: str) -> str:
        """The note with the number written otherwise."""
        return self.note[: self.span[0]] + text + self.note[self.span[1] :]

    def read_as(self, content: Content, text: str) -> Content:
        """Raises NoteError or another Refusal when the note cannot be so."""
        return edits.edit_callout(content, self.callout, self.noted(text))


def numbers(content: Content, callout: int) -> Iterator[Number]:
    """The plain numbers of a callout that state a size or a count; not those of thread designations."""
    ledger = content.ledger()
    if ledger.error(callout) is not None:
        return
    note, found = ledger.callouts[callout].note, ledger.reading(callout).characteristics
    unit = INCH if content.header.units == "in" else 1.0
    many = _MANY.match(note) if any(c.key == "count" for c in found) else None
    begin = many.end() if many is not None else 0
    for size in found:
        if size.kind == "thread" and (said := _AFTER_THREAD.search(note, begin)) is not None:
            begin = said.start()
        if not size.nominal or size.kind not in (*SIZES, "count"):
            continue
        first = 0 if size.key == "count" else begin
        place = re.compile(rf"(?<![\d.]){re.escape(size.written)}(?![\d.])").search(note, first)
        if place is None:
            continue
        at = place.start()
        begin = max(begin, place.end())
        if (plain := SIZE.search(size.written)) is not None:
            span = (at + plain.start(), at + plain.end())
            yield Number(callout, note, span, plain[0], size.kind, (size.lower / unit, size.upper / unit))


def value_of(text: str) -> float:
    """What a number written as ``SIZE`` has it comes to: ``1 1/8`` is 1.125."""
    whole, _, fraction = text.rpartition(" ") if " " in text else ("0", "", text)
    top, _, bottom = fraction.partition("/")
    return float(whole) + float(top) / float(bottom or 1)
