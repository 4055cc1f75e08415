"""The command line: build and prove without a window, or open the program."""

from __future__ import annotations

import datetime
import json
import os
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING

import click

from .core.quantity.style import mass

if TYPE_CHECKING:
    from .core.job.attachments import Store
    from .core.job.model import Content, Job
    from .core.job.proving import Shown
    from .core.plan.zero import Standing
    from .core.prove.proof import Mark, Proof
    from .core.quantity import Style


@click.group(
    epilog="Exit codes: 0 proved, or done; 1 out of limits, or routes that disagree; 2 wrong use; 3 cannot be read or "
    "built; 4 a fault of the kernel or the program."
)
@click.version_option(package_name="lathed-solid")
def main() -> None:
    """Lathed Solid: dimensioned drawings become proven solid models."""


def _store() -> Store:
    """Where the job's files are unpacked while the command runs."""
    import atexit
    import shutil
    import tempfile

    from .core.job.attachments import Store

    folder = tempfile.mkdtemp(prefix="lathed-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return Store(Path(folder))


#: Exit codes besides 0 (proved), 1 (out of limits) and 2 (wrong use): what cannot be read or built, and a fault.
UNREADABLE, FAULT = 3, 4


class Refused(click.ClickException):
    """A job that cannot be worked on at all."""

    exit_code = UNREADABLE


def _load(path: Path, store: Store | None = None) -> Job:
    from .core.job.storage import load
    from .core.refusal import Refusal

    try:
        opened = load(path, store) if store else load(path)
    except Refusal as error:
        raise Refused(str(error)) from None
    for lost in opened.lost:
        click.echo(f"{path.name}: lost: {lost}", err=True)
    return opened.job


def _on_route(content: Content, name: str | None) -> Content:
    from .core.job.routes import named_route
    from .core.refusal import Refusal

    try:
        return named_route(content, name) if name else content
    except Refusal as error:
        raise Refused(str(error)) from None


_route_option = click.option("--route", default=None, help="Another of the part's routes, by its name (A, B …).")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help="part.step, part.stl or proof.csv")
@click.option("--until", type=int, default=None, help="Stop after this step of the route (10, 20, 30 …).")
@_route_option
def build(file: Path, output: Path, until: int | None, route: str | None) -> None:
    """Build FILE and write the solid (or its proof as CSV)."""
    from .core.issue.formats import format_of, issue
    from .core.refusal import Refusal
    from .core.route.rebuild import steps_until

    store = _store()
    content = _on_route(_load(file, store).content, route)
    try:
        last = steps_until(content.steps, until) if until is not None else ""
        issue(content, output, format_of(output), until=last, store=store)
    except Refusal as error:
        raise Refused(error.said_in(content.header.units)) from None
    click.echo(str(output))


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
@_route_option
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
    from .core.job.proving import build_and_prove
    from .core.job.surveying import standing_of
    from .core.prove.tabular import to_dict

    store = _store()
    content = _on_route(_load(file, store).content, route)
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
    from .core.issue.report.writing import Asked, write_report
    from .core.refusal import Refusal

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
    from .core.prove.tabular import deviation, in_style, row_of, stated_row

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
    from .core.job.routes import compare_routes, disagreements

    store = _store()
    content = _load(file, store).content
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
@_route_option
@click.option("--callout", type=int, default=None, help="Of a callout that is out of limits instead.")
@click.option("--json", "as_json", is_flag=True, help="The suspects as JSON (mm³, g).")
def why(file: Path, route: str | None, callout: int | None, as_json: bool) -> None:
    """Look for the mistake in FILE that makes its stated figures disagree, or else puts a callout out of limits.

    Exit code 1 when there is a gap to explain.
    """
    from .core.job.proving import build_and_prove
    from .core.job.why.explained import explained

    store = _store()
    content = _on_route(_load(file, store).content, route)
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


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--table", type=click.Path(path_type=Path), required=True, help="CSV: name,#3,#7 and a row a variant.")
@click.option("-o", "--output", type=click.Path(path_type=Path, file_okay=False), required=True, help="Folder.")
@click.option("--write", "form", type=click.Choice(["step", "stl", "csv"]), default=None, help="A file a variant too.")
@click.option("--jobs", type=click.IntRange(1, 64), default=None, help="How many at a time; one a processor if unset.")
@click.option("--cluster", default=None, help="Address of a running dask scheduler, or “local” for one of its own.")
def family(file: Path, table: Path, output: Path, form: str | None, jobs: int | None, cluster: str | None) -> None:
    """Build and prove every variant of FILE in a table. What an earlier run has done is not done again.

    Exit code 1 when a variant is out of limits or cannot be made.
    """
    from .worker.zygote import warm_up

    if cluster is None:
        warm_up()  # before any thread
    from .core.issue.formats import FORMATS
    from .core.job import shopfile
    from .core.job.family import Line, read_table
    from .core.job.files import read_whole
    from .core.job.storage import MAX_JSON
    from .core.plan.shop import for_buying
    from .core.refusal import Refusal
    from .worker.family import TABLE, Family

    store = _store()
    content = _load(file, store).content
    begun, style, many = time.monotonic(), content.header.style, 0

    def told(line: Line, there: bool) -> None:
        nonlocal many
        many += 1
        figures = f"{style.volume(line.volume)}, {mass(line.grams)}" if line.volume and line.grams else ""
        figures += f", {line.stock}" if line.stock else ""
        figures += f" at {line.price:.2f}" if line.price is not None else ""
        left = (time.monotonic() - begun) / many * (len(variants) - many)
        click.echo(
            f"{many:4d}/{len(variants)}  {line.name:20s} {line.state:7s} {figures:34s} "
            f"{'as before' if there else f'{left:.0f} s left'}  {line.words}"
        )

    try:
        variants = read_table(read_whole(table, MAX_JSON).decode("utf-8-sig", "replace"))
        output.mkdir(parents=True, exist_ok=True)
        shop, trouble = shopfile.load(shopfile.usual_place())
        if trouble:
            click.echo(trouble, err=True)
        made = Family(
            content, variants, output, FORMATS[form] if form else None, str(store.folder), told, shop=for_buying(shop)
        )
        if cluster is None:
            lines = made.run(jobs or 0)
        else:
            from .worker.cluster import run_on

            lines = run_on(made, cluster, jobs or max(1, os.cpu_count() or 1))
    except Refusal as error:
        raise Refused(error.said_in(content.header.units)) from None
    except OSError as error:
        raise Refused(f"{output} cannot be made: {error.strerror}.") from None
    click.echo(f"{output / TABLE}: {sum(e.state == 'proved' for e in lines)} of {len(lines)} proved.")
    sys.exit(1 if any(e.state in ("out", "failed") for e in lines) else 0)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help="sheet.pdf or sheet.csv")
