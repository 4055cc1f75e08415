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
#: What ends a thread's designation.
_AFTER_THREAD = re.compile(r"\s[xX×]\s|\bthru\b", re.IGNORECASE)
#: How many there are (``{}``): in words anywhere, or before the size.
_MANY = (
    r"(?<![\d.#])({})\s*(?:[xX×]\s*\)|pl(?:aces?|cs?|s)?\b|holes?\b|off\b|req'?d\b)",
    r"^\s*\(?\s*({})\)?\s*(?:[xX×]|-\s)",
)
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
    unit, begin = INCH if content.header.units == "in" else 1.0, 0
    count = next((c for c in found if c.key == "count"), None)
    many = _count_in(note, count.written) if count is not None else None
    if many is not None and count is not None:
        yield Number(callout, note, many.span(1), count.written, count.kind, (count.lower, count.upper))
        note = note[: many.start()] + " " * len(many[0]) + note[many.end() :]  # it may be the same figure as a size
    for size in found:
        if size.kind == "thread" and (said := _AFTER_THREAD.search(note, begin)) is not None:
            begin = said.start()
        if not size.nominal or size.kind not in SIZES:
            continue
        place = re.compile(rf"(?<![\d.]){re.escape(size.written)}(?![\d.])").search(note, begin)
        if place is None:
            continue
        begin = place.end()
        if (plain := SIZE.search(size.written)) is not None:
            span = (place.start() + plain.start(), place.start() + plain.end())
            whole = ledger.callouts[callout].note
            yield Number(callout, whole, span, plain[0], size.kind, (size.lower / unit, size.upper / unit))


def _count_in(note: str, written: str) -> re.Match[str] | None:
    """Where a note says how many there are; None where it does so in no words known here."""
    found = (re.search(how.format(re.escape(written)), note, re.IGNORECASE) for how in _MANY)
    return next((said for said in found if said is not None), None)


def value_of(text: str) -> float:
    """What a number written as ``SIZE`` has it comes to: ``1 1/8`` is 1.125."""
    whole, _, fraction = text.rpartition(" ") if " " in text else ("0", "", text)
    top, _, bottom = fraction.partition("/")
    return float(whole) + float(top) / float(bottom or 1)
