"""What was read off a picture, before anybody judges it. Places are fractions of the sheet from its top left, as the
sheet lies; ``h`` in comments is the height of a letter.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

import msgspec

Box = tuple[float, float, float, float]
#: Raised whenever other text would come of the same picture: what is kept of earlier readings is read anew.
VERSION = 3


class Said(NamedTuple):
    """What a recogniser said of a line, and how sure it was of the character it was least sure of (0 to 1)."""

    text: str
    least: float


class Glyph(NamedTuple):
    """A character's ink: its middle as a share of the line's length, its size in ``h``, which sign its shape is
    (Ø ± ↧ ⌴ ⌵ □ or nothing), and how high its middle stands over the foot of the letters, in ``h``.
    """

    middle: float
    width: float
    height: float
    sign: str
    up: float = 0.5


class Run(msgspec.Struct, frozen=True, kw_only=True, array_like=True):
    """A line of writing as it was found and read.

    ``place`` in fractions of the sheet as it lies; ``box`` in mm on the straightened picture, along which everything
    else is judged; ``height`` of its letters, mm. ``plain`` is read with lines painted out, ``as_is`` with them,
    ``second`` by the other recogniser, ``look`` by it at another size where it said otherwise.
    ``under`` is the share of the strip below it that a line fills; ``span`` the
    length between the arrowheads of that line, mm, 0 without. ``loose`` counts ink near its ends that is not its own.
    ``led``: a leader of its own ends at it.
    """

    place: Box
    box: Box
    turned: bool
    height: float
    plain: Said
    as_is: Said
    second: Said
    look: Said = Said("", 0.0)
    glyphs: tuple[Glyph, ...] = ()
    under: float = 0.0
    span: float = 0.0
    #: Whether each character is drawn like the sheet's own where all readings agree (see :mod:`alphabet`).
    borne_out: bool = False
    loose: int = 0
    led: bool = False
    crossed: bool = False
    found: Literal["ink", "net"] = "ink"


class SheetText(msgspec.Struct, frozen=True, kw_only=True):
    """All that was read off a sheet. ``size`` in mm of paper, ``dots`` an inch at which it was read; ``blur`` is the
    width of an edge in mm; ``unlike`` how differently the same figure is drawn (0 alike, see :mod:`lettering`);
    ``tables`` are boxes (mm) in which nothing is a size: the title block and what lies outside the frame.
    """

    runs: tuple[Run, ...]
    size: tuple[float, float]
    dots: float
    angle: float = 0.0
    blur: float = 0.0
    unlike: float = 0.0
    inside: Box = (0.0, 0.0, 0.0, 0.0)
    tables: tuple[Box, ...] = ()
    is_whole: bool = True
    version: int = VERSION


class Step(NamedTuple):
    """How far a reading has come."""

    words: str
    done: int
    of: int
