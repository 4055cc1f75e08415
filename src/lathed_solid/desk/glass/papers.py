"""Open drawings of the session, kept off the window's thread: files are read and sheets rendered by one helper."""

from __future__ import annotations

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drawing.cutout import cut_out
from ...core.drawing.opening import MAX_FILE, open_paper
from ...core.drawing.paper import CannotRead, Drawing, Paper, Raster
from ...core.job.files import CannotBeRead, CannotWrite, read_whole
from ...core.refusal import Refusal
from ..session import Session

log = logging.getLogger(__name__)
Box = tuple[float, float, float, float]


class Papers(QObject):
    """``added`` (name, blob, paper) after a file was read; ``ready`` (blob) after a job's drawing was; ``rendered``."""

    added = pyqtSignal(str, str, object)
    ready = pyqtSignal(str)
    refused = pyqtSignal(str)
    rendered = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._papers: dict[str, Paper] = {}
        self._asked: set[str] = set()
        self._is_shut = False
        self._helper = ThreadPoolExecutor(1, thread_name_prefix="sheets")

    def open_file(self, path: Path) -> None:
        """Read a file and keep it as an attachment; the answer comes as a signal."""
        self._submit(lambda: self._read_file(path))

    def _read_file(self, path: Path) -> None:
        try:
            data = read_whole(path, MAX_FILE)
            paper = open_paper(data, path.name)
            blob = self._session.store.put(data)
        except (CannotBeRead, CannotRead, CannotWrite) as error:
            self.refused.emit(str(error))
        else:
            self._papers[blob] = paper
            self.added.emit(path.name, blob, paper)

    def paper(self, drawing: Drawing) -> Paper | None:
        """The open paper of a drawing; None while it is being read (``ready`` follows)."""
        if drawing.blob not in self._papers and drawing.blob not in self._asked:
            self._asked.add(drawing.blob)
            self._submit(lambda: self._read_blob(drawing))
        return self._papers.get(drawing.blob)

    def _read_blob(self, drawing: Drawing) -> None:
        try:
            self._papers[drawing.blob] = open_paper(self._session.store.get(drawing.blob), drawing.name)
        except Refusal as error:
            self.refused.emit(str(error))
        else:
            self.ready.emit(drawing.blob)

    def render(self, paper: Paper, sheet: int, box: Box, width: int, key: object) -> None:
        """Ask for a picture; ``rendered`` brings (key, Raster)."""

        def work() -> None:
            raster: Raster = paper.render(sheet, box, width)
            self.rendered.emit(key, raster)

        self._submit(work)

    def cut_out(self, paper: Paper, sheet: int, x: float, y: float, turned: int) -> str:
        """Keep the surroundings of a place as an attachment; its name, or empty when that cannot be."""
        try:
            return self._session.store.put(cut_out(paper, sheet, x, y, turned))
        except (CannotWrite, CannotRead) as error:
            self._session.say(str(error), "warn")
            return ""

    def _submit(self, work: Callable[[], None]) -> None:
        def guarded() -> None:
            try:
                work()
            except Refusal as error:
                self.refused.emit(error.message)
            except Exception:
                log.exception("a sheet could not be worked on")
                self.refused.emit("This sheet cannot be shown. The rest of the job is not touched by it.")

        if not self._is_shut:
            self._helper.submit(guarded)

    def shut(self) -> None:
        self._is_shut = True
        self._helper.shutdown(wait=True, cancel_futures=True)
