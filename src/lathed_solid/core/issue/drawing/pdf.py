"""Sheets as PDF: text as text with its typeface in the file, the same bytes for the same sheets."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from typing import Any

from reportlab.pdfgen.canvas import Canvas

from ...drafting.sheet.scene import PENS, Arrow, Mark, Path, Round, Scene, Sized, Words, arrow_corners
from ...drafting.sheet.words import CAPITALS
from ..paper import FONT, glyphs

_MM = 72 / 25.4


def to_pdf(scenes: Sequence[Scene], title: str = "") -> bytes:
    """One page a scene."""
    glyphs()
    out = io.BytesIO()
    first = scenes[0]
    canvas = Canvas(out, pagesize=(first.width * _MM, first.height * _MM), invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("")
    canvas.setCreator("Lathed Solid")
    for scene in scenes:
        canvas.setPageSize((scene.width * _MM, scene.height * _MM))
        canvas.scale(_MM, _MM)
        canvas.setLineJoin(1)
        for mark in scene.marks:
            _draw(canvas, mark)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw(canvas: Any, mark: Mark) -> None:
    if isinstance(mark, Sized):
        for inner in mark.marks:
            _draw(canvas, inner)
    elif isinstance(mark, Words):
        _words(canvas, mark)
    elif isinstance(mark, Arrow):
        path = canvas.beginPath()
        a, b, c = arrow_corners(mark)
        path.moveTo(*a)
        path.lineTo(*b)
        path.lineTo(*c)
        path.close()
        canvas.drawPath(path, stroke=0, fill=1)
    else:
        _line(canvas, mark)


def _line(canvas: Any, mark: Path | Round) -> None:
    pen = PENS[mark.pen]
    canvas.setLineWidth(pen.width)
    canvas.setDash(*([list(pen.dashes)] if pen.dashes else []))
    path = canvas.beginPath()
    if isinstance(mark, Path):
        path.moveTo(*mark.points[0])
        for point in mark.points[1:]:
            path.lineTo(*point)
    else:
        (x, y), r = mark.center, mark.radius
        if abs(mark.sweep) > 2 * math.pi - 1e-6:
            path.circle(x, y, r)
        else:
            path.arc(x - r, y - r, x + r, y + r, math.degrees(mark.start), math.degrees(mark.sweep))
    canvas.drawPath(path, stroke=1, fill=0)


def _words(canvas: Any, mark: Words) -> None:
    canvas.saveState()
    canvas.translate(*mark.at)
    if mark.turn:
        canvas.rotate(mark.turn)
    canvas.setFont(FONT, mark.height / CAPITALS)
    draw = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}
    draw[mark.align](0, 0, mark.text)
    canvas.restoreState()


def to_png(scene: Scene, dots: float = 200.0) -> bytes:
    """The page as a picture, ``dots`` an inch."""
    import pypdfium2

    document = pypdfium2.PdfDocument(to_pdf([scene]))
    picture = document[0].render(scale=dots / 72).to_pil()
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dots, dots))
    document.close()
    return out.getvalue()
