"""The line protocol of a serial instrument: plain ASCII, one message a line.

From the instrument:   ``HELLO caliper 0.01 0.02 Name``   once, after ``?``
                       ``R 12.34 mm``                     a reading (``in`` and ``g`` too), negative allowed
                       ``BAT low`` / ``BAT ok``           the battery
                       ``ERR words``                      the instrument cannot measure just now
To the instrument:     ``?`` who are you, ``R`` send a reading, ``Z`` set zero, ``U mm`` / ``U in`` set the unit

Many plain instruments send nothing but a number and perhaps a unit; such a line is a reading as well.
"""

from __future__ import annotations

import math
import re
from typing import Literal, NamedTuple

from ..units import INCH
from .instrument import Instrument

BAUD = 9600
#: A longer line is noise on the wire.
MAX_LINE = 120


class Read(NamedTuple):
    """A reading in mm or grams, and the text it came as."""

    value: float
    unit: str
    text: str


class Hello(NamedTuple):
    instrument: Instrument


class Battery(NamedTuple):
    low: bool


class Trouble(NamedTuple):
    words: str


Message = Read | Hello | Battery | Trouble

_READING = re.compile(r"(?:R\s+)?([+-]?\d*\.?\d+)\s*(mm|in|\"|g)?", re.IGNORECASE)
_FACTOR = {"mm": 1.0, "in": INCH, '"': INCH, "g": 1.0}


def parse_line(line: str, unit: str = "mm") -> Message | None:
    """What a line says; a bare number is in ``unit``. None when it is empty; garbage is Trouble."""
    text = line.strip().strip("\x00")
    if not text:
        return None
    if len(text) > MAX_LINE:
        return Trouble("The instrument sent a line that makes no sense. Check cable and speed.")
    if found := _READING.fullmatch(text):
        said = (found[2] or unit).lower()
        value = float(found[1]) * _FACTOR[said]
        if math.isfinite(value) and abs(value) < 1e5:
            return Read(value, "in" if said == '"' else said, text)
    words = text.split()
    if words[0] == "HELLO" and len(words) >= 4 and words[1] in ("caliper", "scale"):
        try:
            resolution, error = float(words[2]), float(words[3])
        except ValueError:
            return Trouble("The instrument introduced itself with figures that are none.")
        if 0 < resolution < 1 and 0 <= error < 10:
            kind: Literal["caliper", "scale"] = "scale" if words[1] == "scale" else "caliper"
            name = " ".join(words[4:]) or kind
            return Hello(Instrument(name=name, kind=kind, resolution=resolution, error=error))
    if words[0] == "BAT" and len(words) == 2:
        return Battery(words[1] == "low")
    if words[0] == "ERR":
        return Trouble(" ".join(words[1:]) or "The instrument cannot measure just now.")
    shown = "".join(c if c.isprintable() else "·" for c in text[:40])
    return Trouble(f"The instrument sent “{shown}”, which is no reading.")
