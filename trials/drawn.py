"""A sheet drawn for trials: lines, arrows, dimensions and leaders in mm from the top left, with the truth kept
beside.
"""

from __future__ import annotations

import io
import math
import random
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from fontTools.ttLib import TTFont
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont as Embedded
from reportlab.pdfgen.canvas import Canvas

import lathed_solid

_PT = 72 / 25.4
_SHARE = Path("/usr/share/fonts/truetype")
#: Lettering of offices: what is installed of it is used (Debian: fonts-osifont, fonts-routed-gothic, fonts-liberation,
#: fonts-roboto-unhinted, fonts-dejavu-extra); the program's own is always there.
_FACES = {
    "osifont": _SHARE / "osifont/osifont.ttf",
    "routed": _SHARE / "routed-gothic/routed-gothic.ttf",
    "routed-narrow": _SHARE / "routed-gothic/routed-gothic-narrow.ttf",
    "liberation-narrow": _SHARE / "liberation/LiberationSansNarrow-Regular.ttf",
    "liberation": _SHARE / "liberation/LiberationSans-Regular.ttf",
    "roboto-condensed": _SHARE / "roboto/unhinted/RobotoCondensed-Regular.ttf",
    "dejavu-condensed": _SHARE / "dejavu/DejaVuSansCondensed.ttf",
    "dejavu": Path(lathed_solid.__file__).parent / "fonts/LathedSheet.ttf",
}
SPARE = "dejavu"
Box = tuple[float, float, float, float]
Point = tuple[float, float]


def lacking() -> tuple[str, ...]:
    """Lettering that is not installed here: without it the same number gives another sheet."""
    return tuple(name for name, path in _FACES.items() if not path.exists())


class Face(NamedTuple):
    known: frozenset[int]
    #: Height of a capital as a share of the size.
    capital: float


@lru_cache
def faces() -> dict[str, Face]:
    """The lettering that is here, ready for drawing."""
    found = {}
    for name, path in _FACES.items():
        if path.exists():
            font = TTFont(str(path))
            table = font.getBestCmap()
            capital = font["glyf"][table[ord("H")]].yMax / font["head"].unitsPerEm
            found[name] = Face(frozenset(table), capital)
            if name not in pdfmetrics.getRegisteredFontNames():
                pdfmetrics.registerFont(Embedded(name, str(path)))
    return found


class Note(NamedTuple):
    """A note as it was drawn: its text, the boxes of its lines (mm from the top left), whether it reads from the
    right.
    """

    text: str
    boxes: tuple[Box, ...]
    turned: bool


def _shares(a: Box, b: Box, room: float) -> bool:
    return a[0] - room < b[2] and b[0] < a[2] + room and a[1] - room < b[3] and b[1] < a[3] + room


def _meets(box: Box, line: tuple[float, float, float, float], room: float) -> bool:
    """Whether a straight line comes nearer to a box than ``room``."""
    x0, y0, x1, y1 = line
    steps = max(2, int(math.hypot(x1 - x0, y1 - y0) / 0.4))
    for k in range(steps + 1):
        x, y = x0 + (x1 - x0) * k / steps, y0 + (y1 - y0) * k / steps
        if box[0] - room < x < box[2] + room and box[1] - room < y < box[3] + room:
            return True
    return False


class Manner(NamedTuple):
    """How an office dimensions: what its leaders end in (a shoulder before the note, none, or one drawn under it), and
    whether numbers stand in a gap of their line.
    """

    leaders: str = "shoulder"
    in_line: bool = False


