"""The window's side of the kernel processes: what is asked for, in which lane, and the replies to it."""

from __future__ import annotations

import itertools
import os
from collections.abc import Callable

from .lane import Lane
from .protocol import Reply, Request

#: Processes that studies may take, at most: they are for what can wait.
STUDIES = 2


class Client:
    """Three kinds of questions. ``on_reply`` is called from threads of the client's own.

    The ``present`` part and what is only looked at share one process, because a look is nearly always at the part's
    next state: what it builds is there when it is taken. The newest wins; one that runs is let go at its next step.
    A ``study`` may take long: its processes are its own, and it never delays the present.
    """

    def __init__(self, on_reply: Callable[[Reply], None]) -> None:
        self._tickets = itertools.count(1)
        self._present = Lane(on_reply, newest=True)
        self._study = Lane(on_reply, kernels=max(1, min(STUDIES, (os.cpu_count() or 2) - 1)))

    def ticket(self) -> int:
        return next(self._tickets)

    @property
    def is_busy(self) -> bool:
        return self._present.is_busy or self._study.is_busy

    def ask(self, request: Request) -> None:
        """Ask about the present part, or look at something."""
        self._present.ask(request)

    def study(self, request: Request) -> None:
        self._study.ask(request)

    def cancel(self) -> None:
        """Stop what runs at once, and drop what waits."""
        self._present.cancel()
        self._study.cancel()

    def end(self, ticket: int) -> None:
        """Stop one request at once; all others go on."""
        self._present.cancel(ticket)
        self._study.cancel(ticket)

    def close(self) -> None:
        self._present.close()
        self._study.close()
