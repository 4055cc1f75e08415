"""One window used for long: jobs opened, looked at on every stage, edited, undone, saved and closed. What it holds and
how long an edit takes stay what they were.
"""

from __future__ import annotations

import os
import random
import shutil
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING

from .drawings import EXAMPLES
from .monkeys import _rest
from .outcome import Outcome

if TYPE_CHECKING:
    from PyQt6.QtCore import QCoreApplication

    from lathed_solid.desk.window import Window

#: Rounds until everything has been made that is made once.
WARM = 4
#: What a round may leave behind, bytes, counted over all rounds after those; and what all of them may.
A_ROUND, ALL = 300_000, 40_000_000
NOTES = ("22", "M6", "2 x R3", "12.5 +0.1/-0", "1 x 45°")


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Round after round; needs a display."""
    found = Outcome()
    with tempfile.TemporaryDirectory() as folder:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
            os.environ[name] = folder
        app = _app()  # held here: windows go with it
        window = _window(Path(folder))
        held: list[dict[str, float]] = []
        try:
            while going() or len(held) <= WARM:
                edit = _round(rng, window, Path(folder), found)
                held.append({**_held(window), "seconds an edit": edit})
                found.count += 1
        finally:
            _close(window)
            app.processEvents()
    _look_through(held[WARM:], found)
    return found


def _app() -> QCoreApplication:
    from PyQt6.QtWidgets import QApplication

    from lathed_solid.desk.theme.style import load_fonts
    from lathed_solid.worker.zygote import warm_up

    warm_up()
    app = QApplication.instance() or QApplication(sys.argv[:1])
    app.setProperty("textScale", 1.0)
    load_fonts()
    return app


def _window(folder: Path) -> Window:
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.window import Window

    session = Session(folder / "journals")
    session.open(Path(shutil.copy(EXAMPLES / "skp-01.lathed", folder)))
    window = Window(session)
    window.resize(1280, 800)
    window.show()
    assert window.part_room
    _rest(session)
    return window


def _close(window: Window) -> None:
    from PyQt6 import sip

    window.shut()
    window.session.shut()
    for job in window.session.jobs:
        job.history.mark_saved()
    window.close()
    sip.delete(window)


def _round(rng: random.Random, window: Window, folder: Path, found: Outcome) -> float:
    """The longest an edit took of the window's own processor, seconds."""
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from lathed_solid.desk.rail import STAGES

    session = window.session
    session.open(Path(shutil.copy(rng.choice(sorted(EXAMPLES.glob("skp-0[1-9].lathed"))), folder / "one.lathed")))
    _rest(session)
    for stage in STAGES:
        session.take_up()
        window.show_stage(stage)
        for step in session.content.steps:
            session.select_step(step.id)
            QApplication.processEvents()
    first, longest = session.content, 0.0
    for note in NOTES:
        begun = time.thread_time()
        line = window.entry.line
        line.setFocus()
        QTest.keyClicks(line, note)
        QTest.keyClick(line, Qt.Key.Key_Return)
        longest = max(longest, time.thread_time() - begun)
        QApplication.processEvents()
    if len(session.content.callouts) == len(first.callouts):
        found.fault("nothing was taken in", NOTES)
    _rest(session)
    session.save()
    while session.current.history.undo_words:
        session.undo()
        QApplication.processEvents()
    if session.content != first:
        found.fault("undone, it is not what it was", found.count)
    _rest(session)
    session.current.history.mark_saved()
    session.close_job(len(session.jobs) - 1)
    _rest(session)
    return longest


def _held(window: Window) -> dict[str, float]:
    from PyQt6.QtCore import QObject

    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return {
        "bytes": float(pages * os.sysconf("SC_PAGE_SIZE")),
        "files": float(sum(1 for _ in Path("/proc/self/fd").iterdir())),
        "threads": float(threading.active_count()),
        "widgets": float(len(window.findChildren(QObject))),
    }


def _look_through(held: list[dict[str, float]], found: Outcome) -> None:
    """The first and the last third of the rounds beside each other: one round alone tells of the example it took."""
    third = max(1, len(held) // 3)
    early, late = ({k: median(h[k] for h in part) for k in held[0]} for part in (held[:third], held[-third:]))
    more = late["bytes"] - early["bytes"]
    if more > ALL and more / max(1, len(held) - third) > A_ROUND:
        found.fault("memory grows", (early, late, len(held)))
    for kind, room in (("files", 4.0), ("threads", 2.0), ("widgets", 0.02 * early["widgets"])):
        if late[kind] > early[kind] + room:
            found.fault(f"{kind} grow", (early, late, len(held)))
    if late["seconds an edit"] > 2.0 * early["seconds an edit"] + 0.02:
        found.fault("edits become slower", (early, late, len(held)))
