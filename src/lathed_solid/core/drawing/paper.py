"""A drawing of any kind as sheets of paper: their sizes, pictures of any part of them, and the words on them."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple, Protocol

import msgspec

from ..refusal import Refusal

Kind = Literal["pdf", "picture", "dxf"]

#: Sheets of one drawing that are shown.
MAX_SHEETS = 100
#: Pixels of one rendered picture.
MAX_PIXELS = 16_000_000


class CannotRead(Refusal):
    """A drawing that cannot be opened; the text says why and what to do."""


class Drawing(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A drawing in the job: ``blob`` names its attachment; ``turned`` are quarter turns clockwise as it is looked at;
    ``scales`` are mm of the part per sheet unit (see ``Paper.size``), one a sheet, 0 while unknown.
    """

    id: str
    name: str
    kind: Kind
    blob: str
    turned: int = 0
    scales: tuple[float, ...] = ()
    #: Of a sheet that was made straight: the picture it comes from, and the 3x3, row by row, from fractions of that
    #: picture to the straight one's.
    original: str = ""
    flat: tuple[float, ...] = ()

    def scale(self, sheet: int) -> float:
        return self.scales[sheet - 1] if 0 < sheet <= len(self.scales) else 0.0


class Raster(NamedTuple):
    """``width`` x ``height`` pixels, three bytes (RGB) each, row by row."""

    width: int
    height: int
    rgb: bytes


class Word(NamedTuple):
    """A run of text on a sheet; its box in fractions of width and height from the top left."""

    text: str
    left: float
    top: float
    right: float
    bottom: float

    @property
    def middle(self) -> tuple[float, float]:
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2


class Paper(Protocol):
    """An open drawing. Sheets count from 1; places are fractions of a sheet from its top left."""

    kind: Kind
    sheets: int

    def size(self, sheet: int) -> tuple[float, float]:
        """Width and height in sheet units: points (PDF), pixels (picture), drawing units (DXF)."""

    def render(self, sheet: int, box: tuple[float, float, float, float], width: int) -> Raster:
        """The part ``(left, top, right, bottom)`` of a sheet, ``width`` pixels wide."""

    def words(self, sheet: int) -> tuple[Word, ...]:
        """What text can be read off a sheet, in reading order."""

    def dimensions(self, sheet: int) -> tuple[tuple[str, float, float], ...]:
        """Dimensions that the file itself states: as written on the sheet, and their places."""

    def sizes(self, sheet: int) -> tuple[Word, ...]:
        """Those words that may be sizes: no numbers in balloons, nothing in ruled tables."""

    def natural_scale(self) -> float:
        """mm of the part per sheet unit when the file itself says so, else 0."""

    def dots(self, sheet: int) -> float:
        """Dots an inch of paper that a picture says it has; 0 where it says nothing, or is none."""


def is_only_picture(paper: Paper, sheet: int) -> bool:
    """Whether a sheet says nothing itself: a picture, or a page that is only one."""
    return paper.kind == "picture" or (paper.kind == "pdf" and not paper.words(sheet))


def whole(text: str) -> str:
    """Text without the halves of characters that a damaged file may hold, and that cannot be written."""
    return text.encode("utf-8", "replace").decode()


def pixels(paper: Paper, sheet: int, box: tuple[float, float, float, float], width: int) -> tuple[int, int]:
    """Pixel size of a rendering, its proportions kept, within MAX_PIXELS."""
    w, h = paper.size(sheet)
    across, down = max(1e-9, (box[2] - box[0]) * w), max(1e-9, (box[3] - box[1]) * h)
    width = max(1, width)
    height = max(1, round(width * down / across))
    if width * height > MAX_PIXELS:
        shrink = math.sqrt(MAX_PIXELS / (width * height))
        width, height = max(1, int(width * shrink)), max(1, int(height * shrink))
    return width, height
