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
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder

    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(9.0, 9.0, 9.0).Shape(), BRepPrimAPI_MakeCylinder(4.0, 20.0).Shape())
