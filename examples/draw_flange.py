"""Draws SKP-02 (made-up demo data) as a PDF and as a DXF sheet, for reading it under the glass.

Run from the project root: ``python examples/draw_flange.py``. One description feeds both files: lines, circles and
sizes in sheet millimetres, A3 across, scale 1:1.
"""

from __future__ import annotations

import io
import math
from importlib import resources
from pathlib import Path
from typing import NamedTuple

import ezdxf
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

FOLDER = Path(__file__).parent
XY = tuple[float, float]
#: Where the section's zero (outer face, axis) and the end view's middle lie on the sheet.
SECTION, END = (95.0, 150.0), (270.0, 150.0)
WIDTH, HEIGHT = 420.0, 297.0


class Size(NamedTuple):
    """A dimension between two points; ``text`` as written; ``base`` a point the dimension line goes through."""

    a: XY
    b: XY
    base: XY
    upright: bool
    text: str


class Note(NamedTuple):
    """Lines of text with a leader from their left end to ``to``."""

    at: XY
    to: XY | None
    lines: tuple[str, ...]


def at(z: float, r: float) -> XY:
    """A place of the section: along the axis, off the axis."""
    return SECTION[0] + z, SECTION[1] + r


def section() -> list[list[XY]]:
    """Half outlines of the section above and below the axis, and the bore."""
    lines = []
    for s in (1, -1):
        hub = [at(15 - 2 * math.cos(t), s * (23 - 2 * math.sin(t))) for t in (0.0, 0.4, 0.8, 1.2, math.pi / 2)]
        lines.append(
            [at(0, s * 10.8), at(0, s * 59), at(9, s * 59), at(9, s * 54), at(13, s * 54), *hub, at(28, s * 21),
             at(28, s * 10.8), at(27.2, s * 10), at(0.8, s * 10), at(0, s * 10.8)]
        )  # fmt: skip
    lines.append([at(-4, 0), at(32, 0)])
    lines.append([at(0, 51.75), at(13, 51.75)])
    lines.append([at(0, 46.25), at(13, 46.25)])
    lines += [[at(21 + d, 10), at(21 + d, 21)] for d in (-2.1, 2.1)]
    return lines


def end_circles() -> list[tuple[XY, float]]:
    found = [(END, r) for r in (59.0, 54.0, 21.0, 10.0)]
    for k in range(6):
        a = math.radians(60 * k)
        c = END[0] + 49 * math.cos(a), END[1] + 49 * math.sin(a)
        found += [(c, 2.75), (c, 5.0)]
        b = math.radians(30 + 60 * k)
        found.append(((END[0] + 33 * math.cos(b), END[1] + 33 * math.sin(b)), 9.0))
    return found


def keyway() -> list[XY]:
    x, y = END
    return [(x + 9.68, y - 2.5), (x + 12.3, y - 2.5), (x + 12.3, y + 2.5), (x + 9.68, y + 2.5)]


SIZES = (
    Size(at(0, 59), at(0, -59), at(-22, 0), True, "Ø118"),
    Size(at(0, 59), at(9, 59), at(0, 72), False, "9"),
    Size(at(9, 54), at(9, -54), at(66, 0), True, "Ø108"),
    Size(at(0, -59), at(13, -54), at(0, -74), False, "13"),
    Size(at(28, 21), at(28, -21), at(40, 0), True, "Ø42"),
    Size(at(0, -59), at(28, -21), at(0, -86), False, "28"),
    Size(at(0, 10), at(0, -10), at(-10, 0), True, "Ø20 H7 THRU"),
    Size((END[0] + 12.3, END[1] - 2.5), (END[0] + 12.3, END[1] + 2.5), (END[0] + 74, 0), True, "5"),
    Size((END[0] - 10, END[1]), (END[0] + 12.3, END[1]), (0, END[1] - 72), False, "22.3"),
)
NOTES = (
    Note(at(19, 38), at(13.6, 21.6), ("R2",)),
    Note(at(34, -40), at(27.6, -10.4), ("2x 0.8 x 45°",)),
    Note((300, 245), (END[0] + 24.5, END[1] + 42.4), ("6x Ø5.5 THRU cbore Ø10 x 5.4 deep", "on Ø98 first at 0°")),
    Note((300, 228), (END[0] + 28.6, END[1] + 16.5), ("6x Ø18 THRU on Ø66 first at 30°",)),
    Note((155, 228), at(21, 21), ("M5 - 6H THRU drill Ø4.2 at 21",)),
    Note((352, 168), None, ("180°",)),
    Note((240, 34), None, ("SKP-02  Drum end flange   rev A   aluminium   scale 1 to 1, first angle",)),
    Note((240, 26), None, ("Made-up demo drawing: tide recorder, Skerry Point Harbour Museum (invented)",)),
    Note((240, 18), None, ("Unstated limits ISO 2768-m. Set screw opposite the keyway. Lengths from the outer face.",)),
)


