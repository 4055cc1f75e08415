"""Differences between two states of a document, in words: one change, what came and went of a list, changed fields."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import msgspec

#: Of more of one kind that came or went only the number is told.
_SINGLY = 5


class Change(NamedTuple):
    """One difference in words; empty ``before`` or ``after`` means added or removed."""

    what: str
    before: str
    after: str

    @property
    def words(self) -> str:
        return f"{self.what}: {self.before or '–'} → {self.after or '–'}"


class Many(NamedTuple):
    """A field of a document that holds many: what one is called, what it is known by, and its own name; ``where`` is
    where they are told to be.
    """

    field: str
    noun: str
    key: Callable[[Any], object]
    name: Callable[[Any], str]
    where: str = "in the job"


def other(what: str) -> Change:
    """A change that has no words of its own."""
    return Change(what, "as it was", "changed")


def listed(
    many: Many, old: Sequence[Any], new: Sequence[Any], changed: Callable[[Any, Any], tuple[str, str]] | None = None
) -> list[Change]:
    """What came, went or changed of one list; many that came or went together are counted only. ``changed`` words two
    states of one; where its words are alike nothing changed that counts.
    """
    if old == new:
        return []
    before, after = ({many.key(x): x for x in all_of} for all_of in (old, new))
    told: list[Change] = []
    for gone, ids in ((True, [k for k in before if k not in after]), (False, [k for k in after if k not in before])):
        if len(ids) > _SINGLY:
            words = f"{len(ids)} of them"
            told.append(Change(f"{many.noun}, several", words if gone else "", "" if gone else words))
            continue
        for key in ids:
            what = f"{many.noun} {many.name((before if gone else after)[key])}"
            told.append(Change(what, many.where if gone else "", "" if gone else many.where))
    alike = False
    for key, x in before.items():
        if key in after and after[key] != x:
            words_of = changed or fields
            was, now = words_of(x, after[key])
            alike = alike or was == now
            told += [Change(f"{many.noun} {many.name(after[key])}", was, now)] if was != now else []
    told += order(f"{many.noun}, order", list(before), list(after))
    return told or ([] if alike else [other(f"{many.noun}, several")])


def order(what: str, old: Sequence[object], new: Sequence[object]) -> list[Change]:
    """Whether what both have stands in another order."""
    both = set(old) & set(new)
    if [i for i in old if i in both] == [i for i in new if i in both]:
        return []
    return [Change(what if "order" in what else f"order of {what}", "as it was", "changed")]


def fields(old: msgspec.Struct, new: msgspec.Struct, labels: Mapping[str, str] = {}) -> tuple[str, str]:
    """The fields in which two structs of one kind differ, with what they say before and after."""
    before, after = [], []
    for field in old.__struct_fields__:
        a, b = getattr(old, field), getattr(new, field, None)
        if a == b:
            continue
        label, words = labels.get(field, field.replace("_", " ")), (worded(a), worded(b))
        plain = words[0] != words[1]
        before.append(f"{label} {words[0] or '–'}" if plain else f"{label} as it was")
        after.append(f"{label} {words[1] or '–'}" if plain else f"{label} changed")
    return ", ".join(before), ", ".join(after)


def head(old: msgspec.Struct, new: msgspec.Struct, labels: Mapping[str, str], unsaid: set[str]) -> Iterator[Change]:
    """One change for each field of a title block that differs."""
    for field in old.__struct_fields__:
        a, b = getattr(old, field), getattr(new, field)
        if a != b and field not in unsaid:
            words = worded(a), worded(b)
            what = labels.get(field, field)
            yield Change(what, *words) if words[0] != words[1] else other(what)


def worded(value: object) -> str:
    """A field's value in a few words; what is longer than that has none."""
    if value is None or isinstance(value, str):
        return value or ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:.6g}"
    if isinstance(value, tuple):
        return ", ".join(filter(None, map(worded, value))) if len(value) <= _SINGLY else f"{len(value)} of them"
    return str(getattr(value, "was", "") or getattr(value, "name", "") or "")
