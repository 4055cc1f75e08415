"""PDF drawings, through pdfium."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from ctypes import byref, c_float
from itertools import islice

import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c

from .paper import MAX_SHEETS, CannotRead, Kind, Raster, Word, pixels
from .ruling import Box, Ruling, sizes_only, square, straight

#: pdfium is not made for threads; one call at a time.
_LOCK = threading.RLock()
#: Sides of a page in points (this is 5 metres).
_MAX_SIDE = 14_400.0
#: Text runs of one page that are read.
_MAX_RUNS = 20_000


#: Paths of one page that are looked at; a line drawn is no thicker than this, points.
_MAX_PATHS, _WIDTH = 60_000, 3.0
#: Segments of a rectangle, which may lead back to where it began; so much of its size it may be askew.
_FOUR, _SKEW = (4, 5), 0.02
_Line = tuple[float, float, float]


def _kinds(path: pdfium.PdfObject) -> str:
    """Whether a path is one straight line, a rectangle, or runs round in curves: by its segments, whatever its size."""
    count = pdfium_c.FPDFPath_CountSegments(path)
    if not 2 <= count <= 16:
        return ""
    segments = [pdfium_c.FPDFPath_GetPathSegment(path, k) for k in range(count)]
    kinds = {pdfium_c.FPDFPathSegment_GetType(s) for s in segments[1:]}
    if count == 2 and kinds == {pdfium_c.FPDF_SEGMENT_LINETO}:
        return "line"
    if count in _FOUR and kinds == {pdfium_c.FPDF_SEGMENT_LINETO}:
        ends = [_end(s) for s in segments]
        return "box" if square(ends, _SKEW * max(abs(a - b) for a, b in zip(*ends[:3:2], strict=True))) else ""
    return "round" if count >= 13 and kinds == {pdfium_c.FPDF_SEGMENT_BEZIERTO} else ""


def _end(segment: pdfium_c.FPDF_PATHSEGMENT) -> tuple[float, float]:
    """Where a segment ends, in the path's own units."""
    x, y = c_float(), c_float()
    pdfium_c.FPDFPathSegment_GetPoint(segment, byref(x), byref(y))
    return x.value, y.value


class PdfPaper:
    """A PDF; sheet units are points (1/72 inch)."""

    kind: Kind = "pdf"

    def __init__(self, data: bytes, name: str) -> None:
        """Raises CannotRead for encrypted, broken and endless files."""
        self._name = name
        try:
            with _LOCK:
                self._document = pdfium.PdfDocument(data)
                self.sheets = min(len(self._document), MAX_SHEETS)
                self._sizes: list[tuple[float, float]] = [
                    tuple(self._document.get_page_size(i)) for i in range(self.sheets)
                ]
        except pdfium.PdfiumError as error:
            locked = error.err_code in (pdfium_c.FPDF_ERR_PASSWORD, pdfium_c.FPDF_ERR_SECURITY)
            reason = "is locked with a password. Ask for it unlocked" if locked else "is damaged and cannot be read"
            raise CannotRead(f"{name} {reason}.") from error
        if not self.sheets:
            raise CannotRead(f"{name} has no pages.")
        if any(not 0 < side <= _MAX_SIDE for size in self._sizes for side in size):
            raise CannotRead(f"{name} has a page of impossible size.")

    @contextmanager
    def _page(self, sheet: int) -> Iterator[pdfium.PdfPage]:
        """A page while it is worked on. Raises CannotRead for one that is damaged where the file is not."""
        with _LOCK:
            try:
                page = self._document[sheet - 1]
                try:
                    yield page
                finally:
                    page.close()
            except pdfium.PdfiumError as error:
                raise CannotRead(f"Sheet {sheet} of {self._name} is damaged and cannot be shown.") from error

    def size(self, sheet: int) -> tuple[float, float]:
        return self._sizes[sheet - 1]

    def dimensions(self, sheet: int) -> tuple[tuple[str, float, float], ...]:
        return ()

    def natural_scale(self) -> float:
        return 0.0

    def dots(self, sheet: int) -> float:
        return 0.0

    def render(self, sheet: int, box: tuple[float, float, float, float], width: int) -> Raster:
        page_width, page_height = self.size(sheet)
        across, down = pixels(self, sheet, box, width)
        scale = across / ((box[2] - box[0]) * page_width)
        # pdfium crops by points from each side of the page.
        crop = (
            box[0] * page_width,
            (1 - box[3]) * page_height,
            (1 - box[2]) * page_width,
            box[1] * page_height,
        )
        with self._page(sheet) as page:
            picture = page.render(scale=scale, crop=crop, rev_byteorder=True).to_pil().convert("RGB")
        if picture.size != (across, down):
            picture = picture.resize((across, down))
        return Raster(across, down, picture.tobytes())

    def sizes(self, sheet: int) -> tuple[Word, ...]:
        return sizes_only(self.words(sheet), self._ruling(sheet), self.size(sheet))

    def _ruling(self, sheet: int) -> Ruling:
        _, high = self.size(sheet)
        level, upright, rounds, squares = list[_Line](), list[_Line](), list[Box](), list[Box]()
        with self._page(sheet) as page:
            for path in islice(page.get_objects(filter=[pdfium_c.FPDF_PAGEOBJ_PATH]), _MAX_PATHS):
                left, bottom, right, top = path.get_bounds()
                kinds = _kinds(path)
                if kinds == "round" and abs((right - left) - (top - bottom)) < 0.02 * (right - left):
                    rounds.append((left, high - top, right, high - bottom))
                elif kinds == "box":
                    squares.append((left, high - top, right, high - bottom))
                elif kinds == "line" and (found := straight((left, high - top), (right, high - bottom), _WIDTH)):
                    (level if found[0] == "level" else upright).append(found[1])
        return Ruling(tuple(level), tuple(upright), tuple(rounds), tuple(squares))

    def words(self, sheet: int) -> tuple[Word, ...]:
        width, height = self.size(sheet)
        found: list[Word] = []
        with self._page(sheet) as page:
            text = page.get_textpage()
            for i in range(min(text.count_rects(), _MAX_RUNS)):
                left, bottom, right, top = text.get_rect(i)
                run = " ".join(text.get_text_bounded(left - 0.5, bottom - 0.5, right + 0.5, top + 0.5).split())
                if run:
                    found.append(Word(run, left / width, 1 - top / height, right / width, 1 - bottom / height))
            text.close()
        return tuple(found)
