"""A bound on memory while a stranger's file is read: a damaged count asks for more than any sound file needs."""

from __future__ import annotations

import resource
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

#: What reading may take: so much, and so many times the file itself, bytes.
ROOM, TIMES = 350 * 1024**2, 60


@contextmanager
def bounded_memory(size: int) -> Iterator[None]:
    """Whatever is read meanwhile may take room for a file of ``size`` bytes; beyond it the kernel is told that there is
    no more memory. The bound of the process, if it is lower, stays.
    """
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    soft, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = pages * resource.getpagesize() + ROOM + TIMES * size
    if soft == resource.RLIM_INFINITY or most < soft:
        resource.setrlimit(resource.RLIMIT_AS, (most, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_AS, (soft, hard))
