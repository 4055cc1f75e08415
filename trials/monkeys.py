"""Mouse and keys at random on every stage. Nothing may raise, be lost or hang: what was done can be undone back to the
first state and done again to the last, and every state can be saved and read back.
"""

from __future__ import annotations

import logging
import os
import random
import shutil
import sys
import tempfile
import time
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from lathed_solid.core.job import storage

from .outcome import Outcome
from .stalls import StallWatch

if TYPE_CHECKING:
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.session.documents import OpenJob
    from lathed_solid.desk.window import Window

EXAMPLES = Path(__file__).parents[1] / "examples"
#: Things done to one window before its work is looked through.
TURN = 120
#: Everything that is being worked on has an end, seconds.
PATIENCE = 90.0


def run(rng: random.Random, going: Callable[[], bool], only: int = 0) -> Outcome:
    """Window after window, each on another example; needs a display. ``only`` so many windows when given."""
    found = Outcome()
    faults = _Faults(found)
    with tempfile.TemporaryDirectory() as folder, faults:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
            os.environ[name] = folder
        windows = 0
        while going() and (not only or windows < only):
            _one_window(rng, going, Path(folder), found, faults)
            windows += 1
    return found


class _Faults(logging.Handler):
    """Whatever reaches the log as an error, or nobody at all."""

    def __init__(self, found: Outcome) -> None:
        super().__init__(logging.ERROR)
        self._found, self.case = found, ""

    def emit(self, record: logging.LogRecord) -> None:
        self._found.fault(f"logged: {record.getMessage()[:120]}", self.case)

    def _hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        place = [f for f in traceback.extract_tb(trace) if "lathed_solid" in f.filename or "trials" in f.filename][-1:]
        where = f"{place[0].filename.rpartition('/')[2]}:{place[0].lineno} {place[0].name}" if place else "?"
        self._found.fault(f"{kind.__name__}: {str(error)[:80]} in {where}", self.case)

    def __enter__(self) -> None:
        self._kept, sys.excepthook = sys.excepthook, self._hook
        logging.getLogger("lathed_solid").addHandler(self)

    def __exit__(self, *_: object) -> None:
        sys.excepthook = self._kept
        logging.getLogger("lathed_solid").removeHandler(self)


def _one_window(rng: random.Random, going: Callable[[], bool], folder: Path, found: Outcome, faults: _Faults) -> None:
    from PyQt6 import sip
    from PyQt6.QtWidgets import QApplication

    from lathed_solid.worker.zygote import warm_up

    warm_up()
    app = QApplication.instance() or QApplication(sys.argv[:1])
    app.setProperty("textScale", 1.0)
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.theme.style import load_fonts
    from lathed_solid.desk.window import Window

    load_fonts()
    from lathed_solid.core.sketch.explain import diagnose  # noqa: F401  as the program does once its window stands
    from lathed_solid.core.sketch.solver import drag  # noqa: F401

    session = Session(folder / "journals")
    path = Path(shutil.copy(rng.choice(sorted(EXAMPLES.glob("skp-0[1-9].lathed"))), folder))
    session.open(path)
    window = Window(session)
    window.resize(1280, 800)
    window.show()
    assert window.part_room
    watch = StallWatch()
    try:
        _rest(session)
        _play(rng, going, window, found, faults, watch)
    finally:
        watch.shut()
        window.shut()
        session.shut()
        for job in session.jobs:
            job.history.mark_saved()
        if window.is_fitted:  # nobody is there to answer whether it is to be saved
            window.fit.document._history.mark_saved()
        window.close()
        sip.delete(window)
    for slot, took in watch.stalls.items():
        found.stalls.setdefault(slot, []).extend(took)


def _play(
    rng: random.Random, going: Callable[[], bool], window: Window, found: Outcome, faults: _Faults, watch: StallWatch
) -> None:
    from .hands import Monkey

    monkey, session = Monkey(rng, window, watch), window.session
    first: dict[int, tuple[OpenJob, bytes]] = {}
    for turn in range(TURN):
        if not going():
            break
        for job in session.jobs:
            first.setdefault(id(job), (job, storage.to_json(job.history._entries[0].state)))
        faults.case = f"{turn}: {monkey.last}"
        found.count += 1
        monkey.act()
    monkey.is_done = True
    if not _rest(session):
        found.fault("busy for ever", monkey.last)
    for job, state in first.values():
        if job in session.jobs:
            _undone(job, state, found, list(monkey.done))
    if window.width() > 1400 or window.height() > 1000:
        found.fault(f"the window has grown to {window.width()} x {window.height()}", list(monkey.done)[-20:])


def _rest(session: Session) -> bool:
    """Let what is being built come to its end; whether it did."""
    from PyQt6.QtTest import QTest

    until = time.monotonic() + PATIENCE
    while time.monotonic() < until:
        QTest.qWait(30)
        if not session.is_working:
            return True
    return False


def _undone(job: OpenJob, first: bytes, found: Outcome, done: list[str]) -> None:
    """Back to the first state, forth to the last, byte for byte; and every state can be saved and read."""
    history = job.history
    last = storage.to_json(history.state)
    while True:
        text = storage.to_json(history.state)
        again = storage.decode(text, "x")
        if again.lost or again.job != history.state:
            found.fault("a state that cannot be saved and read back", (again.lost[:2], done[-12:]))
        if not history.undo():
            break
    if storage.to_json(history.state) != first:
        found.fault("undone to the beginning, it is not what it was", done)
    while history.redo():
        pass
    if len(storage.to_json(history.state)) < len(last) and not history.redo_words:
        found.fault("done again, less is there", done[-20:])
