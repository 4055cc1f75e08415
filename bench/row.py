"""One figure of a bench, and timing helpers."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import NamedTuple


class Row(NamedTuple):
    """``ratio`` is ours / reference for times (smaller is better), or as the name says."""

    name: str
    ours: float
    reference: float
    ratio: float
    unit: str

    def line(self) -> str:
        return f"{self.name:52s} {self.ours:12.3f} {self.reference:12.3f} {self.ratio:10.3f}  {self.unit}"


def median_ms(run: Callable[[], object], times: int = 5) -> float:
    """Median wall time of ``run`` in milliseconds."""
    found = []
    for _ in range(times):
        begun = time.perf_counter()
        run()
        found.append(1000 * (time.perf_counter() - begun))
    return statistics.median(found)
