"""Hatch lines inside flat areas, each part its own way."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from ...arrays import Floats

#: Each part is hatched in a way of its own: which way lines lean and how far apart they are, times the pitch
#: (ISO 128-50 clause 4.3: neighbours are told by direction or spacing).
WAYS = ((45, 1.0), (135, 1.0), (45, 1.6), (135, 1.6), (60, 0.7), (120, 0.7), (30, 1.2), (150, 1.2))


def hatched_way(number: int, pitch: float) -> tuple[float, float]:
    """How lines of part ``number`` lean (radians), and their distance."""
    lean, wide = WAYS[number % len(WAYS)]
    return math.radians(lean), wide * pitch


def hatch_lines(polygons: Sequence[Floats], lean: float, pitch: float) -> Iterator[Floats]:
    """Parts of parallel lines inside polygons: crossings taken in pairs."""
    if not polygons:
        return
    turn = np.array([[math.cos(lean), math.sin(lean)], [-math.sin(lean), math.cos(lean)]])
    ends = np.concatenate([np.stack([p, np.roll(p, -1, axis=0)], axis=1) for p in polygons]) @ turn.T
    low, high = ends[:, :, 1].min(axis=1), ends[:, :, 1].max(axis=1)
    for k in range(math.ceil(float(low.min()) / pitch), math.floor(float(high.max()) / pitch) + 1):
        level = k * pitch
        crossed = ends[(low <= level) & (high > level)]
        share = (level - crossed[:, 0, 1]) / (crossed[:, 1, 1] - crossed[:, 0, 1])
        along = np.sort(crossed[:, 0, 0] + share * (crossed[:, 1, 0] - crossed[:, 0, 0]))
        for a, b in zip(along[::2], along[1::2], strict=False):
            yield np.array([[a, level], [b, level]]) @ turn
