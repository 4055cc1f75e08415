"""The gap between what is stated of a part and what its solid has, judged by how each figure was rounded."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

from ...prove.proof import Proof, ProofLine, StatedKind
from ...route.rebuild import RouteResult
from ..model import Content
from ..proving import prove_result, weighed
from ..stating import StatedFigure, figures_of, stated_figures
from ..surveying import standing_of

#: What counts as the part's amount of material: cheap to know of every part that is tried.
_AMOUNT = ("volume", "mass")


class Part:
    """A part that was built, measured no further than is asked. ``density`` in g/mm³."""

    def __init__(self, content: Content, result: RouteResult, density: float) -> None:
        self.content, self.result, self._density = content, result, density
        self.volume = sum(b.volume for b in result.bodies.values())

    def has(self, what: str) -> float:
        """A figure that may be stated."""
        if what in _AMOUNT:
            return self.volume if what == "volume" else self.volume * self._density
        return self.figures[what]

    @cached_property
    def figures(self) -> Mapping[str, float]:
        body = self.result.body
        assert body is not None
        return figures_of(weighed(self.content, self.result, check=False), standing_of(self.content, body), body)

    @cached_property
    def proof(self) -> Proof | None:
        return prove_result(self.content, self.result)

    def line(self, number: int, key: str) -> ProofLine | None:
        """What the proof says of one size."""
        lines = self.proof.lines if self.proof is not None else ()
        return next((x for x in lines if (x.number, x.key) == (number, key)), None)


class Gap(NamedTuple):
    """What does not agree: ``what`` in words, and how much the solid has too little of it (``missing``, in mm, mm², mm³
    or radians; less than zero: too much). ``figures`` are all that the part must have to close it, ``line`` the size of
    a callout that must be in limits besides. ``amount`` is what is missing by volume or mass (mm³), None when neither
    is stated; ``found`` the volume there is.
    """

    what: str
    kind: StatedKind | str
    missing: float
    figures: tuple[StatedFigure, ...]
    amount: float | None
    found: float
    line: tuple[int, str] | None = None
    is_closed: bool = False

    def rank(self, part: Part) -> int:
        """How far a part is from all that is stated: 0 when it has it all, else a class by powers of ten.

        What costs time to measure is asked only of a part that has the right amount of material.
        """
        cheap = self._amount_rank(part)
        if cheap and self.line is None:
            return cheap
        rest = max((f.rank(part.has(f.what)) for f in self.figures if f.what not in _AMOUNT), default=0)
        return max(cheap, rest) + (10 * _off_limits(part.line(*self.line)) if self.line is not None else 0)

    def is_amount_met(self, part: Part) -> bool:
        """Whether a part has as much material as is stated."""
        return self._amount_rank(part) == 0

    def _amount_rank(self, part: Part) -> int:
        return max((f.rank(part.has(f.what)) for f in self.figures if f.what in _AMOUNT), default=0)

    def off(self, part: Part) -> float | None:
        """How much a part still has too little of what does not agree; None when that was not worth measuring."""
        if self.line is not None:
            line = part.line(*self.line)
            return line.nominal - line.measured if line is not None and line.measured is not None else None
        if self.what not in _AMOUNT and self._amount_rank(part):
            return None
        return next(f.value - part.has(f.what) for f in self.figures if f.what == self.what)


def _off_limits(line: ProofLine | None) -> int:
    """How far a size is outside its limits: 0 inside, else a class by powers of ten of its band."""
    if line is None or line.measured is None:
        return 9
    if line.mark != "out":
        return 0
    band = max(line.upper - line.lower, 1e-6)
    return 1 + max(0, math.floor(math.log10(abs(line.measured - line.nominal) / band)))


def gap_of(content: Content, result: RouteResult, line: tuple[int, str] | None = None) -> Gap | None:
    """What does not agree: the size asked for; else the first stated figure that is off by its rounding; else the first
    size out of limits. None when nothing is stated, no size is out, or there is no solid.
    """
    if result.body is None:
        return None
    part, figures = Part(content, result, density_of(content, result)), stated_figures(content.header)
    amounts = [(f, part.has(f.what)) for f in figures if f.what in _AMOUNT]
    off = [(f, has) for f, has in amounts if not f.closes(has)]
    amount = _as_volume(*off[0], part) if off else 0.0 if amounts else None
    if line is None:
        first = off[0] if off else _first_off(figures, part)
        if first is not None:
            f, has = first
            return Gap(f.what, f.kind, f.value - has, figures, amount, part.volume)
    proof = part.proof
    bad = [x for x in proof.lines if x.mark == "out" and x.measured is not None] if proof is not None else []
    wanted = next((x for x in bad if line in (None, (x.number, x.key))), None)
    if wanted is not None and wanted.measured is not None:
        what = f"callout {wanted.number}" + (f", {wanted.key.replace('_', ' ')}" if wanted.key else "")
        missing, which = wanted.nominal - wanted.measured, (wanted.number, wanted.key)
        return Gap(what, wanted.kind, missing, figures, amount, part.volume, which)
    if not figures:
        return None
    return Gap(figures[0].what, figures[0].kind, 0.0, figures, amount, part.volume, is_closed=True)


def _first_off(figures: Sequence[StatedFigure], part: Part) -> tuple[StatedFigure, float] | None:
    others = ((f, part.has(f.what)) for f in figures if f.what not in _AMOUNT)
    return next(((f, has) for f, has in others if not f.closes(has)), None)


def _as_volume(figure: StatedFigure, has: float, part: Part) -> float:
    """What is missing by volume or mass, mm³."""
    missing = figure.value - has
    return missing if figure.what == "volume" else missing * part.volume / has


def density_of(content: Content, result: RouteResult) -> float:
    """Grams per mm³ of all bodies together."""
    found = weighed(content, result, check=False)
    return found.grams / found.figures.volume
