"""Commands that write: build, family, traveller, sheets, outline, package."""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.issue.cutting import SIDES
from ..core.quantity.style import mass
from .group import Refused, load_job, main, new_store, on_route, route_option

if TYPE_CHECKING:
    from ..core.job.attachments import Store


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    required=True,
    help="part.step, .stl, .3mf, .glb, .brep, .igs, proof.csv, or ledger.json",
)
@click.option("--until", type=int, default=None, help="Stop after this step of the route (10, 20, 30 …).")
@route_option
def build(file: Path, output: Path, until: int | None, route: str | None) -> None:
    """Build FILE and write the solid (or its proof as CSV)."""
    from ..core.issue.formats import format_of, issue
    from ..core.refusal import Refusal
    from ..core.route.rebuild import steps_until

    store = new_store()
    content = on_route(load_job(file, store).content, route)
    try:
        last = steps_until(content.steps, until) if until is not None else ""
        issue(content, output, format_of(output), until=last, store=store)
    except Refusal as error:
        raise Refused(error.said_in(content.header.units)) from None
    click.echo(str(output))


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--table", type=click.Path(path_type=Path), required=True, help="CSV: name,#3,#7 and a row a variant.")
@click.option("-o", "--output", type=click.Path(path_type=Path, file_okay=False), required=True, help="Folder.")
@click.option(
    "--write",
    "form",
    type=click.Choice(["step", "stl", "3mf", "glb", "brep", "iges", "csv", "json"]),
    default=None,
    help="A file a variant too.",
)
@click.option("--jobs", type=click.IntRange(1, 64), default=None, help="How many at a time; one a processor if unset.")
@click.option("--cluster", default=None, help="Address of a running dask scheduler, or “local” for one of its own.")
def family(file: Path, table: Path, output: Path, form: str | None, jobs: int | None, cluster: str | None) -> None:
    """Build and prove every variant of FILE in a table. What an earlier run has done is not done again.

    Exit code 1 when a variant is out of limits or cannot be made.
    """
    from ..worker.zygote import warm_up

    if cluster is None:
        warm_up()  # before any thread
    from ..core.issue.formats import FORMATS
    from ..core.job import shopfile
    from ..core.job.damaged import MAX_JSON
    from ..core.job.family import Line, read_table
    from ..core.job.files import read_whole
    from ..core.plan.shop import for_buying
    from ..core.refusal import Refusal
    from ..worker.family import TABLE, Family

    store = new_store()
    content = load_job(file, store).content
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
            from ..worker.cluster import run_on

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
@route_option
def traveller(file: Path, output: Path, carbide: bool, date: str, route: str | None) -> None:
    """Write the operation sheet: set-ups, tools, speeds, what to measure. The shop's own tables are the user's."""
    from ..core.issue.sheets import write_sheet
    from ..core.job import shopfile
    from ..core.refusal import Refusal

    store = new_store()
    content = on_route(load_job(file, store).content, route)
    shop, trouble = shopfile.load(shopfile.usual_place())
    if trouble:
        click.echo(trouble, err=True)
    try:
        write_sheet(content, output, shop, "carbide" if carbide else "hss", date, store=store)
    except Refusal as error:
        raise Refused(error.said_in(content.header.style.unit)) from error
    click.echo(f"wrote {output}")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option(
    "-o", "--output", type=click.Path(path_type=Path), required=True, help="drawing.pdf (all sheets), .dxf, .svg, .png"
)
@click.option("--size", default="", help="Paper: A3, A2 … ANSI B …; as the part asks if unset.")
@route_option
def sheets(file: Path, output: Path, size: str, route: str | None) -> None:
    """Write the drawing sheets of FILE. Where it has none, one is laid out; FILE itself is not changed."""
    from ..core.issue.drawing.propose import proposed
    from ..core.issue.drawing.writing import write_sheets
    from ..core.job.assembling.files import is_assembly
    from ..core.job.sheeting import with_sheet
    from ..core.refusal import Refusal
    from ..core.route.rebuild import Cache

    store, cache = new_store(), Cache()
    if is_assembly(file):
        _assembly_sheet(file, output, store)
        return
    job = load_job(file, store)
    content = on_route(job.content, route)
    try:
        if not content.sheets:
            content = with_sheet(content, proposed(content, "d1", size, cache, store)[0])
        issued = [(r.label, r.date) for r in job.revisions]
        written = write_sheets(content, output, "", issued, cache, store)
    except Refusal as error:
        raise Refused(error.said_in(content.header.style.unit)) from error
    for path in written:
        click.echo(f"wrote {path}")


def _assembly_sheet(file: Path, output: Path, store: Store) -> None:
    from ..core.issue.assemblies import write
    from ..core.job.assembling.files import load_assembly
    from ..core.refusal import Refusal

    opened = load_assembly(file, store)
    try:
        written = write(opened.assembly, output, store)
    except Refusal as error:
        raise Refused(error.said_in(opened.assembly.unit)) from error
    for path in written:
        click.echo(f"wrote {path}")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help="outline.dxf")
@click.option("--side", type=click.Choice(list(SIDES)), default="top", show_default=True, help="Its largest flat face.")
@click.option("--level", default=None, help="What a plane across Z cuts, this far up from machine zero.")
@click.option("--kerf", default="0", show_default=True, help="Width of the cut, set off to the waste side.")
@route_option
def outline(file: Path, output: Path, side: str, level: str | None, kerf: str, route: str | None) -> None:
    """Write a flat outline of FILE for cutting: closed loops at true size, lines and arcs, holes on a layer."""
    import msgspec

    from ..core.issue.cutting import Outline
    from ..core.issue.outline import across_z, write_outline
    from ..core.quantity import evaluate
    from ..core.refusal import Refusal

    store = new_store()
    content = on_route(load_job(file, store).content, route)
    try:
        ledger = content.ledger()
        wanted = Outline(side=side, kerf=evaluate(kerf, ledger))  # type: ignore[arg-type]
        if level is not None:
            wanted = msgspec.structs.replace(wanted, side="", plane=across_z(content, evaluate(level, ledger), store))
        click.echo(write_outline(content, wanted, output, store=store))
    except Refusal as error:
        raise Refused(error.said_in(content.header.style.unit)) from error
    click.echo(f"wrote {output}")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help="A .zip, or a new folder.")
@click.option("--revision", default="", help="An issued revision; the newest if unset.")
def package(file: Path, output: Path, revision: str) -> None:
    """Write all that leaves the workshop with an issued revision of FILE: paper, STEP, DXF, picture, job, manifest."""
    from ..core.issue.package import Wanted, write_package
    from ..core.job import shopfile
    from ..core.refusal import Refusal

    store = new_store()
    job = load_job(file, store)
    shop, trouble = shopfile.load(shopfile.usual_place())
    if trouble:
        click.echo(trouble, err=True)
    try:
        if not job.revisions:
            raise Refused(f"{file.name} has no issued revision. Issue one in the window first: in Issue, or in Prove.")
        write_package(job, revision or job.revisions[-1].label, output, Wanted(shop, "hss"), store=store)
    except Refusal as error:
        raise Refused(error.said_in(job.content.header.style.unit)) from error
    click.echo(f"wrote {output}")
