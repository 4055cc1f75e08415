"""A reading told without a window: as lines of text, or as plain data."""

from __future__ import annotations

import math

from ..quantity import Style
from .model import Characteristic, Reading
from .normal import normal_note
from .sense import asks, odd
from .words import completed_words, in_words, limits_text, value_text


def as_lines(reading: Reading, unit: str) -> list[str]:
    """Words first, then every characteristic with its limits, what standards complete, questions and warnings."""
    style = Style(unit)
    lines = [in_words(reading, style) + ".", f"  as a note: {normal_note(reading)}"]
    for c in reading.characteristics:
        name = (c.key or reading.shape).replace("_", " ")
        limits = limits_text(c, style)
        basis = "" if c.basis in ("exact", "stated", limits) else f"  ({c.basis})"
        lines.append(f"  {name:16s} {value_text(c, style):>12s}  {limits}{basis}".rstrip())
    lines += [f"  completed: {words}" for words in completed_words(reading, style)]
    lines += [f"  ? {question}" for question in asks(reading)]
    lines += [f"  ! {warning}" for warning in odd(reading, style)]
    return lines


def as_dict(reading: Reading, unit: str) -> dict[str, object]:
    """Everything the lines say, as data; lengths mm, angles radians. A limit that is open is None."""
    style = Style(unit)
    return {
        "words": in_words(reading, style),
        "note": normal_note(reading),
        "shape": reading.shape,
        "thread": reading.thread.designation if reading.thread else None,
        "flags": list(reading.flags),
        "characteristics": [_plain(c) for c in reading.characteristics],
        "completed": [_plain(c) for c in reading.completed],
        "asks": list(asks(reading)),
        "odd": list(odd(reading, style)),
    }


def _plain(c: Characteristic) -> dict[str, object]:
    return {
        "key": c.key,
        "kind": c.kind,
        "nominal": c.nominal,
        "lower": c.lower,
        "upper": c.upper if math.isfinite(c.upper) else None,
        "basis": c.basis,
    }
