"""The window's side of the kernel process: start, ask, cancel, and start again after a fall."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection

from . import faults
from .protocol import (
    Build,
    Exported,
    Failed,
    Fallen,
    Hatched,
    Proved,
    Reply,
    Request,
    Started,
    decode_reply,
    encode,
)
from .zygote import Offspring, warm_up

_FINAL = (Proved, Exported, Hatched, Failed)


class Client:
    """One kernel process at a time. ``on_reply`` is called from a thread of the client's own.

    Of several builds asked for while one runs only the newest is carried out.
    """

    def __init__(self, on_reply: Callable[[Reply], None]) -> None:
        self._on_reply = on_reply
        self._lock = threading.Lock()
        self._process: Offspring | None = None
        self._running: Request | None = None
        self._waiting: list[Request] = []
        self._step = ""
        self._cancelled = self._closed = self._starting = False
        self._tickets = 0

    def ticket(self) -> int:
        self._tickets += 1
        return self._tickets

    @property
    def is_busy(self) -> bool:
        return self._running is not None or bool(self._waiting)

    def ask(self, request: Request) -> None:
        with self._lock:
            if isinstance(request, Build):
                self._waiting = [r for r in self._waiting if not isinstance(r, Build)]
            self._waiting.append(request)
            self._next()

    def cancel(self) -> None:
        """Stop what runs at once by ending the process; waiting requests are dropped too."""
        with self._lock:
            self._waiting.clear()
            if self._running is not None and self._process is not None:
                self._cancelled = True
                self._process.kill()

    def close(self) -> None:
        with self._lock:
            self._closed = True
            self._waiting.clear()
            if self._process is not None:
                self._process.kill()

    def _next(self) -> None:
        """Send the next request if nothing runs. Called with the lock held."""
        if self._running is not None or not self._waiting or self._closed or self._starting:
            return
        if self._process is None:
            # The helper may still be loading the kernel; nobody waits for it.
            self._starting = True
            threading.Thread(target=self._start, daemon=True, name="kernel-start").start()
            return
        self._running, self._step = self._waiting.pop(0), ""
        try:
            self._process.pipe.send_bytes(encode(self._running))
        except (BrokenPipeError, OSError):
            return  # the reader sees the same end and reports it

    def _start(self) -> None:
        """Start a process, then send what waits. Runs in a thread of its own, and goes on reading the replies."""
        process = warm_up().spawn(os.environ.get(faults.VARIABLE, ""))
        with self._lock:
            self._process, self._starting = process, False
            if self._closed:
                process.kill()
                return
            self._next()
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
            if isinstance(reply, _FINAL):
                with self._lock:
                    self._running = None
                    self._next()
            self._on_reply(reply)

    def _fallen(self) -> None:
        with self._lock:
            ticket = self._running.ticket if self._running else 0
            reply = Fallen(ticket, self._step, self._cancelled)
            self._running = self._process = None
            self._cancelled, self._step = False, ""
            closed = self._closed
        if closed:
            return
        self._on_reply(reply)
        with self._lock:
            self._next()
