"""What a mistake would add to the part, told beforehand from the steps' own shares and small changes of the numbers."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator, Sequence

from ...refusal import Refusal, unread
from ...route.rebuild import Cache, RouteResult, StepReport, rebuild
from ..model import Content
from ..numbers import Number
from ..settle import settle
from .faults import Fault

Find = Callable[[str], bytes | None] | None
#: A number is changed by this share for its estimate.
_TRIED = 0.03
#: A step that adds less than this (mm³) adds nothing.
_ONE = 1e-9


class _Enough(Exception):
    """The first step that had to run has run."""


class Estimates:
    """Of one part, built with ``result``. ``going`` is called before every build and may raise to let it go."""

    def __init__(
        self, content: Content, cache: Cache, result: RouteResult, find: Find, going: Callable[[], object]
    ) -> None:
        self.content, self.cache, self.find, self._going = content, cache, find, going
        #: Slope and bend of what each number adds.
        self.curves: dict[Number, tuple[float, float] | None] = {}
        self._after = _volumes(result.reports)

    def of(self, every: Sequence[Fault]) -> Iterator[float | None]:
        """What each mistake would add (mm³), from the steps' own shares and from small changes of the numbers; None
        where nothing tells it beforehand.
        """
        curves = self.curves
        for fault in every:
            number = fault.number
            if number is None:
                yield self._told(fault)
                continue
            if number not in curves:
                curves[number] = self._curve(number)
            curve, by = curves[number], fault.value - number.value
            yield None if curve is None else curve[0] * by + curve[1] * by * by

    def _told(self, fault: Fault) -> float | None:
        """What a mistake adds that changes no number."""
        if fault.off:
            return -sum(self.share(s) for s in fault.off)
        return self.share(fault.again) if fault.again else fault.adds

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

        with contextlib.suppress(_Enough), unread():
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


def _volumes(reports: Sequence[StepReport]) -> dict[str, tuple[float, float]]:
    """The volume before and after each step that was built."""
    found, before = {}, 0.0
    for report in reports:
        if report.state == "done":
            found[report.id] = (before, report.volume)
            before = report.volume
    return found