# --- PDF
def as_pdf() -> bytes:
    out = io.BytesIO()
    with resources.as_file(resources.files("lathed_solid") / "fonts" / "LathedSheet.ttf") as font:
        pdfmetrics.registerFont(TTFont("Sheet", str(font)))
    sheet = Canvas(out, pagesize=(WIDTH * mm, HEIGHT * mm), invariant=1)
    sheet.setTitle("SKP-02 Drum end flange (made-up demo drawing)")
    sheet.setLineWidth(0.5)
    sheet.rect(8 * mm, 8 * mm, (WIDTH - 16) * mm, (HEIGHT - 16) * mm)
    for line in (*section(), keyway()):
        path = sheet.beginPath()
        path.moveTo(line[0][0] * mm, line[0][1] * mm)
        for x, y in line[1:]:
            path.lineTo(x * mm, y * mm)
        sheet.drawPath(path)
    for (x, y), r in end_circles():
        sheet.circle(x * mm, y * mm, r * mm)
    sheet.setLineWidth(0.3)
    for size in SIZES:
        _pdf_size(sheet, size)
    for note in NOTES:
        _pdf_note(sheet, note)
    sheet.showPage()
    sheet.save()
    return out.getvalue()


def _pdf_size(sheet: Canvas, size: Size) -> None:
    (ax, ay), (bx, by), (px, py) = size.a, size.b, size.base
    p, q = ((px, ay), (px, by)) if size.upright else ((ax, py), (bx, py))
    for start, end in ((size.a, p), (size.b, q), (p, q)):
        sheet.line(start[0] * mm, start[1] * mm, end[0] * mm, end[1] * mm)
    for (x, y), (u, v) in ((p, q), (q, p)):
        long = math.dist(p, q)
        dx, dy = (u - x) / long * 2.2, (v - y) / long * 2.2
        path = sheet.beginPath()
        path.moveTo(x * mm, y * mm)
        path.lineTo((x + dx - dy / 4) * mm, (y + dy + dx / 4) * mm)
        path.lineTo((x + dx + dy / 4) * mm, (y + dy - dx / 4) * mm)
        path.close()
        sheet.drawPath(path, fill=1, stroke=0)
    sheet.saveState()
    sheet.translate((p[0] + q[0]) / 2 * mm, (p[1] + q[1]) / 2 * mm)
    if size.upright:
        sheet.rotate(90)
    sheet.setFont("Sheet", 10)
    sheet.drawCentredString(0, 1.2 * mm, size.text)
    sheet.restoreState()


def _pdf_note(sheet: Canvas, note: Note) -> None:
    x, y = note.at
    sheet.setFont("Sheet", 10 if note.to or note.lines == ("180°",) else 8)
    for n, line in enumerate(note.lines):
        sheet.drawString(x * mm, (y - 5 * n) * mm, line)
    if note.to is not None:
        sheet.line((x - 1) * mm, (y + 1) * mm, note.to[0] * mm, note.to[1] * mm)


# --- DXF
def as_dxf() -> bytes:
    ezdxf.options.write_fixed_meta_data_for_testing = True  # the same drawing is always the same file
    document = ezdxf.new("R2010", setup=True)
    document.units = ezdxf.units.MM
    for name in ("OUTLINE", "SIZES", "NOTES"):
        document.layers.add(name)
    space = document.modelspace()
    for line in (*section(), keyway()):
        space.add_lwpolyline(line, dxfattribs={"layer": "OUTLINE"})
    for center, r in end_circles():
        space.add_circle(center, r, dxfattribs={"layer": "OUTLINE"})
    style = {
        "dimtxt": 3.0,
        "dimasz": 2.5,
        "dimexe": 1.0,
        "dimexo": 0.5,
        "dimgap": 0.8,
        "dimdec": 1,
        "dimdsep": ord("."),
    }
    for size in SIZES:
        number = size.text.lstrip("Ø").split()[0]
        words = size.text.replace("Ø", "%%c").replace(number, "<>", 1)
        made = space.add_linear_dim(
            base=size.base, p1=size.a, p2=size.b, angle=90 if size.upright else 0, text=words, dimstyle="Standard",
            override=style,
            dxfattribs={"layer": "SIZES"},
        )  # fmt: skip
        made.render()
    for note in NOTES:
        height = 3.0 if note.to or note.lines == ("180°",) else 2.4
        text = "\\P".join(line.replace("Ø", "%%c").replace("°", "%%d") for line in note.lines)
        space.add_mtext(
            text, dxfattribs={"layer": "NOTES", "insert": (note.at[0], note.at[1] + height), "char_height": height}
        )
        if note.to is not None:
            space.add_line((note.at[0] - 1, note.at[1] + 1), note.to, dxfattribs={"layer": "NOTES"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


if __name__ == "__main__":
    (FOLDER / "skp-02.pdf").write_bytes(as_pdf())
    (FOLDER / "skp-02.dxf").write_bytes(as_dxf())
