"""Cold start of the demo: the window, its stand-in for the part, the kernel's own picture; against bare imports."""

from __future__ import annotations

import os
import re
import shutil
import statistics
import subprocess
import sys

from .row import Row

BARE = "import OCP, PyQt6.QtWidgets, PyQt6.QtOpenGLWidgets, numpy"
OURS = """import os, sys, time
os.environ["LATHED_SOLID_TIME_START"] = str(time.perf_counter())
sys.argv = ["lathed-solid", "demo"]
from lathed_solid.cli import main
main()"""


def run() -> list[Row]:
    display = [] if os.environ.get("DISPLAY") else ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24"]
    if display and not shutil.which(display[0]):
        print("start: needs a display, or xvfb-run", file=sys.stderr)
        return []
    timed = f"import time; t = time.perf_counter(); {BARE}; print('took', time.perf_counter() - t)"
    environment = os.environ | {"QT_QPA_PLATFORM": "xcb"}
    bare: list[float] = []
    ours: dict[str, list[float]] = {"window": [], "preview": [], "first picture": []}
    for _ in range(3):
        bare.append(_said(_output([sys.executable, "-c", timed]), "took"))
        said = _output([*display, sys.executable, "-c", OURS], environment)
        for word, times in ours.items():
            times.append(_said(said, word))
    b = statistics.median(bare)
    aims = {"window": 0.5, "preview": 0.6, "first picture": 1.5}
    return [
        Row(f"cold start: {word}", statistics.median(times), b, statistics.median(times) / b, f"s (aim {aims[word]})")
        for word, times in ours.items()
    ]


def _output(command: list[str], environment: dict[str, str] | None = None) -> str:
    done = subprocess.run(command, capture_output=True, text=True, timeout=120, env=environment, check=False)
    return done.stdout + done.stderr[-300:]


def _said(output: str, word: str) -> float:
    match = re.search(rf"{word} ([\d.]+)", output)
    if match is None:
        raise RuntimeError(f"no time for “{word}” in the output: {output[-600:]}")
    return float(match[1])
