"""A helper process of our own and the pipe to it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from multiprocessing.connection import Connection


def started(module: str, **environment: str) -> tuple[subprocess.Popen[bytes], Connection]:
    """A module of this package run by itself; the number of its end of the pipe is its only argument."""
    ours, theirs = socket.socketpair()
    with theirs:
        process = subprocess.Popen(
            [sys.executable, "-m", f"lathed_solid.worker.{module}", str(theirs.fileno())],
            pass_fds=[theirs.fileno()],
            stdin=subprocess.DEVNULL,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path)), **environment},
        )
    return process, Connection(ours.detach())
