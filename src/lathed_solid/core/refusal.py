"""Refusals: the one family of errors a user may see. Whatever else is raised is a fault of the program.

A refusal carries its figures as data: lengths are raised in mm where the trouble is found and written in the job's
unit where it is told.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from .units import INCH

_LENGTH = re.compile(r"\{mm:([^}]*)\}")
_is_read: ContextVar[bool] = ContextVar("is_read", default=True)


def is_read() -> bool:
    """Whether anybody reads what is refused now: only then is it worth finding out what would work instead."""
    return _is_read.get()


@contextmanager
def unread() -> Iterator[None]:
    """One of many trials, of which a refused one is just let go."""
    before = _is_read.set(False)
    try:
        yield
    finally:
        _is_read.reset(before)


def said(length: float) -> str:
    """A length (mm) as part of the text of a :class:`Refusal`."""
    return f"{{mm:{float(length)!r}}}"


def worded(message: str, unit: str) -> str:
    """A message with its lengths written in ``mm`` or ``in``."""
    scale, digits = (INCH, 4) if unit == "in" else (1.0, 3)

    def shown(match: re.Match[str]) -> str:
        value = float(match[1]) / scale
        # Slivers are told by their size, however small; what is large is not told to the micrometre.
        text = f"{value:.{digits}f}".rstrip("0").rstrip(".") if abs(value) >= 10**-digits else f"{value:.1g}"
        return "0" if text in ("-0", "") else text

    return _LENGTH.sub(shown, message)


class Refusal(Exception):
    """What, where, why, and what would work. ``message`` may hold lengths (:func:`said`); as plain text they are in
    mm. Kinds of refusals that are told apart are classes of their own with fields; nothing is decided by their words.
    """

    def __init__(self, message: str = "") -> None:
        super().__init__(message)
        self.message = message

    def said_in(self, unit: str) -> str:
        """The refusal as a sentence, lengths in ``mm`` or ``in``."""
        return worded(self.message, unit)

    def __str__(self) -> str:
        return self.said_in("mm")
