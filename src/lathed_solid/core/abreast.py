"""One thing done to many, on all cores at once, by forks of this process: what it has built, each of them has too."""

from __future__ import annotations

import contextlib
import ctypes
import gc
import os
import signal
import time
import traceback
from collections.abc import Callable, Iterator, Sequence
from multiprocessing.connection import Connection, Pipe, wait
from typing import Generic, TypeVar

T = TypeVar("T")
R = TypeVar("R")
#: No more forks than this, for each holds what it builds.
_MOST = 8
#: The parent looks up so often, seconds, from waiting for its forks.
_LOOK = 0.05
#: ``prctl``: the signal that a process gets when its parent has gone (linux/prctl.h).
_SET_PARENT_DEATH_SIGNAL = 1
_forked = False


def is_forked() -> bool:
    """Whether this process is one of the forks: the kernel's threads are not there, nor may it speak for its parent."""
    return _forked


def cores() -> int:
    """Those this process may use."""
    return len(os.sched_getaffinity(0))


def each(
    do: Callable[[T], R],
    items: Sequence[T],
    *,
    many: int = _MOST,
    going: Callable[[], object] = lambda: None,
    limit: float = float("inf"),
    missed: Callable[[T], object] = lambda _: None,
) -> Iterator[R | None]:
    """``do`` of each item, in their order. What it gives must travel through a pipe; what it keeps stays in its fork.

    An item that takes longer than ``limit`` seconds, or whose fork falls, is ``missed`` and gives None. ``going`` is
    called while there is waiting to do and may raise to let all go. With one core, or one item, or where no more than
    one fork is allowed (``many``), it is done here, without a limit. Raises RuntimeError, with the fork's own words,
    where ``do`` raises there.
    """
    many = min(cores(), len(items), many)
    if many < 2 or _forked:
        for item in items:
            going()
            yield do(item)
        return
    forks = [_Fork(do, items, n, many, limit) for n in range(many)]
    try:
        for n, item in enumerate(items):
            fork = forks[n % many]
            while n not in fork.found:
                going()
                wait([f.pipe for f in forks if f.is_open], timeout=_LOOK)
                for each_fork in forks:
                    each_fork.take()
            found = fork.found.pop(n)
            if found:
                yield found[0]
            else:
                missed(item)
                yield None
    finally:
        for fork in forks:
            fork.end()


class _Fork(Generic[T, R]):
    """One fork with its share of the items, from ``first`` every ``step``-th. ``found`` has what came of each, by its
    place: one thing, or none where it was missed.
    """

    def __init__(self, do: Callable[[T], R], items: Sequence[T], first: int, step: int, limit: float) -> None:
        self._do, self._items, self._step, self._limit = do, items, step, limit
        self.found: dict[int, tuple[R] | tuple[()]] = {}
        self._next = first
        self.is_open = False
        self._begin()

    def _begin(self) -> None:
        self.pipe, its = Pipe(duplex=False)
        self._child = os.fork()
        if self._child == 0:
            self._work(its)
        its.close()
        self.is_open, self._heard = True, time.monotonic()

    def _work(self, pipe: Connection) -> None:
        """What the fork does; it never returns."""
        global _forked
        _forked = True
        try:
            ctypes.CDLL(None).prctl(_SET_PARENT_DEATH_SIGNAL, signal.SIGKILL)
            gc.freeze()
            for n in range(self._next, len(self._items), self._step):
                pipe.send((n, self._do(self._items[n])))
        except Exception:
            pipe.send((-1, traceback.format_exc()))
        finally:
            os._exit(0)

    def take(self) -> None:
        """Take what has come. Where the fork has gone, or is late, it goes on in a new one after what it was at."""
        while self.is_open and self.pipe.poll():
            try:
                n, found = self.pipe.recv()
            except (EOFError, OSError):
                self._lost()
                return
            if n < 0:
                raise RuntimeError(found)
            self.found[n], self._next, self._heard = (found,), n + self._step, time.monotonic()
        if self.is_open and self._next < len(self._items) and time.monotonic() - self._heard > self._limit:
            self._lost()

    def _lost(self) -> None:
        self.end()
        if self._next < len(self._items):
            self.found[self._next] = ()
            self._next += self._step
        if self._next < len(self._items):
            self._begin()

    def end(self) -> None:
        if self.is_open:
            self.is_open = False
            with contextlib.suppress(ProcessLookupError, ChildProcessError):  # where the system reaps
                os.kill(self._child, signal.SIGKILL)
                os.waitpid(self._child, 0)
            self.pipe.close()
