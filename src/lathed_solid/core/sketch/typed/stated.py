"""Sizes for places that were typed with a callout: what is drawn there follows it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ...names import refers
from ...quantity import Scope, evaluate
from ..make.shapes import across_size, sized
from ..model import ORIGIN, Dimension, Sketch
from .reader import Place

#: Kinds of dimension whose value is an angle.
_ANGLES = ("angle", "turn")


def with_places(sketch: Sketch, placed: Iterable[tuple[str, Place]], scope: Scope) -> Sketch:
    """``sketch`` with sizes from zero for every coordinate that names a callout, unless it is pinned already.

    ``placed`` are points and the places they were typed as. Raises ExpressionError for a size without a value.
    """
    from ..explain.diagnose import judge  # SciPy is slow to load, and few places name a callout

    for point, place in placed:
        for k, text in enumerate(place.texts or ()):
            if not refers(text) or point not in sketch.points():
                continue
            kind, of = ("along", (ORIGIN, point)) if k == 0 else across_size(sketch, point)
            made = sized(sketch, kind, of, text, place.at[k])
            if judge(sketch, _values(made, scope), made.dimensions[-1]).kind == "fits":
                sketch = made
    return sketch


def _values(sketch: Sketch, scope: Scope) -> Mapping[str, float]:
    return {d.id: _value(d, scope) for d in sketch.dimensions if not d.reference}


def _value(d: Dimension, scope: Scope) -> float:
    return evaluate(d.text, scope, "angle" if d.kind in _ANGLES else "length")


__all__ = ["with_places"]
