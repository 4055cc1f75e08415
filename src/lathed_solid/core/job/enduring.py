"""Which changes a route survives: every stated size by ten per cent either way, one at a time, all of it rebuilt."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import NamedTuple

from ..callout import NoteError
from ..refusal import Refusal
from ..route.rebuild import Cache, rebuild
from . import edits
from .attachments import Store
from .model import Content
from .settle import settle
from .walk import used_in_route

FACTORS = (0.9, 1.1)
#: A number as it is written in a note, mixed fractions taken whole.
SIZE = re.compile(r"\d+\s+\d+/\d+|\d+/\d+|\d*\.\d+|\d+")


class Change(NamedTuple):
    what: str
    content: Content


class Endured(NamedTuple):
    """How many changes were ``tried``, and after how many the whole route was built, with every reference found."""

    followed: int
    tried: int


def callout_changes(content: Content, numbers: set[int] | None = None) -> Iterator[Change]:
    """The part with each size of each callout changed (of ``numbers`` only, when given): a hole's counterbore and its
    depth as well as its diameter; not counts, nor thread designations.
    """
    ledger = content.ledger()
    for callout in content.callouts:
        begin = 0
        if (numbers is not None and callout.number not in numbers) or ledger.error(callout.number) is not None:
            continue
        for size in ledger.reading(callout.number).characteristics:
            at = callout.note.find(size.written, begin)
            if size.kind not in ("length", "diameter", "radius", "angle") or at < 0 or not size.nominal:
                continue
            begin = at + len(size.written)
            if not SIZE.search(size.written):
                continue
            for factor in FACTORS:
                note = callout.note[:at] + scaled(size.written, factor) + callout.note[begin:]
                try:
                    yield Change(f"{callout.note} → {note}", edits.edit_callout(content, callout.number, note))
                except NoteError:  # a bore of no standard size for its fit, say
                    continue


def scaled(text: str, factor: float) -> str:
    """A text with its first number changed."""
    found = SIZE.search(text)
    if found is None:
        raise ValueError(f"“{text}” has no number.")
    whole, _, fraction = found[0].rpartition(" ") if " " in found[0] else ("0", "", found[0])
    top, _, bottom = fraction.partition("/")
    value = (float(whole) + float(top) / float(bottom or 1)) * factor
    return f"{text[: found.start()]}{value:.4f}{text[found.end() :]}"


def follows(changed: Content, cache: Cache, store: Store | None = None) -> tuple[bool, str]:
    """Whether all of the route is built, and what sketch or step says of it."""
    settled = settle(changed)
    if settled.problems:
        return False, next(iter(settled.problems.values()))
    reports = rebuild(settled.content.plan(store.find if store else None), cache).reports
    words = next((r.message for r in reports if r.message), "")
    return not any(r.state == "failed" for r in reports), words


def endured(
    content: Content, cache: Cache | None = None, store: Store | None = None, going: Callable[[], object] = lambda: None
) -> Endured:
    """Try the sizes that the present route uses. ``going`` is called before each change and may raise to let it go."""
    cache, followed, tried = cache or Cache(), 0, 0
    used = set(used_in_route(content, {s.id for s in content.steps if not s.suppressed}))
    for change in callout_changes(content, used):
        going()
        tried += 1
        try:
            followed += follows(change.content, cache, store)[0]
        except Refusal:
            continue
    return Endured(followed, tried)
