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
    Endure,
    Failed,
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

    def __init__(
        self,
        lock: threading.RLock,
        tell: Callable[[Reply], None],
        free: Callable[[], None],
        retry: Callable[[Request], None],
        refuse: Callable[[str], None],
    ) -> None:
        self._lock, self._tell, self._free, self._retry, self._refuse = lock, tell, free, retry, refuse
        self._process: Offspring | None = None
        self._starting = self._cancelled = self._closed = False
        #: The process has said something to what runs; what it never heard may be asked of another.
        self._heard = self._again = False
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

    def send(self, request: Request, again: bool = False) -> None:
        self._again = again
        self.running, self._step, self._heard = request, "", False
        self._cancelled = False  # what was ended before it: the process may still be going down for that
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
        try:
            process = warm_up().spawn(os.environ.get(faults.VARIABLE, ""))
        except OSError as error:
            self._cannot_start(error)
            return
        with self._lock:
            self._process, self._starting = process, False
            if self._closed:
                process.kill()
                return
        self._free()
        self._read(process.pipe)

    def _cannot_start(self, error: OSError) -> None:
        """No kernel process can be had: whoever waits is told, and the next request tries again."""
        with self._lock:
            self._starting = False
        self._refuse(f"The kernel could not be started: {error}. Save your work and start the program again.")

    def _read(self, pipe: Connection) -> None:
        while True:
            try:
                reply = decode_reply(pipe.recv_bytes())
            except (EOFError, OSError):
                self._fallen()
                return
            self._heard = True
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
            lost = self.running
            if lost is not None and not (self._heard or self._cancelled or self._again or self._closed):
                # It had died before it was asked, and nobody knew: the request was never at fault.
                self._process = None
                self._retry(lost)
                return
            reply = Fallen(lost.ticket if lost else 0, self._step, self._cancelled)
            self.running = self._process = None
            self._cancelled, self._step = False, ""
            closed = self._closed
        if not closed:
            self._tell(reply)
            self._free()


class Lane:
    """Requests on ``kernels`` processes. ``tell`` is called from threads of the lane's own.

    With ``newest`` a build takes the place of those that wait, and one that runs is let go at its next step; else all
    are carried out in the order they were asked for, those that take longest last.
    """

    def __init__(self, tell: Callable[[Reply], None], kernels: int = 1, newest: bool = False) -> None:
        self._lock, self._newest = threading.RLock(), newest
        self._waiting: list[Request] = []
        #: The request that is asked for the second time, because its process was dead before it could hear it.
        self._retried: Request | None = None
        self._tell = tell
        self._kernels = [Kernel(self._lock, tell, self._next, self._retry, self._refuse) for _ in range(kernels)]

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
            last = next((k for k, r in enumerate(self._waiting) if isinstance(r, Endure)), len(self._waiting))
            self._waiting.insert(len(self._waiting) if isinstance(request, Endure) else last, request)
            self._next()

    def cancel(self, ticket: int | None = None) -> None:
        """Stop a request at once, or all of them; those that wait are told as fallen too: somebody waits for them."""
        with self._lock:
            dropped = [r for r in self._waiting if ticket in (None, r.ticket)]
            self._waiting = [r for r in self._waiting if ticket not in (None, r.ticket)]
            for kernel in self._kernels:
                if kernel.running is not None and ticket in (None, kernel.running.ticket):
                    kernel.kill()
        for request in dropped:
            self._tell(Fallen(request.ticket, "", True))

    def close(self) -> None:
        with self._lock:
            self._waiting.clear()
            for kernel in self._kernels:
                kernel.close()

    def _retry(self, request: Request) -> None:
        """Ask once more what a process that was already dead never heard; called with the lock held."""
        for kernel in self._kernels:
            if kernel.running is request:
                kernel.running = None
        self._retried = request
        self._waiting.insert(0, request)
        self._next()

    def _refuse(self, words: str) -> None:
        """Tell everyone who waits that there is no kernel to be had."""
        with self._lock:
            waiting, self._waiting = self._waiting, []
        for request in waiting:
            self._tell(Failed(request.ticket, words))

    def _next(self) -> None:
        """Send what waits to kernels that are free; start one when none is."""
        with self._lock:
            for kernel in self._kernels:
                if self._waiting and kernel.is_ready:
                    request = self._waiting.pop(0)
                    kernel.send(request, again=request is self._retried)
            for kernel in [k for k in self._kernels if k.running is None][: len(self._waiting)]:
                kernel.start()
