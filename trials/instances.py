"""Several programs on the same files: whatever one was told is saved is in the file, whoever saves after it."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from lathed_solid.core.job import storage
from lathed_solid.core.job.model import Job

from .outcome import Outcome

#: One program without a window: opens, edits, saves and lets go, as its user does who keeps both when told that the
#: file was changed. It says what it was told is saved.
_PROGRAM = """
import random, sys
from pathlib import Path
from lathed_solid.core.job import edits
from lathed_solid.desk.session import Session
me, folder, rng = sys.argv[1], Path(sys.argv[2]), random.Random(sys.argv[3])
session = Session(folder / f"state-{me}" / "journals")
files = sorted(folder.glob("*.lathed"))
for turn in range(12):
    session.open(rng.choice(files))
    for k in range(rng.randrange(1, 3)):
        tag = f"{me}.{turn}.{k}"
        session.edit(lambda c: edits.add_callout(c, "22", tag)[0], "callout")
        job = session.current
        target = job.path
        if target is None or job.is_changed_on_disk:
            target = folder / f"own-{me}-{turn}-{k}.lathed"
        if session.save(target):
            tags = ",".join(c.label for c in session.content.callouts)
            print("saved", target.name, tags, flush=True)
        if rng.random() < 0.2:
            sys.stdin.read(0)
    if rng.random() < 0.15:
        import os
        os._exit(1)  # it falls, and leaves its lock behind
    while len(session.jobs) > 1:
        session.close_job(0)
    session.close_job(0)
session.shut()
"""
PROGRAMS = 3


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Three programs on two files at a time."""
    found = Outcome()
    while going():
        with tempfile.TemporaryDirectory() as folder:
            _together(rng, Path(folder), found)
    return found


def _together(rng: random.Random, folder: Path, found: Outcome) -> None:
    for name in ("a", "b"):
        storage.save(Job(), folder / f"{name}.lathed")
    environment = {
        **os.environ, "PYTHONPATH": os.pathsep.join(sys.path), "QT_QPA_PLATFORM": "offscreen",
        "XDG_STATE_HOME": str(folder / "state"),
    }  # fmt: skip
    programs = [
        subprocess.Popen(
            [sys.executable, "-c", _PROGRAM, str(me), str(folder), str(rng.random())],
            stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=environment,
        )
        for me in range(PROGRAMS)
    ]  # fmt: skip
    saved: dict[str, set[str]] = {}
    for program in programs:
        told, trouble = program.communicate(timeout=120)
        if "Traceback" in trouble:
            found.fault(f"raised: {trouble.strip().splitlines()[-1][:120]}", trouble[-300:])
        for line in told.splitlines():
            if line.startswith("saved "):
                _, file, labels = line.split(" ", 2)
                saved.setdefault(file, set()).update(labels.split(","))
                found.count += 1
    for name, tags in saved.items():
        opened = storage.load(folder / name)
        there = {c.label for c in opened.job.content.callouts}
        if opened.lost or not tags <= there:
            found.fault("what was saved is not in the file", (name, sorted(tags - there), opened.lost))
