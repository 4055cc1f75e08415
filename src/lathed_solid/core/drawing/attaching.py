"""Frames of form and place, finishes and datums' letters that stand by a size on a sheet are said of it (ISO 1101
clause 7: a frame is put below the size it belongs to, or after it).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

import numpy as np

from ..arrays import Floats
from ..callout import Reading
from .paper import Word

XY = tuple[float, float]
#: By how many times the height of its lettering a sign may lie off its size: below it, after it, to one side.
_BELOW, _AFTER, _ASKEW = 1.6, 3.6, 0.7
#: Below a size a text begins so far right of where that does, in heights, for its frame or the sign of a finish.
_INDENT = 3.0
#: How signs begin: their shapes, and the words for them.
_BEGINS = re.compile(
    r"\s*([⏥⊥∥◎○↗∠⌖⌰⏤⌭⌯⌓⌒√]|Ra|Rz|datum|runout|total|true|pos|perp|flat|conc|para|stra|round|circ|cyl|symm|angul|prof"
    r"|line|surf)",
    re.IGNORECASE,
)
#: Of so few letters a text may be as high as it is wide.
_FEW = 2


def with_signs(words: Sequence[Word], read: Callable[[str], Reading | None], size: XY) -> list[Word]:
    """The words with each sign put to the nearest size it stands by, whatever their order; a sign by itself stays as it
    is. ``size`` is that of the sheet; ``read`` gives the reading of a text, None where it is no callout: it is asked of
    what begins as signs do, and of what stands by them, not of every word of a sheet.
    """
    signs = {n: w for n, w in enumerate(words) if _BEGINS.match(w.text) and _is_sign(read(w.text))}
    others = {n: w for n, w in enumerate(words) if n not in signs}
    boxes = np.array([(w.left, w.top, w.right, w.bottom) for w in words]).reshape(-1, 4)

    def host_of(sign: Word) -> tuple[int, Word] | None:
        about = (n for n in _about(sign, boxes, size) if n in others)
        for _, n in sorted((gap, n) for n in about if (gap := _gap(others[n], sign, size)) is not None):
            alone, both = read(others[n].text), _joined(others[n], sign)
            together = read(both.text) if alone is not None else None
            if alone is not None and together is not None and together.shape == alone.shape:
                return n, both
        return None

    was = -1
    while len(signs) != was:  # a second sign may stand by the first
        was = len(signs)
        for at, sign in list(signs.items()):
            if (found := host_of(sign)) is not None:
                n, others[n] = found
                boxes[n] = others[n].left, others[n].top, others[n].right, others[n].bottom
                del signs[at]
    return [*others.values(), *signs.values()]


def _is_sign(reading: Reading | None) -> bool:
    return reading is not None and reading.shape == "surface"


def _about(sign: Word, boxes: Floats, size: XY) -> list[int]:
    """The boxes that a sign may stand by, for the quick look of a sheet of thousands of words."""
    wide, high = size
    one = max if sign.text.startswith("DATUM") else min  # a letter may be narrower than it is high
    reach = _AFTER * one((sign.right - sign.left) * wide, (sign.bottom - sign.top) * high)
    x, y = reach / wide, reach / high
    left, top, right, bottom = boxes.T
    near = (left < sign.right + x) & (right > sign.left - x) & (top < sign.bottom + y) & (bottom > sign.top - y)
    return [int(n) for n in np.flatnonzero(near)]


def _joined(host: Word, sign: Word) -> Word:
    return Word(
        f"{host.text} {sign.text}",
        min(host.left, sign.left),
        min(host.top, sign.top),
        max(host.right, sign.right),
        max(host.bottom, sign.bottom),
    )


def _gap(host: Word, sign: Word, size: XY) -> float | None:
    """How far below a size a sign stands, or after it on its line, as both are read, in heights of its lettering; None
    where it stands by it in neither way.
    """
    wide, high = size
    ways = _ways(host, size) & _ways(sign, size)
    if "upright" in ways:
        tall = wide * (sign.right - sign.left)
        askew, gap = abs(host.left + host.right - sign.left - sign.right) * wide / 2, (host.top - sign.bottom) * high
        if 0 < gap < _AFTER * tall and askew < _ASKEW * tall:
            return gap / tall
    if "level" not in ways:
        return None
    tall = high * (sign.bottom - sign.top)
    below, indent = (sign.top - host.bottom) * high, (sign.left - host.left) * wide
    if 0 <= below < _BELOW * tall and -tall < indent < _INDENT * tall:
        return below / tall
    askew, gap = abs(host.top + host.bottom - sign.top - sign.bottom) * high / 2, (sign.left - host.right) * wide
    is_after = "\n" not in host.text and 0 < gap < _AFTER * tall and askew < _ASKEW * tall
    return gap / tall if is_after else None


def _ways(word: Word, size: XY) -> set[str]:
    """How a text may be read, by its box: one of a letter or two from below or from the right."""
    across, down = size[0] * (word.right - word.left), size[1] * (word.bottom - word.top)
    if "\n" in word.text:
        return {"level"}
    if len(word.text) <= _FEW or word.text.startswith("DATUM"):
        return {"level", "upright"}
    return {"upright"} if down > across else {"level"}
