"""Open drawings of the session: read and rendered in a process of their own, asked by a thread of their own."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.callout import Ledger
from ...core.drawing.opening import MAX_FILE
from ...core.drawing.paper import CannotRead, Drawing, Raster
from ...core.drawing.proposals import Proposal, proposals
from ...core.drawing.scan.model import SheetText
from ...core.job.files import read_whole
from ...core.refusal import Refusal
from ...worker.drawings import DrawingReader, FarPaper
from ..hush import hush
from ..session import Session
from .pictures import Pictures

log = logging.getLogger(__name__)
Box = tuple[float, float, float, float]


class Spot(NamedTuple):
    """A place on a sheet, in fractions of it, as the sheet is looked at."""

    sheet: int
    x: float
    y: float
    turned: int


class Papers(QObject):
    """``added`` (name, blob, paper) after a file was read; ``ready`` (blob) after a job's drawing was; ``rendered``
    (key, Raster); ``offered`` (key, proposals); ``cut`` (key, places to names of cut-outs); ``outlined`` (key, outline
    or None, why not); ``viewed`` (blob, the views of a drawing).
    """

    added = pyqtSignal(str, str, object)
    ready = pyqtSignal(str)
    refused = pyqtSignal(str)
    rendered = pyqtSignal(object, object)
    offered = pyqtSignal(object, object)
    cut = pyqtSignal(object, object)
    outlined = pyqtSignal(object, object, str)
    viewed = pyqtSignal(str, tuple)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._papers: dict[str, FarPaper] = {}
        self._asked: set[str] = set()
        self._is_shut = False
        self._reader = DrawingReader()
        self.pictures = Pictures(session)
        self._helper = ThreadPoolExecutor(1, thread_name_prefix="sheets")

    def open_file(self, path: Path) -> None:
        """Read a file and keep it as an attachment; the answer comes as a signal."""

        def work() -> None:
            data = read_whole(path, MAX_FILE)
            paper = self._reader.open(data, path.name)
            blob = self._session.store.put(data)
            self._papers[blob] = paper
            self.added.emit(path.name, blob, paper)

        self._submit(work)

    def paper(self, drawing: Drawing) -> FarPaper | None:
        """The open paper of a drawing; None while it is being read (``ready`` follows)."""
        if drawing.blob not in self._papers and drawing.blob not in self._asked:
            self._asked.add(drawing.blob)
            self._submit(lambda: self._read_blob(drawing))
        return self._papers.get(drawing.blob)

    def _read_blob(self, drawing: Drawing) -> None:
        self._papers[drawing.blob] = self._reader.open(self._session.store.get(drawing.blob), drawing.name)
        self.ready.emit(drawing.blob)

    def render(self, paper: FarPaper, sheet: int, box: Box, width: int, key: object) -> None:
        """Ask for a picture; ``rendered`` brings (key, Raster)."""

        def work() -> None:
            raster: Raster = paper.render(sheet, box, width)
            self.rendered.emit(key, raster)

        self._submit(work)

    def offer(self, paper: FarPaper, sheet: int, ledger: Ledger, key: object) -> None:
        """Ask what can be read off a sheet; ``offered`` brings (key, proposals)."""

        def work() -> None:
            found: tuple[Proposal, ...] = ()
            try:
                found = proposals(paper, sheet, ledger)
            finally:
                self.offered.emit(key, found)

        self._submit(work)

    def judge(self, text: SheetText, sheet: int, ledger: Ledger, key: object) -> None:
        """Ask what a picture's readings offer; ``offered`` brings (key, proposals)."""

        def work() -> None:
            from ...core.drawing.scan.offering import proposed

            self.offered.emit(key, proposed(text, sheet, ledger))

        self._submit(work)

    def cut_out(self, paper: FarPaper, spots: Sequence[Spot], key: object) -> None:
        """Ask for the surroundings of places as attachments; ``cut`` brings (key, their names)."""

        def work() -> None:
            names = {s: self._session.store.put(paper.cut_out(s.sheet, s.x, s.y, s.turned)) for s in spots}
            self.cut.emit(key, names)

        self._submit(work)

    def outline(self, paper: FarPaper, layer: str, join: float, key: object) -> None:
        """Ask for the outline of a DXF; ``outlined`` brings (key, it, and why not when there is none)."""

        def work() -> None:
            try:
                found, words = paper.outline(layer, join), ""
            except CannotRead as error:
                found, words = None, error.message
            self.outlined.emit(key, found, words)

        self._submit(work)

    def views(self, drawing: Drawing) -> None:
        """Ask for the views that a drawing shows; ``viewed`` brings them."""

        def work() -> None:
            if drawing.blob not in self._papers:
                self._read_blob(drawing)
            self.viewed.emit(drawing.blob, self._papers[drawing.blob].views())

        self._submit(work)

    def _submit(self, work: Callable[[], None]) -> None:
        def guarded() -> None:
            try:
                work()
            except Refusal as error:
                if not self._is_shut:
                    self.refused.emit(error.message)
            except Exception:
                log.exception("a sheet could not be worked on")
                self.refused.emit("This sheet cannot be shown. The rest of the job is not touched by it.")

        if not self._is_shut:
            self._helper.submit(guarded)

    def shut(self) -> None:
        self._is_shut = True
        self.pictures.shut()
        self._helper.shutdown(wait=False, cancel_futures=True)
        self._reader.close()
        self._helper.shutdown(wait=True)
        hush(self.added, self.ready, self.refused, self.rendered, self.offered, self.cut, self.outlined, self.viewed)
