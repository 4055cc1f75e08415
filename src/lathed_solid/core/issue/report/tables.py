"""The report for other programs: CSV and JSON."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from ...cells import plain
from .rows import Report
from .words import CAUTION, NOT_APPROVED, titles

COLUMNS = (
    "balloon", "requirement", "size", "unit", "nominal", "lower", "upper", "basis", "model", "off by", "mark", "method",
    "part", "uncertainty", "verdict", "instrument", "remark",
)  # fmt: skip


def _cells(report: Report) -> list[tuple[str, ...]]:
    found: list[tuple[str, ...]] = []
    for row in report.rows:
        m = row.model
        unit = report.content.header.style.unit if m.unit == "mm" else m.unit
        remark = " ".join(filter(None, (m.remark, row.remark)))
        found.append(
            (str(m.number), m.note, m.what, unit, m.nominal, m.lower, m.upper, m.basis, m.measured, m.deviation,
             m.mark, row.method, row.reading, row.sure, row.verdict if row.reading else "", row.instrument, remark)
        )  # fmt: skip
    return found


def to_csv(report: Report) -> str:
    """One row a size, then the figures of the title block; in the job's unit and decimals."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for cells in _cells(report):
        writer.writerow([cells[0], *map(plain, cells[1:])])
    for m in report.stated:
        writer.writerow(["", *map(plain, (m.note, m.what, m.unit, m.nominal, m.lower, m.upper, m.basis, m.measured,
                                          m.deviation, m.mark)), *[""] * 6])  # fmt: skip
    for note in report.not_proved:
        writer.writerow([note.number, plain(note.note), *[""] * 8, "not proved", *[""] * 5, plain(note.why)])
    return out.getvalue()


def to_json(report: Report, date: str = "") -> str:
    data: dict[str, Any] = {
        "title": {label: text for label, text in titles(report, date) if text},
        "summary": report.summary,
        "sizes": [dict(zip(COLUMNS, cells, strict=True)) for cells in _cells(report)],
        "mass": dict(report.mass),
        "gap": report.gap,
        "thinnest walls": report.walls,
        "not proved": [n._asdict() for n in report.not_proved],
        "faces without a callout": report.unexplained,
        "callouts not used": report.unused,
        "caution": f"{NOT_APPROVED} {CAUTION}",
    }
    return json.dumps(data, indent=1, ensure_ascii=False)
