"""Running trials from the command line."""

from __future__ import annotations

import random
import sys
import time
from functools import partial
from statistics import median

import click

from . import (
    assemblies,
    disk,
    drawings,
    hostile,
    instances,
    jobs,
    journals,
    kernels,
    long_use,
    monkeys,
    notes,
    power,
    solids,
    tools,
    windows,
)

_ROOMS = (
    assemblies, disk, drawings, hostile, instances, jobs, journals, kernels, long_use, monkeys, notes, power, solids,
    tools, windows,
)  # fmt: skip
TRIALS = {each.__name__.rpartition(".")[2]: each.run for each in _ROOMS}


def _before(end: float) -> bool:
    return time.monotonic() < end


@click.command()
@click.argument("name", type=click.Choice(sorted(TRIALS)), required=False)
@click.option("--hours", type=float, default=1 / 60, show_default="a minute", help="How long each trial goes on.")
@click.option("--seed", type=int, default=1, show_default=True, help="The same seed gives the same cases.")
def main(name: str | None, hours: float, seed: int) -> None:
    """Run the trial NAME, or all. Exit code 1 when one finds a fault."""
    bad = False
    for each in [name] if name else TRIALS:
        end = time.monotonic() + 3600 * hours
        found = TRIALS[each](random.Random(seed), partial(_before, end))
        click.echo(f"{each}: {found.count} cases, {len(found.faults)} kinds of fault")
        for what, case in found.faults.items():
            click.echo(f"  {what}: {case}")
        for slot, took in sorted(found.stalls.items(), key=lambda one: -sum(one[1])):
            click.echo(f"  {len(took)} times, {1000 * median(took):.0f}, at most {1000 * max(took):.0f} ms: {slot}")
        bad = bad or bool(found.faults)
    sys.exit(bad)


main()
