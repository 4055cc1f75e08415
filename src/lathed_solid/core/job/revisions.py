"""Issuing revisions, and what has changed since one."""

from __future__ import annotations

from typing import NamedTuple

import msgspec

from ..callout import NoteError
from ..callout.words import value_text
from ..names import refers
from ..quantity.style import mass as mass_text
from . import edits
from .model import Content, Job, NotThere, Revision


class Change(NamedTuple):
    """One difference in words; empty ``before`` or ``after`` means added or removed."""

    what: str
    before: str
    after: str


def issue(job: Job, date: str, volume: float | None, grams: float | None) -> Job:
    """Freeze the present content under its revision letter and go on with the next one.

    Raises EditRefused when that letter was issued before.
    """
    label = job.content.header.revision
    if any(r.label == label for r in job.revisions):
        raise edits.EditRefused(f"Revision {label} was issued before. Give the next one a new letter.")
    frozen = Revision(label=label, date=date, content=job.content, volume=volume, mass=grams)
    content = edits.set_header(job.content, revision=next_letter(label))
    return msgspec.structs.replace(job, content=content, revisions=(*job.revisions, frozen))


def next_letter(label: str) -> str:
    """A to B, Z to AA; a number counts on (I and O are left out, as drawings do)."""
    if label.isdigit():
        return str(int(label) + 1)
    letters = list("ABCDEFGHJKLMNPQRSTUVWXYZ")
    digits = [letters.index(c) for c in label.upper() if c in letters] or [-1]
    at = len(digits) - 1
    while at >= 0 and digits[at] == len(letters) - 1:
        digits[at] = 0
        at -= 1
    if at < 0:
        digits.insert(0, 0)
    else:
        digits[at] += 1
    return "".join(letters[d] for d in digits)


def changes_since(job: Job, label: str, volume: float | None, grams: float | None) -> list[Change]:
    """What differs between revision ``label`` and now: numbers, steps, material, volume, mass. Raises NotThere."""
    old = next((r for r in job.revisions if r.label == label), None)
    if old is None:
        raise NotThere(f"There is no revision {label}.")
    found, style = differences(old.content, job.content), job.content.header.style
    if old.volume and volume and abs(volume / old.volume - 1) > 1e-9:
        found.append(Change("volume", style.volume(old.volume), style.volume(volume)))
    if old.mass and grams and abs(grams / old.mass - 1) > 1e-9:
        found.append(Change("mass", mass_text(old.mass), mass_text(grams)))
    return found


def differences(then: Content, now: Content) -> list[Change]:
    """What differs between two states of a job: title block, callouts, steps."""
    return [*_header(then, now), *_callouts(then, now), *_steps(then, now)]


def _header(then: Content, now: Content) -> list[Change]:
    pairs = [
        ("name", then.header.name, now.header.name),
        ("part number", then.header.number, now.header.number),
        ("units", then.header.units, now.header.units),
        ("general tolerance", then.header.grade, now.header.grade),
        ("material", then.header.material.name, now.header.material.name),
    ]
    return [Change(what, a, b) for what, a, b in pairs if a != b]


def _callouts(then: Content, now: Content) -> list[Change]:
    old, new = ({c.number: c for c in x.callouts} for x in (then, now))
    found = []
    for number in sorted(old.keys() | new.keys()):
        before, after = _worded(then, number), _worded(now, number)
        if before != after:
            found.append(Change(f"callout {number}", before, after))
    return found


def _worded(content: Content, number: int) -> str:
    """The note, and its value where a formula hides it."""
    callout = next((c for c in content.callouts if c.number == number), None)
    if callout is None:
        return ""
    if not refers(callout.note):
        return callout.note
    try:
        return f"{callout.note} = {value_text(content.ledger().reading(number).main, content.header.style)}"
    except NoteError:
        return callout.note


def _steps(then: Content, now: Content) -> list[Change]:
    old, new = ({s.id: s for s in x.steps} for x in (then, now))
    found = []
    for id_ in [*old, *(i for i in new if i not in old)]:
        name = (new.get(id_) or old[id_]).name or id_
        if id_ not in new:
            found.append(Change(f"step “{name}”", "in the route", ""))
        elif id_ not in old:
            found.append(Change(f"step “{name}”", "", "in the route"))
        elif old[id_] != new[id_]:
            found.append(Change(f"step “{name}”", "as it was", _difference(old[id_], new[id_])))
    if [i for i in old if i in new] != [i for i in new if i in old]:
        found.append(Change("order of steps", "as it was", "changed"))
    return found


def _difference(old: msgspec.Struct, new: msgspec.Struct) -> str:
    fields = [f for f in old.__struct_fields__ if getattr(old, f) != getattr(new, f, None)]
    return "changed: " + ", ".join(f.replace("_", " ") for f in fields)
