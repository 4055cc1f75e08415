"""How well the mistake behind a stated figure is found: seeded mistakes put into the examples and into parts of
strangers, only the true stated figures given.

A mistake counts when it leaves a solid whose figures are not the stated ones within their rounding. ``ours`` is how
often the true solid came first among the suspects (then: among the first three), ``reference`` how many mistakes there
were that the figures can tell apart: where another solid has them too, and the true one stands beside it, they cannot,
and that is a row of its own. Given are the volume (to 0.01 mm³), then the centre of mass, the size and the surface
besides, then the volume for two mistakes at once whose effects add up. The last rows are the median time until the true
solid was built, against one bare rebuild in the same process.

``LATHED_WHY`` sets how many mistakes a part gets, ``LATHED_WHY_PARTS`` (a regular expression) which parts. It takes
hours: ``LATHED_WHY_KEEP`` names a file in which every mistake's line is kept as it is found, so that a run broken off
goes on after the last one.

Each part is worked on in a process of its own, for the kernel cannot be stopped: 52 read as inches makes a levelling
foot of 1.3 m, whose slot is cut through its thread for minutes. A mistake whose wrong part is not built in
``SLOW`` s is left out and counted as such; a search is judged by what it has found in ``LATHED_WHY_LIMIT`` s, and has
found nothing where the kernel holds it up for twice as long.
"""

from __future__ import annotations

import importlib
import itertools
import os
import random
import re
import sys
import time
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from multiprocessing import get_context
from multiprocessing.connection import Connection
from pathlib import Path
from statistics import median
from typing import Literal, NamedTuple

import msgspec

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content, StatedFigures
from lathed_solid.core.job.operating import faces_of
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.stating import figures_of
from lathed_solid.core.job.surveying import standing_of
from lathed_solid.core.job.why.explained import ranked
from lathed_solid.core.job.why.faults import Fault, faults
from lathed_solid.core.job.why.search import Search
from lathed_solid.core.job.why.suspect import Suspect
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.plan.carriers import alone
from lathed_solid.core.prove.proof import Weighed
from lathed_solid.core.refusal import Refusal, unread
from lathed_solid.core.route.rebuild import Cache, rebuild

from .row import Row

#: Parts that the tests build as strangers would; untyped, as tests are.
PARTS = importlib.import_module("tests.core.strangers.test_strangers").PARTS
EXAMPLES = Path(__file__).parents[1] / "examples"
MANY = int(os.environ.get("LATHED_WHY", "7"))
#: Of so many mistakes neighbours are put together.
PAIRED = 40
ONLY = os.environ.get("LATHED_WHY_PARTS", "")
KEEP = os.environ.get("LATHED_WHY_KEEP", "")
#: A wrong part, with the sound one before it, and a search may take so long (s).
SLOW, LIMIT = 60.0, float(os.environ.get("LATHED_WHY_LIMIT", "600"))
_ONE = 1e-8
LEFT_OUT = -1
Given = Literal["volume", "all", "pair"]
_GIVEN: dict[Given, tuple[str, float]] = {
    "volume": ("why, volume given", 0.90),
    "all": ("why, volume, centre, size, surface given", 0.96),
    "pair": ("why, two mistakes, volume given", 0.70),
}


class Found(NamedTuple):
    """The place of the true solid among the suspects (0: not among them, ``LEFT_OUT``: not looked for), whether others
    have its figures too, and how many bare rebuilds it took until it was built. ``at``: which mistake of its part.
    """

    part: str
    given: Given
    at: int
    words: str
    place: int
    tied: bool
    took: float


def run() -> list[Row]:
    names = [*PARTS, *(p.stem for p in sorted(EXAMPLES.glob("skp-0[1-9].lathed")))]
    kept = _kept()
    chosen = [n for n in names if re.search(ONLY, n)]
    with ThreadPoolExecutor(max_workers=os.cpu_count()) as pool:
        each = pool.map(lambda n: _of_part(n, [f for f in kept if f.part == n]), chosen)
        found = [f for few in each for f in few]
    return [row for given in _GIVEN for row in _rows(given, [f for f in found if f.given == given])]


def _kept() -> list[Found]:
    kept = Path(KEEP)
    if not KEEP or not kept.exists():
        return []
    return [msgspec.json.decode(line, type=Found) for line in kept.read_bytes().splitlines()]


def _told(f: Found) -> Found:
    tie = " of a tie" if f.tied else ""
    print(f"{f.part}, {f.given}: {f.words}: place {f.place}{tie}, {f.took:.1f}", file=sys.stderr)
    if KEEP:
        with Path(KEEP).open("ab") as kept:
            kept.write(msgspec.json.encode(f) + b"\n")
    return f


