"""What a drawing of a sketch says: sizes as a drawing writes them, and what can still move."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from ..callout import Ledger
from ..quantity import ExpressionError, Style, evaluate
from ..route.settling import ANGLES
from ..sketch.make.choose import spoken
from ..sketch.model import ALONG, ORIGIN, Arc, Circle, Dimension, Line, Sketch, stands_on

if TYPE_CHECKING:
    from ..sketch.explain.diagnose import Freedom  # loads SciPy, which a picture does not need

_SIGNS = {"diameter": "Ø", "radius": "R", "arc_length": "⌒ ", "height": "h "}


def size_text(d: Dimension, ledger: Ledger, style: Style) -> str:
    """A dimension's value with its sign; the formula itself when it has none."""
    try:
        value = evaluate(d.text, ledger, "angle" if d.kind in ANGLES else "length")
    except ExpressionError:
        return d.text
    return _written(d, value, style)


def _written(d: Dimension, value: float, style: Style) -> str:
    return style.angle(value) if d.kind in ANGLES else _SIGNS.get(d.kind, "") + style.length(value)


def reference_text(sketch: Sketch, d: Dimension, ledger: Ledger, style: Style) -> str:
    """What a reference measures; with an expected value, how far that is off."""
    from ..sketch.explain.measure import present_value
    from ..sketch.refusal import SketchError

    try:
        value = present_value(sketch, d)
    except SketchError:
        return d.text
    words = _written(d, value, style)
    if not d.text.strip():
        return words
    try:
        wanted = evaluate(d.text, ledger, "angle" if d.kind in ANGLES else "length")
    except ExpressionError:
        return words
    return words if abs(wanted - value) < 1e-6 else f"{words} ≠ {_written(d, wanted, style)}"


def size_texts(sketch: Sketch, ledger: Ledger, style: Style) -> dict[str, str]:
    """Texts of all dimensions; a chamfer's leg carries its angle, a repeat's pitch its count."""
    texts = {
        d.id: reference_text(sketch, d, ledger, style) if d.reference else size_text(d, ledger, style)
        for d in sketch.dimensions
    }
    for id_ in [i for i in texts if i.endswith(".leg")]:
        angle = texts.get(id_.removesuffix("leg") + "angle")
        if angle:
            texts[id_] += f" × {angle}"
    counts = {r.id: (r.count, r.count2) for r in sketch.repeats}
    for d in sketch.dimensions:
        if d.kind in ("pitch", "pitch2", "turn") and d.of[0] in counts:
            texts[d.id] = f"{counts[d.of[0]][d.kind == 'pitch2']} × {texts[d.id]}"
    return texts


def freedom_words(sketch: Sketch, freedom: Freedom | None) -> str:
    """ "2 ways to move: 1 point along the axis, …"; says so when nothing can."""
    if freedom is None:
        return ""
    if freedom.ways == 0:
        return "Nothing can move: every size is pinned."
    ways: Counter[str] = Counter()
    for rank, (dx, dy) in freedom.directions.values():
        if rank == 2:
            ways["freely"] += 1
        elif rank == 1:
            ways["along the axis" if abs(dx) > 0.999 else "across the axis" if abs(dy) > 0.999 else "on a slant"] += 1
    parts = [f"{n} point{'s' * (n != 1)} {how}" for how, n in ways.items()]
    if freedom.radii:
        parts.append(f"{len(freedom.radii)} radius" if len(freedom.radii) == 1 else f"{len(freedom.radii)} radii")
    return f"{freedom.ways} way{'s' * (freedom.ways != 1)} to move: {', '.join(parts)}."


def pinned_words(sketch: Sketch, id_: str, freedom: Freedom | None, style: Style) -> str:
    """What a chosen element measures, when nothing about it is left to find: "line l3: 12.5 long, already pinned"."""
    if freedom is None or id_ in (ORIGIN, ALONG, "across"):
        return ""
    entity = next((e for e in sketch.entities if e.id == id_), None)
    if not isinstance(entity, Line | Circle | Arc):
        return ""
    free = any(freedom.directions.get(p, (0,))[0] for p in stands_on(entity)) or id_ in freedom.radii
    from ..sketch.curves import length, radius_of

    points = sketch.points()
    if isinstance(entity, Line):
        size = f"{style.length(length(entity, points))} long"
    else:
        radius = radius_of(entity, points)
        size = f"Ø{style.length(2 * radius)}" if isinstance(entity, Circle) else f"R{style.length(radius)}"
    return f"{spoken(sketch, id_).capitalize()}: {size}, {'can still move' if free else 'already pinned'}."
