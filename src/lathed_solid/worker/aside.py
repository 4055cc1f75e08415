"""A command carried out in a process of its own: when the kernel falls over a file, or never ends, that is told."""

from __future__ import annotations

import os
import resource
import signal
import sys
import time
from collections.abc import Callable

from . import faults

#: A command may take so long, seconds of the clock, and so much memory, bytes.
MOST_SECONDS = 1800.0
MOST_MEMORY = 12 * 1024**3


def carried_out(do: Callable[[], object], limit: float = MOST_SECONDS) -> tuple[int, str]:
    """Run ``do``, which ends by its exit code, in a forked process; its code, and why it fell (empty when it did not).

    Must be called before any thread is started and before the kernel is loaded.
    """
    sys.stdout.flush()
    child = os.fork()
    if child == 0:
        _, hard = resource.getrlimit(resource.RLIMIT_AS)
        resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, hard))
        faults.strike(os.environ.get(faults.VARIABLE, ""), "command")
        do()
        raise SystemExit(0)
    return _wait(child, time.monotonic() + limit)


def _wait(child: int, until: float) -> tuple[int, str]:
    while True:
        try:
            ended, status = os.waitpid(child, os.WNOHANG)
        except KeyboardInterrupt:
            os.kill(child, signal.SIGKILL)
            raise
        if ended:
            break
        if time.monotonic() > until:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            return -signal.SIGKILL, "it did not come to an end"
        time.sleep(0.01)
    code = os.waitstatus_to_exitcode(status)
    return code, "" if code >= 0 else f"the kernel fell ({signal.Signals(-code).name})"
