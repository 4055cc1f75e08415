"""Kernel processes on demand: forked from a helper that holds the loaded kernel and nothing else.

The kernel takes a second to load. The helper is forked off before any window or thread exists and loads it while the
program loads its window; then it forks a fresh kernel process (a few milliseconds) whenever one is asked for, also
after a crash.
"""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import threading
from multiprocessing.connection import Connection
from typing import NamedTuple


class Offspring(NamedTuple):
    """A kernel process: its id and our end of its pipe."""

    pid: int
    pipe: Connection

    def kill(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)


class Zygote:
    """The helper. Make one before any thread, window or OpenGL context exists: it is a fork of this process."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        self._lock = threading.Lock()
        self.pid = os.fork()
        if self.pid == 0:
            ours.close()
            _breed(theirs)
        theirs.close()
        self._socket = ours

    def spawn(self, injected: str) -> Offspring:
        """A new kernel process with ``injected`` faults (see :mod:`faults`).

        Waits until the helper has loaded the kernel. Raises OSError when the helper is gone.
        """
        ours, theirs = socket.socketpair()
        with self._lock:
            socket.send_fds(self._socket, [b"\0" + injected.encode()], [theirs.fileno()])
            answer = self._socket.recv(8)
        theirs.close()
        if not answer:
            raise OSError("the kernel's helper process is gone")
        return Offspring(int.from_bytes(answer, "big"), Connection(ours.detach()))


def _breed(requests: socket.socket) -> None:
    """Main loop of the helper; never returns. It ends when this program does."""
    code = 1
    try:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        from . import preload  # noqa: F401

        signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # the kernel of the system reaps
        while True:
            data, descriptors, _, _ = socket.recv_fds(requests, 4096, 1)
            if not data:
                code = 0
                break
            pid = os.fork()
            if pid == 0:
                requests.close()
                from .process import serve

                serve(Connection(descriptors[0]), data[1:].decode())
                code = 0
                break
            os.close(descriptors[0])
            requests.sendall(pid.to_bytes(8, "big"))
    finally:
        os._exit(code)


_zygote: Zygote | None = None


def warm_up() -> Zygote:
    """Fork off the helper that makes kernel processes. Call before any window or thread exists."""
    global _zygote
    if _zygote is None:
        _zygote = Zygote()
    return _zygote
