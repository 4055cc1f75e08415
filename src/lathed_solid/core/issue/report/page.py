"""The report as one HTML file that needs nothing else."""

from __future__ import annotations

import base64
from collections.abc import Iterable, Sequence
from html import escape

from ...callout.words import pretty
from ...job.attachments import Store
from .balloons import COLUMN, ROUND, SIZE, View
from .rows import MARKS, Report, Row
from .words import CAUTION, HEADS, NOT_APPROVED, RULE, titles

_STYLE = """
body { font: 14px/1.45 "DejaVu Sans", sans-serif; color: #22282E; background: #F7F5F0; margin: 24px auto;
  max-width: 1240px; padding: 0 16px; }
h1 { font-size: 20px; } h2 { font-size: 15px; margin: 22px 0 6px; }
table { border-collapse: collapse; width: 100%; font-size: 12px; font-variant-numeric: tabular-nums; }
th { text-align: left; background: #F1EEE6; font-weight: 600; } th, td { padding: 3px 6px; vertical-align: top;
  border-bottom: 1px solid #C8C2B4; }
td.figure { text-align: right; white-space: nowrap; }
.out, .bad { color: #9E2E24; font-weight: 600; }
.unsure, .open, .near { color: #8A5407; } .in, .good { color: #2A6E45; }
.views { display: flex; flex-wrap: wrap; gap: 16px; } figure { margin: 0; } figcaption { text-align: center; }
dl { display: grid; grid-template-columns: max-content 1fr; gap: 2px 16px; margin: 0; } dd { margin: 0; }
img.cutout { max-height: 28px; max-width: 130px; display: block; }
"""


def inspection_page(report: Report, views: Sequence[View], store: Store | None, date: str = "") -> str:
    """The whole page."""
    head = titles(report, date)
    parts = [
        f"<h1>{escape(head[0][0])}: {escape(head[0][1])}</h1>",
        _pairs((label, text) for label, text in head[1:] if text),
        f"<p>{escape(report.summary)}</p>",
        f'<div class="views">{"".join(map(_view, views))}</div>',
        f"<h2>Sizes</h2>{_sizes(report, store)}<p>{escape(RULE)}</p>",
        f"<h2>Mass</h2>{_pairs(report.mass)}",
        *(f"<p>{escape(words)}</p>" for words in report.gap),
        *_rest(report),
        f"<p>⚠ {escape(CAUTION)}</p><p><b>{escape(NOT_APPROVED)}</b></p>",
    ]
    return (
        f'<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>{escape(head[0][1])}</title>'
        f"<style>{_STYLE}</style></head><body>{''.join(parts)}</body></html>\n"
    )


def _pairs(pairs: Iterable[tuple[str, str]]) -> str:
    return "<dl>" + "".join(f"<dt>{escape(a)}</dt><dd>{escape(b)}</dd>" for a, b in pairs) + "</dl>"


def _view(view: View) -> str:
    picture = base64.b64encode(view.picture).decode()
    wide, high = SIZE
    dashed = ' stroke-dasharray="2 2"'
    lines = "".join(
        f'<line x1="{b.middle[0]:.1f}" y1="{b.middle[1]:.1f}" x2="{b.at[0]:.1f}" y2="{b.at[1]:.1f}" stroke="#22282E"'
        f' stroke-width="0.7"{dashed if b.hidden else ""}/>'
        for b in view.balloons
    )
    rounds = "".join(
        f'<circle cx="{b.middle[0]:.1f}" cy="{b.middle[1]:.1f}" r="{ROUND / 2:.1f}" fill="#F7F5F0" stroke="#22282E"/>'
        f'<text x="{b.middle[0]:.1f}" y="{b.middle[1] + 4:.1f}" text-anchor="middle" font-size="11">{b.number}</text>'
        for b in view.balloons
    )
    return (
        f'<figure><svg width="{wide}" height="{high}" viewBox="0 0 {wide} {high}" role="img">'
        f'<image x="{COLUMN}" y="0" width="{wide - 2 * COLUMN}" height="{high}" '
        f'href="data:image/png;base64,{picture}"/>{lines}{rounds}</svg>'
        f"<figcaption>{escape(view.title)}</figcaption></figure>"
    )


def _sizes(report: Report, store: Store | None) -> str:
    head = "".join(f"<th>{escape(h)}</th>" for h in HEADS)
    rows, before = [], 0
    for row in report.rows:
        rows.append(_row(row, row.model.number != before, store))
        before = row.model.number
    return f"<table><thead><tr>{head}</tr></thead><tbody>{''.join(rows)}</tbody></table>"


def _row(row: Row, first: bool, store: Store | None) -> str:
    m = row.model
    cutout = store.find(row.cutout) if store is not None and row.cutout and first else None
    picture = (
        f'<img class="cutout" alt="" src="data:image/png;base64,{base64.b64encode(cutout).decode()}">' if cutout else ""
    )
    remark = " ".join(filter(None, (m.remark, row.remark)))
    figures = "".join(f'<td class="figure">{escape(v)}</td>' for v in (m.nominal, m.lower, m.upper, m.measured))
    return (
        f"<tr><td>{m.number if first else ''}</td><td>{escape(pretty(m.note)) if first else ''}{picture}</td>"
        f'<td>{escape(m.what)}</td>{figures}<td class="{m.mark}">{escape(MARKS[m.mark])}</td>'
        f'<td>{escape(row.method)}</td><td class="figure">{escape(row.part)}</td><td>{escape(row.instrument)}</td>'
        f'<td class="{row.verdict}">{escape(row.said)}<br>{escape(remark)}</td></tr>'
    )


def _rest(report: Report) -> list[str]:
    made = []
    if report.not_proved:
        rows = "".join(
            f"<tr><td>{n.number}</td><td>{escape(n.note)}</td><td>{escape(n.why)}</td></tr>" for n in report.not_proved
        )
        made.append(f"<h2>Not proved here</h2><table><tbody>{rows}</tbody></table>")
    if report.walls:
        made.append(f"<p>Thinnest walls: {escape('; '.join(report.walls))}.</p>")
    if report.unexplained:
        made.append(f"<p>Faces that no callout explains: {escape('; '.join(report.unexplained))}.</p>")
    if report.unused:
        made.append(f"<p>Callouts that are not used: {', '.join(map(str, report.unused))}.</p>")
    return made
