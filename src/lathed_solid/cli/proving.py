"""Commands that measure: prove, routes, why."""

from __future__ import annotations

import datetime
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.quantity.style import mass
from .group import Refused, load_job, main, new_store, on_route, route_option

if TYPE_CHECKING:
    from ..core.job.attachments import Store
    from ..core.job.model import Content
    from ..core.job.proving import Shown
    from ..core.plan.zero import Standing
    from ..core.prove.proof import Mark, Proof
    from ..core.quantity import Style


@main.command()
@click.argument("files", metavar="FILE...", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option(
    "--json", "as_json", is_flag=True, help="The whole proof as JSON (mm, radians, grams); a list of several."
)
@click.option(
    "--report", "target", type=click.Path(path_type=Path),
    help="Write the inspection report: .pdf, .html, .csv or .json; of several FILEs into this folder, as PDF.",
)  # fmt: skip
@click.option("--piece", default="", help="The part in hand that the report tells of.")
@route_option
def prove(files: tuple[Path, ...], as_json: bool, target: Path | None, piece: str, route: str | None) -> None:
    """Measure each FILE's solid back against its callouts. Exit code 1 when anything is out of limits."""
    if target is not None and len(files) > 1 and target.suffix:
        raise click.UsageError(f"Reports of several files need a folder; {target} looks like a file.")
    codes, found = [], list[dict[str, object]]()
    for at, file in enumerate(files, 1):
        if len(files) > 1 and not as_json:
            click.echo(f"{file.name} ({at} of {len(files)})")
        try:
            code, data = _proved(file, as_json, target, piece, route, len(files) > 1)
        except Refused as error:
            if len(files) == 1:
                raise
            error.show()
            code, data = error.exit_code, {}
        codes.append(code)
        found.append({"file": str(file), **data} if len(files) > 1 else data)
    if as_json:
        click.echo(json.dumps(found if len(files) > 1 else found[0], indent=1, ensure_ascii=False))
    elif len(files) > 1:
        bad, lost = codes.count(1), sum(c > 1 for c in codes)
        click.echo(
            f"{len(files)} files: {codes.count(0)} proved, {bad} out of limits or failed, {lost} not to be proved."
        )
    sys.exit(max(codes))


def _proved(
    file: Path, as_json: bool, target: Path | None, piece: str, route: str | None, many: bool
) -> tuple[int, dict[str, object]]:
    """Prove one file: the exit code it is worth, and its proof as data. Raises Refused."""
    from ..core.job.proving import build_and_prove
    from ..core.job.surveying import standing_of
    from ..core.prove.tabular import to_dict

    store = new_store()
    content = on_route(load_job(file, store).content, route)
    shown = build_and_prove(content, store=store)
    failed = [r for r in shown.result.reports if r.state == "failed"]
    for report in failed:
        click.echo(f"step “{content.step(report.id).name or report.id}” failed: {report.message}", err=True)
    for report in shown.result.reports:
        if report.state == "done" and report.message:
            click.echo(f"step “{content.step(report.id).name or report.id}”: {report.message}", err=True)
    if shown.proof is None:
        raise Refused("There is no solid to prove.")
    if not as_json:
        assert shown.result.body is not None  # it was proved
        _table(shown.proof, content.header.style, standing_of(content, shown.result.body))
    if target is not None:
        _write_report(content, target / f"{file.stem}-inspection.pdf" if many else target, piece, shown, store)
    return (1 if shown.proof.any_out or failed else 0), to_dict(shown.proof)


def _write_report(content: Content, path: Path, piece: str, shown: Shown, store: Store) -> None:
    """Raises Refused."""
    from ..core.issue.report.writing import Asked, write_report
    from ..core.refusal import Refusal

    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_report(content, path, Asked(piece, datetime.date.today().isoformat()), None, store, shown)
    except Refusal as error:
        raise Refused(error.said_in(content.header.units)) from None
    except OSError as error:
        raise Refused(f"{path.parent} cannot be made: {error.strerror}.") from None
    click.echo(str(path), err=True)


_SIGNS: dict[Mark, str] = {"in": "✓", "near": "◐", "out": "✗", "open": "○"}


def _table(proof: Proof, style: Style, where: Standing) -> None:
    from ..core.prove.tabular import deviation, in_style, row_of, stated_row

    for line in proof.lines:
        row = row_of(line, in_style(style, unit=True))
        measured = row.measured or "not measured"
        click.echo(
            f"{_SIGNS[row.mark]} {row.number:3d}  {row.note:48.48s} {row.what:16s} {measured:>16s}  {row.remark}"
        )
    centre = ", ".join(style.fixed(v) for v in where.machine(proof.mass.center))
    volume, grams = proof.mass.volume_text(style), mass(proof.grams)
    click.echo(f"volume {volume}, mass {grams}, centre of mass {centre} {style.unit}")
    for check in proof.stated:
        row = stated_row(check, in_style(style))
        click.echo(f"{_SIGNS[row.mark]} stated {row.what} {row.nominal}: {deviation(check, style, 5)}")
    for note in proof.unexplained:
        click.echo(f"  no callout explains {note.name} ({note.words})")
    if proof.unused:
        click.echo("  not used: " + ", ".join(str(n) for n in proof.unused))
    click.echo("A proven model is not an approved part: have it checked by whoever answers for its use.")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
def routes(file: Path) -> None:
    """Build and prove every route of FILE. Exit code 1 when they do not make the same part."""
    from ..core.job.routes import compare_routes, disagreements

    store = new_store()
    content = load_job(file, store).content
    style, found = content.header.style, compare_routes(content, store=store)
    for f in found:
        volume = style.volume(f.volume) if f.volume is not None else "no solid"
        marks = "  ".join(f"{_SIGNS[mark]} {f.count(mark)}" for mark in _SIGNS if f.count(mark))
        click.echo(f"{f.name:12s} {f.steps:3d} steps  {f.seconds:7.2f} s  {volume:>20s}  {mass(f.grams):>12s}  {marks}")
    words = disagreements(found, style)
    click.echo("\n".join(words) if words else "All routes make the same part, as far as it is measured.")
    sys.exit(1 if words else 0)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@route_option
@click.option("--callout", type=int, default=None, help="Of a callout that is out of limits instead.")
@click.option("--json", "as_json", is_flag=True, help="The suspects as JSON (mm³, g).")
def why(file: Path, route: str | None, callout: int | None, as_json: bool) -> None:
    """Look for the mistake in FILE that makes its stated figures disagree, or else puts a callout out of limits.

    Exit code 1 when there is a gap to explain.
    """
    from ..core.job.proving import build_and_prove
    from ..core.job.why.explained import explained

    store = new_store()
    content = on_route(load_job(file, store).content, route)
    line = None
    if callout is not None:
        proof = build_and_prove(content, store=store).proof
        lines = proof.lines if proof is not None else ()
        line = next(((x.number, x.key) for x in lines if x.number == callout and x.mark == "out"), None)
        if line is None:
            raise click.ClickException(f"Callout {callout} is not out of limits: there is nothing to explain.")
    found, style = explained(content, store=store, line=line), content.header.style
    if as_json:
        rows = [
            {"words": s.words, "volume": s.volume, "grams": s.grams, "closes": s.rank == 0, "others": s.others}
            for s in found.suspects
        ]
        click.echo(json.dumps({"missing": found.missing, "built": found.built, "words": found.words, "suspects": rows}))
    else:
        click.echo(found.words)
        for s in found.suspects:
            click.echo(
                f"{_SIGNS['in' if s.rank == 0 else 'open']} {s.words}  {style.volume(s.volume)}  {mass(s.grams)}"
            )
    sys.exit(0 if found.closed else 1)
