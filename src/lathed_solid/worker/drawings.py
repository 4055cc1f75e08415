"""Drawings read in a process of their own (see :mod:`drawing_process`): started when first needed, ended when a
request takes too long, and again there for the next one.
"""

from __future__ import annotations

import contextlib
import itertools
import logging
import subprocess
import threading
import weakref
from collections import deque
from multiprocessing.connection import Connection
from typing import TypeVar

from ..core.drawing.outline import Taken
from ..core.drawing.paper import CannotRead, Kind, Raster, Word
from ..core.drawing.views import DrawnView
from .drawing_process import (
    Answer,
    Box,
    CutOut,
    Forget,
    Look,
    Open,
    Opened,
    Outline,
    Outlined,
    Piece,
    Question,
    Read,
    Refused,
    Render,
    Rendered,
    Text,
    Views,
    decode_answer,
    encode,
)
from .helper import started

log = logging.getLogger(__name__)
#: A request may take so long, seconds of the clock.
MOST_SECONDS = 60.0
Wanted = TypeVar("Wanted", bound=Answer)


class Fell(CannotRead):
    """The process fell over a request, or was ended because it took too long."""


class DrawingReader:
    """One reader process for all drawings. Its methods may be called from any thread; one request at a time."""

    def __init__(self, limit: float = MOST_SECONDS) -> None:
        self._limit = limit
        self._lock = threading.RLock()
        self._process: subprocess.Popen[bytes] | None = None
        self._pipe: Connection | None = None
        self._keys = itertools.count(1)
        #: What the present process holds.
        self._held: set[int] = set()
        #: What nobody looks at any more, to be told before the next request.
        self._gone: deque[int] = deque()
        self._is_shut = False

    def open(self, data: bytes, name: str) -> FarPaper:
        """Raises CannotRead, also for a file that fells its reader."""
        file = Open(next(self._keys), name, data)
        with self._lock:
            opened = self._hold(file)
        paper = FarPaper(self, file, opened)
        weakref.finalize(paper, self._gone.append, file.key)
        return paper

    def close(self) -> None:
        """End the process, also in the middle of a request."""
        self._is_shut = True
        if (process := self._process) is not None:
            process.kill()
        with self._lock:
            self._end()

    def ask_of(self, file: Open, request: Question, wanted: type[Wanted]) -> Wanted:
        """Ask something of an open drawing; a process that fell meanwhile is made anew and opens it again.

        Raises CannotRead.
        """
        with self._lock:
            if file.key not in self._held or not self._is_alive():
                self._hold(file)
            return self._ask(request, wanted, file.name)

    def _hold(self, file: Open) -> Opened:
        if not self._is_alive():
            self._start()
        opened = self._ask(file, Opened, file.name)
        self._held.add(file.key)
        return opened

    def _is_alive(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def _start(self) -> None:
        self._end()
        if self._is_shut:
            raise Fell("The program is closing.")
        self._process, self._pipe = started("drawing_process")

    def _ask(self, request: Question, wanted: type[Wanted], name: str) -> Wanted:
        assert self._pipe is not None
        try:
            while self._gone:
                key = self._gone.popleft()
                if key in self._held:
                    self._held.discard(key)
                    self._pipe.send_bytes(encode(Forget(key)))
            self._pipe.send_bytes(encode(request))
            if not self._pipe.poll(self._limit):
                self._end()
                raise Fell(f"{name} took longer than {self._limit:g} s to read and was let go. Save it simpler.")
            answer = decode_answer(self._pipe.recv_bytes())
        except (OSError, EOFError) as error:
            self._end()
            raise Fell(
                f"The reader fell over {name}: the file is damaged, or needs more memory than there is. "
                "Nothing else is touched. Save the drawing again from where it came, or as another kind."
            ) from error
        if isinstance(answer, Refused):
            if answer.trouble:
                log.error("%s could not be worked on: %s", name, answer.trouble)
            raise CannotRead(answer.words)
        assert isinstance(answer, wanted)
        return answer

    def _end(self) -> None:
        self._held.clear()
        if self._pipe is not None:
            self._pipe.close()
        if self._process is not None:
            with contextlib.suppress(ProcessLookupError):
                self._process.kill()
            self._process.wait()
        self._pipe = self._process = None


class FarPaper:
    """A drawing (:class:`..core.drawing.paper.Paper`) that lies in the reader process; what it said is kept."""

    def __init__(self, reader: DrawingReader, file: Open, opened: Opened) -> None:
        self._reader, self._file = reader, file
        self.kind: Kind = opened.kind
        self.sheets, self.layers = len(opened.sizes), opened.layers
        self._sizes, self._scale = opened.sizes, opened.scale
        self._texts: dict[int, Text] = {}

    def size(self, sheet: int) -> tuple[float, float]:
        return self._sizes[sheet - 1]

    def natural_scale(self) -> float:
        return self._scale

    def dots(self, sheet: int) -> float:
        """Told only where pictures are read, which is another process."""
        return 0.0

    def render(self, sheet: int, box: Box, width: int) -> Raster:
        return self._reader.ask_of(self._file, Render(self._file.key, sheet, box, width), Rendered).raster

    def words(self, sheet: int) -> tuple[Word, ...]:
        return self._text(sheet).words

    def sizes(self, sheet: int) -> tuple[Word, ...]:
        return self._text(sheet).sizes

    def dimensions(self, sheet: int) -> tuple[tuple[str, float, float], ...]:
        return self._text(sheet).dimensions

    def has_read(self, sheet: int) -> bool:
        """Whether the text of a sheet is here, so that asking for it takes no time."""
        return sheet in self._texts

    def cut_out(self, sheet: int, x: float, y: float, turned: int) -> bytes:
        return self._reader.ask_of(self._file, CutOut(self._file.key, sheet, x, y, turned), Piece).png

    def outline(self, layer: str, join: float) -> Taken:
        """The linework of a DXF layer (empty: of all) as a sketch, ends joined within ``join`` mm."""
        return self._reader.ask_of(self._file, Outline(self._file.key, layer, join), Outlined).taken

    def views(self) -> tuple[DrawnView, ...]:
        """The views that a DXF shows, the one with most lines first; none of another kind."""
        return self._reader.ask_of(self._file, Look(self._file.key), Views).views

    def _text(self, sheet: int) -> Text:
        if sheet not in self._texts:
            self._texts[sheet] = self._reader.ask_of(self._file, Read(self._file.key, sheet), Text)
        return self._texts[sheet]
