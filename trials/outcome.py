"""What a trial found."""

from __future__ import annotations

import time
import traceback
from collections.abc import Callable

from lathed_solid.core.refusal import Refusal

from . import memory

#: Longer than this for one case is a fault, seconds of processor time.
SLOW = 2.0


class Outcome:
    """Counts cases; a fault is told once for each place it comes from, with the first case that met it."""

    def __init__(self) -> None:
        self.count = 0
        self.faults: dict[str, str] = {}
        #: What kept a window from answering, with the times of its own processor, seconds.
        self.stalls: dict[str, list[float]] = {}

    def fault(self, what: str, case: object) -> None:
        self.faults.setdefault(what, repr(case)[:200])

    def attempt(self, do: Callable[[], object], case: object) -> object:
        """Run one case: it may give something or refuse, nothing else, and take neither long nor much memory. None when
        it refused.
        """
        self.count += 1
        memory.begin()
        held = memory.peak()
        begun = time.process_time()
        try:
            return do()
        except Refusal:
            return None
        except Exception as error:
            place = traceback.extract_tb(error.__traceback__)[-1]
            self.fault(f"{type(error).__name__} in {place.filename.rpartition('/')[2]}:{place.name}", case)
            return None
        finally:
            if (took := time.process_time() - begun) > SLOW:
                self.fault(f"took {took:.1f} s", case)
            self.taken(memory.peak() - held, case)

    def taken(self, more: int, case: object) -> None:
        """A case took so much memory more than it should."""
        if more > memory.MOST_MORE:
            self.fault(f"took {more / 1024**2:.0f} MB", case)
