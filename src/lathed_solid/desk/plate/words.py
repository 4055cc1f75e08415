"""What the plate says: sizes as a drawing writes them, and what can still move."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from ...core.callout import Ledger
from ...core.quantity import ExpressionError, Style, evaluate
from ...core.sketch.model import Dimension, Sketch

if TYPE_CHECKING:
    from ...core.sketch.explain.diagnose import Freedom  # loads SciPy, which a picture does not need


def size_text(d: Dimension, ledger: Ledger, style: Style) -> str:
    """A dimension's value with its sign; the formula itself when it has none."""
    try:
        value = evaluate(d.text, ledger, "angle" if d.kind == "angle" else "length")
    except ExpressionError:
        return d.text
    if d.kind == "angle":
        return style.angle(value)
    return {"diameter": "Ø", "radius": "R"}.get(d.kind, "") + style.length(value)


def size_texts(sketch: Sketch, ledger: Ledger, style: Style) -> dict[str, str]:
    """Texts of all dimensions; a chamfer's leg carries its angle."""
    texts = {d.id: size_text(d, ledger, style) for d in sketch.dimensions}
    for id_ in [i for i in texts if i.endswith(".leg")]:
        angle = texts.get(id_.removesuffix("leg") + "angle")
        if angle:
            texts[id_] += f" × {angle}"
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
