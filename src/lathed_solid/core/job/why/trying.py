"""Mistakes tried on one part: built on all cores, measured, and held against the solids that came before."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING, NamedTuple, TypeVar

import msgspec

from ...abreast import each, is_forked
from ...kernel.ground.figures import MassProperties, Surface
from ...plan.carriers import alone
from ...refusal import Refusal, unread
from ...route.rebuild import Cache, RouteResult, rebuild
from ..attachments import Store
from ..model import Content
from ..numbers import Number
from ..operating import faces_of
from ..settle import settle
from .faults import Fault
from .gap import Gap, Part, density_of, gap_of
from .pairing import Single
from .suspect import Solid, Suspect, packed

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody

T = TypeVar("T")
R = TypeVar("R")
#: A mistake is left out that takes so many times as long to build as the part, and at least so many seconds: 52 read as
#: inches makes a part of 1.3 m, which the kernel may cut for minutes.
_LONG, _AT_LEAST = 10.0, 20.0
#: A fork copies what it touches of this process: it takes so many seconds of building to be worth it. More forks than
#: so many would not find the memory.
_WORTH, MANY = 1.0, 8
#: Volumes that agree to this are equal; those of one solid agree to that.
_ONE, SAME = 1e-9, 1e-8


class Judged(NamedTuple):
    """What a mistake came to: whether a part was built, the suspect (of no solid yet) when it is another part, and
    whether that has the amount right and something else not.
    """

    is_built: bool = False
    suspect: Suspect | None = None
    is_met: bool = False


class Trying:
    """One part at work. ``going`` is called before every build and may raise to let it go."""

    def __init__(
        self,
        content: Content,
        cache: Cache | None,
        store: Store | None,
        going: Callable[[], object],
        line: tuple[int, str] | None,
    ) -> None:
        self.content, self.cache = settle(content).content, cache or Cache(2000)
        self._asked = going
        self.find = store.find if store is not None else None
        self.result: RouteResult = rebuild(self.content.plan(self.find), self.cache)
        self.gap = gap_of(self.content, self.result, line)
        #: How many parts were built, and how many mistakes left out that took too long or brought the kernel down.
        self.built = self.missed = 0
        self._seconds = sum(r.seconds for r in self.result.reports)
        #: The solids that were built, by volume: their number, and their faces once there is another of that volume.
        self._solids: dict[int, list[Solid]] = {}
        self._counted = 0
        self._present = -1
        if self.result.body is not None:
            self._present = self._solid(sum(b.volume for b in self.result.bodies.values()), lambda: self.result.body)
        #: Numbers, with a value that makes the amount right and leaves another figure wrong.
        self.ranged: dict[Number, float] = {}
        #: What each mistake added that was built.
        self.singles: list[Single] = []

    @cached_property
    def density(self) -> float:
        return density_of(self.content, self.result)

    @cached_property
    def _own(self) -> Sequence[Surface]:
        """The faces of the present part."""
        return faces_of(self.result.body).surfaces if self.result.body is not None else ()

    def with_lit(self, suspects: Sequence[Suspect]) -> tuple[Suspect, ...]:
        """Suspects that know which of their faces lie where the present part has none."""
        lit = zip(suspects, self.each(self._with_lit, suspects), strict=True)
        return tuple(knowing or suspect for suspect, knowing in lit)

    def _with_lit(self, suspect: Suspect) -> Suspect:
        body = self._body(suspect)
        if body is None:
            return suspect
        there = faces_of(body)
        new = set(alone(there.surfaces, self._own))
        called = zip(there.surfaces, there.references, strict=True)
        return msgspec.structs.replace(suspect, lit=tuple(name for s, name in called if s.index in new))

    def measured(self, suspects: Sequence[Suspect]) -> list[MassProperties]:
        """The figures of suspects, as far as they have a solid."""
        found = self.each(self._measured, suspects)
        return [figures for figures in found if figures is not None]

    def _measured(self, suspect: Suspect) -> MassProperties | None:
        from ...kernel.measure.surfaces import mass_properties

        body = self._body(suspect)
        return mass_properties(body) if body is not None else None

    # --- building
    def _going(self) -> None:
        if not is_forked():
            self._asked()

    def each(self, do: Callable[[T], R], items: Sequence[T]) -> Iterator[R | None]:
        """``do`` of each, on all cores where that is worth it; None for those that take too long."""
        many = MANY if len(items) * self._seconds > _WORTH else 1
        limit = max(_AT_LEAST, _LONG * self._seconds)
        return each(do, items, many=many, going=self._going, limit=limit, missed=self._miss)

    def _miss(self, _: object) -> None:
        self.missed += 1

    def part(self, fault: Fault) -> Part | None:
        """The part that a mistake would make, built; None when it cannot be so."""
        self._going()
        try:
            settled = settle(fault.make(self.content))
        except Refusal:
            return None
        if settled.problems:
            return None
        self.built += 1
        with unread():
            result = rebuild(settled.content.plan(self.find), self.cache)
        if result.body is None or any(r.state in ("failed", "waiting") for r in result.reports):
            return None
        return Part(settled.content, result, self.density)

    def suspects(self, few: Sequence[Fault], gap: Gap) -> Iterator[tuple[Fault, Suspect | None]]:
        """What each of some mistakes comes to; they are built side by side."""
        for fault, judged in zip(few, self.each(partial(self._judged, gap=gap), few), strict=True):
            yield fault, self._taken(fault, judged) if judged is not None else None

    def suspect(self, fault: Fault, gap: Gap) -> Suspect | None:
        return self._taken(fault, self._judged(fault, gap))

    def _judged(self, fault: Fault, gap: Gap) -> Judged:
        before = self.built
        part = self.part(fault)
        is_built, self.built = self.built > before, before  # it is counted where it is taken
        if part is None or (gap.amount and abs(part.volume - gap.found) <= _ONE * gap.found):
            return Judged(is_built)
        rank = gap.rank(part)
        is_met = bool(rank and gap.amount and gap.is_amount_met(part))
        grams, off = part.has("mass"), gap.off(part)
        suspect = Suspect(fault.words, part.volume, grams, rank, fault.weight, packed(part.content), off=off)
        return Judged(is_built, suspect, is_met)

    def _taken(self, fault: Fault, judged: Judged) -> Suspect | None:
        """The suspect with the number of its solid; None for that of the present part."""
        self.built += judged.is_built
        suspect = judged.suspect
        solid = self._solid(suspect.volume, partial(self._body, suspect)) if suspect is not None else self._present
        if suspect is None or solid == self._present:
            return None
        if self.gap is not None and fault.kind not in ("pair", "value"):
            # with a number that nothing suggests nearly any pair would do
            self.singles.append(Single(fault, suspect.volume - self.gap.found, solid))
        if judged.is_met and fault.number is not None:
            self.ranged.setdefault(fault.number, fault.value)
        return msgspec.structs.replace(suspect, solid=solid)

    def _body(self, suspect: Suspect) -> NamedBody | None:
        return rebuild(suspect.content.plan(self.find), self.cache).body

    def _solid(self, volume: float, body: Callable[[], NamedBody | None]) -> int:
        """The number of a solid: that of one with the same volume and the same faces, else a new one."""
        key = round(math.log(volume) / SAME)
        alike = [s for k in (key - 1, key, key + 1) for s in self._solids.get(k, ())]
        mine = Solid(self._counted, body)
        number = next((s.number for s in alike if s.is_as(mine)), None)
        if number is not None:
            return number
        self._solids.setdefault(key, []).append(mine)
        self._counted += 1
        return mine.number
