"""Assemblies: damaged files, a disk that fails, a program killed while it works on one; nothing of them is lost."""

from __future__ import annotations

import errno
import io
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.model import Assembly
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.job.assembling import keeping
from lathed_solid.core.job.assembling.differences import differences
from lathed_solid.core.job.assembling.files import MEMBER, load_assembly, packed, save_assembly, unpacked
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite

from .disk import failing
from .jobs import spoiled
from .outcome import Outcome

EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-00.lathed"
#: One program without a window: it takes up what the last one left, then hides and shows parts, and saves now and then.
#: It tells the title of every state that it was answered, and of every one that it was told is saved.
_PROGRAM = """
import sys, random
from pathlib import Path
from msgspec.structs import replace
from PyQt6.QtCore import QCoreApplication
app = QCoreApplication(sys.argv[:1])
from lathed_solid.desk.fit.document import FitDocument
from lathed_solid.desk.session import Session
folder, file, rng = Path(sys.argv[1]), Path(sys.argv[2]), random.Random(sys.argv[3])
session = Session(folder / "journals")
document = FitDocument(session, session.folder)
if not document.recover():
    document.open(file)
at = int(document.assembly.title)
print("begun", at, flush=True)
while True:
    at += 1
    if document.edit(lambda a: replace(a, title=str(at)), "titled"):
        print("edited", at, flush=True)
    if rng.random() < 0.2 and document.save(file):
        print("saved", at, flush=True)
"""


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Damage, full disks and kills in turn."""
    found = Outcome()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        store = Store(folder / "store")
        whole = load_assembly(EXAMPLE, store).assembly
        file = folder / "a.lathed"
        save_assembly(msgspec.structs.replace(whole, title="0"), file, store)
        while going():
            for _ in range(30):
                _damaged(rng, store, found)
            for _ in range(10):
                _full(rng, whole, store, found)
            _killed(rng, folder, file, found)
    return found


# --- damaged files
def _damaged(rng: random.Random, store: Store, found: Outcome) -> None:
    """Bytes or meaning; what opens is sound: it can be put together, told apart, edited, saved and opened again."""
    data = EXAMPLE.read_bytes()
    if rng.random() < 0.5:
        spoilt = bytearray(data[: rng.randrange(len(data))] if rng.random() < 0.4 else data)
        for _ in range(rng.choice((1, 3, 10, 200))):
            if spoilt:
                spoilt[rng.randrange(len(spoilt))] = rng.randrange(256)
        data, case = bytes(spoilt), f"bytes {len(spoilt)}"
    else:
        data, case = _spoilt_meaning(rng, data)
    opened = found.attempt(lambda: unpacked(data, "x", store), case)
    if opened is not None:
        found.attempt(lambda: _goes_on(opened.assembly, store), case)  # type: ignore[attr-defined]


def _spoilt_meaning(rng: random.Random, data: bytes) -> tuple[bytes, str]:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(out, "w") as made:
        plain: dict[str, Any] = json.loads(archive.read(MEMBER))
        text, done = spoiled(rng, plain)
        for name in archive.namelist():
            made.writestr(name, text if name == MEMBER else archive.read(name))
    return out.getvalue(), str(done)


def _goes_on(assembly: Assembly, store: Store) -> None:
    differences(assembly, Assembly())
    if not assembly.instances:
        return
    made = edits.change_instance(solved(assembly).assembly, assembly.instances[0].id, hidden=True)
    again = unpacked(packed(made, "x", store), "x", store)
    if again.assembly != made:
        raise AssertionError("saved and opened again it is another")


# --- a disk that fails
def _full(rng: random.Random, whole: Assembly, store: Store, found: Outcome) -> None:
    """At one call: the file is the old or the new one, and what was kept for recovery is the last state answered."""
    found.count += 1
    nth, reason, stays = rng.randrange(1, 60), rng.choice((errno.ENOSPC, errno.EIO)), rng.random() < 0.5
    states = [msgspec.structs.replace(whole, title=str(k)) for k in range(3)]
    case = (nth, errno.errorcode[reason], stays)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path, keeper = folder / "a.lathed", keeping.Keeper(folder / "journals")
        save_assembly(states[0], path, store, folder / "earlier")
        keeper.keep(states[0], str(path))
        with failing(nth, reason, stays):
            keeper.keep(states[1], str(path))
            kept = not keeper.trouble
            try:
                save_assembly(states[2], path, store, folder / "earlier")
                saved = True
            except CannotWrite:
                saved = False
        if load_assembly(path, store).assembly != states[2 if saved else 0]:
            found.fault("the file is neither the old one nor the new one", case)
        if not (keeper.holds(states[1]) or (not kept and keeper.holds(states[0]))):
            found.fault("what was kept for recovery is lost", case)


# --- a program that is killed
def _killed(rng: random.Random, folder: Path, file: Path, found: Outcome) -> None:
    found.count += 1
    command = [sys.executable, "-c", _PROGRAM, str(folder), str(file), str(rng.random())]
    own = {f"XDG_{what}_HOME": str(folder / what.lower()) for what in ("STATE", "CONFIG", "CACHE")}
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path), **own}
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=environment, start_new_session=True
    ) as program:
        assert program.stdout is not None and program.stderr is not None
        first = program.stdout.readline()
        time.sleep(rng.uniform(0.0, 0.3))
        os.killpg(program.pid, signal.SIGKILL)
        told = [line.split() for line in (first, *program.stdout) if len(line.split()) == 2]
        trouble = program.stderr.read()
    if "Traceback" in trouble or not told:
        found.fault(f"raised: {trouble.strip().splitlines()[-1][:120] if trouble.strip() else 'nothing said'}", trouble)
        return
    counts = {word: max((int(n) for w, n in told if w == word), default=0) for word in ("begun", "edited", "saved")}
    there = int(load_assembly(file, Store(folder / "store")).assembly.title)
    left = list(keeping.unsaved(folder / "journals"))
    if keeping.unreadable(folder / "journals"):
        found.fault("what was kept for recovery cannot be read", keeping.unreadable(folder / "journals"))
    if there < counts["saved"]:
        found.fault("what was saved is not in the file", (counts, there))
    if max([there, *(int(w.assembly.title) for w in left)]) < max(counts.values()):
        found.fault("answered edits are lost", (counts, there))
    if len(left) > 1:
        for work in left[1:]:
            shutil.move(work.kept, folder)
