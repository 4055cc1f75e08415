"""How well the mistake behind a stated figure is found: seeded mistakes put into the examples, only the true stated
volume given.

A mistake counts when it leaves a solid whose volume is not the stated one within its rounding. ``ours`` is how often
the true solid came first among the suspects (then: among the first three), ``reference`` how many mistakes were put in.
The last row of an example is the median time until the true solid was built, against one bare rebuild in the same
process. ``LATHED_WHY`` sets how many mistakes an example gets.
"""

from __future__ import annotations

import os
import random
import sys
import time
from pathlib import Path
from statistics import median

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content, StatedFigures
from lathed_solid.core.job.operating import faces_of
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.why.explained import ranked
from lathed_solid.core.job.why.faults import Fault, faults
from lathed_solid.core.job.why.search import Search, Suspect
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.plan.carriers import alone
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.rebuild import Cache, rebuild

from .row import Row

EXAMPLES = Path(__file__).parents[1] / "examples"
MANY = int(os.environ.get("LATHED_WHY", "6"))
_ONE = 1e-8


def run() -> list[Row]:
    rows, first, three, tried = [], 0, 0, 0
    for path in sorted(EXAMPLES.glob("*.lathed")):
        content = settle(storage.load(path).job.content).content
        if content.steps and content.header.stated.volume:
            found = _example(path.stem, content)
            rows += found
            first, three, tried = (
                first + int(found[0].ours),
                three + int(found[1].ours),
                tried + int(found[0].reference),
            )
    every = [
        Row("why, all examples, first", first, tried, first / tried, "true suspects (aim 0.90)"),
        Row("why, all examples, first three", three, tried, three / tried, "true suspects (aim 0.98)"),
    ]
    return [*rows, *every]


def _example(name: str, content: Content) -> list[Row]:
    true = rebuild(content.plan(), Cache()).body
    assert true is not None
    stated = edits.set_header(content, stated=StatedFigures(volume=round(true.volume, 2)))
    begun = time.perf_counter()
    rebuild(content.plan(), Cache())
    bare = time.perf_counter() - begun
    every, places, times = faults(content), list[int](), list[float]()
    random.Random(name).shuffle(every)
    for fault in every:
        if len(places) == MANY:
            break
        place = _found(stated, fault, true)
        if place is not None:
            places.append(place[0])
            times.append(place[1])
            print(f"{name}: {fault.words}: place {place[0]}, {place[1]:.1f} s", file=sys.stderr)
    first, three, many = sum(p == 1 for p in places), sum(0 < p <= 3 for p in places), len(places)
    took = median(times)
    return [
        Row(f"why, {name}, first", first, many, first / many, "true suspects"),
        Row(f"why, {name}, first three", three, many, three / many, "true suspects"),
        Row(f"why, {name}, time", took, bare, took / bare, "s against a bare rebuild (aim 20)"),
    ]


def _volume(content: Content) -> float | None:
    result = rebuild(content.plan(), Cache())
    if result.body is None or any(r.state == "failed" for r in result.reports):
        return None
    return sum(b.volume for b in result.bodies.values())


def _found(stated: Content, fault: Fault, true: NamedBody) -> tuple[int, float] | None:
    """The place of the true solid among the suspects (0: not among them), and when it was built; None for a mistake
    that cannot be made, or changes no volume.
    """
    try:
        wrong = settle(fault.make(stated))
    except Refusal:
        return None
    if wrong.problems or _volume(wrong.content) is None:
        return None
    begun, seen, built = time.perf_counter(), 0.0, list[Suspect]()
    search = Search(wrong.content)
    if search.gap is None or search.gap.is_closed:
        return None
    for suspect in search.run():
        built.append(suspect)
        if not seen and _is(suspect, true):
            seen = time.perf_counter() - begun
    order = [k for k, s in enumerate(ranked(built), 1) if _is(s, true)]
    return (order[0] if order else 0), seen or time.perf_counter() - begun


def _is(suspect: Suspect, true: NamedBody) -> bool:
    """Whether a suspect is the true solid: not its volume alone, for a hole has that in other places too."""
    if abs(suspect.volume - true.volume) > _ONE * true.volume:
        return False
    body = rebuild(suspect.content.plan(), Cache()).body
    assert body is not None
    mine, its = faces_of(body).surfaces, faces_of(true).surfaces
    return not alone(mine, its) and not alone(its, mine)
