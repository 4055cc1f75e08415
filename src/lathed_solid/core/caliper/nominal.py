"""What size the maker must have meant: candidates with a reason, ranked. Nothing is ever rounded silently."""

from __future__ import annotations

import math
from collections.abc import Iterator
from fractions import Fraction
from typing import Literal, NamedTuple

from ..standards import drills, fits, stock, thread_limits
from ..standards.tables import NotTabled, table
from ..standards.threads import parse_designation
from ..units import INCH
from .instrument import Way
from .statistics import Summary

Habit = Literal["mm", "in", "either"]
What = Literal["length", "diameter", "ball", "bore", "flats", "thread"]


class Candidate(NamedTuple):
    """``note`` is what would be typed, ``nominal`` mm; ``weight`` how usual such a size is before anything is measured;
    ``low`` and ``high`` mm bound where a part made to it usually measures.
    """

    note: str
    nominal: float
    reason: str
    weight: float
    low: float
    high: float


class Suggestion(NamedTuple):
    """``share`` is the likelihood among all candidates (0 to 1), ``off`` how far the mean lies from the nominal, mm."""

    note: str
    nominal: float
    reason: str
    share: float
    off: float
    fits: tuple[str, ...]


def suggest(
    summary: Summary, way: Way, what: What, habit: Habit = "either", pitch: float | None = None, most: int = 6
) -> list[Suggestion]:
    """Ranked suggestions for a measured size; ``pitch`` mm from a pitch gauge narrows down threads.

    The likelihood of a candidate is its weight times the chance of such a mean: the part anywhere in its usual band,
    the instrument with its stated uncertainty, the way of touching with its bias.
    """
    reach = max(6 * summary.u, 0.6)
    low, high = summary.mean + summary.low - reach, summary.mean + summary.high + reach
    scored: dict[str, tuple[float, Candidate]] = {}
    for candidate in candidates(low, high, what, habit, pitch):
        chance = candidate.weight * _chance(summary, candidate)
        # One size may be a metric step, a stock bar and a drill: its reasons add up in the best one's name.
        key = f"{candidate.nominal:.4f}" if what != "thread" else candidate.note
        old = scored.get(key)
        if old is None or chance > old[0]:
            scored[key] = (chance + (old[0] if old else 0.0), candidate)
        else:
            scored[key] = (old[0] + chance, old[1])
    total = sum(chance for chance, _ in scored.values())
    if total <= 0:
        return []
    ranked = sorted(scored.values(), key=lambda s: -s[0])
    found = []
    for chance, c in ranked[:most]:
        if chance / total > 1e-4:
            note, off = _bare(c.note) if habit == "mm" else c.note, summary.mean - c.nominal
            found.append(Suggestion(note, c.nominal, c.reason, chance / total, off, _fits(summary, c, what)))
    return found


def _bare(note: str) -> str:
    """A metric note as a metric drawing writes it."""
    return note.replace(" mm", "")


def _chance(summary: Summary, c: Candidate) -> float:
    """Density of the mean reading given the candidate: a flat band blurred by the uncertainty."""
    low, high = c.low - summary.high, c.high - summary.low
    scale = summary.u * math.sqrt(2)
    inside = 0.5 * (math.erf((summary.mean - low) / scale) - math.erf((summary.mean - high) / scale))
    # Tails of a normal, so that a mean far off still ranks its neighbours.
    distance = max(0.0, low - summary.mean, summary.mean - high) / summary.u
    return max(inside, 1e-12 * math.exp(-distance)) / (high - low)


def candidates(low: float, high: float, what: What, habit: Habit, pitch: float | None) -> Iterator[Candidate]:
    """All usual sizes between ``low`` and ``high`` mm."""
    if what == "thread":
        yield from _threads(low, high, habit, pitch)
        return
    metric = {"mm": 1.0, "either": 0.6, "in": 0.08}[habit]
    inch = {"mm": 0.04, "either": 0.4, "in": 1.0}[habit]
    yield from _metric_steps(low, high, what, metric)
    yield from _inch_fractions(low, high, what, inch)
    if what == "bore":
        yield from _drilled(low, high, metric, inch)
    if what in ("flats", "diameter"):
        form = "hexagon" if what == "flats" else "round"
        for unit, weight in (("mm", metric), ("in", inch)):
            for name, size in stock.bars(form, unit):
                if low <= size <= high:
                    yield _made(_note(what, name, size), size, f"{form} stock bar", 0.5 * weight)


def _band(size: float) -> float:
    """Half width in mm of what a careful maker holds without being asked: about grade 10 of ISO 286."""
    i = (0.45 * math.pow(max(size, 1.0), 1 / 3) + 0.001 * size) / 1000
    return 0.5 * 64 * i


def _made(note: str, size: float, reason: str, weight: float) -> Candidate:
    half = _band(size)
    return Candidate(note, size, reason, weight, size - half, size + half)


_STEPS = ((10.0, 0.30), (5.0, 0.20), (1.0, 0.60), (0.5, 0.16), (0.25, 0.02), (0.1, 0.02))