def _rows(given: Given, found: list[Found]) -> Iterator[Row]:
    if not found:
        return
    name, aim = _GIVEN[given]
    looked_for = [f for f in found if f.place != LEFT_OUT]
    told = [f for f in looked_for if not f.tied]
    first, three, many = sum(f.place == 1 for f in told), sum(0 < f.place <= 3 for f in told), len(told)
    yield Row(f"{name}, first", first, many, first / max(many, 1), f"true suspects (aim {aim:.2f})")
    yield Row(f"{name}, first three", three, many, three / max(many, 1), "true suspects (aim 0.98)")
    ties, every = len(looked_for) - many, max(len(looked_for), 1)
    yield Row(f"{name}, ties", ties, every, ties / every, "not to be told apart")
    if slow := len(found) - len(looked_for):
        yield Row(f"{name}, left out", slow, len(found), slow / len(found), "wrong parts too slow to build")
    if times := [f.took for f in found if f.part == "skp-02" and f.place > 0]:
        yield Row(f"{name}, skp-02, time", median(times), 1.0, median(times), "bare rebuilds (aim 20)")


class _Begun(NamedTuple):
    """What a part's process is at: which mistake, of those given one kind, and whether its wrong part is built."""

    given: Given
    at: int
    words: str
    is_built: bool


def _of_part(name: str, found: list[Found]) -> list[Found]:
    """What was ``found`` of a part before, and after it what is found now. A process that takes too long over one
    mistake is ended, and another goes on with the next. Raises RuntimeError where not even the sound part is built.
    """
    last = _Begun(found[-1].given, found[-1].at, found[-1].words, True) if found else None
    while True:
        ours, its = get_context("spawn").Pipe()
        many = {given: sum(f.given == given and f.place != LEFT_OUT for f in found) for given in _GIVEN}
        process = get_context("spawn").Process(
            target=_work, args=(name, last and (last.given, last.at), many, its), daemon=True
        )
        process.start()
        its.close()
        late = _listened(ours, found)
        process.kill()
        process.join()
        if late is None:
            return found
        if late == last:
            raise RuntimeError(f"{name}: nothing was heard of {late.words or 'the sound part'}")
        last = late
        if last.words:
            place = 0 if last.is_built else LEFT_OUT
            found.append(_told(Found(name, last.given, last.at, last.words, place, False, LIMIT)))


def _listened(of: Connection, found: list[Found]) -> _Begun | None:
    """Takes what a part's process finds; what it was at when it was given up, None when it has come to its end."""
    at = _Begun("volume", -1, "", False)
    try:
        while of.poll(2 * LIMIT if at.is_built or not at.words else SLOW):
            heard = of.recv()
            if isinstance(heard, _Begun):
                at = heard
            else:
                found.append(_told(heard))
    except EOFError:
        return None if at.words == "end" else at
    return at


