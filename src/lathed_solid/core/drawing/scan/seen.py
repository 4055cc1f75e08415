"""A sheet of any drawing as the grey picture that is read, and how many dots an inch of paper it has."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from ..paper import Paper
from .ink import Gray, evened, ink_of
from .reading import DOTS

#: A file that says it has fewer or more dots an inch than these says nothing of the paper: screens write 72 and 96.
_FEWEST, _MOST = 100.0, 1300.0
#: Lettering of drawings is so high in the middle, mm (2.5 to 3.5, ISO 3098).
_LETTER = 3.0
#: Smaller than this there is nothing to read, pixels.
LEAST = 120


class Seen(NamedTuple):
    gray: Gray
    dots: float
    #: Whether the dots are told by the file, or worked out from the height of the lettering.
    told: bool


def seen(paper: Paper, sheet: int, turned: int = 0) -> Seen:
    """A sheet as it is looked at (``turned`` quarter turns clockwise), at least as fine as it is read."""
    across, _ = paper.size(sheet)
    points = paper.kind == "pdf"
    raster = paper.render(sheet, (0, 0, 1, 1), round(across / 72 * DOTS) if points else round(across))
    colours = np.frombuffer(raster.rgb, np.uint8).reshape(raster.height, raster.width, 3)
    gray = np.ascontiguousarray(np.rot90(cv2.cvtColor(colours, cv2.COLOR_RGB2GRAY), -turned % 4))
    if points:
        return Seen(gray, raster.width / across * 72, True)
    stated = paper.dots(sheet) * raster.width / across
    told = _FEWEST <= stated <= _MOST
    return Seen(gray, stated if told else guessed_dots(gray), told)


def guessed_dots(gray: Gray) -> float:
    """Dots an inch from the height most letters have; those of a usual scan where there are too few."""
    _, _, stats, _ = cv2.connectedComponentsWithStats(ink_of(evened(gray)), connectivity=8)
    w, h, area = stats[1:, 2], stats[1:, 3], stats[1:, 4]
    letter = (h >= 9) & (h < 0.06 * max(gray.shape)) & (w > 0.25 * h) & (w < 1.1 * h)
    letter &= (area > 0.15 * w * h) & (area < 0.75 * w * h)
    if letter.sum() < 12:
        return DOTS
    bins = np.exp(np.arange(np.log(9), np.log(400), 0.08))
    counted, _ = np.histogram(h[letter], bins)
    smooth = np.convolve(counted, [0.5, 1, 1, 0.5], "same")
    best = int(np.argmax(smooth))
    near = h[letter & (h > bins[best] * 0.85) & (h < bins[best] * 1.18)]
    return float(np.clip(np.median(near) / _LETTER * 25.4, 60, 1300))
