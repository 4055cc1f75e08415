"""The traveller: the operation sheet on paper, to go with the work from machine to machine."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.units import mm
from reportlab.platypus import Image, KeepTogether, Spacer, Table

from ..plan.sheet.cautions import GENERAL
from ..plan.sheet.checking import Check
from ..plan.sheet.telling import limits, told, what, with_what
from ..plan.sheet.worked import WorkedSetUp, whole_time
from .paper import p, printed, ruled
from .setups import Issued

_PICTURE = (62 * mm, 46 * mm)
_NOT_APPROVED = (
    "A sheet to work from, made from the model: no approved process. Speeds, feeds and times are estimates to begin "
    "with. Whoever answers for the shop decides."
)


def traveller(issued: Issued, date: str = "") -> bytes:
    """The PDF; the same bytes for the same sheet. ``date`` is printed where it is given."""
    header = issued.content.header
    page = letter if header.style.unit == "in" else A4
    title = " ".join(filter(None, (header.number, header.name)))
    width = page[0] - 28 * mm
    story: list[Any] = [_head(issued, width, date), Spacer(1, 2 * mm), p(f"⚠ {GENERAL}", 7), Spacer(1, 3 * mm)]
    for at, setup in enumerate(issued.setups, 1):
        story += _setup(at, setup, issued, width)
    return printed(story, page, title, "Operation sheet", (f"{title}, revision {header.revision}", _NOT_APPROVED))


def _head(issued: Issued, width: float, date: str) -> Table:
    content = issued.content
    header, blank = content.header, content.blank
    stock = f"{blank.form} {blank.size}".strip() if blank is not None and blank.form else "not planned"
    time = whole_time(issued.setups)
    cells = [
        ("Operation sheet", " ".join(filter(None, (header.number, header.name)))),
        ("Revision", header.revision),
        ("Material", header.material.name),
        ("Blank", stock),
        ("Route", content.routes[content.route].name),
        ("Time each, estimated", f"{time:.0f} min"),
        ("Date", date),
    ]
    row = [[p(a, 6, textTransform=None) for a, _ in cells], [p(b, 8.5) for _, b in cells]]
    shares = (0.27, 0.08, 0.19, 0.14, 0.08, 0.13, 0.11)
    return Table(row, colWidths=[width * s for s in shares], style=ruled(outer=True))


def _setup(at: int, setup: WorkedSetUp, issued: Issued, width: float) -> list[Any]:
    style, turned = issued.content.header.style, issued.built.turned
    words = [p(f"{at}  {setup.title[:1].upper()}{setup.title[1:]}", 11.5, spaceAfter=3)]
    seat = setup.seat.describe(style, turned) if setup.seat is not None else "no flat face: line it up by hand"
    words.append(p(f"Seats on: {seat}"))
    if setup.lost_seat:
        words.append(p(setup.lost_seat))
    lacking = f", {setup.unknown} without a time" if setup.unknown else ""
    words.append(p(f"Time: {setup.minutes:.0f} min, {setup.setup.minutes:g} of it setting up{lacking}"))
    if setup.setup.note:
        words.append(p(setup.setup.note))
    words += [p(f"⚠ {c}", 7) for c in setup.cautions]
    picture = _picture(issued.pictures[at - 1] if at <= len(issued.pictures) else b"")
    head = Table([[words, picture]], colWidths=[width - _PICTURE[0] - 4 * mm, _PICTURE[0] + 4 * mm], style=ruled())
    parts: list[Any] = [KeepTogether([head, Spacer(1, 1.5 * mm), _operations(setup, issued, width)])]
    if setup.burrs:
        parts += [Spacer(1, 1.5 * mm), p("Deburr: " + "; ".join(setup.burrs) + ".")]
    if setup.checks:
        parts += [Spacer(1, 1.5 * mm), _measures(setup.checks, issued, width)]
    return [*parts, Spacer(1, 6 * mm)]


def _picture(data: bytes) -> Any:
    return Image(io.BytesIO(data), *_PICTURE, kind="proportional") if data else p("")


def _operations(setup: WorkedSetUp, issued: Issued, width: float) -> Table:
    style = issued.content.header.style
    heads = ("", "Operation", "Tool", "Balloons", "turns/min", f"{style.unit}/turn", "min", "Done")
    rows = [[p(w, 6.5) for w in heads]]
    for number, line in enumerate(setup.lines, 1):
        t = told(line, style)
        words = f"{t.words} ({t.remark})" if t.remark else t.words
        cells = (f"{number}", words, t.tool, t.callouts, t.turns, t.feed, t.minutes, "")
        rows.append([p(c) for c in cells])
    shares = (0.035, 0.35, 0.24, 0.085, 0.09, 0.075, 0.055, 0.07)
    return Table(rows, colWidths=[width * s for s in shares], style=ruled(head=True), repeatRows=1)


def _measures(checks: Sequence[Check], issued: Issued, width: float) -> Table:
    style = issued.content.header.style
    heads = ("Balloon", "Measure now", "Lower", "Upper", "With", "Found", "Mind")
    rows = [[p(w, 6.5) for w in heads]]
    before = 0
    for check in checks:
        low, high = limits(check, style)
        number, again = check.sized.number, check.sized.number == before
        cells = ("" if again else str(number), what(check, again), low, high, with_what(check), "", check.chain)
        rows.append([p(c) for c in cells])
        before = number
    shares = (0.07, 0.26, 0.085, 0.085, 0.2, 0.09, 0.21)
    return Table(rows, colWidths=[width * s for s in shares], style=ruled(head=True), repeatRows=1)
