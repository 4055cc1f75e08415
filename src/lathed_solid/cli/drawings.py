"""The command that reads a drawing: what its file states, its words, or what its picture shows."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from .group import UNREADABLE, Refused, main

if TYPE_CHECKING:
    from ..core.callout import Ledger
    from ..core.drawing.proposals import Proposal
    from ..core.drawing.scan.model import Step


@main.command()
@click.argument("drawing", type=click.Path(path_type=Path))
@click.option("--sheet", default=1, show_default=True, help="Which sheet of the drawing.")
@click.option("--turned", default=0, show_default=True, help="Quarter turns clockwise before it is read.")
@click.option("--units", type=click.Choice(["mm", "in"]), default="mm", show_default=True, help="Unit of bare numbers.")
@click.option("--json", "as_json", is_flag=True, help="The offers as JSON: note, box (fractions), sure, doubts.")
def read(drawing: Path, sheet: int, turned: int, units: str, as_json: bool) -> None:
    """List what can be read off DRAWING as callouts. Nothing is taken; every one is an offer.

    DXF and PDF are read by what they state; a picture, or a PDF that holds only one, is read by eye. An offer that is
    not sure says why: look at it.
    """
    from ..core.callout import Ledger
    from ..core.refusal import Refusal

    try:
        found = _offers(drawing, sheet, turned, Ledger((), units))
    except Refusal as refusal:
        raise Refused(refusal.said_in(units)) from None
    if as_json:
        click.echo(json.dumps([_as_dict(p) for p in found], indent=1, ensure_ascii=False))
        return
    for p in found:
        mark = "      " if p.sure else "look  "
        why = "" if p.sure else f"   ({'; '.join(p.doubts)})"
        click.echo(f"{mark}{p.x:5.3f} {p.y:5.3f}  {' / '.join(p.note.splitlines())}{why}")
    sure = sum(p.sure for p in found)
    click.echo(f"{len(found)} sizes read, {sure} of them sure, {len(found) - sure} to be looked at.", err=True)
    if not found:
        sys.exit(UNREADABLE)


def _offers(drawing: Path, sheet: int, turned: int, ledger: Ledger) -> list[Proposal]:
    from ..core.drawing.opening import MAX_FILE
    from ..core.drawing.paper import CannotRead, is_only_picture
    from ..core.drawing.proposals import proposals
    from ..core.job.files import read_whole
    from ..worker.drawings import DrawingReader

    data = read_whole(drawing, MAX_FILE)
    reader = DrawingReader()
    try:
        paper = reader.open(data, drawing.name)
        if not 1 <= sheet <= paper.sheets:
            raise CannotRead(f"{drawing.name} has {paper.sheets} sheet{'s' * (paper.sheets > 1)}, no sheet {sheet}.")
        if not is_only_picture(paper, sheet):
            return list(proposals(paper, sheet, ledger))
    finally:
        reader.close()
    return _from_picture(data, drawing.name, sheet, turned, ledger)


def _from_picture(data: bytes, name: str, sheet: int, turned: int, ledger: Ledger) -> list[Proposal]:
    from platformdirs import user_cache_path

    from ..core.drawing.paper import CannotRead
    from ..core.drawing.scan import needs
    from ..core.drawing.scan.offering import looks_lettered_by_hand, proposed
    from ..worker.pictures import PictureReader

    if needs.missing():
        raise CannotRead(
            f"Reading pictures needs an extra that is not here ({needs.DOWNLOAD} MB to load, {needs.ON_DISK} MB on the "
            "disk): ./start --pictures fetches it."
        )
    reader = PictureReader(user_cache_path("lathed-solid") / "read")
    last = None
    for text in reader.read(data, name, sheet, turned, _told):
        last = text
    if sys.stderr.isatty():
        click.echo("\r\033[K", nl=False, err=True)
    if last is None:
        return []
    if looks_lettered_by_hand(last):
        click.echo("This looks hand-lettered; sizes are read with care, and none is sure.", err=True)
    return [p for p in proposed(last, sheet, ledger) if p.is_size]


def _told(step: Step) -> None:
    if sys.stderr.isatty():
        of = f" {step.done} of {step.of}" if step.of > 1 else ""
        click.echo(f"\r\033[K{step.words}{of} …", nl=False, err=True)


def _as_dict(p: Proposal) -> dict[str, object]:
    return {
        "note": p.note, "sheet": p.sheet, "x": round(p.x, 4), "y": round(p.y, 4),
        "box": [round(v, 4) for v in p.box] if any(p.box) else None, "sure": p.sure, "doubts": list(p.doubts),
        "source": p.source,
    }  # fmt: skip
