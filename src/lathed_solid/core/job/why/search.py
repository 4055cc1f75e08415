"""The search for what closes a gap: an estimate of each mistake first, then the near ones are built and measured."""

from __future__ import annotations

import contextlib
import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import cached_property
from typing import TYPE_CHECKING

import msgspec

from ...kernel.ground.figures import Surface
from ...plan.carriers import alone
from ...refusal import Refusal
from ...route.rebuild import Cache, RouteResult, StepReport, rebuild
from ...standards.materials import all_materials
from .. import edits
from ..attachments import Store
from ..model import Content
from ..numbers import Number
from ..operating import faces_of
from ..settle import settle
from .faults import Fault, as_value, faults
from .gap import Gap, density_of, gap_of

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody

#: So many mistakes are built at most, and so many that have no estimate.
MOST, UNKNOWN = 400, 120
#: When one closes the gap, so many more of each sort are built: what ties with it is among them.
AFTER = 24
#: So often a number that is solved for is brought closer by a build.
_CLOSER = 2
#: A number is changed by this share for its estimate.
_TRIED = 0.03
#: Those estimated this near the gap are always built: what ties with the one that closes it is among them.
_NEAR = 0.1
#: A number as it would be written is this near what it was solved for.
_WRITTEN = 1e-4
#: Volumes that agree to this are equal; those of one solid agree to that.
_ONE, _SAME = 1e-9, 1e-8
#: How common it is that the material is another.
_MATERIAL = 6.0


_packed = msgspec.msgpack.Encoder().encode
_unpacked = msgspec.msgpack.Decoder(Content).decode


class Suspect(msgspec.Struct, frozen=True):
    """What would have to be so, the volume (mm³) and mass (g) that the part has then, and that part. ``rank`` is 0 when
    the figure is met within its rounding, else a class for each power of ten off; ``solid`` is a number that all
    suspects of one solid have, whose words are the ``others``: an equal volume alone makes no solid the same.
    ``lit`` are the faces (as references) that it has and the present part has not. The part travels as ``packed``
    bytes: of a dozen suspects one is opened, by whoever tries it.
    """

    words: str
    volume: float
    grams: float
    rank: int
    weight: float
    packed: bytes
    solid: int = 0
    others: tuple[str, ...] = ()
    lit: tuple[str, ...] = ()

    @property
    def content(self) -> Content:
        return _unpacked(self.packed)

    @property
    def order(self) -> tuple[float, ...]:
        return (self.rank, -self.weight)


class _Solid:
    """A solid that was built; its faces are measured when it is held against another of its volume."""

    def __init__(self, number: int, body: NamedBody) -> None:
        self.number, self._body = number, body

    @cached_property
    def faces(self) -> Sequence[Surface]:
        return faces_of(self._body).surfaces

    def is_as(self, other: _Solid) -> bool:
        return not alone(self.faces, other.faces) and not alone(other.faces, self.faces)


class _Enough(Exception):
    """The first step that had to run has run."""


