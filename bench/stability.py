"""How well the examples follow changes: every stated number by ten per cent either way, one at a time.

A change counts as followed when the whole route is built with every reference found; as explained when a step or sketch
says in words why it cannot be. ``ours`` is how many were followed, ``reference`` how many were tried.
"""

from __future__ import annotations

import re
from pathlib import Path

from lathed_solid.core.callout import NoteError
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import settle
from lathed_solid.core.route.rebuild import Cache, rebuild

from .row import Row

EXAMPLES = Path(__file__).parents[1] / "examples"
#: The first number of a note that is a size: after a count such as ``6x``, mixed fractions taken whole.
_SIZE = re.compile(r"(?:^\d+\s*x\s+)?(\d+\s+\d+/\d+|\d+/\d+|\d*\.\d+|\d+(?![\dx/-]))")


def run() -> list[Row]:
    rows = []
    for path in sorted(EXAMPLES.glob("*.lathed")):
        content = storage.load(path).job.content
        if content.steps:
            rows.append(_row(path.stem, content))
    return rows


def _row(name: str, content: Content) -> Row:
    followed = explained = tried = 0
    cache = Cache()
    for callout in content.callouts:
        for factor in (0.9, 1.1):
            note = scaled(callout.note, factor)
            if note is None:
                continue
            try:
                changed = edits.edit_callout(content, callout.number, note)
            except (NoteError, LookupError):
                continue  # a thread of no standard, say
            tried += 1
            settled = settle(changed)
            failed = [r for r in rebuild(settled.content.plan(), cache).reports if r.state == "failed"]
            followed += not failed and not settled.problems
            explained += bool((failed and failed[0].message) or settled.problems)
    unit = f"changes followed (aim 0.98; {explained} of the rest explained)"
    return Row(f"stability, {name}", followed, tried, followed / max(tried, 1), unit)


def scaled(note: str, factor: float) -> str | None:
    """A note with its first size changed; None for one without (a thread alone)."""
    found = _SIZE.search(note)
    if found is None or re.match(r"M\d|\d+-\d+", note.strip()):
        return None
    whole, _, fraction = found[1].rpartition(" ") if " " in found[1] else ("0", "", found[1])
    top, _, bottom = fraction.partition("/")
    value = (float(whole) + float(top) / float(bottom or 1)) * factor
    return f"{note[: found.start(1)]}{value:.4f}{note[found.end(1) :]}"