def _work(name: str, after: tuple[Given, int] | None, many: dict[Given, int], tell: Connection) -> None:
    """In a process of its own: the mistakes of a part that come ``after`` one, until each kind has its number."""
    case = _case(name)
    order: list[Given] = list(_GIVEN)
    for given in order if case is not None else ():
        assert case is not None
        for at, fault in enumerate(case.mistakes(given)):
            if many[given] == (MANY if given != "pair" else max(1, MANY // 3)):
                break
            if after is not None and (order.index(given), at) <= (order.index(after[0]), after[1]):
                continue
            tell.send(_Begun(given, at, fault.words, False))
            if not case.can_be_made(fault):
                continue
            tell.send(_Begun(given, at, fault.words, True))
            found = _found(case.stated(given), fault, case.body, case.bare)
            if found is not None:
                many[given] += 1
                tell.send(Found(name, given, at, fault.words, *found))
    tell.send(_Begun("volume", 0, "end", False))


class _Case(NamedTuple):
    """A part, its true solid, how long a bare rebuild takes (s), what is stated of it, and its mistakes."""

    true: Content
    body: NamedBody
    bare: float
    volume: StatedFigures
    every: StatedFigures
    chosen: list[Fault]

    def stated(self, given: Given) -> Content:
        stated = self.every if given == "all" else self.volume
        typed = {"volume": _typed(self.true, stated.volume, 3), "area": _typed(self.true, stated.area, 2)}
        return edits.set_header(self.true, stated=stated, typed={k: v for k, v in typed.items() if v})

    def mistakes(self, given: Given) -> Sequence[Fault | _Pair]:
        if given != "pair":
            return self.chosen
        return [_Pair(a, b) for a, b in itertools.pairwise(self.chosen[:PAIRED])]

    def can_be_made(self, fault: Fault | _Pair) -> bool:
        """Of two mistakes, too, whether their effects add up."""
        if isinstance(fault, _Pair) and not _add_up(self.true, self.body.volume, *fault.parts):
            return False
        return _volume(self.true, fault) is not None


def _case(name: str) -> _Case | None:
    """None for a part without a solid of its own."""
    if name in PARTS:
        content = settle(PARTS[name]()[0].content).content
    else:
        content = settle(storage.load(EXAMPLES / f"{name}.lathed").job.content).content
    shown = build_and_prove(content) if content.steps else None
    if shown is None or shown.proof is None or shown.result.body is None:
        return None
    body = shown.result.body
    has = figures_of(Weighed(shown.proof.mass, shown.proof.grams), standing_of(content, body), body)
    begun = time.perf_counter()
    rebuild(content.plan(), Cache())
    bare = time.perf_counter() - begun
    unit, more = (25.4, 2) if content.header.units == "in" else (1.0, 0)
    volume = StatedFigures(volume=round(has["volume"] / unit**3, 2 + 2 * more) * unit**3)
    x, y, z = (round(has[f"size along {k}"] / unit, 3 + more) * unit for k in "XYZ")
    u, v, w = (round(has[f"centre of mass in {k}"] / unit, 3 + more) * unit for k in "XYZ")
    area = round(has["surface area"] / unit**2, 2 + 2 * more) * unit**2
    every = StatedFigures(volume=volume.volume, area=area, size=(x, y, z), center=(u, v, w))
    return _Case(content, body, bare, volume, every, _mixed(name, faults(content)))


class _Pair:
    """Two mistakes made at once."""

    kind = "pair"

    def __init__(self, a: Fault, b: Fault) -> None:
        self.parts, self.words = (a, b), f"{a.words}; {b.words}"

    def make(self, content: Content) -> Content:
        a, b = self.parts
        return b.make(a.make(content))


def _mixed(name: str, every: list[Fault]) -> list[Fault]:
    """In an order of chance in which every kind of mistake comes in turn."""
    by_kind: dict[str, list[Fault]] = {}
    chance = random.Random(name)
    chance.shuffle(every)
    for fault in every:
        by_kind.setdefault(fault.kind, []).append(fault)
    kinds = list(by_kind)
    chance.shuffle(kinds)
    most = max(map(len, by_kind.values()))
    return [by_kind[k][n] for n in range(most) for k in kinds if n < len(by_kind[k])]


def _add_up(content: Content, volume: float, a: Fault, b: Fault) -> bool:
    """Whether two mistakes together change the volume by as much as both alone, and each by something."""
    one, other, both = (_volume(content, f) for f in (a, b, _Pair(a, b)))
    if one is None or other is None or both is None or min(abs(one - volume), abs(other - volume)) < 1e-6 * volume:
        return False
    return abs(one + other - volume - both) < 1e-9 * volume


def _volume(content: Content, fault: Fault | _Pair) -> float | None:
    try:
        made = settle(fault.make(content))
    except Refusal:
        return None
    with unread():
        result = rebuild(made.content.plan(), Cache())
    if made.problems or result.body is None or any(r.state == "failed" for r in result.reports):
        return None
    return sum(b.volume for b in result.bodies.values())


def _typed(content: Content, value: float | None, power: int) -> str:
    """A figure as a title block has it, with all its decimals: 7568.00 is no 7568."""
    inch = content.header.units == "in"
    return "" if value is None else f"{value / 25.4**power:.6f}" if inch else f"{value:.2f}"


def _found(stated: Content, fault: Fault | _Pair, true: NamedBody, bare: float) -> tuple[int, bool, float] | None:
    """None for a mistake that leaves all the figures as they are."""
    wrong = settle(fault.make(stated))
    begun, seen, built = time.perf_counter(), 0.0, list[Suspect]()
    search = Search(wrong.content)
    if search.gap is None or search.gap.is_closed or search.gap.line is not None:
        return None
    for suspect in search.run():
        built.append(suspect)
        if not seen and _is(suspect, true):
            seen = time.perf_counter() - begun
        if time.perf_counter() - begun > LIMIT:
            break
    order = ranked(built)
    places = [k for k, s in enumerate(order, 1) if _is(s, true)]
    tied = bool(places) and sum(s.rank == 0 for s in order) > 1
    return (places[0] if places else 0), tied, (seen or time.perf_counter() - begun) / bare


def _is(suspect: Suspect, true: NamedBody) -> bool:
    """Whether a suspect is the true solid: not its volume alone, for a hole has that in other places too."""
    if abs(suspect.volume - true.volume) > _ONE * true.volume:
        return False
    body = rebuild(suspect.content.plan(), Cache()).body
    assert body is not None
    mine, its = faces_of(body).surfaces, faces_of(true).surfaces
    return not alone(mine, its) and not alone(its, mine)
