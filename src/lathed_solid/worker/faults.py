"""Faults put in on purpose, so that tests can prove that nothing is lost when the kernel falls or is slow.

``LATHED_SOLID_FAULT="s3=crash"`` ends the process when step s3 begins; ``"s3=slow:4"`` keeps the kernel busy for
four seconds first. Unset, nothing happens.
"""

from __future__ import annotations

import os
import signal
import time

VARIABLE = "LATHED_SOLID_FAULT"


def strike(faults: str, step: str) -> None:
    """Carry out the fault set for ``step``, if any."""
    for fault in filter(None, faults.split(",")):
        id_, _, kind = fault.partition("=")
        if id_ != step:
            continue
        if kind == "crash":
            os.kill(os.getpid(), signal.SIGKILL)
        elif kind.startswith("slow:"):
            _work(float(kind.removeprefix("slow:")))


def _work(seconds: float) -> None:
    """Real kernel work, which holds the interpreter lock as a real slow step does."""
    from ..core.kernel.cut.boolean import combine
    from ..core.kernel.form.sweep import turned_tool
    from ..core.kernel.ground.geometry import Frame

    frame = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    across = Frame((0.0, -20.0, 5.0), (1.0, 0.0, 0.0), (0.0, 0.0, -1.0))
    names = ("top", "side", "floor")
    bar = turned_tool([(0, 0), (9, 0), (9, 9), (0, 9)], names, frame, "bar")
    drill = turned_tool([(0, 0), (2, 0), (2, 40), (0, 40)], names, across, "drill")
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        combine("cut", bar, [drill])
