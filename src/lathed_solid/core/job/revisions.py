"""Issuing revisions, and what has changed since one."""

from __future__ import annotations

import msgspec

from ..quantity.style import mass as mass_text
from . import edits
from .changes import Change
from .differences import differences
from .model import Job, NotThere, Revision


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
    """What differs between revision ``label`` and now: all that the job says, volume, mass. Raises NotThere."""
    old = next((r for r in job.revisions if r.label == label), None)
    if old is None:
        raise NotThere(f"There is no revision {label}.")
    found, style = differences(old.content, job.content), job.content.header.style
    if old.volume and volume and abs(volume / old.volume - 1) > 1e-9:
        found.append(Change("volume", style.volume(old.volume), style.volume(volume)))
    if old.mass and grams and abs(grams / old.mass - 1) > 1e-9:
        found.append(Change("mass", mass_text(old.mass), mass_text(grams)))
    return found
