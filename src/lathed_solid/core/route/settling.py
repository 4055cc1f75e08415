"""One sketch and its numbers: reading every formula, and the pose they ask for."""

from __future__ import annotations

from collections.abc import Mapping

from ..callout import Ledger
from ..quantity import ExpressionError, Style, evaluate
from ..sketch.bounds import within_reach
from ..sketch.edit.repeating import expanded
from ..sketch.model import Dimension, Sketch
from ..sketch.refusal import SketchError
from ..sketch.turned.profile import from_stations

#: Kinds of dimension whose value is an angle.
ANGLES = ("angle", "turn")


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


def settle_sketch(sketch: Sketch, ledger: Ledger, style: Style | None = None) -> Sketch:
    """One sketch in the pose its numbers ask for. Raises SketchError."""
    if sketch.stations is not None:
        made = from_stations(sketch, sketch.stations, ledger) if sketch.stations else sketch
        return sketch if made == sketch else within_reach(made)
    if not sketch.entities:
        return sketch
    from ..sketch.solver.kept import solver_for  # SciPy is slow to load and not needed to open a job

    values = dimension_values(sketch, ledger)
    repeated = expanded(sketch, repeat_counts(sketch, ledger)) if sketch.repeats else sketch
    solution = solver_for(repeated, values).solve(values)
    if not solution.ok:
        raise SketchError(_why_not(repeated, values, solution.reached, style or Style()))
    return sketch if solution.sketch == sketch else within_reach(solution.sketch)


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
