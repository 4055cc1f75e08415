"""From a changed number of SKP-02 to its picture on the part view, against the bare kernel calls of the steps that ran.

In between lie settling, the kernel process with names, checks, triangles and measured faces, and the window's own
drawing. Needs a display (``xvfb-run``); without a graphics card the drawing is done by the processor as well.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from lathed_solid.core.job import edits
from lathed_solid.core.job.storage import load

from .rebuild import EXAMPLE, Bare
from .row import Row

TIMES = 7
#: Seconds to wait for a picture: a loaded machine is slow, not broken.
PATIENCE = 600


def run() -> list[Row]:
    if not os.environ.get("DISPLAY"):
        print("view: needs a display; run it under xvfb-run", file=sys.stderr)
        return []
    desk, bare = _Desk(), Bare()
    rows = []
    cases: list[tuple[str, int, Callable[[int], str], Callable[[int], object]]] = [
        ("last", 14, lambda k: f"{5 + 0.01 * k:.4f}", bare.last),
        ("first", 1, lambda k: f"Ø{118 + 0.01 * k:.4f}", bare.all),
    ]
    for name, number, text, rerun in cases:
        ours, theirs = [], []
        for k in range(1, TIMES + 1):
            ours.append(desk.shown_after(number, text(k)))
            begun = time.perf_counter()
            rerun(k)
            theirs.append(1000 * (time.perf_counter() - begun))
        a, b = statistics.median(ours), statistics.median(theirs)
        rows.append(Row(f"part view, {name} step of SKP-02 changed", a, b, a / b, "ms (ratio, aim 2)"))
    desk.close()
    return rows


class _Desk:
    """A window on SKP-02 and its clock."""

    def __init__(self) -> None:
        from PyQt6.QtCore import QTimer
        from PyQt6.QtWidgets import QApplication

        from lathed_solid.desk.session import Session
        from lathed_solid.desk.theme.style import load_fonts
        from lathed_solid.desk.window import Window

        self._application = QApplication.instance() or QApplication([])
        load_fonts()
        self._session = Session(Path(tempfile.mkdtemp()))
        self._window = Window(self._session)
        self._window.resize(1280, 800)
        self._session.add(load(EXAMPLE).job)
        self._window.show_stage("Shape")
        self._window.show()
        self._shown = 0.0
        self._window.part.surface.frameSwapped.connect(self._on_frame)
        self._tick = QTimer()  # so that waiting for events wakes up
        self._tick.start(100)
        self._until(lambda: bool(self._shown and not self._session.is_working))

    def _on_frame(self) -> None:
        """The first frame on the screen that shows what the present state of the job makes."""
        job = self._session.current
        if not self._shown and job.built_of is job.content and self._window.part.shown is job.built:
            self._shown = time.perf_counter()

    def shown_after(self, number: int, note: str) -> float:
        """Milliseconds from an edit to the picture of what it makes."""
        self._until(lambda: not self._session.is_working)
        rest = time.perf_counter() + 0.6
        self._until(lambda: time.perf_counter() > rest)
        self._shown = 0.0
        begun = time.perf_counter()
        self._session.edit(lambda c: edits.edit_callout(c, number, note), "bench")
        self._until(lambda: self._shown > 0)
        return 1000 * (self._shown - begun)

    def _until(self, condition: Callable[[], bool]) -> None:
        from PyQt6.QtCore import QEventLoop

        application: Any = self._application
        ends = time.perf_counter() + PATIENCE
        while not condition():
            if time.perf_counter() > ends:
                raise RuntimeError(f"the window showed nothing within {PATIENCE / 60:g} minutes")
            application.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)

    def close(self) -> None:
        self._window.shut()
        self._session.shut()
