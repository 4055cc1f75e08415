"""Lanes: who waits for whom. A lane has its own kernel processes and its own rule of what is still worth doing."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection

from . import faults
from .protocol import (
    FINAL,
    Build,
    Drop,
    Dropped,
    Fallen,
    Reply,
    Request,
    Started,
    decode_reply,
    encode,
)
from .zygote import Offspring, warm_up


class Kernel:
    """One kernel process: started when first needed, and again after a fall. It carries out one request at a time.

    All methods are called with the lane's lock held; ``tell`` and ``free`` are called without it, from a thread of the
    kernel's own.
    """

    def __init__(self, lock: threading.RLock, tell: Callable[[Reply], None], free: Callable[[], None]) -> None:
        self._lock, self._tell, self._free = lock, tell, free
        self._process: Offspring | None = None
        self._starting = self._cancelled = self._closed = False
        self._step = ""
        self.running: Request | None = None

    @property
    def is_ready(self) -> bool:
        return self._process is not None and self.running is None

    def start(self) -> None:
        """The helper may still be loading the kernel; nobody waits for it."""
        if self._process is None and not self._starting and not self._closed:
            self._starting = True
            threading.Thread(target=self._start, daemon=True, name="kernel-start").start()

    def send(self, request: Request) -> None:
        self.running, self._step = request, ""
        self._write(request)

    def drop(self) -> None:
        """Let what runs go at its next step: something newer is wanted. What it has built so far is kept for that."""
        if self.running is not None:
            self._write(Drop(self.running.ticket))

    def kill(self) -> None:
        """Stop what runs at once by ending the process."""
        if self.running is not None and self._process is not None:
            self._cancelled = True
            self._process.kill()

    def close(self) -> None:
        self._closed = True
        if self._process is not None:
            self._process.kill()

    def _write(self, message: Request | Drop) -> None:
        assert self._process is not None
        try:
            self._process.pipe.send_bytes(encode(message))
        except OSError:
            return  # the reader sees the same end and reports it

    def _start(self) -> None:
        process = warm_up().spawn(os.environ.get(faults.VARIABLE, ""))
        with self._lock:
            self._process, self._starting = process, False
            if self._closed:
                process.kill()
                return
        self._free()
        self._read(process.pipe)

    def _read(self, pipe: Connection) -> None:
        while True:
            try:
                reply = decode_reply(pipe.recv_bytes())
            except (EOFError, OSError):
                self._fallen()
                return
            if isinstance(reply, Started):
                self._step = reply.step
            if isinstance(reply, FINAL):
                with self._lock:
                    self.running = None
                self._free()
            if not isinstance(reply, Dropped):
                self._tell(reply)

    def _fallen(self) -> None:
        with self._lock:
            ticket = self.running.ticket if self.running else 0
            reply = Fallen(ticket, self._step, self._cancelled)
            self.running = self._process = None
            self._cancelled, self._step = False, ""
            closed = self._closed
        if not closed:
            self._tell(reply)
            self._free()


class Lane:
    """Requests on ``kernels`` processes. ``tell`` is called from threads of the lane's own.

    With ``newest`` a build takes the place of those that wait, and one that runs is let go at its next step; else all
    are carried out in the order they were asked for.
    """

    def __init__(self, tell: Callable[[Reply], None], kernels: int = 1, newest: bool = False) -> None:
        self._lock, self._newest = threading.RLock(), newest
        self._waiting: list[Request] = []
        self._kernels = [Kernel(self._lock, tell, self._next) for _ in range(kernels)]

    @property
    def is_busy(self) -> bool:
        return bool(self._waiting) or any(k.running is not None for k in self._kernels)

    def ask(self, request: Request) -> None:
        with self._lock:
            if self._newest and isinstance(request, Build):
                self._waiting = [r for r in self._waiting if not isinstance(r, Build)]
                for kernel in self._kernels:
                    if isinstance(kernel.running, Build):
                        kernel.drop()
            self._waiting.append(request)
            self._next()

    def cancel(self, ticket: int | None = None) -> None:
        """Stop a request at once, or all of them; those that wait are forgotten without a word."""
        with self._lock:
            self._waiting = [r for r in self._waiting if ticket is not None and r.ticket != ticket]
            for kernel in self._kernels:
                if kernel.running is not None and ticket in (None, kernel.running.ticket):
                    kernel.kill()

    def close(self) -> None:
        with self._lock:
            self._waiting.clear()
            for kernel in self._kernels:
                kernel.close()

    def _next(self) -> None:
        """Send what waits to kernels that are free; start one when none is."""
        with self._lock:
            for kernel in self._kernels:
                if self._waiting and kernel.is_ready:
                    kernel.send(self._waiting.pop(0))
            for kernel in [k for k in self._kernels if k.running is None][: len(self._waiting)]:
                kernel.start()
