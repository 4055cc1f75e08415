"""Lines taken from the solid, as the last build found them, put into a job that may have been edited meanwhile."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

import msgspec

from ..route.settling import settle_sketch
from ..sketch.copies import is_given
from ..sketch.make.choose import in_words
from ..sketch.model import Sketch
from ..sketch.refusal import SketchError
from . import edits
from .model import Content


class Renewed(NamedTuple):
    """The job with its taken lines where the solid has them now; ``lost`` are sizes and relations, in words, that went
    with lines which are not there any more.
    """

    content: Content
    lost: tuple[str, ...]


def renewed(content: Content, sent: Mapping[str, Sketch], found: Iterable[Sketch]) -> Renewed:
    """``found`` are the sketches of a build of ``sent``. Only what comes from the solid is taken over: whatever else
    was drawn, sized or dropped since stands as it is.
    """
    lost: list[str] = []
    for new in found:
        now = next((s for s in content.sketches if s.id == new.id), None)
        if now is None or now.projected != new.projected:
            continue
        if now == sent.get(new.id):
            made = msgspec.structs.replace(
                now, entities=new.entities, relations=new.relations, dimensions=new.dimensions
            )
            lost += _gone(now, made)
        else:
            made = _with_lines_of(now, new, content)
        if made != now:
            content = edits.set_sketch(content, made)
    return Renewed(content, tuple(lost))


def _gone(before: Sketch, after: Sketch) -> list[str]:
    kept = {r.id for r in after.relations} | {d.id for d in after.dimensions}
    every = [*(d.id for d in before.dimensions), *(r.id for r in before.relations)]
    return [in_words(before, i) for i in every if i not in kept]


def _with_lines_of(now: Sketch, new: Sketch, content: Content) -> Sketch:
    """``now`` with the taken lines of ``new``, solved again; as it was when these are not the same lines."""
    lines = {e.id: e for e in new.entities if is_given(new, e.id)}
    if lines.keys() != {e.id for e in now.entities if is_given(now, e.id)}:
        return now
    moved = msgspec.structs.replace(now, entities=tuple(lines.get(e.id, e) for e in now.entities))
    try:
        return settle_sketch(moved, content.ledger(), content.header.style)
    except SketchError:
        return now
