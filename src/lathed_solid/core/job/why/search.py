"""The search for what closes a gap: an estimate of each mistake first, then the near ones are built and measured."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import partial

from ...route.rebuild import Cache
from ...standards.materials import all_materials
from .. import edits
from ..attachments import Store
from ..model import Content
from ..numbers import Number
from .estimating import Estimates
from .faults import WEIGHTS, Fault, as_value, faults
from .gap import Gap, Part
from .pairing import GOOD, pairs, with_values
from .suspect import Suspect, packed
from .trying import SAME, Trying
from .written import WRITTEN, root, roundest, written

#: So many mistakes are built at most, and so many to solve numbers for the gap.
MOST, SOLVED = 400, 200
#: When one closes the gap, so many more of each sort are built: what ties with it is among them.
AFTER = 24
#: So many builds bring a number that is solved for close to what closes the gap, the first of them this far off where
#: nothing tells how far.
_CLOSER, _TRIED = 6, 0.1
#: While each of them brings it to less than this share of what was missing, some more.
_SHRINKS, _MORE_CLOSER = 0.5, 11
#: What changes less than this of the volume (mm³) moves material and takes none.
_STILL = 1e-4
#: Those estimated this near the gap are always built: what ties with the one that closes it is among them.
_NEAR = 0.1
#: By how much a number has to change for its estimate to be made anew, at the value itself.
_MUCH = 0.5
#: Of so many numbers that make the amount right another figure is tried to be met too.
_RANGED = 6
_WHOLE = ("volume", "mass")
#: So many mistakes are built side by side.
_ABREAST = 24
#: How common it is that the material is another.
_MATERIAL = 6.0


class Search(Trying):
    """What is tried of one part, in which order, and for how long."""

    def __init__(
        self,
        content: Content,
        cache: Cache | None = None,
        store: Store | None = None,
        going: Callable[[], object] = lambda: None,
        line: tuple[int, str] | None = None,
    ) -> None:
        super().__init__(content, cache, store, going, line)
        self.paired = False
        self.estimates = Estimates(self.content, self.cache, self.result, self.find, self.each)

    def run(self) -> Iterator[Suspect]:
        """Each mistake that changes the part, as it is built, those that come nearest to the gap first; where no single
        one closes it but a number that nothing suggests, then two together.
        """
        gap = self.gap
        if gap is None or gap.is_closed:
            return
        if gap.kind == "mass":
            yield from self._materials(gap)
            if self.content.header.stated.volume:
                return  # the shape is right: the stated volume says so
        closed = False
        for suspect in self._tried(gap, self._parts(gap)):
            closed = closed or (suspect.rank == 0 and suspect.weight != WEIGHTS["value"])
            yield suspect
        if not closed and gap.amount is not None:
            yield from self._together(gap, gap.amount)

    def _parts(self, gap: Gap) -> Iterator[tuple[Iterable[Fault], bool]]:
        """Mistakes in the order in which they are tried, and whether a part of them may hold a tie."""
        from .sharp import left_sharp  # it needs the kernel, which the window does not wait for

        body = self.result.body
        every = [*faults(self.content), *(left_sharp(self.content, body) if body is not None else ())]
        if gap.amount is None:  # nothing tells beforehand what a place or a size of the whole becomes
            of = f"callout {gap.line[0]}," if gap.line is not None else ""
            yield sorted(every, key=lambda f: (of not in f"{f.words.lower()},", -f.weight)), True
            yield self._placed(gap, {f.number: None for f in every if f.number is not None}), False
            return
        missing = gap.amount
        within = max(_NEAR * abs(missing), *(f.half for f in gap.figures if f.kind == "volume"), SAME * gap.found)
        told = {n: found for n, f in enumerate(every) if (found := self.estimates.told(f)) is not None}
        first = sorted((n for n in told if abs(told[n] - missing) <= within), key=lambda n: abs(told[n] - missing))
        yield [every[n] for n in first], True  # what needs no building for its estimate: long before all numbers are
        known = {n: found for n, found in enumerate(self.estimates.of(every)) if found is not None}
        off = {n: abs(known[n] - missing) for n in known}
        near = sorted((n for n in known if n not in told and off[n] <= within), key=lambda n: off[n])
        yield [every[n] for n in near], True
        late: list[tuple[float, Fault]] = []
        unknown = sorted((f for n, f in enumerate(every) if n not in known), key=lambda f: -f.weight)
        yield self._directly(unknown, missing, within, late), True
        far = [every[n] for n in known if off[n] > within]
        yield self._directly([f for f in far if _is_by_much(f)], missing, within, late), True
        yield self._solved(missing) if missing else self._placed(gap, self._still()), False
        late += [(off[n], every[n]) for n in known if off[n] > within and not _is_by_much(every[n])]
        often = Counter(f.kind for _, f in late)
        late.sort(key=lambda f: (often[f[1].kind], f[0]))  # badly estimated: the few of a kind first
        yield [f for _, f in late], True
        yield self._narrowed(gap), False

    def _directly(
        self, every: Iterable[Fault], missing: float, within: float, late: list[tuple[float, Fault]]
    ) -> Iterator[Fault]:
        """Mistakes whose first changed step adds about what is missing; ``late`` are the others."""
        known = list(every)
        for fault, added in zip(known, self.each(self.estimates.direct, known), strict=True):
            off = abs(added - missing) if added is not None else math.inf
            if off <= within:
                yield fault
            elif math.isfinite(off):
                late.append((off, fault))

    def _together(self, gap: Gap, missing: float) -> Iterator[Suspect]:
        """Two mistakes at once, by what each of them was found to add."""
        halves = [f.half if f.kind == "volume" else f.half / self.density for f in gap.figures if f.kind in _WHOLE]
        if min(halves) > GOOD * gap.found:
            return
        self.paired = True
        closed = False
        for _, suspect in self.suspects(pairs(self.singles, missing, min(halves)), gap):
            if suspect is not None:
                closed = closed or suspect.rank == 0
                yield suspect
        numbers = () if closed else tuple((n, c) for n, c in self.estimates.curves.items() if c is not None)
        is_inch = self.content.header.units == "in"
        for fault in with_values(self.singles, numbers, missing, min(halves), is_inch):
            if (suspect := self.suspect(fault, gap)) is not None:
                yield suspect

    def _tried(self, gap: Gap, parts: Iterable[tuple[Iterable[Fault], bool]]) -> Iterator[Suspect]:
        """Mistakes part by part. When the gap is closed, some more of each part that may hold a tie (True) are built,
        none of the others.
        """
        rest, closed = MOST, False
        own: set[Number | str] = set()  # numbers and steps that closed it: what else may be said of them may tie
        for part, may_tie in parts:
            left = (AFTER if may_tie else 0) if closed else rest if may_tie else SOLVED
            for few in _in_bunches(part) if may_tie or left > 0 else ():
                wanted = few if left > 0 else [f for f in few if _of(f) in own]
                before = self.built
                for fault, suspect in self.suspects(wanted, gap):
                    # Nearly any number closes a gap by some value or other: that alone ends no search.
                    if suspect is not None and suspect.rank == 0 and fault.kind != "value":
                        left, closed = left if closed else min(left, AFTER), True
                        own.add(_of(fault))
                    if suspect is not None:
                        yield suspect
                left -= self.built - before
                rest -= (self.built - before) if may_tie else 0
                if left <= 0 and not (closed and may_tie):
                    break

    def _materials(self, gap: Gap) -> Iterator[Suspect]:
        """Other materials of which the part weighs what is stated."""
        stated = next(f for f in gap.figures if f.kind == "mass")
        for at, material in enumerate(all_materials()):
            weight = gap.found * material.density / 1000
            if stated.closes(weight):
                made = edits.set_header(self.content, material=material)
                words = f"Of {material.name}"
                yield Suspect(words, gap.found, weight, 0, _MATERIAL, packed(made), -1 - at)

    def _solved(self, missing: float) -> Iterator[Fault]:
        """Each number as the value with which the part closes the gap, as it would be written; those first that it
        takes the smallest change of.
        """
        curves = self.estimates.curves
        roots = {n: root(c, missing) if c is not None else None for n, c in curves.items() if n.kind != "count"}
        for number in sorted(roots, key=lambda n: abs(roots[n] or math.inf) / n.value):
            yield from self._said(number, self._closing(number, roots[number], missing, self._added))

    def _narrowed(self, gap: Gap) -> Iterator[Fault]:
        """Numbers with a value that makes the amount right and leaves another figure wrong, as the place of a hole that
        is whole again: the value that makes that figure right as well.
        """
        present = Part(self.content, self.result, self.density)
        for number, value in tuple(self.ranged.items())[:_RANGED]:
            part = self.part(as_value(number, f"{value:.9g}"))
            figures = (f for f in gap.figures if part is not None and not f.closes(part.has(f.what)))
            if (figure := next(figures, None)) is not None:
                missing = figure.value - present.has(figure.what)
                moved = partial(self._moved, figure.what, present)
                by = self._closing(number, value - number.value, missing, moved)
                yield from self._round(number, by, figure.half / missing)

    def _moved(self, what: str, present: Part, number: Number, value: float) -> float | None:
        """What another value of a number adds to a figure; None when the part cannot be so."""
        part = self.part(as_value(number, f"{value:.9g}")) if value > 0 else None
        return part.has(what) - present.has(what) if part is not None else None

    def _still(self) -> Iterable[Number]:
        """Numbers that change nothing of the amount: places."""
        curves = self.estimates.curves
        return [n for n, c in curves.items() if n.kind != "count" and c is not None and abs(c[0]) * n.value < _STILL]

    def _placed(self, gap: Gap, every: Iterable[Number]) -> Iterator[Fault]:
        """Each number as the value with which a place or a size of the whole is what is stated."""
        half = next((f.half for f in gap.figures if f.what == gap.what), 0.0)
        for number in every if gap.line is None else ():
            by = self._closing(number, None, gap.missing, self._gained) if number.kind != "count" else None
            yield from self._round(number, by, half / gap.missing)

    def _round(self, number: Number, by: float | None, share: float) -> Iterator[Fault]:
        """A number changed ``by`` so much, of which a figure's rounding leaves a ``share`` open, as it is written."""
        if by is not None:
            room, value, is_inch = abs(by * share), number.value + by, self.content.header.units == "in"
            for text in roundest(value - room, value + room, is_inch):
                yield as_value(number, text)

    def _said(self, number: Number, by: float | None) -> Iterator[Fault]:
        is_inch = self.content.header.units == "in"
        for text in written(number.value + by, number.text, is_inch) if by is not None else ():
            yield as_value(number, text)

    def _gained(self, number: Number, value: float) -> float | None:
        """What another value of a number gains of the figure asked about; None when it is not measured."""
        if value <= 0 or self.gap is None:
            return None
        suspect = self.suspect(as_value(number, f"{value:.9g}"), self.gap)
        return self.gap.missing - suspect.off if suspect is not None and suspect.off is not None else None

    def _closing(
        self, number: Number, first: float | None, missing: float, gains: Callable[[Number, float], float | None]
    ) -> float | None:
        """By how much a number has to change for the gap to close: secants from ``first``, every point built."""
        before, off_before = 0.0, -missing
        # a number that is far too large may change nothing until it is much smaller: a pocket deeper than the part
        others = iter((-0.5 * number.value, -0.8 * number.value))
        by = first if first is not None else _TRIED * number.value
        for n in range(_MORE_CLOSER):
            by = min(max(by, -0.9 * number.value), 4 * number.value)
            added = gains(number, number.value + by)
            if added is None:  # no such part, or no other one: elsewhere, then half as far
                by = next(others, (before + by) / 2)
                continue
            off = added - missing
            if off == off_before or (n >= _CLOSER and abs(off) > _SHRINKS * abs(off_before)):
                return None
            step = -off * (by - before) / (off - off_before)
            if abs(step) <= WRITTEN / 4 * abs(number.value + by):
                return by + step
            before, off_before, by = by, off, by + step
        return None

    def _added(self, number: Number, value: float) -> float | None:
        """What another value of a number adds to the whole part (mm³); None when the part cannot be so."""
        if value <= 0 or self.gap is None:
            return None
        suspect = self.suspect(as_value(number, f"{value:.9g}"), self.gap)
        return suspect.volume - self.gap.found if suspect is not None else None


def _in_bunches(part: Iterable[Fault]) -> Iterator[Sequence[Fault]]:
    """Those that are known side by side; one that follows from what came of the one before it stands by itself."""
    if isinstance(part, Sequence):
        yield from (part[n : n + _ABREAST] for n in range(0, len(part), _ABREAST))
    else:
        yield from ([fault] for fault in part)


def _is_by_much(fault: Fault) -> bool:
    """Whether a number changes by so much that small changes of it tell nothing of what that adds."""
    number = fault.number
    return number is not None and number.kind != "count" and abs(fault.value - number.value) > _MUCH * number.value


def _of(fault: Fault) -> Number | str:
    """The number, or the step, that a mistake is about."""
    return fault.number if fault.number is not None else fault.words.partition(":")[0]
