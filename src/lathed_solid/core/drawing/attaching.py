"""Frames of form and place, finishes and datums' letters that stand by a size on a sheet are said of it (ISO 1101
clause 7: a frame is put below the size it belongs to, or after it).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..callout import Reading
from .paper import Word

XY = tuple[float, float]
#: By how many times the height of its lettering a sign may lie off its size: below it, after it, to one side.
_BELOW, _AFTER, _ASKEW = 1.6, 3.6, 0.7
#: Below a size a text begins so far right of where that does, in heights, for its frame or the sign of a finish.
_INDENT = 3.0
#: Of so few letters a text may be as high as it is wide.
_FEW = 2


def with_signs(words: Sequence[Word], read: Callable[[str], Reading | None], size: XY) -> list[Word]:
    """The words with each sign put to the size it stands by, whatever their order; a sign by itself stays as it is.
    ``size`` is that of the sheet; ``read`` gives the reading of a text, None where it is no callout.
    """
    readings = [read(w.text) for w in words]
    signs = [w for w, r in zip(words, readings, strict=True) if r is not None and r.shape == "surface"]
    others = {n: w for n, (w, r) in enumerate(zip(words, readings, strict=True)) if r is None or r.shape != "surface"}
    shapes = {n: r.shape for n, r in enumerate(readings) if r is not None and n in others}

    def together(n: int, sign: Word) -> Word | None:
        both = _joined(others[n], sign)
        reading = read(both.text) if _is_by(others[n], sign, size) else None
        return both if reading is not None and reading.shape == shapes[n] else None

    while signs:
        found = next(((n, s, both) for n in shapes for s in signs if (both := together(n, s)) is not None), None)
        if found is None:
            break
        at, sign, others[at] = found
        signs.remove(sign)
    return [*others.values(), *signs]


def _joined(host: Word, sign: Word) -> Word:
    return Word(
        f"{host.text} {sign.text}",
        min(host.left, sign.left),
        min(host.top, sign.top),
        max(host.right, sign.right),
        max(host.bottom, sign.bottom),
    )


def _is_by(host: Word, sign: Word, size: XY) -> bool:
    """Whether a sign stands below a size, or after it on its line, as both are read."""
    (wide, high), ways = size, _ways(host, size) & _ways(sign, size)
    if "upright" in ways:
        tall = wide * (sign.right - sign.left)
        askew, gap = abs(host.left + host.right - sign.left - sign.right) * wide / 2, (host.top - sign.bottom) * high
        if 0 < gap < _AFTER * tall and askew < _ASKEW * tall:
            return True
    if "level" not in ways:
        return False
    tall = high * (sign.bottom - sign.top)
    below, indent = (sign.top - host.bottom) * high, (sign.left - host.left) * wide
    if 0 <= below < _BELOW * tall and -tall < indent < _INDENT * tall:
        return True
    askew, gap = abs(host.top + host.bottom - sign.top - sign.bottom) * high / 2, (sign.left - host.right) * wide
    return "\n" not in host.text and 0 < gap < _AFTER * tall and askew < _ASKEW * tall


def _ways(word: Word, size: XY) -> set[str]:
    """How a text may be read, by its box: one of a letter or two from below or from the right."""
    across, down = size[0] * (word.right - word.left), size[1] * (word.bottom - word.top)
    if "\n" in word.text:
        return {"level"}
    if len(word.text) <= _FEW or word.text.startswith("DATUM"):
        return {"level", "upright"}
    return {"upright"} if down > across else {"level"}
