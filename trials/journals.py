"""Programs killed while they write: what was acknowledged is there again."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from lathed_solid.core.job import journal

from .outcome import Outcome

#: Records edits as fast as it can, telling each once it is on disk; compaction comes every few.
_WRITER = """
import sys
from pathlib import Path
from lathed_solid.core.job import edits, journal
from lathed_solid.core.job.model import Content, Job
journal.COMPACT_ABOVE = int(sys.argv[2])
log, content = journal.Journal(Path(sys.argv[1])), Content()
while True:
    content, number = edits.add_callout(content, "22")
    log.record(Job(content=content), "/a.lathed")
    print(number, flush=True)
"""


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Kill after kill, at any moment."""
    found = Outcome()
    while going():
        with tempfile.TemporaryDirectory() as folder:
            _one(rng, Path(folder), found)
    return found


def _one(rng: random.Random, folder: Path, found: Outcome) -> None:
    found.count += 1
    after = rng.uniform(0.0, 0.03)
    room = rng.choice((2_000, 20_000, 10**9))
    command = [sys.executable, "-c", _WRITER, str(folder), str(room)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=_env()) as writer:
        assert writer.stdout is not None
        first = writer.stdout.readline()
        time.sleep(after)
        os.kill(writer.pid, signal.SIGKILL)
        told = [int(line) for line in (first, *writer.stdout) if line.strip().isdigit()]
    work = journal.recoverable(folder).work
    there = len(work[0].job.content.callouts) if work else 0
    if told and there < max(told):
        found.fault("acknowledged edits are lost", (max(told), there, after, room))


def _env() -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
