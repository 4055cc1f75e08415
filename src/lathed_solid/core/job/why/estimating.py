"""What a mistake would add to the part, told beforehand from the steps' own shares and small changes of the numbers."""

from __future__ import annotations

import contextlib
import math
from collections.abc import Callable, Iterator, Sequence, Set

from ...refusal import Refusal, unread
from ...route.rebuild import Cache, RouteResult, StepReport, rebuild
from ...route.registry import DATUMS
from ..model import Content
from ..numbers import Number
from ..settle import settle
from .faults import Fault

_Curve = tuple[float, float] | None
Each = Callable[[Callable[[Number], _Curve], Sequence[Number]], Iterator[_Curve]]
Find = Callable[[str], bytes | None] | None
#: A number is changed by this share for its estimate.
_TRIED = 0.03
#: A step that adds less than this (mm³) adds nothing.
_ONE = 1e-9


class _Enough(Exception):
    """The first step that had to run has run."""


class Estimates:
    """Of one part, built with ``result``. ``each`` does one thing to many, side by side."""

    def __init__(self, content: Content, cache: Cache, result: RouteResult, find: Find, each: Each) -> None:
        self.content, self.cache, self.find, self._each = content, cache, find, each
        #: Slope and bend of what each number adds.
        self.curves: dict[Number, _Curve] = {}
        self._after = _volumes(result.reports)

    def of(self, every: Sequence[Fault]) -> Iterator[float | None]:
        """What each mistake would add (mm³), from the steps' own shares and from small changes of the numbers; None
        where nothing tells it beforehand.
        """
        curves = self.curves
        new = [n for n in dict.fromkeys(f.number for f in every) if n is not None and n not in curves]
        curves.update(zip(new, self._each(self._curve, new), strict=True))
        for fault in every:
            number = fault.number
            if number is None:
                yield self.told(fault)
                continue
            curve, by = curves[number], fault.value - number.value
            yield None if curve is None else curve[0] * by + curve[1] * by * by

    def told(self, fault: Fault) -> float | None:
        """What a mistake adds that changes no number; None where only building tells it."""
        if fault.number is not None:
            return None
        if fault.off:
            return -sum(self.share(s) for s in fault.off)
        return self.share(fault.again) * fault.times if fault.again else fault.adds

    def share(self, step: str) -> float:
        """What a step adds (mm³; takes, less than zero)."""
        before, after = self._after.get(step, (0.0, 0.0))
        return after - before

    def _curve(self, number: Number) -> _Curve:
        """Slope and bend of what a number adds, from a little more and a little less of it; None when neither works."""
        if number.kind == "count":
            less = self._more(number, -1) if number.value > 1 else None
            return None if less is None else (-less, 0.0)
        step = _TRIED * number.value
        more, less = self._more(number, step), self._more(number, -step)
        if more is None or less is None:
            one = more / step if more is not None else -less / step if less is not None else None
            return None if one is None else (one, 0.0)
        return (more - less) / (2 * step), (more + less) / (2 * step * step)

    def direct(self, fault: Fault) -> float:
        """What a mistake adds in the first step that it changes, which is built; infinite when the part cannot be so.

        Slower than ``of`` and nearer the truth where a number changes by much, or where nothing else tells.
        """
        return self._first_change(fault.make)

    def _more(self, number: Number, by: float) -> float | None:
        """What a number adds that is larger ``by`` so much; None when the part cannot be so."""
        added = self._first_change(lambda c: number.read_as(c, f"{number.value + by:.8g}"))
        return added if math.isfinite(added) else None

    def _first_change(self, make: Callable[[Content], Content]) -> float:
        """What an edit adds in the first step that it changes (mm³), with what repeats that step; infinite when the
        part cannot be so. Planes and axes add nothing, but what stands on them does.
        """
        try:
            settled = settle(make(self.content))
        except Refusal:
            return math.inf
        if settled.problems:
            return math.inf
        seen: list[StepReport] = []
        planes = {s.id for s in settled.content.steps if isinstance(s, DATUMS)}
        lacking = {s.id for s in self.content.steps if s.suppressed}  # what is switched on has to be seen, all of it
        lacking -= {s.id for s in settled.content.steps if s.suppressed}

        def ended(report: StepReport) -> None:
            seen.append(report)
            is_new = report.state in ("done", "failed") and not report.cached
            lacking.discard(report.id)
            if report.state == "failed" or (is_new and report.id not in planes and not lacking):
                raise _Enough

        with contextlib.suppress(_Enough), unread():
            rebuild(settled.content.plan(self.find), self.cache, ended=ended)
        return math.inf if any(r.state == "failed" for r in seen) else self._added(seen)

    def _added(self, seen: Sequence[StepReport]) -> float:
        """What the steps seen so far add to what they added, with what will repeat them (mm³)."""
        added, before, passed = 0.0, 0.0, {r.id for r in seen}
        for report in seen:
            volume = report.volume if report.state == "done" else before
            own = volume - before - self.share(report.id)
            added, before = added + own * self._repeated(report.id, passed), volume
        return added

    def _repeated(self, step: str, passed: Set[str]) -> float:
        """How many times what a step makes is there, by what has yet to repeat it."""
        own = self.share(step)
        repeats = (s.id for s in self.content.steps if step in getattr(s, "of", ()) and s.id not in passed)
        return 1 + sum(self.share(s) for s in repeats) / own if abs(own) > _ONE else 1.0


def _volumes(reports: Sequence[StepReport]) -> dict[str, tuple[float, float]]:
    """The volume before and after each step that was built."""
    found, before = {}, 0.0
    for report in reports:
        if report.state == "done":
            found[report.id] = (before, report.volume)
            before = report.volume
    return found
