"""The rows of the report, the same on paper, on a page, in a table and in the window."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from ...caliper.logbook import LogEntry
from ...callout import NoteError
from ...callout.model import ON_THE_PART
from ...callout.words import pretty
from ...job.model import Content
from ...job.operating import built_of, faces_of
from ...job.proving import claims_of
from ...job.why.explained import Why, begun
from ...job.why.gap import gap_of
from ...plan.sheet.gauging import instrument
from ...prove.inhand import MASS, VERDICTS, InHand, Verdict, judged, newest
from ...prove.measure import method
from ...prove.proof import Mark, Proof, ProofLine
from ...prove.tabular import ProofRow, deviation, figure, in_style, row_of, stated_row
from ...quantity import Style
from ...refusal import worded
from ...route.rebuild import RouteResult

#: What each mark is called on paper.
MARKS: dict[Mark, str] = {"in": "in", "near": "in, near a limit", "out": "OUT", "open": "not measured"}


class Row(NamedTuple):
    """One size: as it is judged on the solid (``model``), and on the part in hand. What does not apply is empty."""

    model: ProofRow
    faces: tuple[int, ...]
    method: str
    instrument: str
    reading: str
    sure: str
    verdict: Verdict
    remark: str
    cutout: str

    @property
    def part(self) -> str:
        """The reading of the part with what it is sure to."""
        return f"{self.reading} ± {self.sure}" if self.reading else ""

    @property
    def said(self) -> str:
        return VERDICTS[self.verdict] if self.reading else ""


class NotProved(NamedTuple):
    """Something asked for that no solid can show."""

    number: int
    note: str
    why: str


class Report(NamedTuple):
    """``mass`` are pairs of a label and a figure, ``gap`` says why a stated figure does not agree."""

    content: Content
    piece: str
    rows: tuple[Row, ...]
    stated: tuple[ProofRow, ...]
    mass: tuple[tuple[str, str], ...]
    not_proved: tuple[NotProved, ...]
    unexplained: tuple[str, ...]
    unused: tuple[int, ...]
    gap: tuple[str, ...]
    walls: tuple[str, ...] = ()

    @property
    def summary(self) -> str:
        """How many of the sizes are where they should be, on the solid and on the part in hand."""
        marks = [r.model.mark for r in self.rows]
        good = sum(m in ("in", "near") for m in marks)
        words = f"Model: {good} of {len(marks)} sizes in limits"
        words += f", {marks.count('out')} out" if "out" in marks else ""
        words += f", {marks.count('open')} not measured" if "open" in marks else ""
        read = [r.verdict for r in self.rows if r.reading]
        if read:
            words += f". Part in hand: {len(read)} measured, {read.count('good')} within limits"
            words += f", {read.count('bad')} outside" if "bad" in read else ""
            words += f", {read.count('unsure')} too near a limit to tell" if "unsure" in read else ""
        return words + "."


def reported(content: Content, result: RouteResult, proof: Proof, piece: str = "", why: Why | None = None) -> Report:
    """Everything that is told of a built and proved part; ``piece`` is the part in hand, ``why`` what was found out
    about a gap.
    """
    assert result.body is not None
    style = content.header.style
    claims = claims_of(content, {r.id for r in result.reports if r.state == "done"})
    methods = {(c.number, c.key): method(c.gauge) for c in reversed(claims)}
    faces = faces_of(result.body)
    sized = built_of(content, faces, result.marks, result.reports, proof).sized
    cutouts = {c.number: c.place.cutout for c in content.callouts if c.place is not None}
    read, rows = newest(content.logbook, piece), []
    for line, size in zip(proof.lines, sized, strict=True):
        taken = read.get((line.number, line.key))
        found = judged(taken, line.kind, line.lower, line.upper) if taken is not None else None
        touched = [faces.surfaces[i - 1] for i in line.faces if 0 < i <= len(faces.surfaces)]
        with_what = found.entry.instrument if found is not None else instrument(size, touched).instrument
        how = methods.get((line.number, line.key), "places counted" if line.key == "count" else "")
        rows.append(_row(line, style, how, with_what, found, cutouts.get(line.number, "")))
    return Report(
        content, piece, tuple(rows), tuple(stated_row(c, in_style(style, unit=True)) for c in proof.stated),
        _mass(content, proof, read.get(MASS)), tuple(_not_proved(content)), tuple(n.words for n in proof.unexplained),
        proof.unused, _gap(content, result, proof, why),
    )  # fmt: skip


def _row(line: ProofLine, style: Style, how: str, with_what: str, found: InHand | None, cutout: str) -> Row:
    model = row_of(line, in_style(style))
    if found is None:
        return Row(model, line.faces, how, with_what, "", "", "none", "", cutout)
    return Row(
        model, line.faces, how, with_what, figure(found.mean, line.kind, style), figure(found.sure, line.kind, style),
        found.verdict, worded(found.words, style.unit), cutout,
    )  # fmt: skip


def _mass(content: Content, proof: Proof, weighing: LogEntry | None) -> tuple[tuple[str, str], ...]:
    style, m = content.header.style, proof.mass
    rows = [
        ("Volume of the solid", m.volume_text(style)),
        ("Material", f"{content.header.material.name}, {content.header.material.density:g} g/cm³"),
        ("Mass of the solid", figure(proof.grams, "mass", style)),
    ]
    for check in proof.stated:
        words, stated = (
            {"in": "agrees", "out": "DOES NOT AGREE"}[check.mark],
            figure(check.stated, check.kind, style, True),
        )
        rows.append((f"Stated {check.what}", f"{stated}: {words}, {deviation(check, style)}"))
    if (entry := weighing) is not None:
        found = judged(entry, "mass", *content.header.stated.mass_limits)
        off = found.mean / proof.grams - 1
        said = f", {VERDICTS[found.verdict]}" if found.verdict != "none" else ""
        rows.append(
            ("Weighed", f"{figure(found.mean, 'mass', style)} ± {found.sure:.2g} g{said}, {off:+.2%} from the solid")
        )
    return tuple(rows)


def _not_proved(content: Content) -> Iterable[NotProved]:
    """Finishes, form and place: asked for in a note, judged on the part."""
    ledger = content.ledger()
    for number, callout in ledger.callouts.items():
        try:
            said = ledger.reading(number).characteristics
        except NoteError as error:
            yield NotProved(number, pretty(callout.note), f"Cannot be read: {error}")
            continue
        kept = [c for c in said if c.kind in ON_THE_PART]
        if kept and all(c.written.startswith("DATUM") for c in kept):
            yield NotProved(number, pretty(callout.note), "a datum's letter: what others are held to")
        elif kept:
            what = "surface finish" if any(c.kind == "finish" for c in kept) else "form or place"
            yield NotProved(number, pretty(callout.note), f"{what}: judged on the part, not on a solid")


def _gap(content: Content, result: RouteResult, proof: Proof, why: Why | None) -> tuple[str, ...]:
    if not any(c.mark == "out" for c in proof.stated):
        return ()
    if why is not None and not why.closed:
        return (why.words, *(f"Suspect: {s.words}." for s in why.suspects[:3] if s.rank == 0))
    gap = gap_of(content, result)
    return (f"{begun(gap, content.header.style)} Not explained yet.",) if gap is not None else ()


def by_number(rows: Sequence[Row]) -> Mapping[int, tuple[int, ...]]:
    """The faces on which each callout was measured."""
    found: dict[int, dict[int, None]] = {}
    for row in rows:
        found.setdefault(row.model.number, {}).update(dict.fromkeys(row.faces))
    return {n: tuple(f) for n, f in found.items()}
