"""Settling: after an edit, every sketch takes the pose its numbers ask for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from ..callout import Ledger
from ..quantity import ExpressionError, Style, evaluate
from ..route.model import FaceRef
from ..route.registry import Step
from ..route.steps.revolve import Revolve
from ..route.steps.thread import Thread
from ..sketch.edit.repeating import expanded
from ..sketch.model import Dimension, Sketch, Station
from ..sketch.solver.formulate import SketchError
from ..sketch.turned.profile import from_stations
from . import edits
from .model import Content
from .piercing import pierced

#: Kinds of dimension whose value is an angle.
ANGLES = ("angle", "turn")


class Settled(NamedTuple):
    """``problems`` maps a sketch id to why it kept its old pose."""

    content: Content
    problems: Mapping[str, str]


def dimension_values(sketch: Sketch, ledger: Ledger) -> dict[str, float]:
    """Value of every driving dimension, mm or radians. Raises SketchError naming the dimension."""
    values = {}
    for d in sketch.dimensions:
        if d.reference:
            continue
        try:
            value = evaluate(d.text, ledger, "angle" if d.kind in ANGLES else "length")
        except ExpressionError as error:
            raise SketchError(f"Dimension {_spoken(d)}: {error}") from None
        if value < 0 or (value == 0 and d.kind != "along" and d.kind != "across"):
            raise SketchError(f"Dimension {_spoken(d)} must be above zero; it is {value:g}.")
        values[d.id] = value
    return values


def repeat_counts(sketch: Sketch, ledger: Ledger) -> dict[str, tuple[int, int]]:
    """How many of everything a repeat asks for, the original included. Raises SketchError."""
    counts = {}
    for repeat in sketch.repeats:
        found = []
        for text in (repeat.count, repeat.count2 if repeat.kind == "grid" else "1"):
            try:
                value = evaluate(text, ledger, "number")
            except ExpressionError as error:
                raise SketchError(f"Count of the {repeat.kind} {repeat.id}: {error}") from None
            if value < 1 or abs(value - round(value)) > 1e-9:
                raise SketchError(
                    f"The count of the {repeat.kind} {repeat.id} must be a whole number; it is {value:g}."
                )
            found.append(round(value))
        counts[repeat.id] = (found[0], found[1])
    return counts


def _spoken(d: Dimension) -> str:
    return f"{d.kind} “{d.text}”"


def settle(content: Content) -> Settled:
    """Bring all sketches to their numbers; one that cannot follow keeps its pose and is reported."""
    ledger, problems = content.ledger(), {}
    for sketch in content.sketches:
        try:
            settled = settle_sketch(pierced(content, sketch, ledger), ledger, content.header.style)
        except SketchError as error:
            problems[sketch.id] = str(error)
            continue
        if settled != sketch:
            content = edits.set_sketch(content, settled)
    return Settled(content, problems)


def settle_sketch(sketch: Sketch, ledger: Ledger, style: Style | None = None) -> Sketch:
    """One sketch in the pose its numbers ask for. Raises SketchError."""
    if sketch.stations is not None:
        made = from_stations(sketch, sketch.stations, ledger) if sketch.stations else sketch
        return sketch if made == sketch else made
    if not sketch.entities:
        return sketch
    from ..sketch.solver.solve import Solver  # SciPy is slow to load and not needed to open a job

    values = dimension_values(sketch, ledger)
    try:
        repeated = expanded(sketch, repeat_counts(sketch, ledger)) if sketch.repeats else sketch
    except ValueError as error:
        raise SketchError(str(error)) from None
    solution = Solver(repeated, values).solve(values)
    if not solution.ok:
        raise SketchError(_why_not(repeated, values, solution.reached, style or Style()))
    return sketch if solution.sketch == sketch else solution.sketch


def _why_not(sketch: Sketch, values: Mapping[str, float], reached: float, style: Style) -> str:
    """From which value on a size is impossible, and what stands in its way; else how far the sketch could follow."""
    from ..sketch.explain.limits import limit
    from ..sketch.make.choose import in_words

    found = limit(sketch, values)
    if found is not None and abs(found.value - found.now) > 1e-6:
        size = next(d for d in sketch.dimensions if d.id == found.dimension)
        write = style.angle if size.kind in ANGLES else style.length
        way = "at most" if found.wanted > found.now else "at least"
        words = f"{_spoken(size)} can be {way} {write(found.value)}, not {write(found.wanted)}"
        others = [in_words(sketch, i) for i in found.because if i != found.dimension][:4]
        return words + (f": beyond that {', '.join(others)} cannot hold." if others else ".")
    if reached > 0:
        return (
            f"The sketch “{sketch.name}” can follow only {reached:.0%} of the way to the new sizes; "
            "it keeps its last good shape."
        )
    return f"The sizes of the sketch “{sketch.name}” contradict each other; it keeps its last good shape."


def set_stations(content: Content, sketch_id: str, stations: tuple[Station, ...]) -> Content:
    """Write the turned-profile table, its sketch and the thread steps of its rows.

    Raises SketchError naming the row; nothing changes then.
    """
    sketch = content.sketch(sketch_id)
    made = from_stations(sketch, stations, content.ledger())
    content = edits.set_sketch(content, made)
    turned = next((s for s in content.steps if isinstance(s, Revolve) and s.sketch == sketch_id), None)
    return _threads(content, turned, stations) if turned else content


def _threads(content: Content, turned: Revolve, stations: tuple[Station, ...]) -> Content:
    """One cosmetic Thread step for every row that states a thread, kept in step with the table."""
    wanted: dict[str, Step] = {}
    for station in stations:
        if station.thread.strip():
            id_ = f"{turned.id}t{station.id}"
            note, _, length = station.thread.partition(",")
            note = note.strip()
            if not length.strip() and note.startswith("#") and _states_depth(content, note):
                length = f"{note}.depth"
            last = station.id == stations[-1].id
            wanted[id_] = Thread(
                id=id_,
                name="Thread",
                face=FaceRef(f"{turned.id}/{station.id}.od/side"),
                note=note,
                length=length.strip(),
                start="right" if last or station.id != stations[0].id else "left",
            )
    steps: list[Step] = []
    for step in content.steps:
        owned = isinstance(step, Thread) and step.id.startswith(f"{turned.id}t")
        if owned and step.id not in wanted:
            continue
        if owned:
            fresh = wanted.pop(step.id)
            step = msgspec.structs.replace(fresh, name=step.name, suppressed=step.suppressed)
        steps.append(step)
    return edits.set_steps(content, [*steps, *wanted.values()])


def _states_depth(content: Content, reference: str) -> bool:
    try:
        content.ledger().characteristic(int(reference[1:]), "depth")
    except (LookupError, ValueError):
        return False
    return True
