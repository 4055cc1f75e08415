"""The window's side of the kernel process: start, ask, cancel, and start again after a fall."""

from __future__ import annotations

import multiprocessing
import multiprocessing.forkserver
import os
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess

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

_FINAL = (Proved, Exported, Hatched, Failed)


def warm_up() -> None:
    """Start the fork server and let it load the kernel. Call before any window or thread exists."""
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["lathed_solid.worker.preload"])
    multiprocessing.forkserver.ensure_running()


class Client:
    """One kernel process at a time. ``on_reply`` is called from a thread of the client's own.

    Of several builds asked for while one runs only the newest is carried out.
    """

    def __init__(self, on_reply: Callable[[Reply], None]) -> None:
        self._on_reply = on_reply
        self._lock = threading.Lock()
        self._context = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(["lathed_solid.worker.preload"])
        self._process: BaseProcess | None = None
        self._pipe: Connection | None = None
        self._running: Request | None = None
        self._waiting: list[Request] = []
        self._step = ""
        self._cancelled = self._closed = False
        self._tickets = 0

    def ticket(self) -> int:
        self._tickets += 1
        return self._tickets

    @property
    def is_busy(self) -> bool:
        return self._running is not None

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
        if self._process is not None:
            self._process.join(2)

    @property
    def process_id(self) -> int | None:
        return self._process.pid if self._process else None

    def _next(self) -> None:
        """Send the next request if nothing runs. Called with the lock held."""
        if self._running is not None or not self._waiting or self._closed:
            return
        if self._process is None or self._pipe is None:
            self._start()
        self._running, self._step = self._waiting.pop(0), ""
        assert self._pipe is not None
        try:
            self._pipe.send_bytes(encode(self._running))
        except (BrokenPipeError, OSError):
            return  # the reader sees the same end and reports it

    def _start(self) -> None:
        ours, theirs = self._context.Pipe()
        self._process = self._context.Process(
            target=_serve, args=(theirs, os.environ.get(faults.VARIABLE, "")), daemon=True
        )
        self._process.start()
        theirs.close()
        self._pipe = ours
        threading.Thread(target=self._read, args=(ours,), daemon=True, name="kernel-replies").start()

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
            self._running = self._process = self._pipe = None
            self._cancelled, self._step = False, ""
            closed = self._closed
        if closed:
            return
        self._on_reply(reply)
        with self._lock:
            self._next()


def _serve(connection: Connection, injected: str) -> None:
    from .process import serve

    serve(connection, injected)
