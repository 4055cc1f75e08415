"""Drawing by typing: ``line 0,0 40,0 @0,20``, ``circle Ø20 at 12,8``, ``offset -3``, ``mirror about axis``.

Places are ``x,y`` from the origin, ``@x,y`` from the place before, ``30<45`` and ``@30<45`` by distance and angle, a
point by name (``p3``), or X from one point and Y from another (``p3.x,p7.y``). In a turned profile the second number is
a diameter. Every number is an expression and may name a callout. Sizes that are typed become sizes of the sketch, with
the text as typed.
"""

from __future__ import annotations

from ...quantity import Scope
from ..model import Sketch
from .changes import CHANGES
from .reader import Command, Reader
from .shapes import SHAPES

__all__ = ["CHANGES", "SHAPES", "Command", "is_change", "is_command", "read_command"]


def is_command(text: str) -> bool:
    """Whether a text begins like a command that draws something new."""
    return _word(text) in SHAPES


def is_change(text: str) -> bool:
    """Whether a text begins like a command that changes what is drawn."""
    return _word(text) in CHANGES


def _word(text: str) -> str:
    return text.strip().partition(" ")[0].lower()


def read_command(text: str, scope: Scope, turned: bool, sketch: Sketch | None = None) -> Command:
    """The command a text gives; ``sketch`` lets it name elements. Raises ExpressionError pointing at what is amiss."""
    word = _word(text)
    start = text.lower().index(word) + len(word)
    read = SHAPES.get(word) or CHANGES[word]
    return read(Reader(text, scope, turned, sketch), start)
