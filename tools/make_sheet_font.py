"""Make the face of our sheets: DejaVu Sans with the signs of form and place it lacks, under a name of its own.

Run once, when a sign is added: ``python tools/make_sheet_font.py DejaVuSans.ttf``. Signs are drawn after ISO 7083 (a sign
as high as the capitals beside it). The base's licence lets it be changed under a name without "Bitstream" and "Vera".
"""

from __future__ import annotations

import math
import sys
from collections.abc import Callable
from pathlib import Path

from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

FONTS = Path(__file__).parents[1] / "src/lathed_solid/fonts"
FAMILY = "Lathed Sheet"
#: In units of the face: half a line's width, height of its capitals, the middle of that, what a sign takes up.
HALF, CAPITALS = 64.0, 1493.0
AMID, WIDE = CAPITALS / 2, 1640.0
XY = tuple[float, float]


class Ink:
    """Draws lines of one width, round ones by short straight pieces."""

    def __init__(self, pen: TTGlyphPen) -> None:
        self._pen = pen

    def ring(self, points: list[XY], inside: bool = False) -> None:
        area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))
        if (area > 0) is not inside:  # outlines run clockwise, holes the other way
            points = points[::-1]
        self._pen.moveTo(points[0])
        for p in points[1:]:
            self._pen.lineTo(p)
        self._pen.closePath()

    def line(self, a: XY, b: XY) -> None:
        size = math.dist(a, b)
        u, v = HALF * (b[0] - a[0]) / size, HALF * (b[1] - a[1]) / size
        self.ring([(a[0] - v, a[1] + u), (b[0] - v, b[1] + u), (b[0] + v, b[1] - u), (a[0] + v, a[1] - u)])

    def circle(self, middle: XY, radius: float) -> None:
        self.ring(_round(middle, radius + HALF, 0.0, 2 * math.pi)[:-1])
        self.ring(_round(middle, radius - HALF, 0.0, 2 * math.pi)[:-1], inside=True)

    def arc(self, middle: XY, radius: float, start: float, end: float) -> None:
        outer = _round(middle, radius + HALF, start, end)
        self.ring([*outer, *_round(middle, radius - HALF, start, end)[::-1]])

    def arrow(self, a: XY, b: XY) -> None:
        size = math.dist(a, b)
        u, v = (b[0] - a[0]) / size, (b[1] - a[1]) / size
        foot = b[0] - 430 * u, b[1] - 430 * v
        self.line(a, foot)
        self.ring([b, (foot[0] - 190 * v, foot[1] + 190 * u), (foot[0] + 190 * v, foot[1] - 190 * u)])


def _round(middle: XY, radius: float, start: float, end: float) -> list[XY]:
    pieces = 56
    turns = (start + (end - start) * k / pieces for k in range(pieces + 1))
    return [(middle[0] + radius * math.cos(t), middle[1] + radius * math.sin(t)) for t in turns]


def position(ink: Ink) -> None:
    middle = WIDE / 2, AMID
    ink.circle(middle, 430)
    ink.line((middle[0] - AMID, AMID), (middle[0] + AMID, AMID))
    ink.line((middle[0], 0), (middle[0], CAPITALS))


def cylindricity(ink: Ink) -> None:
    ink.circle((WIDE / 2, AMID), 400)
    lean, off = CAPITALS / math.tan(math.radians(60)) / 2, 400 / math.sin(math.radians(60))
    for side in (-1, 1):
        x = WIDE / 2 + side * off
        ink.line((x - lean, 0), (x + lean, CAPITALS))


def symmetry(ink: Ink) -> None:
    for y, half in ((AMID - 420, 420), (AMID, 700), (AMID + 420, 420)):
        ink.line((WIDE / 2 - half, y), (WIDE / 2 + half, y))


def total_runout(ink: Ink) -> None:
    ink.line((160, HALF), (1060, HALF))
    for x in (200, 900):
        ink.arrow((x, HALF), (x + 640, CAPITALS - 150))


def straightness(ink: Ink) -> None:
    ink.line((130, AMID), (WIDE - 130, AMID))


def line_profile(ink: Ink) -> None:
    ink.arc((WIDE / 2, 400), 640, 0.0, math.pi)


def profile(ink: Ink) -> None:
    ink.arc((WIDE / 2, 400), 640, 0.0, math.pi)
    ink.line((WIDE / 2 - 640 - HALF, 400), (WIDE / 2 + 640 + HALF, 400))


def counterbore(ink: Ink) -> None:
    ink.line((200, HALF), (WIDE - 200, HALF))
    for x in (200 + HALF, WIDE - 200 - HALF):
        ink.line((x, HALF), (x, 900))


def countersink(ink: Ink) -> None:
    for side in (-1, 1):
        ink.line((WIDE / 2, HALF), (WIDE / 2 + side * 640, 950))


SIGNS: dict[str, Callable[[Ink], None]] = {
    "⌖": position, "⌭": cylindricity, "⌯": symmetry, "⌰": total_runout, "⏤": straightness, "⌒": line_profile,
    "⌓": profile, "⌴": counterbore, "⌵": countersink,
}  # fmt: skip
#: Letters in a circle: at most and at least material, projected, free (ISO 2692, ISO 10578, ISO 10579).
CIRCLED = {"Ⓜ": "M", "Ⓛ": "L", "Ⓟ": "P", "Ⓕ": "F"}


def make(source: Path) -> None:
    font = TTFont(source)
    known, glyphs = font.getBestCmap(), font.getGlyphSet()
    for table in ("hdmx", "LTSH", "VDMX"):  # sizes by glyph, of which the new ones have none
        if table in font:
            del font[table]
    for sign in [*SIGNS, *CIRCLED]:
        assert ord(sign) not in known, f"{sign} is there already"
        pen = TTGlyphPen(glyphs)
        ink = Ink(pen)
        if sign in SIGNS:
            SIGNS[sign](ink)
        else:
            ink.circle((WIDE / 2, AMID), AMID)
            letter = known[ord(CIRCLED[sign])]
            scale, long = 0.56, font["hmtx"][letter][0]
            _copied(font, letter, ink, scale, (WIDE / 2 - scale * long / 2, AMID - scale * CAPITALS / 2))
        name = f"uni{ord(sign):04X}"
        glyph = pen.glyph()
        font["glyf"][name] = glyph
        glyph.recalcBounds(font["glyf"])
        font["hmtx"][name] = (int(WIDE), glyph.xMin)
        for table in font["cmap"].tables:
            if table.isUnicode():
                table.cmap[ord(sign)] = name
    for id_, text in ((1, FAMILY), (3, "LathedSheet"), (4, FAMILY), (6, "LathedSheet"), (16, FAMILY)):
        for record in [r for r in font["name"].names if r.nameID == id_]:
            record.string = text
    font.save(FONTS / "LathedSheet.ttf")


def _copied(font: TTFont, letter: str, ink: Ink, scale: float, to: XY) -> None:
    """A letter of straight lines, smaller and elsewhere."""
    points, ends, _ = font["glyf"][letter].getCoordinates(font["glyf"])
    first = 0
    for end in ends:
        ring = [(to[0] + scale * x, to[1] + scale * y) for x, y in points[first : end + 1]]
        ink.ring(ring, inside=first > 0)
        first = end + 1


if __name__ == "__main__":
    make(Path(sys.argv[1]))
