"""Whatever keeps the window from answering: the processor time of one thing done, and the slot that took it."""

from __future__ import annotations

import signal
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

#: One thing done must not keep the window longer, seconds of its own processor time.
MOST = 0.05
_EVERY = 0.004
#: So many functions are named, innermost first, and the outermost.
_DEEP = 4


class StallWatch:
    """Samples what the window's thread is in while something is done. ``stalls`` are the slots that took more than
    MOST, with every time they did. To be made in the window's thread, which is the main one: a timer's signal samples
    it, because frames of a running thread must not be read from another (Python 3.11 falls over it).
    """

    def __init__(self, most: float = MOST) -> None:
        self._most = most
        self._seen: Counter[str] = Counter()
        self.stalls: dict[str, list[float]] = {}
        self._kept = signal.signal(signal.SIGALRM, self._sample)

    @contextmanager
    def watching(self) -> Iterator[None]:
        self._seen.clear()
        signal.setitimer(signal.ITIMER_REAL, _EVERY, _EVERY)
        begun = time.thread_time()
        try:
            yield
        finally:
            took = time.thread_time() - begun
            signal.setitimer(signal.ITIMER_REAL, 0.0)
            if took > self._most:
                name = max(self._seen.items(), key=lambda one: one[1])[0] if self._seen else "Qt"
                self.stalls.setdefault(name, []).append(took)

    def shut(self) -> None:
        signal.setitimer(signal.ITIMER_REAL, 0.0)
        signal.signal(signal.SIGALRM, self._kept)

    def _sample(self, _: int, frame: FrameType | None) -> None:
        self._seen[_slot(frame)] += 1


def _slot(frame: FrameType | None) -> str:
    """The function of the program that was called from outside of it: a slot, or an event of a widget."""
    ours = []
    while frame is not None:
        if "/lathed_solid/" in frame.f_code.co_filename:
            ours.append(f"{frame.f_code.co_filename.rpartition('/lathed_solid/')[2]}:{frame.f_code.co_qualname}")
        frame = frame.f_back
    return " < ".join((*ours[:_DEEP], *ours[max(_DEEP, len(ours) - 1) :])) if ours else "Qt"
