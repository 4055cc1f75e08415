"""Pictures read in processes of their own (see :mod:`picture_process`), one a task; what was read of a sheet is kept
on the disk by the picture's bytes and the reader's version.
"""

from __future__ import annotations

import contextlib
import hashlib
import logging
import subprocess
import time
from collections.abc import Callable, Iterator
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TypeVar

import msgspec

from ..core.drawing.paper import CannotRead
from ..core.drawing.scan.model import VERSION, Box, SheetText, Step
from ..core.job.files import write_atomic
from ..core.packed import Unpacker
from .helper import started
from .picture_process import (
    CornersFound,
    FindCorners,
    FindLines,
    Flat,
    Linework,
    Message,
    ReadSheet,
    Refused,
    Straighten,
    Task,
    Text,
    Told,
    decode_message,
    encode,
)

log = logging.getLogger(__name__)
#: A picture may take so long, seconds of the clock; readings kept on the disk.
MOST_SECONDS, KEPT = 300.0, 200
Tell = Callable[[Step], object]
Wanted = TypeVar("Wanted", CornersFound, Flat, Linework)
_decode_text = Unpacker[SheetText](SheetText)


class Stopped(CannotRead):
    """The reading was stopped by whoever asked for it."""


class PictureReader:
    """One task at a time; ``stop`` may be called from any thread."""

    def __init__(self, keep_in: Path, limit: float = MOST_SECONDS) -> None:
        self._folder, self._limit = keep_in, limit
        self._process: subprocess.Popen[bytes] | None = None
        #: How often it was stopped: who asks for a task and knows this says whether that was meant as well.
        self.stops = 0

    def stop(self) -> None:
        """End the present task, and those asked for before that have not begun; what was told so far stands."""
        self.stops += 1
        if (process := self._process) is not None:
            with contextlib.suppress(ProcessLookupError):
                process.kill()

    def kept(self, data: bytes, sheet: int, turned: int) -> SheetText | None:
        """What was read of a sheet before, wholly and by this version."""
        try:
            text = _decode_text(self._path(data, sheet, turned).read_bytes())
        except (OSError, msgspec.MsgspecError):
            return None
        return text if text.version == VERSION and text.is_whole else None

    def read(
        self, data: bytes, name: str, sheet: int, turned: int, tell: Tell, since: int | None = None
    ) -> Iterator[SheetText]:
        """What is found at once, then with what the slower finder adds; ``since`` is how often it had been stopped when
        this was asked for. Raises CannotRead, Stopped.
        """
        known = self.kept(data, sheet, turned)
        if known is not None:
            yield known
            return
        for message in self._told(ReadSheet(data, name, sheet, turned), name, tell, since):
            assert isinstance(message, Text)
            if message.text.is_whole:
                self._keep(self._path(data, sheet, turned), message.text)
            yield message.text

    def corners(self, data: bytes, name: str, sheet: int) -> CornersFound:
        return self._answer(FindCorners(data, name, sheet), name, CornersFound)

    def straightened(
        self, data: bytes, name: str, sheet: int, corners: tuple[tuple[float, float], ...], paper: tuple[float, float]
    ) -> Flat:
        return self._answer(Straighten(data, name, sheet, corners, paper), name, Flat)

    def linework(self, data: bytes, name: str, sheet: int, box: Box) -> Linework:
        return self._answer(FindLines(data, name, sheet, box), name, Linework)

    def _answer(self, task: Task, name: str, wanted: type[Wanted]) -> Wanted:
        found = [m for m in self._told(task, name, lambda _: None) if isinstance(m, wanted)]
        if not found:
            raise CannotRead(f"{name} could not be worked on.")
        return found[-1]

    def _told(self, task: Task, name: str, tell: Tell, since: int | None = None) -> Iterator[Message]:
        """What the process says, progress apart. Raises CannotRead, Stopped."""
        since = self.stops if since is None else since
        pipe = self._start()
        until = time.monotonic() + self._limit
        try:
            if self.stops != since:  # before there was a process to be ended
                raise EOFError
            pipe.send_bytes(encode(task))
            while True:
                if not pipe.poll(max(0.0, until - time.monotonic())):
                    raise CannotRead(f"{name} took longer than {self._limit:g} s to read and was let go.")
                message = decode_message(pipe.recv_bytes())
                if isinstance(message, Told):
                    tell(Step(message.words, message.done, message.of))
                elif isinstance(message, Refused):
                    if message.trouble:
                        log.error("%s could not be read: %s", name, message.trouble)
                    raise CannotRead(message.words)
                else:
                    yield message
        except (OSError, EOFError) as error:
            if self.stops != since:
                raise Stopped(f"Reading {name} was stopped.") from None
            if self._ended() != 0:
                raise CannotRead(
                    f"The reader fell over {name}: it needs more memory than there is, or the file is damaged. "
                    "Click each size and type it, or save the picture smaller."
                ) from error
        finally:
            pipe.close()
            self._end()

    def _start(self) -> Connection:
        self._process, pipe = started("picture_process", OMP_THREAD_LIMIT="1")
        return pipe

    def _ended(self) -> int:
        process = self._process
        try:
            return process.wait(2.0) if process is not None else 0
        except subprocess.TimeoutExpired:
            return 0

    def _end(self) -> None:
        if (process := self._process) is not None:
            with contextlib.suppress(ProcessLookupError):
                process.kill()
            process.wait()
        self._process = None

    # --- what is kept
    def _path(self, data: bytes, sheet: int, turned: int) -> Path:
        return self._folder / f"{hashlib.sha256(data).hexdigest()[:32]}-{sheet}-{turned % 4}-{VERSION}.read"

    def _keep(self, path: Path, text: SheetText) -> None:
        """A full disk or a folder that may not be written only means that the sheet is read again."""
        with contextlib.suppress(OSError, CannotRead):
            path.parent.mkdir(parents=True, exist_ok=True)
            write_atomic(path, msgspec.msgpack.encode(text), private=True)
            every = sorted(path.parent.glob("*.read"), key=lambda p: p.stat().st_mtime)
            for old in every[:-KEPT]:
                old.unlink(missing_ok=True)
