"""Commands that read a note, or open the window."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import click

from .group import UNREADABLE, main


@main.command()
@click.argument("text")
@click.option("--units", type=click.Choice(["mm", "in"]), default="mm", show_default=True, help="Unit of bare numbers.")
@click.option("--json", "as_json", is_flag=True, help="The reading as JSON (mm, radians).")
def note(text: str, units: str, as_json: bool) -> None:
    """Read one drawing note: its words, its limits, and what standards complete."""
    from ..core.callout import NoteError, read_note
    from ..core.callout.tell import as_dict, as_lines
    from ..core.quantity.expression import Plain

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
    from ..desk.app import run

    sys.exit(run(files))


@main.command()
def demo() -> None:
    """Open the demo job: the parts of a tide recorder."""
    from ..desk.app import demo_files, run

    sys.exit(run(demo_files()))
