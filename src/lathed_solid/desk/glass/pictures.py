"""Pictures read for the session: in processes of their own, watched by threads of their own, so that nothing waits."""

from __future__ import annotations

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

from platformdirs import user_cache_path
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drawing.paper import Drawing
from ...core.drawing.scan.model import Box, SheetText
from ...core.refusal import Refusal
from ...worker.fetching import Fetching
from ...worker.pictures import PictureReader, Stopped
from ..hush import hush
from ..session import Session

log = logging.getLogger(__name__)


class SheetKey(NamedTuple):
    """A sheet as it is looked at, by content."""

    blob: str
    sheet: int
    turned: int


class Pictures(QObject):
    """``progressed`` (key, Step) and ``read`` (key, SheetText, twice: at once, and with what the slower finder adds);
    ``failed`` (key, words; empty when it was stopped). ``cornered``, ``flattened`` and ``outlined`` bring (key,
    answer); ``fetching`` tells how the extra is coming, ``fetched`` that it is here, or why not.
    """

    progressed = pyqtSignal(object, object)
    read = pyqtSignal(object, object)
    failed = pyqtSignal(object, str)
    cornered = pyqtSignal(object, object)
    flattened = pyqtSignal(object, object)
    outlined = pyqtSignal(object, object)
    fetching = pyqtSignal(str)
    fetched = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        folder = user_cache_path("lathed-solid") / "read"
        #: One reads, the other does what hands ask for meanwhile.
        self._eyes, self._hands = PictureReader(folder), PictureReader(folder)
        self._reading = ThreadPoolExecutor(1, thread_name_prefix="pictures")
        self._doing = ThreadPoolExecutor(1, thread_name_prefix="straightening")
        self._fetch: Fetching | None = None
        self._at: SheetKey | None = None
        self._is_shut = False

    # --- reading
    @property
    def at(self) -> SheetKey | None:
        """The sheet that is being read."""
        return self._at

    def want(self, drawing: Drawing, sheet: int) -> SheetKey:
        """Ask for a sheet; one that is being read for nobody any more is let go."""
        key = SheetKey(drawing.blob, sheet, drawing.turned)
        if self._at not in (None, key):
            self._eyes.stop()
        since = self._eyes.stops
        self._submit(self._reading, key, lambda: self._read(drawing, key, since))
        return key

    def stop(self) -> None:
        self._eyes.stop()

    def _read(self, drawing: Drawing, key: SheetKey, since: int) -> None:
        self._at = key
        try:
            data = self._session.store.get(drawing.blob)
            tell = self.progressed.emit
            told = self._eyes.read(data, drawing.name, key.sheet, key.turned, lambda step: tell(key, step), since)
            for text in told:
                self._told(text, key)
        finally:
            self._at = None

    def _told(self, text: SheetText, key: SheetKey) -> None:
        if not self._is_shut:
            self.read.emit(key, text)

    # --- straightening and outlines
    def corners(self, drawing: Drawing, blob: str, sheet: int) -> None:
        """Ask where the sheet's corners are on a picture; ``cornered`` brings them."""
        self._ask(self.cornered, blob, lambda d: self._hands.corners(d, drawing.name, sheet))

    def straighten(
        self,
        drawing: Drawing,
        blob: str,
        sheet: int,
        corners: tuple[tuple[float, float], ...],
        paper: tuple[float, float],
    ) -> None:
        """Ask for the sheet laid flat; ``flattened`` brings it."""
        self._ask(self.flattened, blob, lambda d: self._hands.straightened(d, drawing.name, sheet, corners, paper))

    def outline(self, drawing: Drawing, sheet: int, box: Box) -> None:
        """Ask for the thick lines and circles in a box; ``outlined`` brings them."""
        self._ask(self.outlined, drawing.blob, lambda d: self._hands.linework(d, drawing.name, sheet, box))

    def _ask(self, signal: object, blob: str, do: Callable[[bytes], object]) -> None:
        def work() -> None:
            answer = do(self._session.store.get(blob))
            if not self._is_shut:
                signal.emit(blob, answer)  # type: ignore[attr-defined]

        self._submit(self._doing, blob, work)

    def _submit(self, lane: ThreadPoolExecutor, key: object, work: Callable[[], None]) -> None:
        def guarded() -> None:
            try:
                work()
                return
            except Stopped:
                words = ""
            except Refusal as refusal:
                words = refusal.message
            except Exception:
                log.exception("a picture could not be worked on")
                words = "This picture could not be worked on. Click each size and type it."
            if not self._is_shut:
                self.failed.emit(key, words)

        if not self._is_shut:
            lane.submit(guarded)

    # --- the extra
    def fetch(self) -> None:
        """Fetch what reading pictures needs; ``fetched`` says when it is here (no words) or why not."""
        if self._fetch is not None:
            return
        fetch = self._fetch = Fetching()

        def work() -> None:
            words = ""
            try:
                fetch.run(self.fetching.emit)
            except Refusal as refusal:
                words = refusal.message
            self._fetch = None
            if not self._is_shut:
                self.fetched.emit(words)

        self._submit(self._doing, "", work)

    def stop_fetching(self) -> None:
        if self._fetch is not None:
            self._fetch.stop()

    @property
    def is_fetching(self) -> bool:
        return self._fetch is not None

    def shut(self) -> None:
        self._is_shut = True
        self.stop_fetching()
        for lane in (self._reading, self._doing):
            lane.shutdown(wait=False, cancel_futures=True)
        for reader in (self._eyes, self._hands):
            reader.stop()
        for lane in (self._reading, self._doing):
            lane.shutdown(wait=True)
        hush(self.progressed, self.read, self.failed, self.cornered, self.flattened, self.outlined)
        hush(self.fetching, self.fetched)