@click.option("--carbide", is_flag=True, help="Drills and cutters of carbide; high-speed steel if unset.")
@click.option("--date", default="", help="Printed on the sheet.")
@_route_option
def traveller(file: Path, output: Path, carbide: bool, date: str, route: str | None) -> None:
    """Write the operation sheet: set-ups, tools, speeds, what to measure. The shop's own tables are the user's."""
    from .core.issue.sheets import write_sheet
    from .core.job import shopfile
    from .core.refusal import Refusal

    store = _store()
    content = _on_route(_load(file, store).content, route)
    shop, trouble = shopfile.load(shopfile.usual_place())
    if trouble:
        click.echo(trouble, err=True)
    try:
        write_sheet(content, output, shop, "carbide" if carbide else "hss", date, store=store)
    except Refusal as error:
        raise Refused(error.said_in(content.header.style.unit)) from error
    click.echo(f"wrote {output}")


@main.command()
@click.argument("text")
@click.option("--units", type=click.Choice(["mm", "in"]), default="mm", show_default=True, help="Unit of bare numbers.")
@click.option("--json", "as_json", is_flag=True, help="The reading as JSON (mm, radians).")
def note(text: str, units: str, as_json: bool) -> None:
    """Read one drawing note: its words, its limits, and what standards complete."""
    from .core.callout import NoteError, read_note
    from .core.callout.tell import as_dict, as_lines
    from .core.quantity.expression import Plain

    try:
        reading = read_note(text, Plain(units))
    except NoteError as error:
        if as_json:
            click.echo(json.dumps({"error": error.message, "position": error.position}, ensure_ascii=False))
        else:
            flat = text.replace("\n", " ")
            click.echo(f"  {flat}\n  {' ' * error.position}^\n{error.message}", err=True)
        sys.exit(UNREADABLE)
    if as_json:
        click.echo(json.dumps(as_dict(reading, units), indent=1, ensure_ascii=False))
    else:
        click.echo("\n".join(as_lines(reading, units)))


@main.command(name="open")
@click.argument("files", nargs=-1, type=click.Path(path_type=Path))
def open_(files: tuple[Path, ...]) -> None:
    """Open FILES in the window; without any, an empty job."""
    from .desk.app import run

    sys.exit(run(files))


@main.command()
def demo() -> None:
    """Open the demo job: the parts of a tide recorder."""
    from .desk.app import demo_files, run

    sys.exit(run(demo_files()))


def run() -> None:
    """The program: commands that load the kernel are carried out aside, so that its fall is told, not suffered."""
    if not set(sys.argv[1:2]) & {"build", "prove", "routes"}:
        main()
        return
    from .worker.aside import carried_out

    code, fell = carried_out(main)
    if fell:
        click.echo(
            f"Error: {fell} while working on this file. Nothing was written. Open it in the window: it marks the step "
            "that is to blame and keeps the rest.",
            err=True,
        )
    sys.exit(FAULT if fell else code)


if __name__ == "__main__":
    run()
