"""From a job to its report as a file, or as bytes to be looked at."""

from __future__ import annotations

import io
from pathlib import Path
from typing import NamedTuple

from ...job.attachments import Store
from ...job.files import CannotWrite, write_atomic
from ...job.model import Content
from ...job.proving import Shown, build_and_prove
from ...job.why.explained import Why
from ...prove.proof import Proof
from ...route.rebuild import Cache, RouteResult
from ..whole import why_not_whole
from .balloons import View, ballooned
from .rows import Report, by_number, reported

#: Dots a point of the pages that are looked at.
_PREVIEW = 1.7
ENDINGS = (".pdf", ".html", ".csv", ".json")


class Asked(NamedTuple):
    """What the report is to say: of which ``piece`` in hand, on what ``date``, what was found out about a gap, the
    thinnest ``walls`` in words.
    """

    piece: str = ""
    date: str = ""
    why: Why | None = None
    walls: tuple[str, ...] = ()


def built_report(
    content: Content, asked: Asked, cache: Cache | None = None, store: Store | None = None, shown: Shown | None = None
) -> tuple[Report, RouteResult, Proof]:
    """Build, prove and gather; what is ``shown`` already is built and proved. Raises CannotWrite when there is no whole
    part.
    """
    result, proof = shown or build_and_prove(content, cache, store=store)
    if why := why_not_whole(content, result):
        raise CannotWrite(f"A report needs the whole part, and {why}. Mend the route in Shape first.")
    assert proof is not None
    report = reported(content, result, proof, asked.piece, asked.why)._replace(walls=asked.walls)
    return report, result, proof


def views_of(report: Report, result: RouteResult) -> tuple[View, ...]:
    """Pictures of the part with the balloons of what was measured."""
    from ...kernel.measure.triangles import triangles

    assert result.body is not None
    return ballooned(triangles(result.body.shape), by_number(report.rows), report.content.turned)


def written(
    content: Content, ending: str, asked: Asked, cache: Cache | None = None, store: Store | None = None,
    shown: Shown | None = None,
) -> tuple[bytes, Proof]:  # fmt: skip
    """The report as ``.pdf``, ``.html``, ``.csv`` or ``.json``, and the proof it tells. Raises CannotWrite."""
    if ending not in ENDINGS:
        raise CannotWrite(f"A report ends in {', '.join(ENDINGS[:-1])} or {ENDINGS[-1]}, not in “{ending}”.")
    report, result, proof = built_report(content, asked, cache, store, shown)
    if ending == ".csv":
        from .tables import to_csv

        return to_csv(report).encode(), proof
    if ending == ".json":
        from .tables import to_json

        return to_json(report, asked.date).encode(), proof
    views = views_of(report, result)
    if ending == ".html":
        from .page import inspection_page

        return inspection_page(report, views, store, asked.date).encode(), proof
    from .printed import inspection_sheet

    return inspection_sheet(report, views, store, asked.date), proof


def pages(content: Content, asked: Asked, cache: Cache | None = None, store: Store | None = None) -> tuple[bytes, ...]:
    """The report as it will be printed, a picture (PNG) a page. Raises CannotWrite."""
    import pypdfium2

    paper = pypdfium2.PdfDocument(written(content, ".pdf", asked, cache, store)[0])
    made = []
    for page in paper:
        out = io.BytesIO()
        page.render(scale=_PREVIEW).to_pil().save(out, "PNG")
        made.append(out.getvalue())
    return tuple(made)


def write_report(
    content: Content, path: Path, asked: Asked, cache: Cache | None = None, store: Store | None = None,
    shown: Shown | None = None,
) -> Proof:  # fmt: skip
    """Write the report as the ending asks. Raises CannotWrite."""
    data, proof = written(content, path.suffix.lower(), asked, cache, store, shown)
    write_atomic(path, data)
    return proof
