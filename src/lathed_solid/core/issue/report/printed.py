"""The inspection report on paper (PDF): title, pictures with balloons, every size, what is not proved, signatures."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from reportlab.lib.pagesizes import A4, landscape, letter
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Image, KeepTogether, Spacer, Table

from ...callout.words import pretty
from ...job.attachments import Store
from ..paper import FONT, INK, p, printed, ruled
from .balloons import ROUND, SIZE, View
from .rows import MARKS, NotProved, Report, Row
from .words import CAUTION, HEADS, NOT_APPROVED, RULE, titles

#: Shares of the width that the columns take.
_SHARES = (0.035, 0.175, 0.085, 0.055, 0.06, 0.06, 0.065, 0.07, 0.11, 0.09, 0.1, 0.095)
_CUTOUT = (43 * mm, 12 * mm)


def inspection_sheet(report: Report, views: Sequence[View], store: Store | None, date: str = "") -> bytes:
    """The PDF; the same bytes for the same report."""
    header = report.content.header
    page = landscape(letter if header.style.unit == "in" else A4)
    width = page[0] - 28 * mm - 12
    title = " ".join(filter(None, (header.number, header.name)))
    story: list[Any] = [_head(report, width, date), Spacer(1, 2 * mm), p(report.summary, 8.5), Spacer(1, 2 * mm)]
    story += [*_pictures(views, width), _sizes(report.rows, store, width), Spacer(1, 3 * mm)]
    story += [_figures(report, width), *_rest(report, width)]
    story.append(
        KeepTogether([Spacer(1, 3 * mm), p(f"⚠ {CAUTION}", 7), p(RULE, 7), Spacer(1, 3 * mm), _signatures(width)])
    )
    return printed(story, page, title, "Inspection report", (f"{title}, revision {header.revision}", NOT_APPROVED))


def _head(report: Report, width: float, date: str) -> Table:
    cells = titles(report, date)
    row = [[p(a, 6) for a, _ in cells], [p(b, 8.5) for _, b in cells]]
    shares = (0.28, 0.08, 0.2, 0.1, 0.14, 0.1, 0.1)
    return Table(row, colWidths=[width * s for s in shares], style=ruled(outer=True))


class _Ballooned(Flowable):  # type: ignore[misc]
    """A view with its balloons drawn over it, so many points wide."""

    def __init__(self, view: View, wide: float) -> None:
        super().__init__()
        self.view, self.scale = view, wide / SIZE[0]
        self.width, self.height = wide, SIZE[1] * self.scale + 10  # the base class tells the page

    def draw(self) -> None:
        canvas, k, high = self.canv, self.scale, SIZE[1] * self.scale
        inner = ImageReader(io.BytesIO(self.view.picture))
        wide, tall = (d * k for d in inner.getSize())
        canvas.drawImage(inner, (self.width - wide) / 2, high - tall, wide, tall, mask="auto")
        canvas.setStrokeColor(INK)
        for b in self.view.balloons:
            self._balloon(b.number, b.middle, b.at, b.hidden, high)
        canvas.setFont(FONT, 6.5)
        canvas.setFillColor(INK)
        canvas.drawCentredString(self.width / 2, -7, self.view.title)

    def _balloon(
        self, number: int, middle: tuple[float, float], at: tuple[float, float], hidden: bool, high: float
    ) -> None:
        canvas, k = self.canv, self.scale
        (x, y), (u, v) = ((a * k, high - b * k) for a, b in (middle, at))
        radius, far = ROUND / 2 * k, max(1e-6, ((u - x) ** 2 + (v - y) ** 2) ** 0.5)
        canvas.setLineWidth(0.4)
        canvas.setDash([1.2, 1.2] if hidden else [])
        canvas.line(x + (u - x) * radius / far, y + (v - y) * radius / far, u, v)
        canvas.setDash([])
        if not hidden:
            canvas.setFillColor(INK)
            canvas.circle(u, v, 0.7, stroke=0, fill=1)
        canvas.setLineWidth(0.6)
        canvas.circle(x, y, radius, stroke=1, fill=0)
        canvas.setFillColor(INK)
        size = 6.5 if number < 100 else 5
        canvas.setFont(FONT, size)
        canvas.drawCentredString(x, y - 0.36 * size, str(number))


def _pictures(views: Sequence[View], width: float) -> list[Any]:
    """Two beside each other."""
    wide = (width - 6 * mm) / 2
    made: list[Any] = []
    for at in range(0, len(views), 2):
        pair = [_Ballooned(v, wide) for v in views[at : at + 2]]
        cells = [*pair, *([""] * (2 - len(pair)))]
        made += [Table([cells], colWidths=[width / 2] * 2, style=ruled()), Spacer(1, 3 * mm)]
    return made


def _sizes(rows: Sequence[Row], store: Store | None, width: float) -> Table:
    cells: list[list[Any]] = [[p(h, 6.5) for h in HEADS]]
    before = 0
    for row in rows:
        m = row.model
        first = m.number != before
        before = m.number
        asked: list[Any] = [p(pretty(m.note), 7.5)] if first else [p("")]
        if first and (picture := _cutout(row, store)) is not None:
            asked.append(picture)
        off = " ".join(filter(None, (m.remark, row.remark)))
        cells.append([
            p(str(m.number) if first else ""), asked, p(m.what), p(m.nominal), p(m.lower), p(m.upper), p(m.measured),
            p(MARKS[m.mark]), p(row.method), p(row.part), p(row.instrument), [p(row.said), p(off, 6.5)],
        ])  # fmt: skip
    return Table(cells, colWidths=[width * s for s in _SHARES], style=ruled(head=True), repeatRows=1)


def _cutout(row: Row, store: Store | None) -> Any | None:
    """The piece of the drawing on which the callout stands."""
    data = store.find(row.cutout) if store is not None and row.cutout else None
    return Image(io.BytesIO(data), *_CUTOUT, kind="proportional", hAlign="LEFT") if data else None


def _figures(report: Report, width: float) -> Table:
    rows = [[p(label, 7), p(figure, 7.5)] for label, figure in report.mass]
    return Table([[p("Mass", 8.5), ""], *rows], colWidths=[width * 0.2, width * 0.8], style=ruled(head=True))


def _rest(report: Report, width: float) -> list[Any]:
    made: list[Any] = []
    for words in report.gap:
        made += [Spacer(1, 1.5 * mm), p(words)]
    if report.not_proved:
        made += [Spacer(1, 3 * mm), _not_proved(report.not_proved, width)]
    if report.walls:
        made += [Spacer(1, 2 * mm), p("Thinnest walls: " + "; ".join(report.walls) + ".")]
    if report.unexplained:
        made += [Spacer(1, 2 * mm), p("Faces that no callout explains: " + "; ".join(report.unexplained) + ".")]
    if report.unused:
        made += [Spacer(1, 2 * mm), p("Callouts that are not used: " + ", ".join(map(str, report.unused)) + ".")]
    return made


def _not_proved(items: Sequence[NotProved], width: float) -> Table:
    rows = [[p(str(n.number)), p(n.note), p(n.why), p("")] for n in items]
    head = [p(w, 6.5) for w in ("Balloon", "Not proved here", "Why", "Found on the part")]
    shares = (0.06, 0.34, 0.4, 0.2)
    return Table([head, *rows], colWidths=[width * s for s in shares], style=ruled(head=True), repeatRows=1)


def _signatures(width: float) -> Table:
    cells = [[p(w, 6.5) for w in ("Measured by", "Date", "Released by", "Date")], [p("\u00a0", 14)] * 4]
    shares = (0.35, 0.15, 0.35, 0.15)
    return Table(cells, colWidths=[width * s for s in shares], style=ruled(outer=True))