class Search:
    """One part at work. ``going`` is called before every build and may raise to let it go."""

    def __init__(
        self,
        content: Content,
        cache: Cache | None = None,
        store: Store | None = None,
        going: Callable[[], object] = lambda: None,
    ) -> None:
        self.content, self.cache, self._going = settle(content).content, cache or Cache(2000), going
        self.find = store.find if store is not None else None
        self.result: RouteResult = rebuild(self.content.plan(self.find), self.cache)
        self.gap = gap_of(self.content, self.result)
        self.built = 0
        #: The solids that were built, by volume: their number, and their faces once there is another of that volume.
        self._solids: dict[int, list[_Solid]] = {}
        self._counted = 0
        self._curves: dict[Number, tuple[float, float] | None] = {}
        self._after = _volumes(self.result.reports)

    def run(self) -> Iterator[Suspect]:
        """Each mistake that changes the part, as it is built, those that come nearest to the gap first."""
        gap = self.gap
        if gap is None or gap.is_closed:
            return
        if gap.what == "mass":
            yield from self._materials(gap)
            if self.content.header.stated.volume:
                return  # the shape is right: the stated volume says so
        every = faults(self.content)
        known = {n: found for n, found in enumerate(self._estimates(every)) if found is not None}
        off = {n: abs(known[n] - gap.missing) for n in known}
        ordered = sorted(known, key=lambda n: off[n])
        near = [every[n] for n in ordered if off[n] <= _NEAR * abs(gap.missing)]
        far = [every[n] for n in ordered if off[n] > _NEAR * abs(gap.missing)]
        often = Counter(f.kind for f in far)
        far.sort(key=lambda f: often[f.kind])  # those far off are badly estimated: the few of a kind first
        unknown = sorted((f for n, f in enumerate(every) if n not in known), key=lambda f: -f.weight)
        parts = ((near, True), (unknown[:UNKNOWN], True), (self._solved(gap), False), (far, False))
        yield from self._tried(gap, parts)

    def _tried(self, gap: Gap, parts: Iterable[tuple[Iterable[Fault], bool]]) -> Iterator[Suspect]:
        """Mistakes part by part. When the gap is closed, some more of each part that may hold a tie (True) are built,
        none of the others.
        """
        left, closed = MOST, False
        for part, may_tie in parts:
            if closed:
                left = AFTER if may_tie else 0
            for fault in part if left else ():
                if (suspect := self._suspect(fault, gap)) is not None:
                    if suspect.rank == 0 and not closed:
                        left, closed = min(left, AFTER), True
                    yield suspect
                left -= 1
                if left <= 0:
                    break

    def _materials(self, gap: Gap) -> Iterator[Suspect]:
        """Other materials of which the part weighs what is stated."""
        density = self._density
        for at, material in enumerate(all_materials()):
            volume = gap.found * material.density / 1000 / density
            if gap.closes(volume):
                made = edits.set_header(self.content, material=material)
                grams, words = gap.found * material.density / 1000, f"Of {material.name}"
                yield Suspect(words, gap.found, grams, 0, _MATERIAL, _packed(made), -1 - at)

    def _solved(self, gap: Gap) -> Iterator[Fault]:
        """Each number as the value with which the part closes the gap, as it would be written."""
        for number, curve in self._curves.items():
            by = _root(curve, gap.missing) if curve is not None and number.kind != "count" else None
            for _ in range(_CLOSER):
                added = self._added(number, number.value + by, gap) if by is not None else None
                if by is None or not added or added * gap.missing < 0:
                    by = None
                    break
                by *= gap.missing / added
            if by is None or number.value + by <= 0:
                continue
            for text in _written(number.value + by, number.text, self.content.header.units == "in"):
                yield as_value(number, text)

    def _added(self, number: Number, value: float, gap: Gap) -> float | None:
        """What another value of a number adds to the whole part (mm³); None when the part cannot be so."""
        if value <= 0:
            return None
        suspect = self._suspect(as_value(number, f"{value:.9g}"), gap)
        return suspect.volume - gap.found if suspect is not None else None

    # --- estimates
    def _estimates(self, every: Sequence[Fault]) -> Iterator[float | None]:
        """What each mistake would add (mm³), from the steps' own shares and from small changes of the numbers; None
        where nothing tells it beforehand.
        """
        curves = self._curves
        for fault in every:
            number = fault.number
            if number is None:
                yield -sum(self.share(s) for s in fault.off) if fault.off else None
                continue
            if number not in curves:
                curves[number] = self._curve(number)
            curve, by = curves[number], fault.value - number.value
            yield None if curve is None else curve[0] * by + curve[1] * by * by

    def share(self, step: str) -> float:
        """What a step adds (mm³; takes, less than zero)."""
        before, after = self._after.get(step, (0.0, 0.0))
        return after - before

    def _curve(self, number: Number) -> tuple[float, float] | None:
        """Slope and bend of what a number adds, from a little more and a little less of it; None when neither works."""
        if number.kind == "count":
            less = self._first_change(number, number.value - 1) if number.value > 1 else None
            return None if less is None else (-less, 0.0)
        step = _TRIED * number.value
        more, less = self._first_change(number, number.value + step), self._first_change(number, number.value - step)
        if more is None or less is None:
            one = more / step if more is not None else -less / step if less is not None else None
            return None if one is None else (one, 0.0)
        return (more - less) / (2 * step), (more + less) / (2 * step * step)

    def _first_change(self, number: Number, value: float) -> float | None:
        """What another value adds in the first step that it changes (mm³), with what repeats that step; None when the
        part cannot be so.
        """
        self._going()
        try:
            settled = settle(number.read_as(self.content, f"{value:.8g}"))
        except Refusal:
            return None
        if settled.problems:
            return None
        seen: list[StepReport] = []

        def ended(report: StepReport) -> None:
            if not report.cached and report.state in ("done", "failed"):
                seen.append(report)
                raise _Enough

        with contextlib.suppress(_Enough):
            rebuild(settled.content.plan(self.find), self.cache, ended=ended)
        if not seen:
            return 0.0
        report = seen[0]
        if report.state == "failed" or report.id not in self._after:
            return None
        return (report.volume - self._after[report.id][1]) * self._repeated(report.id)

    def _repeated(self, step: str) -> float:
        """How many times what a step makes is there, by what repeats it."""
        own = self.share(step)
        others = sum(self.share(s.id) for s in self.content.steps if step in getattr(s, "of", ()))
        return 1 + others / own if abs(own) > _ONE else 1.0

    @cached_property
    def _density(self) -> float:
        return density_of(self.content, self.result)

    @cached_property
    def _own(self) -> Sequence[Surface]:
        """The faces of the present part."""
        return faces_of(self.result.body).surfaces if self.result.body is not None else ()

    def with_lit(self, suspect: Suspect) -> Suspect:
        """A suspect that knows which of its faces lie where the present part has none."""
        body = rebuild(suspect.content.plan(self.find), self.cache).body
        if body is None:
            return suspect
        there = faces_of(body)
        new = set(alone(there.surfaces, self._own))
        called = zip(there.surfaces, there.references, strict=True)
        return msgspec.structs.replace(suspect, lit=tuple(name for s, name in called if s.index in new))

    # --- building
    def _suspect(self, fault: Fault, gap: Gap) -> Suspect | None:
        self._going()
        try:
            settled = settle(fault.make(self.content))
        except Refusal:
            return None
        if settled.problems:
            return None
        self.built += 1
        result = rebuild(settled.content.plan(self.find), self.cache)
        if result.body is None or any(r.state in ("failed", "waiting") for r in result.reports):
            return None
        volume = sum(b.volume for b in result.bodies.values())
        if abs(volume - gap.found) <= _ONE * gap.found:
            return None
        grams = volume * self._density
        solid = self._solid(result.body, volume)
        return Suspect(fault.words, volume, grams, gap.rank(volume), fault.weight, _packed(settled.content), solid)

    def _solid(self, body: NamedBody, volume: float) -> int:
        """The number of a solid: that of one with the same volume and the same faces, else a new one."""
        key = round(math.log(volume) / _SAME)
        alike = [s for k in (key - 1, key, key + 1) for s in self._solids.get(k, ())]
        mine = _Solid(self._counted, body)
        number = next((s.number for s in alike if s.is_as(mine)), None)
        if number is not None:
            return number
        self._solids.setdefault(key, []).append(mine)
        self._counted += 1
        return mine.number


