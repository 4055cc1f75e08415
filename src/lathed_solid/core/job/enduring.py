"""Which changes a route survives: every stated size by ten per cent either way, one at a time, all of it rebuilt."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from ..callout import NoteError
from ..refusal import Refusal
from ..route.rebuild import Cache, rebuild
from .attachments import Store
from .model import Content
from .numbers import SIZE, SIZES, value_of
from .numbers import numbers as numbers_of
from .settle import settle
from .walk import used_in_route

FACTORS = (0.9, 1.1)


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
    for callout in content.callouts:
        if numbers is not None and callout.number not in numbers:
            continue
        for number in numbers_of(content, callout.number):
            if number.kind not in SIZES:
                continue
            for factor in FACTORS:
                text = scaled(number.text, factor)
                try:
                    yield Change(f"{callout.note} → {number.noted(text)}", number.read_as(content, text))
                except NoteError:  # a bore of no standard size for its fit, say
                    continue


def scaled(text: str, factor: float) -> str:
    """A text with its first number changed."""
    found = SIZE.search(text)
    if found is None:
        raise ValueError(f"“{text}” has no number.")
    return f"{text[: found.start()]}{value_of(found[0]) * factor:.4f}{text[found.end() :]}"


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
