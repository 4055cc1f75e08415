"""A part family on a cluster of two workers, against one: what the second adds."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from lathed_solid.core.job import storage
from lathed_solid.core.job.family import read_table
from lathed_solid.worker.cluster import HERE, run_on
from lathed_solid.worker.family import Family

from .row import Row

EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-02.lathed"
MEMBERS = 200


def run() -> list[Row]:
    content = storage.load(EXAMPLE).job.content
    table = "name,#1\n" + "".join(f"v{n},{114 + n / 40:.3f}\n" for n in range(MEMBERS))
    took, volumes = {}, {}
    for workers in (1, 2):
        with tempfile.TemporaryDirectory() as folder:
            came: list[float] = []
            family = Family(
                content, read_table(table), Path(folder), None, "", lambda *_, c=came: c.append(time.perf_counter())
            )
            lines = run_on(family, HERE, workers)
            took[workers] = came[-1] - came[workers - 1]  # the cluster's own start is no work
            volumes[workers] = [e.volume for e in lines]
    if volumes[1] != volumes[2]:
        raise RuntimeError("the figures differ with the number of workers")
    name = f"family of {MEMBERS} on 2 workers against 1"
    return [Row(name, took[2], took[1], took[1] / took[2], "times as many a second (aim 1.6)")]
