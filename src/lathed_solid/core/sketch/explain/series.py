"""Rows of sizes: chains and ordinates, as far as they say something new."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping

import msgspec

from ..make.size import make_dimension, place
from ..model import Dimension, DimensionKind, Sketch
from .diagnose import judge


def series(
    sketch: Sketch, ids: tuple[str, ...], kind: DimensionKind, chain: bool, values: Mapping[str, float]
) -> Iterator[tuple[Dimension, float]]:
    """Sizes along or across for many points: from one to the next (``chain``), or each from the first one chosen.

    Sizes that are pinned already are left out. ``values`` are those of the sketch's driving dimensions.
    """
    k = 0 if kind == "along" else 1
    datum, rest = ids[0], sorted(ids[1:], key=lambda i: place(sketch, i)[k])
    ordered = sorted(ids, key=lambda i: place(sketch, i)[k])
    pairs = list(itertools.pairwise(ordered)) if chain else [(datum, i) for i in rest]
    known = dict(values)
    for pair in pairs:
        made, value = make_dimension(sketch, pair, "0", kind)
        made = msgspec.structs.replace(made, ordinate=not chain)
        known[made.id] = value
        if judge(sketch, known, made).kind == "fits":
            sketch = msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made))
            yield made, value
        else:
            del known[made.id]
