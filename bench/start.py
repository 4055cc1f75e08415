"""Cold start to the first picture of the demo, against the bare imports that no such program can do without."""

from __future__ import annotations

import os
import re
import shutil
import statistics
import subprocess
import sys

from .row import Row

BARE = "import OCP, PyQt6.QtWidgets, PyQt6.QtOpenGLWidgets, numpy"
OURS = "import sys; sys.argv = ['lathed-solid', 'demo']; from lathed_solid.cli import main; main()"


def run() -> list[Row]:
    display = [] if os.environ.get("DISPLAY") else ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24"]
    if display and not shutil.which(display[0]):
        print("start: needs a display, or xvfb-run", file=sys.stderr)
        return []
    timed = f"import time; t = time.perf_counter(); {BARE}; print('took', time.perf_counter() - t)"
    environment = os.environ | {"LATHED_SOLID_TIME_START": "1", "QT_QPA_PLATFORM": "xcb"}
    bare, ours = [], []
    for _ in range(3):
        bare.append(_seconds([sys.executable, "-c", timed], "took"))
        ours.append(_seconds([*display, sys.executable, "-c", OURS], "first picture", environment))
    a, b = statistics.median(ours), statistics.median(bare)
    return [Row("cold start to the first picture", a, b, a / b, "s (ratio, aim 1.6)")]


def _seconds(command: list[str], word: str, environment: dict[str, str] | None = None) -> float:
    done = subprocess.run(command, capture_output=True, text=True, timeout=120, env=environment, check=False)
    match = re.search(rf"{word} ([\d.]+)", done.stdout)
    if match is None:
        raise RuntimeError(f"no time in the output: {done.stdout[-300:]} {done.stderr[-300:]}")
    return float(match[1])
