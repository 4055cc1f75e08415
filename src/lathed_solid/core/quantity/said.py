"""Lengths inside messages: raised in mm where the trouble is found, written in the job's unit where it is told."""

from __future__ import annotations

import re

_LENGTH = re.compile(r"\{mm:([^}]*)\}")


def said(length: float) -> str:
    """A length (mm) as part of a message of a :class:`Worded` error."""
    return f"{{mm:{float(length)!r}}}"


def worded(message: str, unit: str) -> str:
    """A message with its lengths written in ``mm`` or ``in``."""
    scale, digits = (25.4, 4) if unit == "in" else (1.0, 3)

    def shown(match: re.Match[str]) -> str:
        value = float(match[1]) / scale
        # Slivers are told by their size, however small; what is large is not told to the micrometre.
        text = f"{value:.{digits}f}".rstrip("0").rstrip(".") if abs(value) >= 10**-digits else f"{value:.1g}"
        return "0" if text in ("-0", "") else text

    return _LENGTH.sub(shown, message)


class Worded(Exception):
    """An error a user may see. Its text may hold lengths (:func:`said`); as plain text they are in mm."""

    def said_in(self, unit: str) -> str:
        return worded(str(self.args[0]) if self.args else "", unit)

    def __str__(self) -> str:
        return self.said_in("mm")
