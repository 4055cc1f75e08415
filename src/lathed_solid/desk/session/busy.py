"""What the kernel is at: told now and then, not for every quick step, and ended when it takes too long."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ..timing import one_shot

#: Longest a step may take, and anything else that is asked of a kernel (a proof, a file, routes compared), seconds.
STEP_LIMIT, TASK_LIMIT = 90, 600
#: Repainting the window for every quick step would take longer than the steps do.
NOTICE_MS = 400


class Task(NamedTuple):
    """Something other than a step: the request it belongs to, and what it is in words (``writing part.step``)."""

    ticket: int
    words: str


class Busy(QObject):
    """``step`` is the id of the step at work, "" for none; ``ticket`` the request it belongs to; ``task`` what is done
    besides. ``shown`` tells the step now and then, or "" for none; ``overdue`` the request that has run past its time.
    """

    shown = pyqtSignal(str)
    overdue = pyqtSignal(int)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.step, self.ticket = "", 0
        self._tasks: dict[str, Task] = {}
        self._told = False
        self._limit = one_shot(self, 1000 * STEP_LIMIT)
        self._limit.timeout.connect(self._step_over)
        self._task_limit = one_shot(self, 1000 * TASK_LIMIT)
        self._task_limit.timeout.connect(self._task_over)
        self._notice = one_shot(self, NOTICE_MS)
        self._notice.timeout.connect(self._tell)

    @property
    def task(self) -> Task | None:
        """What has been asked for longest and is not done yet."""
        return next(iter(self._tasks.values()), None)

    def begin(self, step: str, ticket: int) -> None:
        self.step, self.ticket = step, ticket
        self._limit.start()
        self._notice_soon()

    def end(self) -> None:
        """No step is at work."""
        self.step, self.ticket = "", 0
        self._limit.stop()
        self._quiet()

    def undertake(self, kind: str, ticket: int, words: str) -> None:
        """Something of a kind is asked for; it takes the place of the last of that kind."""
        self._tasks[kind] = Task(ticket, words)
        self._task_limit.start()
        self._notice_soon()

    def done(self, ticket: int = 0, kind: str = "") -> None:
        """What was asked with a ticket, or is of a kind, is done or given up."""
        self._tasks = {k: t for k, t in self._tasks.items() if t.ticket != ticket and k != kind}
        if not self._tasks:
            self._task_limit.stop()
        self._quiet()

    def _notice_soon(self) -> None:
        if not self._notice.isActive():
            self._notice.start()

    def _quiet(self) -> None:
        if self.step or self._tasks:
            return
        self._notice.stop()
        if self._told:
            self._told = False
            self.shown.emit("")

    def _tell(self) -> None:
        if self.step or self._tasks:
            self._told = True
            self.shown.emit(self.step)

    def _step_over(self) -> None:
        if self.step:
            self.overdue.emit(self.ticket)

    def _task_over(self) -> None:
        if (task := self.task) is not None:
            self.overdue.emit(task.ticket)
