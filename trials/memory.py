"""How much memory a process came to hold while it did one thing."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from threading import Event, Thread

#: One case may take so much more than a sound file does, bytes.
MOST_MORE = 500 * 1024**2
#: A process that falls is looked at until it does, seconds between two looks.
_EVERY = 0.02


def begin(pid: int | str = "self") -> None:
    """The peak is counted from now on; a process that is gone has none."""
    with suppress(OSError):
        Path(f"/proc/{pid}/clear_refs").write_text("5")


def peak(pid: int | str = "self") -> int:
    """The most that was resident since ``begin``, bytes; 0 for a process that is gone."""
    with suppress(OSError, StopIteration):
        lines = Path(f"/proc/{pid}/status").read_text().splitlines()
        return 1024 * int(next(line for line in lines if line.startswith("VmHWM")).split()[1])
    return 0


class Watched:
    """The peak of another process, which may end meanwhile."""

    def __init__(self, pid: int) -> None:
        self.pid, self.peak = pid, 0

    def look(self) -> None:
        self.peak = max(self.peak, peak(self.pid))


@contextmanager
def watched(pid: int) -> Iterator[Watched]:
    """``peak`` of what is given is complete at the end."""
    watch, done = Watched(pid), Event()

    def look_on() -> None:
        while not done.wait(_EVERY):
            watch.look()

    begin(pid)
    thread = Thread(target=look_on)
    thread.start()
    try:
        yield watch
    finally:
        done.set()
        thread.join()
        watch.look()