class Drawn:
    """One sheet being drawn. ``notes`` are what should be offered; ``taken`` boxes that writing keeps clear of."""

    def __init__(
        self, size: Point, face: str, height: float, hand: random.Random | None = None, manner: Manner | None = None
    ) -> None:
        """``hand`` letters unevenly, as nobody's machine does."""
        self.size, self.face, self.height, self.hand = size, face, height, hand
        self.manner = manner or Manner()
        self.notes: list[Note] = []
        self.taken: list[Box] = []
        self.lines: list[tuple[float, float, float, float]] = []
        self.thin: list[tuple[float, float, float, float]] = []
        self.circles: list[tuple[float, float, float]] = []
        self._faces = faces()
        self._out = io.BytesIO()
        self._canvas = Canvas(self._out, pagesize=(size[0] * _PT, size[1] * _PT), invariant=True)
        self._canvas.setLineCap(1)

    def pdf(self) -> bytes:
        self._canvas.save()
        return self._out.getvalue()

    def _y(self, y: float) -> float:
        return (self.size[1] - y) * _PT

    # --- lines
    def line(self, a: Point, b: Point, width: float = 0.5, dash: tuple[float, ...] = ()) -> None:
        self._canvas.setLineWidth(width * _PT)
        self._canvas.setDash([d * _PT for d in dash])
        self._canvas.line(a[0] * _PT, self._y(a[1]), b[0] * _PT, self._y(b[1]))
        (self.lines if width >= 0.5 and not dash else self.thin).append((*a, *b))

    def box(self, left: float, top: float, right: float, bottom: float, width: float = 0.5) -> None:
        corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
        for a, b in zip(corners, corners[1:] + corners[:1], strict=True):
            self.line(a, b, width)

    def circle(self, centre: Point, radius: float, width: float = 0.5) -> None:
        self._canvas.setLineWidth(width * _PT)
        self._canvas.setDash([])
        self._canvas.circle(centre[0] * _PT, self._y(centre[1]), radius * _PT)
        if width >= 0.5:
            self.circles.append((*centre, radius))

    def arrow(self, tip: Point, towards: Point) -> None:
        a = math.atan2(towards[1], towards[0])
        path = self._canvas.beginPath()
        path.moveTo(tip[0] * _PT, self._y(tip[1]))
        for side in (0.16, -0.16):
            path.lineTo((tip[0] - 3 * math.cos(a + side)) * _PT, self._y(tip[1] - 3 * math.sin(a + side)))
        path.close()
        self._canvas.drawPath(path, stroke=0, fill=1)

    # --- writing
    def width(self, text: str, height: float) -> float:
        return sum(self._advance(c, height) for c in text)

    def _advance(self, c: str, height: float) -> float:
        name = self._of(c)
        return float(pdfmetrics.stringWidth(c, name, height / self._faces[name].capital * _PT) / _PT)

    def _of(self, c: str) -> str:
        """The lettering a character is taken from: signs that an office's own lacks, from one that has them."""
        order = (self.face, "osifont", SPARE, *self._faces)
        return next((n for n in order if n in self._faces and ord(c) in self._faces[n].known), self.face)

    def boxes(self, at: Point, text: str, turned: bool, height: float, amid: bool) -> tuple[Box, ...]:
        """Where a text's lines would stand; ``at`` is the start, or the middle, of the first line's foot."""
        found = []
        for n, line in enumerate(text.split("\n")):
            wide = self.width(line, height)
            start = -wide / 2 if amid else 0.0
            top, low = 1.6 * height * n - 1.05 * height, 1.6 * height * n + 0.1 * height
            if turned:  # reads from the right: along is upwards, down is to the right
                found.append((at[0] + top, at[1] - start - wide, at[0] + low, at[1] - start))
            else:
                found.append((at[0] + start, at[1] + top, at[0] + start + wide, at[1] + low))
        return tuple(found)

    def write(
        self, at: Point, text: str, turned: bool = False, height: float = 0.0, amid: bool = False, note: bool = True
    ) -> None:
        height = height or self.height
        boxes = self.boxes(at, text, turned, height, amid)
        for n, line in enumerate(text.split("\n")):
            self._canvas.saveState()
            self._canvas.translate(at[0] * _PT, self._y(at[1]))
            self._canvas.rotate(90 if turned else 0)
            x = -self.width(line, height) / 2 if amid else 0.0
            for c in line:
                name = self._of(c)
                self._canvas.setFont(name, height / self._faces[name].capital * _PT)
                self._put(c, x, -1.6 * height * n, height)
                x += self._advance(c, height)
            self._canvas.restoreState()
        self.taken += boxes
        if note:
            self.notes.append(Note(text, boxes, turned))

    def _put(self, c: str, x: float, y: float, height: float) -> None:
        """A character in its place; by hand none is as high, as wide or as upright as the one before."""
        if self.hand is None:
            self._canvas.drawString(x * _PT, y * _PT, c)
            return
        chance = self.hand
        self._canvas.saveState()
        self._canvas.translate(x * _PT, (y + chance.gauss(0, 0.05) * height) * _PT)
        self._canvas.rotate(chance.gauss(0, 4))
        self._canvas.skew(0, chance.gauss(-6, 5))
        self._canvas.scale(chance.uniform(0.85, 1.15), chance.uniform(0.85, 1.15))
        self._canvas.drawString(0, 0, c)
        self._canvas.restoreState()

    def is_free(self, box: Box, room: float = 1.5) -> bool:
        inside = box[0] > 12 and box[1] > 12 and box[2] < self.size[0] - 12 and box[3] < self.size[1] - 12
        if not inside or any(_shares(box, t, room) for t in self.taken):
            return False
        return not any(_meets(box, s, 0.8) for s in (*self.lines, *self.thin))

    # --- dimensions
    def level(self, left: Point, right: Point, at: float, text: str, gap: float) -> None:
        """A length along the sheet, its line at height ``at``, its number above; without its limits where there is no
        room, and not drawn where there is none for the number.
        """
        text = self._fitting(text, right[0] - left[0])
        if not text:
            return
        for p in (left, right):
            away = math.copysign(1.0, at - p[1])
            self.line((p[0], p[1] + 0.8 * away), (p[0], at + 1.5 * away), 0.25)
        self.arrow((right[0], at), (1, 0))
        self.arrow((left[0], at), (-1, 0))
        amid = (left[0] + right[0]) / 2
        if self.manner.in_line:
            half = self.width(text, self.height) / 2 + 1.2
            self.line((left[0], at), (amid - half, at), 0.25)
            self.line((amid + half, at), (right[0], at), 0.25)
            self.write((amid, at + self.height / 2), text, amid=True)
        else:
            self.line((left[0], at), (right[0], at), 0.25)
            self.write((amid, at - gap), text, amid=True)
        self.taken.append((left[0], at - 0.5, right[0], at + 0.5))

    def _fitting(self, text: str, room: float) -> str:
        short = text.split(" ")[0]
        spare = 12 if self.manner.in_line else 2
        return next((t for t in (text, short) if self.width(t, self.height) < room - spare), "")

    def upright(self, top: Point, bottom: Point, at: float, text: str, gap: float) -> None:
        """A length down the sheet, its line at ``at``, its number left of it, read from the right."""
        text = self._fitting(text, bottom[1] - top[1])
        if not text:
            return
        for p in (top, bottom):
            away = math.copysign(1.0, at - p[0])
            self.line((p[0] + 0.8 * away, p[1]), (at + 1.5 * away, p[1]), 0.25)
        self.arrow((at, top[1]), (0, -1))
        self.arrow((at, bottom[1]), (0, 1))
        amid = (top[1] + bottom[1]) / 2
        if self.manner.in_line:
            half = self.width(text, self.height) / 2 + 1.2
            self.line((at, top[1]), (at, amid - half), 0.25)
            self.line((at, amid + half), (at, bottom[1]), 0.25)
            self.write((at + self.height / 2, amid), text, turned=True, amid=True)
        else:
            self.line((at, top[1]), (at, bottom[1]), 0.25)
            self.write((at - gap, amid), text, turned=True, amid=True)
        self.taken.append((at - 0.5, top[1], at + 0.5, bottom[1]))

    def leader(self, at: Point, to: Point, text: str) -> bool:
        """A note with a leader; not drawn where there is no room."""
        boxes = self.boxes(at, text, False, self.height, False)
        if not all(self.is_free((b[0] - 5, b[1], b[2], b[3])) for b in boxes):
            return False
        y = at[1] - 0.5 * self.height
        written = [*boxes, *(b for n in self.notes for b in n.boxes)]
        if any(_meets(b, (at[0] - 4, y, *to), 0.8) for b in written):
            return False
        self.write(at, text)
        if self.manner.leaders == "under":
            y = boxes[0][3] + 0.3 * self.height
            self.line((boxes[0][2], y), (at[0] - 4, y), 0.25)
        elif self.manner.leaders == "shoulder":
            self.line((at[0] - 1, y), (at[0] - 4, y), 0.25)
        bend = (at[0] - (1.5 if self.manner.leaders == "none" else 4), y)
        self.line(bend, to, 0.25)
        self.arrow(to, (to[0] - bend[0], to[1] - y))
        return True
