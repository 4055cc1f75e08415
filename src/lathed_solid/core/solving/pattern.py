"""Where a system's Jacobian has entries; all that its linear algebra needs to know of it."""

from __future__ import annotations

from typing import Protocol

from ..arrays import Ints


class Pattern(Protocol):
    """``m`` rows over ``n`` unknowns; the row and column of each of ``entries`` entries, in column order."""

    m: int
    n: int
    entries: int
    rows: Ints
    columns: Ints
