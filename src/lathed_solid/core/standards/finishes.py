"""How worked surfaces look: a small library, found by the words a drawing notes a finish with."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Literal

import msgspec

from .tables import table

#: Red, green and blue as a screen shows them (sRGB, IEC 61966-2-1), 0 to 1.
Color = tuple[float, float, float]
#: What is lighter is no metal (g/cm³; magnesium is 1.74).
LIGHTEST_METAL = 1.7
#: How tool marks run: about an axis, in straight lines, or nowhere in particular.
Lay = Literal["round", "straight", ""]


class Finish(msgspec.Struct, frozen=True):
    """``metal`` 0 to 1; ``along`` and ``across`` the lay, how far its reflection spreads (radians); ``level`` scales
    the material's sRGB colour, ``color`` takes its place; a ``dyed`` one may have any colour.
    """

    name: str
    words: tuple[str, ...] = ()
    metal: float = 1.0
    along: float = 0.1
    across: float = 0.2
    level: float = 1.0
    lay: Lay = ""
    color: Color | None = None
    dyed: bool = False


class _Table(msgspec.Struct):
    finish: tuple[Finish, ...]
    dyes: dict[str, Color]


@lru_cache(maxsize=1)
def _table() -> _Table:
    return msgspec.convert(table("finishes"), _Table)


def finishes() -> tuple[Finish, ...]:
    """The library, in its order."""
    return _table().finish


def finish(name: str) -> Finish:
    """One that is known to be there."""
    return next(f for f in finishes() if f.name == name)


def finish_in(note: str) -> Finish | None:
    """The finish that a note such as ``anodised black`` or ``Ra 0.8 ground`` speaks of; None when it names none."""
    text = note.lower()
    return next((f for f in finishes() if any(w in text for w in f.words)), None)


def dye_in(note: str) -> Color | None:
    """The colour that a note names, as a word of its own."""
    words = re.findall(r"[a-z]+", note.lower())
    return next((color for name, color in _table().dyes.items() if name in words), None)


def color_under(note: str, material: Color) -> Color:
    """What colour a surface of a material has under a noted finish; the material's own where none is noted."""
    found = finish_in(note)
    if found is None:
        return material
    base = (dye_in(note) if found.dyed else None) or found.color or material
    r, g, b = (min(1.0, c * found.level) for c in base)
    return r, g, b
