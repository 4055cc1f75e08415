"""A whole frame of dragging on the layout plate, solved and painted, against a sixtieth of a second.

A window of 1000 by 560 pixels shows the chain of linked plates without every seventh size; one point is led round a
circle of 8 mm. Needs a display (``xvfb-run``).
"""

from __future__ import annotations

import math
import os
import statistics
import sys
import time

from .row import Row
from .sketch import chain, loosened

FRAME = 1000 / 60


def run() -> list[Row]:
    from PyQt6.QtWidgets import QApplication

    if not os.environ.get("DISPLAY"):
        print("plate: needs a display; run it under xvfb-run", file=sys.stderr)
        return []
    application = QApplication.instance() or QApplication([])
    rows = []
    for count in (200, 1000):
        frames = _frames(count)
        median = statistics.median(frames)
        rows.append(
            Row(f"plate, {count} relations, a frame of dragging", median, FRAME, median / FRAME, "ms (part of 1/60 s)")
        )
    del application
    return rows


def _frames(count: int) -> list[float]:
    from PyQt6.QtWidgets import QApplication

    from lathed_solid.core.sketch.explain.diagnose import freedom
    from lathed_solid.core.sketch.solver.drag import Drag
    from lathed_solid.desk.plate.canvas import Canvas
    from lathed_solid.desk.plate.look import Look
    from lathed_solid.desk.theme.palette import LIGHT

    loose, known, point = loosened(*chain(count))
    canvas = Canvas(LIGHT)
    canvas.resize(1000, 560)
    look = Look(freedom=freedom(loose, known), texts={d.id: d.text for d in loose.dimensions}, dragging=True)
    canvas.show_sketch(loose, look)
    canvas.show()
    QApplication.processEvents()  # nothing is painted before the window is there
    p = loose.points()[point]
    drag, frames = Drag(loose, known, point, (p.x, p.y)), []
    for k in range(120):
        begun = time.perf_counter()
        canvas.pose(drag.to(p.x + 8 * math.sin(k / 19), p.y + 8 - 8 * math.cos(k / 19)))
        canvas.repaint()
        frames.append(1000 * (time.perf_counter() - begun))
    canvas.close()
    return frames
