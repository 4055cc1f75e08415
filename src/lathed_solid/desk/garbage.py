"""Collecting garbage where it does no harm: in the window's own thread, and not through what was loaded at the start.

Python collects in whichever thread happens to make the next object. What is let go there may be a widget, or a body in
the part's view with its graphics memory, and both may be touched by the window's thread only. And a collection that
goes through every module that was loaded (320 000 objects) stops the window for 0.15 s.
"""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

#: It is looked so often, milliseconds.
_EVERY = 300


class Collector(QObject):
    """Takes over from Python. Until it is ``begun`` nothing is collected: whatever is loaded meanwhile stays."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.setInterval(_EVERY)
        self._timer.timeout.connect(collect)

    def begin(self) -> None:
        gc.freeze()
        self._timer.start()


def collect() -> None:
    """The oldest generation whose turn it is, by Python's own thresholds."""
    counts, limits = gc.get_count(), gc.get_threshold()
    due = [n for n in range(3) if counts[n] > limits[n]]
    if due:
        gc.collect(due[-1])
