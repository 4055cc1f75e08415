"""Rendered pictures asked of the kernel's side lane: one after the other, the last asked counts."""

from __future__ import annotations

import threading
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.fit.model import Assembly
from ...core.issue.picture.model import Kind, Shot
from ...core.job.files import CannotWrite, write_atomic
from ...core.job.model import Content
from ...worker.client import Client
from ...worker.picturing import PictureSoFar, PictureTaken, TakePicture
from ...worker.protocol import Failed, Fallen, Reply
from .busy import Busy
from .jobs import Jobs


class Picturing(QObject):
    """``went_on``: pass done, of how many, and the picture so far (PNG; empty where only the count went on).
    ``taken``: the whole picture (PNG) and the path it was written to, "" for none; empty when it broke off.
    """

    went_on = pyqtSignal(int, int, bytes)
    taken = pyqtSignal(bytes, str)
    #: How saving a picture went, in words, and whether it was written.
    saved = pyqtSignal(str, bool)

    def __init__(self, jobs: Jobs, client: Client, busy: Busy) -> None:
        super().__init__()
        self._jobs, self._client, self._busy = jobs, client, busy
        self._ticket, self._path = 0, ""
        #: Those that nobody waits for any more: whatever becomes of them is not told.
        self._let_go: set[int] = set()

    @property
    def is_busy(self) -> bool:
        return self._ticket != 0

    def take(self, of: Content | Assembly, kind: Kind, shot: Shot, path: Path | None = None, many: int = 24) -> None:
        """Make a picture; one that is under way is let go."""
        self.stop()
        self._ticket, self._path = self._client.ticket(), str(path) if path is not None else ""
        words = f"making {path.name}" if path is not None else "making a picture"
        self._busy.undertake("picture", self._ticket, words)
        content, assembly = (of, None) if isinstance(of, Content) else (None, of)
        store = str(self._jobs.store.folder)
        self._client.study(TakePicture(self._ticket, kind, shot, content, assembly, self._path, many, store))

    def save(self, picture: bytes, path: Path) -> None:
        """Write a picture that was taken, as the ending asks; ``saved`` tells how it went. Putting it into another form
        takes its time, so it is done beside the window.
        """

        def work() -> None:
            from ...core.issue.picture.recoding import recoded

            try:
                write_atomic(path, recoded(picture, path))
            except CannotWrite as error:
                self.saved.emit(error.said_in("mm"), False)
            else:
                self.saved.emit(f"Wrote {path.name}.", True)

        threading.Thread(target=work, daemon=True, name="picture").start()

    def stop(self) -> None:
        """Let go what is under way."""
        if self._ticket:
            ticket, self._ticket = self._ticket, 0
            self._let_go.add(ticket)
            self._client.end(ticket)
            self._busy.done(ticket)

    def answer(self, reply: Reply) -> bool:
        """Whether a reply was a picture's and has been told; one that nobody waits for any more is dropped."""
        mine = reply.ticket == self._ticket and self._ticket != 0
        if isinstance(reply, PictureSoFar):
            if mine:
                self.went_on.emit(reply.done, reply.of, reply.picture)
            return True
        if isinstance(reply, PictureTaken):
            if mine:
                self._ticket = 0
                self.taken.emit(reply.picture, self._path)
            return True
        if not isinstance(reply, Failed | Fallen):
            return False
        if reply.ticket in self._let_go:
            self._let_go.discard(reply.ticket)
            return True
        if mine:
            self._ticket = 0
            self.taken.emit(b"", "")
        return False
