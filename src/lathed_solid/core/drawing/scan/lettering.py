"""Whether a sheet is lettered by hand: the same figure is drawn the same each time by a machine, and never by a
hand.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence

import cv2
import numpy as np

from .ink import Gray
from .model import Run

#: Pixels of the little picture that a figure is compared in; figures compared; pairs that are enough to say anything.
_SIDE, _FIGURES, _LEAST = 20, "2345679", 10
#: Beyond this correlation apart, and this spread of heights, a hand is at work: scanned print has up to 0.07 and 0.02.
_SHAPES, _HEIGHTS = 0.13, 0.04


def unlike(lines: Sequence[tuple[Gray, Run]]) -> float:
    """How unlike a machine's the lettering is: 1 is where hands begin, 0 where there is too little to say."""
    return max(_apart(lines) / _SHAPES, _uneven([run for _, run in lines]) / _HEIGHTS)


def _apart(lines: Sequence[tuple[Gray, Run]]) -> float:
    """How differently the same figures are drawn, the median over pairs of one figure and one height."""
    seen: dict[str, list[tuple[float, Gray]]] = {}
    for line, run in lines:
        for figure, shape in _figures(line, run):
            seen.setdefault(figure, []).append((run.height, shape))
    apart = [
        _distance(a, b)
        for shapes in seen.values()
        for (h, a), (k, b) in itertools.combinations(shapes[:8], 2)
        if abs(h - k) < 0.12 * h
    ]
    return float(np.median(apart)) if len(apart) >= _LEAST else 0.0


def _uneven(runs: Sequence[Run]) -> float:
    """How much the heights of tall characters of one line differ, signs apart; the median of lines."""
    found = []
    for run in runs:
        if re.search("[a-z]{2}", run.plain.text):
            continue  # small letters are of two heights
        tall = [g.height for g in run.glyphs if not g.sign and 0.75 < g.height < 1.3 and g.width > 0.2]
        if len(tall) >= 3:
            found.append(float(np.median(abs(np.array(tall) - np.median(tall)))) * 1.48)
    return float(np.median(found)) if len(found) >= 4 else 0.0


def _figures(line: Gray, run: Run) -> list[tuple[str, Gray]]:
    """Figures of a line whose blobs and characters count the same and that both recognisers read alike."""
    text = run.plain.text.replace(" ", "")
    if not text or text != run.as_is.text.replace(" ", ""):
        return []
    low, high = np.percentile(line, 1), np.percentile(line, 90)
    black = (line < low + 0.55 * (high - low)).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(black, connectivity=8)
    blobs = sorted((tuple(int(v) for v in s), i) for i, s in enumerate(stats) if i and s[4] > 6)
    if len(blobs) != len(text):
        return []
    found = []
    for (blob, i), figure in zip(blobs, text, strict=True):
        x, y, w, h, _ = blob
        if figure in _FIGURES and h > 8:
            shape = (labels[y : y + h, x : x + w] == i).astype(np.uint8) * 255
            found.append((figure, cv2.resize(shape, (_SIDE, _SIDE), interpolation=cv2.INTER_AREA)))
    return found


def _distance(a: Gray, b: Gray) -> float:
    """1 less the correlation of two little pictures, each a little softened: a hand moves strokes, noise moves
    edges.
    """
    x, y = (cv2.GaussianBlur(s, (0, 0), 1.0).astype(float).ravel() for s in (a, b))
    x, y = x - x.mean(), y - y.mean()
    size = float(np.sqrt((x * x).sum() * (y * y).sum()))
    return 1.0 - float((x * y).sum()) / size if size else 1.0