def _volumes(reports: Sequence[StepReport]) -> dict[str, tuple[float, float]]:
    """The volume before and after each step that was built."""
    found, before = {}, 0.0
    for report in reports:
        if report.state == "done":
            found[report.id] = (before, report.volume)
            before = report.volume
    return found


def _root(curve: tuple[float, float], wanted: float) -> float | None:
    """The smaller change with which a parabola through zero gives what is wanted."""
    slope, bend = curve
    if abs(bend) < 1e-12 * max(1.0, abs(slope)):
        return wanted / slope if slope else None
    under = slope * slope + 4 * bend * wanted
    if under < 0:
        return None
    roots = [(-slope + sign * math.sqrt(under)) / (2 * bend) for sign in (1, -1)]
    return min(roots, key=abs)


def _written(value: float, text: str, is_inch: bool) -> Iterator[str]:
    """How a number that comes to nearly this would stand in the note, the shortest first."""
    least = len(text.partition(".")[2])
    for places in range(least, least + (4 if is_inch else 2)):
        said = f"{value:.{places}f}"
        if math.isclose(float(said), value, rel_tol=_WRITTEN):
            yield said
            return
    sixty_fourth = round(value * 64) / 64
    if is_inch and math.isclose(sixty_fourth, value, rel_tol=_WRITTEN):
        yield f"{sixty_fourth:.8g}"
