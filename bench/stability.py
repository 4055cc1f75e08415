"""How well the examples follow changes: every stated number by ten per cent either way, one at a time.

Every number means each size of each callout (a hole's counterbore and its depth as well as its diameter), each typed
size of a sketch and each typed number of a step; not counts, thread designations and what a step takes by itself. A
change counts as followed when the whole route is built with every reference found (some with a remark: a cut that now
lies outside the part, say); as explained when a step or sketch says in words why it cannot be. ``ours`` is how many
were followed, ``reference`` how many were tried; remarks and explanations go to the error stream.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Iterator
from pathlib import Path

import msgspec

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.enduring import FACTORS, Change, callout_changes, follows, scaled
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.numbers import SIZE
from lathed_solid.core.route.rebuild import Cache
from lathed_solid.core.route.registry import kind_of

from .row import Row

EXAMPLES = Path(__file__).parents[1] / "examples"


def run() -> list[Row]:
    rows, followed, tried = [], 0, 0
    for path in sorted(EXAMPLES.glob("skp-0[1-9].lathed")):
        content = storage.load(path).job.content
        if content.steps:
            row = _row(path.stem, content)
            rows.append(row)
            followed, tried = followed + int(row.ours), tried + int(row.reference)
    return [*rows, Row("stability, all examples", followed, tried, followed / tried, "changes followed (aim 0.98)")]


def _row(name: str, content: Content) -> Row:
    followed = remarked = explained = tried = 0
    cache = Cache()
    for what, changed in changes(content):
        tried += 1
        built, words = follows(changed, cache)
        followed += built
        remarked += built and bool(words)
        explained += not built and bool(words)
        if words or not built:
            print(f"{name}: {what}: {'' if built else 'not built: '}{words or 'NOT EXPLAINED'}", file=sys.stderr)
    unit = f"changes followed ({remarked} with a remark; {explained} more explained)"
    return Row(f"stability, {name}", followed, tried, followed / tried, unit)


def changes(content: Content) -> Iterator[Change]:
    """The example with each of its numbers changed."""
    yield from callout_changes(content)
    yield from _of_sketches(content)
    yield from _of_steps(content)


def _of_sketches(content: Content) -> Iterator[Change]:
    for sketch in content.sketches:
        for dimension in sketch.dimensions:
            for text in _scaled(dimension.text):
                made = msgspec.structs.replace(dimension, text=text)
                kept = tuple(made if d is dimension else d for d in sketch.dimensions)
                changed = msgspec.structs.replace(sketch, dimensions=kept)
                yield Change(
                    f"{sketch.id}, {dimension.id}: {dimension.text} → {text}", edits.set_sketch(content, changed)
                )


def _of_steps(content: Content) -> Iterator[Change]:
    for step in content.steps:
        plain = type(step)(id="")
        for param in kind_of(step).params:
            value = getattr(step, param.field)
            if param.want not in ("length", "angle") or not param.applies(step) or value == getattr(plain, param.field):
                continue
            for text in _scaled(value):
                made = msgspec.structs.replace(step, **{param.field: text})
                steps = [made if s is step else s for s in content.steps]
                yield Change(f"{step.name}, {param.label}: {value} → {text}", edits.set_steps(content, steps))


def _scaled(text: str) -> list[str]:
    """A typed number either way; nothing for a formula of callouts or for zero."""
    if "#" in text or not SIZE.search(text) or not re.search(r"[1-9]", text):
        return []
    return [scaled(text, factor) for factor in FACTORS]
