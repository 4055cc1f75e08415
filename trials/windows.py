"""The window killed at any moment, while callouts are typed and the job is saved: what was answered is there again."""

from __future__ import annotations

import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from threading import Timer

from lathed_solid.core.job import journal, storage

from .outcome import Outcome

EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-02.lathed"
#: One window on a job: it takes up what the last one left, then types notes into the entry line, and saves now and
#: then. It tells how many callouts the job has once the window has answered, and how many it has told to be saved.
_PROGRAM = """
import random, sys
from pathlib import Path
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from lathed_solid.worker.zygote import warm_up
warm_up()
app = QApplication(sys.argv[:1])
app.setProperty("textScale", 1.0)
from lathed_solid.desk.app import recover
from lathed_solid.desk.session import Session
from lathed_solid.desk.window import Window
folder, file, rng = Path(sys.argv[1]), Path(sys.argv[2]), random.Random(sys.argv[3])
session = Session(folder / "journals")
if not recover(session, folder / "journals"):
    session.open(file)
window = Window(session)
window.resize(1280, 800)
window.show()
session.take_up()
window.show_stage("Read")
print("begun", len(session.content.callouts), flush=True)
while True:
    line = window.entry.line
    line.setFocus()
    QTest.keyClicks(line, rng.choice(("22", "M6", "2 x R3", "12.5 +0.1/-0")))
    QTest.keyClick(line, Qt.Key.Key_Return)
    print("typed", len(session.content.callouts), flush=True)
    if rng.random() < 0.2 and session.save(file):
        print("saved", len(session.content.callouts), flush=True)
    if rng.random() < 0.3:
        QTest.qWait(rng.choice((1, 20, 200)))
"""


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Window after window on the same file, each killed."""
    found = Outcome()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        file = Path(shutil.copy(EXAMPLE, folder))
        while going():
            _one(rng, folder, file, found)
    return found


def _one(rng: random.Random, folder: Path, file: Path, found: Outcome) -> None:
    found.count += 1
    after = rng.uniform(0.0, 0.6)
    command = [sys.executable, "-c", _PROGRAM, str(folder), str(file), str(rng.random())]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=_env(folder), start_new_session=True
    ) as program:
        assert program.stdout is not None and program.stderr is not None
        patience = Timer(120.0, program.kill)
        patience.start()
        first = program.stdout.readline()
        time.sleep(after)
        os.killpg(program.pid, signal.SIGKILL)
        told = [line.split() for line in (first, *program.stdout) if len(line.split()) == 2]
        trouble = program.stderr.read()
        patience.cancel()
    if "Traceback" in trouble or not told:
        found.fault(f"raised: {trouble.strip().splitlines()[-1][:120] if trouble.strip() else 'nothing said'}", trouble)
        return
    _look_through(folder, file, told, found)


def _look_through(folder: Path, file: Path, told: list[list[str]], found: Outcome) -> None:
    """The file opens whole and has what was told as saved; what was typed is in the file or to be recovered."""
    counts = {word: max((int(n) for w, n in told if w == word), default=0) for word in ("begun", "typed", "saved")}
    opened = storage.load(file)
    there = len(opened.job.content.callouts)
    if opened.lost or there < counts["saved"]:
        found.fault("what was saved is not in the file", (counts, there, opened.lost))
    left = journal.recoverable(folder / "journals")
    if left.unreadable:
        found.fault("a journal cannot be read", left.unreadable)
    kept = max([there, *(len(w.job.content.callouts) for w in left.work)])
    if kept < max(counts.values()):
        found.fault("answered edits are lost", (counts, there, kept))


def _env(folder: Path) -> dict[str, str]:
    own = {f"XDG_{what}_HOME": str(folder / what.lower()) for what in ("STATE", "CONFIG", "CACHE")}
    return {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path), "QT_QPA_PLATFORM": "offscreen", **own}