def _metric_steps(low: float, high: float, what: What, weight: float) -> Iterator[Candidate]:
    for n in range(math.ceil(low / 0.05 - 1e-9), math.floor(high / 0.05 + 1e-9) + 1):
        size = round(n * 0.05, 2)
        if size <= 0:
            continue
        fitting = [(s, w) for s, w in _STEPS if abs(size / s - round(size / s)) < 1e-9]
        if fitting:
            step = fitting[0][0]
            share = sum(w for _, w in fitting)
            yield _made(_note(what, f"{size:g} mm", size), size, f"metric step of {step:g} mm", share * weight)


_CUTS = ((1, 0.35), (2, 0.30), (4, 0.30), (8, 0.35), (16, 0.30), (32, 0.07), (64, 0.03))


def _inch_fractions(low: float, high: float, what: What, weight: float) -> Iterator[Candidate]:
    for n in range(max(1, math.ceil(low / INCH * 64 - 1e-9)), math.floor(high / INCH * 64 + 1e-9) + 1):
        size = Fraction(n, 64)
        share = sum(w for cut, w in _CUTS if (size * cut).denominator == 1)
        whole, rest = divmod(size, 1)
        name = f"{whole} {rest} in" if whole and rest else f"{whole or rest} in"
        reason = f"1/{size.denominator} inch" if size.denominator > 1 else "whole inch"
        mm = float(size) * INCH
        yield _made(_note(what, name, mm), mm, reason, share * weight)


def _drilled(low: float, high: float, metric: float, inch: float) -> Iterator[Candidate]:
    """Drills cut a little large: up to a tenth over, hardly any under."""
    for drill in drills.drills():
        if low <= drill.diameter <= high:
            weight = {"metric": 0.08 * metric, "number": 0.10 * inch, "letter": 0.10 * inch, "fraction": 0.2 * inch}
            inches = drill.family != "metric"
            size = f"{drill.diameter / INCH:.4g} in" if drill.family in ("number", "letter") else drill.name
            note = f"Ø{size} in" if drill.family == "fraction" and not size.endswith("in") else f"Ø{size}"
            reason = f"drill {drill.name}" if inches else "metric drill"
            half = _band(drill.diameter)
            yield Candidate(
                note, drill.diameter, reason, weight[drill.family], drill.diameter - half,
                drill.diameter + half + 0.03,
            )  # fmt: skip


def _note(what: What, name: str, size: float) -> str:
    """The note a size would be typed as, always with its unit: what is bare is for the drawing to decide."""
    text = f"{size:g} mm" if name.endswith("mm") else name
    return {"diameter": f"Ø{text}", "ball": f"SØ{text}", "bore": f"Ø{text}", "flats": f"{text} A/F"}.get(what, text)


def _threads(low: float, high: float, habit: Habit, pitch: float | None) -> Iterator[Candidate]:
    """External threads whose crests may measure so: from the standards' smallest major diameter up to the basic one."""
    metric = {"mm": 1.0, "either": 0.6, "in": 0.1}[habit]
    inch = {"mm": 0.05, "either": 0.4, "in": 1.0}[habit]
    listed = [(f"M{d}", 1.0 * metric, "coarse pitch, ISO 261") for d in table("iso_metric")["coarse"]]
    for d, pitches in table("iso_metric")["fine"].items():
        listed += [(f"M{d}x{p:g}", 0.15 * metric, "fine pitch, ISO 261") for p in pitches]
    for series, weight in (("UNC", 1.0), ("UNF", 0.5), ("UNEF", 0.05)):
        listed += [(f"{r[0]}-{r[1]:g} {series}", weight * inch, "ASME B1.1") for r in table("unified")[series]]
    for text, weight, reason in listed:
        thread = parse_designation(text)
        try:
            major = thread_limits.limits(thread, internal=False).major
        except NotTabled:
            major = None
        bottom, top = major or (thread.diameter - 0.15 * thread.pitch, thread.diameter)
        if top < low or bottom - 0.1 > high:
            continue
        if pitch is not None:
            off = abs(pitch - thread.pitch) / thread.pitch
            weight *= math.exp(-0.5 * (off / 0.02) ** 2)
        words = f"{reason}; crests {bottom:.2f} to {top:.2f}" + (
            f", pitch {thread.pitch:.3g}" if pitch is not None else ""
        )
        # Worn or rolled crests may be a little below the standard's limit.
        yield Candidate(thread.designation, thread.diameter, words, weight, bottom - 0.05, top)


_USUAL_FITS = {"bore": ("H7", "H8", "F8", "N7", "P7"), "diameter": ("h6", "g6", "f7", "k6", "m6", "p6")}


def _fits(summary: Summary, c: Candidate, what: What) -> tuple[str, ...]:
    """Usual fits around the nominal whose band the mean lies in, as far as the uncertainty lets one say so."""
    found = []
    for name in _USUAL_FITS.get(what, ()):
        try:
            lower, upper = fits.deviations(c.nominal, name)
        except NotTabled:
            continue
        if c.nominal + lower - summary.u <= summary.mean <= c.nominal + upper + summary.u:
            found.append(name)
    return tuple(found)
