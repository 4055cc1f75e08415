"""The process that reads one picture: it loads the recognisers, reads, tells how far it is, and ends.

One a reading, so that its memory is gone afterwards, and stopping it is ending it. Nothing here is imported by the
rest of the program.
"""

from __future__ import annotations

import logging
import os
import resource
import sys
import traceback
import warnings
from collections.abc import Callable
from multiprocessing.connection import Connection

import msgspec

from ..core.drawing.scan.model import Box, SheetText
from ..core.packed import Unpacker
from ..core.refusal import Refusal
from . import faults

#: Memory the process may take, bytes; the recognisers alone map a good part of it.
MOST_MEMORY = 6 * 1024**3


class ReadSheet(msgspec.Struct, tag=True, frozen=True):
    """A sheet of a file, looked at with so many quarter turns; ``second``: also the slow finder of crossed writing."""

    data: bytes
    name: str
    sheet: int
    turned: int = 0
    second: bool = True


class FindCorners(msgspec.Struct, tag=True, frozen=True):
    data: bytes
    name: str
    sheet: int


class Straighten(msgspec.Struct, tag=True, frozen=True):
    """``corners`` as fractions, from the top left clockwise; ``paper`` in mm."""

    data: bytes
    name: str
    sheet: int
    corners: tuple[tuple[float, float], ...]
    paper: tuple[float, float]


class FindLines(msgspec.Struct, tag=True, frozen=True):
    """Outlines inside a box (fractions of the sheet as it lies)."""

    data: bytes
    name: str
    sheet: int
    box: Box


class Told(msgspec.Struct, tag=True, frozen=True):
    words: str
    done: int
    of: int


class Text(msgspec.Struct, tag=True, frozen=True):
    text: SheetText


class CornersFound(msgspec.Struct, tag=True, frozen=True):
    """``found`` is whether a sheet stood out; else the corners are only a place to begin. ``proportion``: width over
    height.
    """

    corners: tuple[tuple[float, float], ...]
    found: bool
    proportion: float


class Flat(msgspec.Struct, tag=True, frozen=True):
    """A straightened sheet as JPEG; ``matrix`` from fractions of the old picture to its own, row by row."""

    jpeg: bytes
    matrix: tuple[float, ...]


class Linework(msgspec.Struct, tag=True, frozen=True):
    """Thick lines and whole circles, in fractions of the sheet's width (both ways), from its top left."""

    lines: tuple[tuple[float, float, float, float], ...]
    circles: tuple[tuple[float, float, float], ...]


class Refused(msgspec.Struct, tag=True, frozen=True):
    words: str
    trouble: str = ""


Task = ReadSheet | FindCorners | Straighten | FindLines
Message = Told | Text | CornersFound | Flat | Linework | Refused
encode = msgspec.msgpack.Encoder().encode
decode_message = Unpacker[Message](Message)
_decode_task = Unpacker[Task](Task)
Say = Callable[[Message], None]


def serve(pipe: Connection) -> None:
    def say(message: Message) -> None:
        pipe.send_bytes(encode(message))

    try:
        task = _decode_task(pipe.recv_bytes())
        faults.strike(os.environ.get(faults.VARIABLE, ""), "picture")
        _carry_out(task, say)
    except Refusal as refusal:
        say(Refused(refusal.message))
    except MemoryError:
        say(Refused("This picture needs more memory than may be taken. Save it smaller (300 dots an inch is plenty)."))
    except Exception:
        say(Refused("This picture could not be read. Click each size and type it.", traceback.format_exc()))


def _carry_out(task: Task, say: Say) -> None:
    from ..core.drawing.opening import open_paper
    from ..core.drawing.scan import work

    paper = open_paper(task.data, task.name)
    if isinstance(task, ReadSheet):
        for found in work.read_sheet(paper, task.sheet, task.turned, task.second, lambda s: say(Told(*s))):
            say(Text(found))
    elif isinstance(task, FindCorners):
        say(CornersFound(*work.corners(paper, task.sheet)))
    elif isinstance(task, Straighten):
        say(Flat(*work.straightened(paper, task.sheet, task.corners, task.paper)))
    else:
        say(Linework(*work.linework(paper, task.sheet, task.box)))


if __name__ == "__main__":
    logging.disable()
    warnings.simplefilter("ignore")
    os.environ["OMP_THREAD_LIMIT"] = "1"  # crops are too small for Tesseract to share
    os.nice(5)  # the window goes first
    _, _hard = resource.getrlimit(resource.RLIMIT_AS)
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, _hard))
    serve(Connection(int(sys.argv[1])))
