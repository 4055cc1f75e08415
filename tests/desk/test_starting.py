"""Starting the program as a user does: what stands first, what is shown until the part is there, what is filled in."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from hashlib import sha256
from pathlib import Path

from lathed_solid.core.job.storage import read_preview

EXAMPLES = Path(__file__).parents[2] / "examples"
#: Tells what is shown in the part's place, what the sheet says then, what is loaded, and what the sheet says at the end.
TOLD = """
import os, sys
from hashlib import sha256
from pathlib import Path
import lathed_solid.desk.app as app
from lathed_solid.desk.stand_in import StandIn

shown, begun = StandIn.show_picture, app._go_on

def show_picture(self, png):
    print("picture", sha256(png).hexdigest(), flush=True)
    shown(self, png)

def go_on(window, waiting):
    window.stand_in.painted.connect(lambda: print("read", window.sheet.list.isVisible(), flush=True))
    window.stand_in.painted.connect(lambda: print("loaded", "scipy" in sys.modules, "OCP" in sys.modules, flush=True))
    begun(window, waiting)
    window.furnished.connect(lambda: print("filled", window.sheet.model.rowCount(), window.plate.sketch_id, flush=True))

StandIn.show_picture, app._go_on = show_picture, go_on
app.run([Path(p) for p in sys.argv[1:]])
"""


def _started(tmp_path, *files: Path) -> list[list[str]]:
    """The lines the program says until its own picture of the part is there."""
    env = os.environ | {
        "LATHED_SOLID_TIME_START": str(time.perf_counter()), "XDG_STATE_HOME": str(tmp_path), "QT_QPA_PLATFORM": "xcb",
    }  # fmt: skip
    command = [sys.executable, "-c", TOLD, *map(str, files)]
    done = subprocess.run(command, env=env, capture_output=True, text=True, timeout=120, check=False)
    assert "first picture" in done.stdout, done.stdout + done.stderr
    return [line.split() for line in done.stdout.splitlines()]


def test_the_window_stands_before_notes_are_read_and_solvers_loaded(tmp_path):
    """An assembly stands first among the files: what is shown meanwhile is the picture of the part all the same."""
    part = EXAMPLES / "skp-02.lathed"
    said = _started(tmp_path, EXAMPLES / "skp-00.lathed", part)
    at = {line[0]: place for place, line in enumerate(said)}
    of = {line[0]: line[1:] for line in said}
    assert of["picture"] == [sha256(read_preview(part)).hexdigest()]
    assert of["read"] == ["False"] and of["loaded"] == ["False", "False"]
    assert at["window"] < at["preview"] < at["filled"] < at["first"]
    rows, sketch = of["filled"]
    assert int(rows) == 15 and sketch


def test_a_new_part_is_ready_at_once(tmp_path):
    """Nothing is open: its sheet says at once what to do, and no later turn takes away what was typed meanwhile."""
    told = """
import os, sys
import lathed_solid.desk.app as app
from PyQt6.QtCore import QTimer
begun = app._go_on

def go_on(window, waiting):
    begun(window, waiting)
    switched = []
    window.session.switched.connect(lambda: switched.append(1))
    print("stage", window.stage, waiting, window.sheet._pages.currentWidget() is window.sheet._empty, flush=True)
    window.furnished.connect(lambda: (print("later", len(switched), flush=True), os._exit(0)))

app._go_on = go_on
app.run([])
"""
    env = os.environ | {"XDG_STATE_HOME": str(tmp_path), "QT_QPA_PLATFORM": "xcb"}
    command = [sys.executable, "-c", told]
    done = subprocess.run(command, env=env, capture_output=True, text=True, timeout=120, check=False)
    assert done.stdout.split() == ["stage", "Read", "False", "True", "later", "0"], done.stdout + done.stderr
