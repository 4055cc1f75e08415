"""Letters as outlines: the shipped fonts' glyphs laid along a line or an arc."""

from __future__ import annotations

import math
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from fontTools.ttLib import TTFont

from ..arrays import Floats
from .curves import Points, arc_span
from .model import Arc, Line, Sketch, Text

if TYPE_CHECKING:
    from collections.abc import Mapping

FOLDER = Path(__file__).parents[2] / "fonts"
FONTS = {"plain": "Inter-Regular.otf", "bold": "Inter-Bold.otf", "figures": "B612Mono-Regular.otf"}

#: A contour as cubic pieces: each four places (mm). Straight pieces have their handles on the line.
Cubics = Floats


class Contour(NamedTuple):
    """One closed line of a letter: its name (``t1.0``, ``t1.1`` …) and its cubics (k x 4 x 2, mm)."""

    name: str
    cubics: Cubics

    def outline(self, steps: int = 6) -> Floats:
        """A fine polyline (k x 2, mm) without the repeated last place."""
        t = np.linspace(0.0, 1.0, steps, endpoint=False)[None, :, None]
        p0, p1, p2, p3 = (self.cubics[:, None, k] for k in range(4))
        curve = (1 - t) ** 3 * p0 + 3 * t * (1 - t) ** 2 * p1 + 3 * t**2 * (1 - t) * p2 + t**3 * p3
        return np.asarray(curve).reshape(-1, 2)


class _Glyph(NamedTuple):
    """Contours in font units, and the advance."""

    contours: tuple[Floats, ...]
    advance: float


@lru_cache(maxsize=3)
def _font(name: str) -> TTFont:
    from fontTools.ttLib import TTFont  # slow to load and seldom needed

    return TTFont(FOLDER / FONTS[name])


@lru_cache(maxsize=512)
def _glyph(font_name: str, letter: str) -> _Glyph:
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    font = _font(font_name)
    glyphs, cmap = font.getGlyphSet(), font.getBestCmap()
    name = cmap.get(ord(letter)) or cmap.get(ord("?"))
    pen = DecomposingRecordingPen(glyphs)
    glyphs[name].draw(pen)
    contours: list[list[Any]] = []
    for verb, args in pen.value:
        if verb == "moveTo":
            contours.append([np.array(args[0], float)])
        elif verb in ("lineTo", "curveTo", "qCurveTo"):
            contours[-1] += _cubics(_end(contours[-1]), args)
        elif verb in ("closePath", "endPath") and contours:
            start = contours[-1][0]
            if not np.allclose(start, _end(contours[-1])):
                contours[-1] += _cubics(_end(contours[-1]), (start,))
    return _Glyph(tuple(np.array(c[1:]) for c in contours if len(c) > 1), float(glyphs[name].width))


def _end(contour: list[Any]) -> Floats:
    return np.asarray(contour[-1] if len(contour) == 1 else contour[-1][3], dtype=np.float64)


def _cubics(start: Floats, places: tuple[Any, ...]) -> list[Floats]:
    """One drawing verb of a font as cubics."""
    p = [np.array(x, float) for x in places]
    if len(p) == 1:
        return [np.array([start, start + (p[0] - start) / 3, start + 2 * (p[0] - start) / 3, p[0]])]
    if len(p) == 3:
        return [np.array([start, *p])]
    found = []
    for k, handle in enumerate(p[:-1]):  # quadratic with implied places between handles
        end = p[-1] if k == len(p) - 2 else (handle + p[k + 1]) / 2
        found.append(np.array([start, start + 2 * (handle - start) / 3, end + 2 * (handle - end) / 3, end]))
        start = end
    return found


def contours(text: Text, sketch: Sketch) -> list[Contour]:
    """The outlines of a text where it stands. Letters the font does not have become question marks."""
    points, on = sketch.points(), sketch.get(text.on)
    scale, glyphs = _scaled(text)
    gap = text.spacing * text.height
    total = sum(g.advance * scale for g in glyphs) + gap * max(0, len(glyphs) - 1)
    place = _along(on, points, total, text.align)
    found: list[Contour] = []
    x = 0.0
    for glyph in glyphs:
        width = glyph.advance * scale
        put = place(x + width / 2, width / 2)
        for contour in glyph.contours:
            found.append(Contour(f"{text.id}.{len(found)}", put(contour * scale)))
        x += width + gap
    return found


#: Capitals that stand flat on their foot and end flat at their full height.
FLAT_CAPITALS = "EFHIKLMNTZ"


def flat_capital(text: Text) -> str:
    """The contour of a letter that shows the height of a capital exactly; "" when there is none."""
    number = 0
    for letter, glyph in zip(text.text, _scaled(text)[1], strict=True):
        if letter in FLAT_CAPITALS and glyph.contours:
            return f"{text.id}.{number}"
        number += len(glyph.contours)
    return ""


def width(text: Text) -> float:
    """How long a text runs, mm."""
    scale, glyphs = _scaled(text)
    return sum(g.advance * scale for g in glyphs) + text.spacing * text.height * max(0, len(glyphs) - 1)


def _scaled(text: Text) -> tuple[float, list[_Glyph]]:
    font = _font(text.font)
    capital = getattr(font["OS/2"], "sCapHeight", 0) or 0.7 * font["head"].unitsPerEm
    return text.height / capital, [_glyph(text.font, c) for c in text.text]


def _along(on: Any, points: Points, total: float, align: str) -> Any:
    """A function of where a letter's middle lies along the text, giving how to put the letter there."""
    share = {"start": 0.0, "middle": 0.5, "end": 1.0}[align]
    if isinstance(on, Line):
        a, b = points[on.a], points[on.b]
        size = math.hypot(b.x - a.x, b.y - a.y) or 1.0
        ux, uy = (b.x - a.x) / size, (b.y - a.y) / size
        start = share * (size - total)
        return lambda x, half: lambda c: _placed(c, a.x + (start + x) * ux, a.y + (start + x) * uy, ux, uy, half)
    assert isinstance(on, Arc)
    center, (first, sweep, radius) = points[on.center], arc_span(on, points)
    # Read from the outside, left to right: the text runs clockwise, from the arc's end to its start.
    begun = first + sweep - share * (sweep - total / radius)

    def on_arc(x: float, half: float) -> Any:
        turn = begun - x / radius
        px, py = center.x + radius * math.cos(turn), center.y + radius * math.sin(turn)
        return lambda c: _placed(c, px, py, math.sin(turn), -math.cos(turn), half)

    return on_arc


def _placed(c: Floats, x: float, y: float, ux: float, uy: float, half: float) -> Floats:
    """A letter with the middle of its foot at x, y, running along u."""
    u, v = c[..., 0] - half, c[..., 1]
    return np.stack([x + u * ux - v * uy, y + u * uy + v * ux], axis=-1)


def all_contours(sketch: Sketch) -> Mapping[str, Contour]:
    """Contours of every text of a sketch by name."""
    return {c.name: c for text in sketch.texts() if not text.construction for c in contours(text, sketch)}
