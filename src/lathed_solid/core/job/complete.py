"""The completeness look: what a drawing still owes, before any solid exists."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from typing import Literal, NamedTuple

import msgspec

from ..callout import Callout, Ledger, Reading, asks, odd
from ..quantity import ExpressionError, Style, evaluate
from ..quantity.quantity import LENGTH_UNITS
from ..route.settling import dimension_values
from ..sketch.model import Line, Sketch
from ..sketch.refusal import SketchError
from . import walk
from .model import Chain, Content

Sort = Literal["missing", "surplus", "chain", "repeat", "contradiction", "odd"]


class Finding(NamedTuple):
    """One thing to settle, in words; ``numbers`` are the balloons it is about, ``sketch`` the sketch."""

    sort: Sort
    words: str
    numbers: tuple[int, ...] = ()
    sketch: str = ""


def look(content: Content) -> tuple[Finding, ...]:
    """All findings: unread notes and open questions, repeats, chains, and what sketches lack or have too much."""
    ledger, style = content.ledger(), content.header.style
    readings = _readings(content, ledger)
    found = [*_notes(content, ledger, readings, style), *_repeats(content.callouts, readings)]
    found += _chains(content, readings, style)
    for sketch in content.sketches:
        found += _turned(sketch, ledger) if sketch.stations is not None else _outline(sketch, ledger, style)
    found += _sheets(content)
    return tuple(found)


def _readings(content: Content, ledger: Ledger) -> dict[int, Reading]:
    return {c.number: ledger.reading(c.number) for c in content.callouts if ledger.error(c.number) is None}


# --- notes
def _notes(content: Content, ledger: Ledger, readings: dict[int, Reading], style: Style) -> Iterator[Finding]:
    for callout in content.callouts:
        number = callout.number
        if number not in readings:
            error = ledger.error(number)
            yield Finding("missing", f"{number} cannot be read: {error.message if error else ''}", (number,))
            continue
        reading = readings[number]
        for question in asks(reading):
            yield Finding("missing", f"{number}: {question}", (number,))
        for words in odd(reading, style):
            yield Finding("odd", f"{number}: {words}", (number,))
        placed = any(reading.get(k) for k in ("circle", "at", "x"))
        if reading.is_hole and reading.count > 1 and not placed and not walk.where_used(content, number):
            yield Finding(
                "missing", f"{number}: {reading.count} holes, but where? State a pitch circle or x and y.", (number,)
            )


# --- repeats
def _repeats(callouts: tuple[Callout, ...], readings: dict[int, Reading]) -> Iterator[Finding]:
    """The same label twice: the same size is a repeat, another one a contradiction."""
    for a, b in combinations([c for c in callouts if c.number in readings and c.label.strip()], 2):
        if a.label.strip().casefold() != b.label.strip().casefold():
            continue
        first, second = readings[a.number], readings[b.number]
        if first.shape != second.shape:
            continue
        pair, both = (a.number, b.number), f"{a.number} and {b.number} are both “{a.label.strip()}”"
        if abs(first.main.nominal - second.main.nominal) > 1e-9:
            yield Finding("contradiction", f"{both}, but say {a.note} and {b.note}.", pair)
        elif (first.main.lower, first.main.upper) != (second.main.lower, second.main.upper):
            yield Finding("contradiction", f"{both} with different limits: {a.note} and {b.note}.", pair)
        else:
            yield Finding("repeat", f"{both} and say the same. Keep one; state a size once.", pair)


# --- chains
def _chains(content: Content, readings: dict[int, Reading], style: Style) -> Iterator[Finding]:
    for chain in content.chains:
        parts = [readings[n].main for n in chain.parts if n in readings]
        whole = readings[chain.overall].main if chain.overall in readings else None
        if whole is None or len(parts) < len(chain.parts):
            yield Finding("chain", "A chain has lost one of its callouts.", (chain.overall, *chain.parts))
            continue
        total, off = sum(p.nominal for p in parts), sum(p.nominal for p in parts) - whole.nominal
        summed = " + ".join(str(n) for n in chain.parts)
        numbers = (chain.overall, *chain.parts)
        if abs(off) > 1e-6:
            yield Finding(
                "chain",
                f"{summed} make {style.length(total)}, but {chain.overall} says {style.length(whole.nominal)}: "
                f"{style.length(abs(off))} {'too much' if off > 0 else 'missing'}.",
                numbers,
            )
        elif whole.basis not in ("reference", "basic"):
            spread = sum(p.upper - p.lower for p in parts)
            if spread > whole.upper - whole.lower + 1e-9:
                yield Finding(
                    "surplus",
                    f"{summed} and {chain.overall} state one length twice, and the chain's limits add up to "
                    f"{style.length(spread)} against {style.length(whole.upper - whole.lower)}. "
                    f"Make one of them a reference, as in ({style.length(whole.nominal)}).",
                    numbers,
                )


def likely_chains(content: Content) -> tuple[Chain, ...]:
    """Runs of two to six lengths that stand next to each other on the sheet and make up another stated length; two
    lengths anywhere on it do so too, when their figures are too exact for chance (5.000 less .250 is 4.750).
    """
    ledger = content.ledger()
    readings = _readings(content, ledger)
    plain = [c.number for c in content.callouts if c.number in readings and readings[c.number].shape == "length"]
    sizes = {n: readings[n].main.nominal for n in plain}
    runs = [tuple(plain[at : at + many]) for at in range(len(plain)) for many in range(2, min(7, len(plain) - at + 1))]
    runs += [p for p in combinations(plain, 2) if p not in runs and any(_telling(sizes[n], content) for n in p)]
    found: list[Chain] = []
    for run in runs:
        total = sum(sizes[n] for n in run)
        made = [Chain(overall=n, parts=run) for n in plain if n not in run and abs(sizes[n] - total) < 1e-6]
        found += [c for c in made if c not in content.chains]
    return tuple(found)


def _telling(size: float, content: Content) -> bool:
    """Whether a size has three figures or more in the unit of its drawing, so that a sum with it is no chance."""
    figures = f"{size / LENGTH_UNITS[content.header.units]:.4f}".rstrip("0").replace(".", "").strip("0")
    return len(figures) >= 3


# --- sketches
def _turned(sketch: Sketch, ledger: Ledger) -> Iterator[Finding]:
    """A profile table: every row needs a diameter and an end; a length beside a position is one too many."""
    stations = sketch.stations or ()
    last = 0.0
    for row, station in enumerate(stations, 1):
        if not station.diameter.strip():
            yield Finding("missing", f"“{sketch.name}”, row {row}: the diameter is missing.", (), sketch.id)
        if not station.to.strip() and not station.length.strip():
            words = f"“{sketch.name}”, row {row}: neither its end nor its length is stated."
            yield Finding("missing", words, (), sketch.id)
            return
        try:
            length = evaluate(station.length, ledger) if station.length.strip() else None
            end = evaluate(station.to, ledger) if station.to.strip() else last + (length or 0.0)
        except ExpressionError as error:
            yield Finding("missing", f"“{sketch.name}”, row {row}: {error}", (), sketch.id)
            return
        if length is not None and station.to.strip():
            fits = abs(last + length - end) < 1e-6
            sort: Sort = "surplus" if fits else "contradiction"
            why = "its length follows from its end" if fits else "its length and its end do not agree"
            yield Finding(sort, f"“{sketch.name}”, row {row}: {why}. Drop one of them.", (), sketch.id)
        last = end


def _outline(sketch: Sketch, ledger: Ledger, style: Style) -> Iterator[Finding]:
    """A drawn outline: the solver says what can still move, and which size is determined twice."""
    from ..sketch.explain.diagnose import freedom, judge

    if not sketch.entities:
        return
    try:
        values = dimension_values(sketch, ledger)
        free = freedom(sketch, values)
    except SketchError as error:
        yield Finding("missing", f"“{sketch.name}”: {error}", (), sketch.id)
        return
    if free.ways:
        which = _what_moves(sketch, free.directions, style)
        ways = f"{free.ways} size{'s' * (free.ways > 1)} missing"
        yield Finding("missing", f"“{sketch.name}”: {ways}; {which} can still move.", (), sketch.id)
    for d in sketch.dimensions:
        if d.reference:
            continue
        rest = tuple(x for x in sketch.dimensions if x.id != d.id)
        verdict = judge(msgspec.structs.replace(sketch, dimensions=rest), values, d)
        if verdict.kind != "fits":
            sort: Sort = "surplus" if verdict.kind == "redundant" else "contradiction"
            others = [x.text for x in rest if x.id in verdict.because]
            because = f" by {', '.join(others)}" if others else " by the relations"
            words = f"“{sketch.name}”: the size {d.text} is already determined{because}."
            yield Finding(sort, words, (), sketch.id)


def _what_moves(sketch: Sketch, directions: dict[str, tuple[int, tuple[float, float]]], style: Style) -> str:
    """What is free, in words: lines by how they lie and where, else a point by its place, else a radius."""
    free = {id_ for id_, (rank, _) in directions.items() if rank}
    points = sketch.points()
    found = []
    for line in (e for e in sketch.entities if isinstance(e, Line)):
        if not {line.a, line.b} <= free:
            continue
        a, b = points[line.a], points[line.b]
        sideways = any(abs(directions[end][1][0]) > 1e-3 or directions[end][0] == 2 for end in (line.a, line.b))
        up = any(abs(directions[end][1][1]) > 1e-3 or directions[end][0] == 2 for end in (line.a, line.b))
        if abs(a.x - b.x) < 1e-6 and sideways:
            found.append(f"the upright line at {style.length(a.x)}")
        elif abs(a.y - b.y) < 1e-6 and up:
            found.append(f"the level line at {style.length(a.y)}")
        elif abs(a.x - b.x) > 1e-6 and abs(a.y - b.y) > 1e-6:
            found.append(f"the slanted line from {style.length(a.x)}, {style.length(a.y)}")
    if found:
        return ", ".join(found[:3]) + (f" and {len(found) - 3} more" if len(found) > 3 else "")
    loose = [p for p in points.values() if p.id in free]
    return f"the point at {style.length(loose[0].x)}, {style.length(loose[0].y)}" if loose else "a radius"


# --- sheets
def _sheets(content: Content) -> Iterator[Finding]:
    for drawing in content.drawings:
        placed = {c.place.sheet for c in content.callouts if c.place and c.place.drawing == drawing.id}
        empty = [n for n in range(1, max(1, len(drawing.scales)) + 1) if n not in placed]
        for sheet in empty:
            yield Finding("missing", f"{drawing.name}, sheet {sheet}: no balloon has been placed on it yet.")
