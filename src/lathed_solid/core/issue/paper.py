"""What every sheet we put on paper has in common: its font, its text, its ruled tables, its foot."""

from __future__ import annotations

import io
from collections.abc import Callable
from functools import cache
from importlib import resources
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate, TableStyle

from ..drafting.sheet.words import SAID

FONT = "Lathed Sheet"
INK, RULE, PALE = colors.HexColor("#22282E"), colors.HexColor("#C8C2B4"), colors.HexColor("#F1EEE6")


@cache
def glyphs() -> frozenset[int]:
    """The characters the font draws; it is made known to the writer with that."""
    with resources.as_file(resources.files("lathed_solid") / "fonts" / "LathedSheet.ttf") as path:
        font = TTFont(FONT, str(path))
    pdfmetrics.registerFont(font)
    return frozenset(font.face.charToGlyph)


def plain(words: str) -> str:
    """Drawable: what the font lacks is told in words, or as a question mark."""
    known = glyphs()
    return "".join(c if ord(c) in known or c == "\n" else SAID.get(c, "?") for c in words)


def _style(size: float, lead: float = 1.25, **more: Any) -> ParagraphStyle:
    return ParagraphStyle(f"s{size}{more}", fontName=FONT, fontSize=size, leading=size * lead, textColor=INK, **more)


def p(words: str, size: float = 7.5, **more: Any) -> Paragraph:
    """A paragraph of plain text."""
    return Paragraph(escape(plain(words)), _style(size, **more))


def ruled(outer: bool = False, head: bool = False) -> TableStyle:
    """Cells set tightly; with a frame, or with a ``head`` and a line beneath every row."""
    rules: list[Any] = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 3), ("RIGHTPADDING", (0, 0), (-1, -1), 3),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
    ]  # fmt: skip
    if outer:
        rules.append(("BOX", (0, 0), (-1, -1), 0.8, INK))
    if head:
        rules += [
            ("BACKGROUND", (0, 0), (-1, 0), PALE),
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
            ("BOX", (0, 0), (-1, -1), 0.5, RULE),
        ]
    return TableStyle(rules)


def printed(story: list[Any], page: tuple[float, float], title: str, subject: str, foot: tuple[str, str]) -> bytes:
    """The PDF; the same bytes for the same story. ``foot`` are the two lines at the bottom of every page."""
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=page, leftMargin=14 * mm, rightMargin=14 * mm, topMargin=14 * mm, bottomMargin=16 * mm,
        title=plain(title), author="", subject=subject, creator="Lathed Solid", invariant=1,
    )  # fmt: skip
    draw = _foot(page, foot)
    document.build(story, onFirstPage=draw, onLaterPages=draw)
    return out.getvalue()


def _foot(page: tuple[float, float], lines: tuple[str, str]) -> Callable[[Any, Any], None]:
    def draw(canvas: Any, _: Any) -> None:
        canvas.saveState()
        canvas.setFont(FONT, 6.5)
        canvas.setFillColor(INK)
        canvas.drawString(14 * mm, 9 * mm, plain(lines[0])[:120])
        canvas.drawRightString(page[0] - 14 * mm, 9 * mm, f"page {canvas.getPageNumber()}")
        canvas.drawString(14 * mm, 5.5 * mm, plain(lines[1]))
        canvas.restoreState()

    return draw
