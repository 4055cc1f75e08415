"""Which step the kernel is at: told now and then, not for every quick step, and ended when it takes too long."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ..timing import one_shot

#: Longest a step may take, seconds.
STEP_LIMIT = 90
#: Repainting the window for every quick step would take longer than the steps do.
NOTICE_MS = 400


class Busy(QObject):
    """``step`` is the id of the step at work, "" for none; ``ticket`` the request it belongs to. ``shown`` tells it now
    and then, and "" at the end.
    """

    shown = pyqtSignal(str)
    overdue = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.step, self.ticket = "", 0
        self._told = False
        self._limit = one_shot(self, 1000 * STEP_LIMIT)
        self._limit.timeout.connect(self._run_out)
        self._notice = one_shot(self, NOTICE_MS)
        self._notice.timeout.connect(self._tell)

    def begin(self, step: str, ticket: int) -> None:
        self.step, self.ticket = step, ticket
        self._limit.start()
        if not self._notice.isActive():
            self._notice.start()

    def end(self) -> None:
        self.step, self.ticket = "", 0
        self._limit.stop()
        self._notice.stop()
        if self._told:
            self._told = False
            self.shown.emit("")

    def _tell(self) -> None:
        if self.step:
            self._told = True
            self.shown.emit(self.step)

    def _run_out(self) -> None:
        if self.step:
            self.overdue.emit()
