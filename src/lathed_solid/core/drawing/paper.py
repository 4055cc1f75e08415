"""A drawing of any kind as sheets of paper: their sizes, pictures of any part of them, and the words on them."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple, Protocol

import msgspec

Kind = Literal["pdf", "picture", "dxf"]

#: A file larger than this is not opened, bytes.
MAX_FILE = 80 * 1024 * 1024
#: Sheets of one drawing that are shown.
MAX_SHEETS = 100
#: Pixels of one rendered picture.
MAX_PIXELS = 16_000_000


class CannotRead(Exception):
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

    def natural_scale(self) -> float:
        """mm of the part per sheet unit when the file itself says so, else 0."""


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


def open_paper(data: bytes, name: str) -> Paper:
    """Open a drawing by what its bytes are, not by its name. Raises CannotRead."""
    if len(data) > MAX_FILE:
        raise CannotRead(f"{name} is larger than {MAX_FILE // 1024 // 1024} MB. Save it smaller and open it again.")
    if not data:
        raise CannotRead(f"{name} is empty.")
    if data[:1024].lstrip().startswith(b"%PDF") or b"%PDF-" in data[:1024]:
        from .pdf import PdfPaper

        return PdfPaper(data, name)
    if data[:8].startswith((b"\x89PNG", b"\xff\xd8\xff", b"II*\x00", b"MM\x00*")):
        from .picture import PicturePaper

        return PicturePaper(data, name)
    if _looks_like_dxf(data):
        from .dxf import DxfPaper

        return DxfPaper(data, name)
    raise CannotRead(f"{name} is no PDF, PNG, JPEG, TIFF or DXF. Save the drawing as one of these.")


def _looks_like_dxf(data: bytes) -> bool:
    head = data[:4096].replace(b"\r", b"")
    return data.startswith(b"AutoCAD Binary DXF") or (b"SECTION" in head and head.lstrip()[:3] in (b"0\nS", b"999"))
