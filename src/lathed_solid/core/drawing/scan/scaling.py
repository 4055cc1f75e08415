"""The independent witness: on a sheet drawn to scale, number over drawn length is the same for nearly all sizes."""

from __future__ import annotations

import math
from collections.abc import Sequence

#: Figures agree on a scale within this share; so many different ones are needed, and so much of all.
_ALIKE, _LEAST, _SHARE = 0.01, 3, 0.4
#: A number and its drawn length are the same within this share and so many mm of paper, and another beyond these.
_SAME, _SAME_MM, _OTHER, _OTHER_MM = 0.004, 0.25, 0.02, 0.6


def scale_of(pairs: Sequence[tuple[float, float]]) -> float:
    """mm of the part per mm of paper from (length drawn, number) pairs; 0 where too few of them agree."""
    known = [(span, value) for span, value in pairs if span > 0 and value > 0]
    best: list[tuple[float, float]] = []
    for span, value in known:
        ratio = value / span
        near = [(s, v) for s, v in known if abs(v / s / ratio - 1) < _ALIKE + _SAME_MM / s]
        if len({round(v, 3) for _, v in near}) > len({round(v, 3) for _, v in best}):
            best = near
    if len({round(v, 3) for _, v in best}) < _LEAST or len(best) < _SHARE * len(known):
        return 0.0
    weights = [s for s, _ in best]
    logs = [math.log(v / s) for s, v in best]
    return math.exp(sum(w * x for w, x in zip(weights, logs, strict=True)) / sum(weights))


def agrees(span: float, value: float, scale: float) -> bool | None:
    """Whether a number is its drawn length: yes, no, or nothing can be said."""
    if not span or not value or not scale:
        return None
    off = abs(span - value / scale)
    if off <= _SAME * span + _SAME_MM:
        return True
    return False if off > _OTHER * span + _OTHER_MM else None
