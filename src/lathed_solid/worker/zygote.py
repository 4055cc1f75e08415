"""Kernel processes on demand: forked from a helper that holds the loaded kernel and nothing else.

The kernel takes a second to load. The helper is forked off before any window or thread exists and loads it while the
program loads its window; then it forks a fresh kernel process (a few milliseconds) whenever one is asked for, also
after a crash.
"""

from __future__ import annotations

import contextlib
import gc
import logging
import os
import signal
import socket
import subprocess
import sys
import threading
from multiprocessing.connection import Connection
from typing import NamedTuple

log = logging.getLogger(__name__)


class Offspring(NamedTuple):
    """A kernel process: its id and our end of its pipe."""

    pid: int
    pipe: Connection

    def kill(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)


#: Longest that the helper may take to load the kernel and to make a process of it, seconds.
HELPER_LIMIT = 120.0


class Zygote:
    """The helper. Make one before any thread, window or OpenGL context exists: it is a fork of this process.

    One that is gone later is made anew as a program of its own: a process with threads must not be forked.
    """

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        self._lock = threading.Lock()
        self.pid = os.fork()
        if self.pid == 0:
            ours.close()
            _breed(theirs)
        theirs.close()
        ours.settimeout(HELPER_LIMIT)
        self._socket = ours

    def spawn(self, injected: str) -> Offspring:
        """A new kernel process with ``injected`` faults (see :mod:`faults`).

        Waits until the helper has loaded the kernel; one that is gone, or says nothing for too long, is made anew.
        Raises OSError when that fails too.
        """
        with self._lock:
            try:
                return self._spawn(injected)
            except OSError:
                self._revive()
                return self._spawn(injected)

    def _spawn(self, injected: str) -> Offspring:
        ours, theirs = socket.socketpair()
        with theirs:
            try:
                socket.send_fds(self._socket, [b"\0" + injected.encode()], [theirs.fileno()])
                answer = self._socket.recv(8)
            except OSError:
                ours.close()
                raise
        if not answer:
            ours.close()
            raise OSError("the kernel's helper process is gone")
        return Offspring(int.from_bytes(answer, "big"), Connection(ours.detach()))

    def _revive(self) -> None:
        log.error("the kernel's helper process is gone, or hangs; it is started again")
        self._socket.close()
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)
        with contextlib.suppress(ChildProcessError):
            os.waitpid(self.pid, 0)
        ours, theirs = socket.socketpair()
        with theirs:
            code = f"from lathed_solid.worker.zygote import breed_on; breed_on({theirs.fileno()})"
            paths = os.pathsep.join(filter(None, sys.path))
            made = subprocess.Popen(
                [sys.executable, "-c", code],
                pass_fds=[theirs.fileno()],
                stdin=subprocess.DEVNULL,
                env={**os.environ, "PYTHONPATH": paths},
            )
        made.returncode = 0  # it is not waited for here: it ends when this program does
        ours.settimeout(HELPER_LIMIT)
        self.pid, self._socket = made.pid, ours


def breed_on(descriptor: int) -> None:
    """Be the helper at the other end of a socket; never returns."""
    _breed(socket.socket(fileno=descriptor))


def _breed(requests: socket.socket) -> None:
    """Main loop of the helper; never returns. It ends when this program does."""
    code = 1
    try:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        gc.disable()
        from . import preload  # noqa: F401

        # What is loaded stays: going through it at every collection takes a tenth of a second in each process.
        gc.freeze()
        gc.enable()
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
