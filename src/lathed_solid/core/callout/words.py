"""Callouts back in words and in drafting symbols."""

from __future__ import annotations

import re
from collections.abc import Callable

from ..quantity import Style
from .model import Characteristic, Reading

_SMALL = (
    "no",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
)
_SYMBOLS = (
    (r"\b[Dd][Ii][Aa]\.?\s*", "Ø"),
    (r"(?<=\d)\s*[xX]\s*(?=[\d.])", " × "),
    (r"(?<=\d)\s*[xX]\s+(?=\D)", "× "),
    # The seats' symbols are in hardly any typeface; their short words are in every workshop.
    (r"\s*(?:⌴|\b(?:counterbore|CBORE)\b)\s*", " cbore "),
    (r"\s*(?:⌵|\b(?:countersink|CSK)\b)\s*", " csk "),
    (r"\b(?:dp|depth)\b\s*", "↧ "),
    (r"\+/-", "±"),
    (r"\s*\bdeg\b", "°"),
    (r"\bthru\b", "THRU"),
)


def pretty(note: str) -> str:
    """``note`` with drafting symbols in place of the typed words; the meaning is unchanged."""
    for pattern, symbol in _SYMBOLS:
        note = re.sub(pattern, symbol, note)
    return note.strip()


def value_text(c: Characteristic, style: Style) -> str:
    """The nominal of one characteristic as text."""
    if c.kind == "count":
        return f"{c.nominal:g}"
    if c.kind == "angle":
        return style.angle(c.nominal)
    prefix = {"diameter": "Ø", "radius": "R", "thread": "M"}.get(c.kind, "")
    return prefix + style.length(c.nominal)


def limits_text(c: Characteristic, style: Style) -> str:
    """The limits of one characteristic in the short form of a sheet."""
    if c.lower == c.upper:
        return ""
    show = style.angle if c.kind == "angle" else style.length
    below, above = c.nominal - c.lower, c.upper - c.nominal
    if abs(below - above) < 1e-9:
        return "±" + show(above)
    return f"{show(c.lower)} / {show(c.upper)}"


def in_words(reading: Reading, style: Style) -> str:
    """The reading as a short sentence without its full stop."""
    main = reading.main
    many = reading.count > 1
    number = _SMALL[reading.count] if reading.count < len(_SMALL) else str(reading.count)
    text = f"{number} " if many else ""
    text += _BODY[reading.shape](reading, style, many)
    if reading.thru:
        text += ", through"
    for key, phrase in _PHRASES.items():
        if stated := reading.get(key):
            text += "" if reading.shape == "chamfer" else phrase.format(value_text(stated, style))
    if (limits := limits_text(main, style)) and reading.shape != "thread":
        text += f"; {limits} by {main.basis}" if main.basis != "stated" else f"; {limits}"
    return text


def _chamfer(reading: Reading, style: Style, many: bool) -> str:
    angle = reading.get("angle")
    assert angle is not None
    return f"chamfer{'s' * many} {value_text(reading.main, style)} at {value_text(angle, style)}"


def _thread(reading: Reading, style: Style, many: bool) -> str:
    assert reading.thread is not None
    pitch = style.length(reading.thread.pitch)
    return f"thread{'s' * many} {reading.thread.designation}, pitch {pitch}"


def _sized(noun: str, plural: str) -> Callable[[Reading, Style, bool], str]:
    return lambda reading, style, many: f"{plural if many else noun} {value_text(reading.main, style)}"


_BODY: dict[str, Callable[[Reading, Style, bool], str]] = {
    "length": _sized("length", "lengths"),
    "diameter": _sized("diameter", "diameters"),
    "radius": _sized("radius", "radii"),
    "angle": _sized("angle", "angles"),
    "chamfer": _chamfer,
    "thread": _thread,
}
_PHRASES = {
    "depth": ", {} deep",
    "seat": ", seat {} wide",
    "seat_depth": ", {} deep from the same face",
    "seat_angle": " at {} included",
    "drill": ", drill {}",
    "drill_depth": " {} deep",
    "circle": ", on pitch circle {}",
    "at": ", at {}",
    "angle": ", first at {}",
    "tip": ", drill tip {}",
}
