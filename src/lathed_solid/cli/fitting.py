"""The command about assemblies: fit."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.quantity.style import mass
from .group import Refused, main, new_store

if TYPE_CHECKING:
    from ..core.fit.clearance import Clearances
    from ..core.fit.model import Assembly


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="All near pairs as JSON (mm, mm³).")
def fit(file: Path, as_json: bool) -> None:
    """Whether an assembly is put together and nothing is in the way. Exit code 1 when parts overlap or do not meet."""
    from ..core.fit.solving import NotMet, solved
    from ..core.job.assembling.files import load_assembly
    from ..core.job.assembling.judging import judged
    from ..core.refusal import Refusal

    store = new_store()
    try:
        opened = load_assembly(file, store)
        for lost in opened.lost:
            click.echo(f"{file.name}: lost: {lost}", err=True)
        try:
            assembly, met = solved(opened.assembly).assembly, True
        except NotMet:
            assembly, met = opened.assembly, False
        found = judged(assembly, store)
    except Refusal as error:
        raise Refused(str(error)) from None
    told = as_data(assembly, found, met)
    if as_json:
        click.echo(json.dumps(told, indent=1, ensure_ascii=False))
    else:
        _print(assembly, found, met)
    sys.exit(0 if met and not found.overlaps and not any(p.state == "unjudged" for p in found.pairs) else 1)


def as_data(assembly: Assembly, found: Clearances, met: bool) -> dict[str, object]:
    """What was found, as plain data."""
    from ..core.fit.joined import joined
    from ..core.fit.mass import weigh
    from ..core.refusal import worded

    pairs = [
        {
            "between": [assembly.called(p.a), assembly.called(p.b)],
            "state": p.state,
            "gap": p.gap,
            "volume": p.volume,
            "depth": p.deep,
            "words": worded(p.words, "mm"),
            "exact": p.exact,
        }
        for p in found.pairs
    ]
    return {
        "assembly": assembly.number or assembly.title,
        "met": met,
        "grams": weigh(assembly).grams,
        "looked_at": found.looked_at,
        "pairs": pairs,
        "joints": [
            {"what": j.words[0], "in": j.words[1], "much": j.much, "says": j.says, "mark": j.mark}
            for j in joined(assembly)
        ],
    }


def _print(assembly: Assembly, found: Clearances, met: bool) -> None:
    from ..core.fit.joined import joined
    from ..core.fit.mass import weigh
    from ..core.quantity import Style
    from ..core.refusal import worded

    style, weight = Style(assembly.unit), weigh(assembly)
    click.echo(f"{assembly.number} {assembly.title}: {len(assembly.instances)} parts, {mass(weight.grams)}")
    if not met:
        click.echo("The relations cannot all be met.")
    for pair in found.pairs:
        if pair.state == "touching":
            continue
        much = {
            "overlapping": f"overlap, {style.length(pair.deep, unit=True)} deep, {style.volume(pair.volume)}",
            "apart": f"gap {style.length(pair.gap, unit=True)}",
        }.get(pair.state, pair.state)
        words = f": {worded(pair.words, assembly.unit)}" if pair.words else ""
        click.echo(f"  {assembly.called(pair.a)} – {assembly.called(pair.b)}: {much}{words}")
    for joint in joined(assembly):
        if joint.mark in ("bad", "look"):
            click.echo(f"  {joint.words[0]} in {joint.words[1]}: {joint.says}")
    touching = sum(p.state == "touching" for p in found.pairs)
    click.echo(
        f"{len(found.overlaps)} overlaps; {touching} pairs touch; {found.looked_at} pairs looked at. "
        "That nothing overlaps approves no machine."
    )
