"""A sheet as SVG: text stays text, its typeface goes with it."""

from __future__ import annotations

import base64
import io
import math
from functools import lru_cache
from importlib import resources
from xml.sax.saxutils import escape

from ...drafting.sheet.scene import PENS, Arrow, Mark, Path, Round, Scene, Sized, Words, arrow_corners
from ...drafting.sheet.words import CAPITALS

FAMILY = "Lathed Sheet"


def to_svg(scene: Scene, title: str = "") -> str:
    """The page, in mm."""
    made = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{scene.width:g}mm" height="{scene.height:g}mm" '
        f'viewBox="0 0 {scene.width:g} {scene.height:g}">',
        f"<title>{escape(title)}</title>",
        f"<style>{_face(''.join(sorted({c for w in scene.texts() for c in w.text})))}"
        f"text{{font-family:'{FAMILY}',sans-serif;fill:#000}}</style>",
        f'<rect width="{scene.width:g}" height="{scene.height:g}" fill="#fff"/>',
    ]
    for mark in scene.marks:
        made += _marks(mark, scene.height)
    return "\n".join([*made, "</svg>\n"])


def _marks(mark: Mark, high: float) -> list[str]:
    if isinstance(mark, Sized):
        return [line for m in mark.marks for line in _marks(m, high)]
    if isinstance(mark, Path):
        points = " ".join(f"{x:.3f},{high - y:.3f}" for x, y in mark.points)
        return [f'<polyline points="{points}" {_pen(mark)}/>']
    if isinstance(mark, Round):
        return [_round(mark, high)]
    if isinstance(mark, Arrow):
        points = " ".join(f"{x:.3f},{high - y:.3f}" for x, y in arrow_corners(mark))
        return [f'<polygon points="{points}" fill="#000"/>']
    return [_words(mark, high)]


def _pen(mark: Path | Round) -> str:
    pen = PENS[mark.pen]
    dashes = f' stroke-dasharray="{",".join(f"{d:g}" for d in pen.dashes)}"' if pen.dashes else ""
    return f'fill="none" stroke="#000" stroke-width="{pen.width:g}" stroke-linecap="butt"{dashes}'


def _round(mark: Round, high: float) -> str:
    (x, y), r = mark.center, mark.radius
    if abs(mark.sweep) > 2 * math.pi - 1e-6:
        return f'<circle cx="{x:.3f}" cy="{high - y:.3f}" r="{r:.3f}" {_pen(mark)}/>'
    a, b = ((x + r * math.cos(t), high - y - r * math.sin(t)) for t in (mark.start, mark.start + mark.sweep))
    large, way = int(abs(mark.sweep) > math.pi), int(mark.sweep < 0)
    return f'<path d="M{a[0]:.3f} {a[1]:.3f}A{r:.3f} {r:.3f} 0 {large} {way} {b[0]:.3f} {b[1]:.3f}" {_pen(mark)}/>'


def _words(mark: Words, high: float) -> str:
    x, y = mark.at[0], high - mark.at[1]
    turn = f' transform="rotate(-90 {x:.3f} {y:.3f})"' if mark.turn else ""
    return (
        f'<text x="{x:.3f}" y="{y:.3f}" font-size="{mark.height / CAPITALS:.3f}" '
        f'text-anchor="{mark.align}" xml:space="preserve"{turn}>{escape(mark.text)}</text>'
    )


@lru_cache(maxsize=8)
def _face(characters: str) -> str:
    """The characters that are used, as a typeface inside the file."""
    from fontTools.subset import Options, Subsetter
    from fontTools.ttLib import TTFont

    with resources.as_file(resources.files("lathed_solid") / "fonts" / "LathedSheet.ttf") as path:
        font = TTFont(path)
        options = Options()
        options.set(layout_features=[], drop_tables=[*options.drop_tables, "FFTM"])
        subsetter = Subsetter(options)
        subsetter.populate(text=characters or " ")
        subsetter.subset(font)
        out = io.BytesIO()
        font.save(out)
    data = base64.b64encode(out.getvalue()).decode()
    return f"@font-face{{font-family:'{FAMILY}';src:url(data:font/ttf;base64,{data})}}"
