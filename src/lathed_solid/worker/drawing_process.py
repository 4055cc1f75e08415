"""The process that reads drawings: files of strangers are opened here, so that one that fells its reader, grows without
end or never comes to an end takes nothing with it.
"""

from __future__ import annotations

import logging
import os
import resource
import sys
import traceback
import warnings
from multiprocessing.connection import Connection
from typing import TYPE_CHECKING, TypeGuard

import msgspec

from ..core.drawing.cutout import cut_out
from ..core.drawing.opening import open_paper
from ..core.drawing.outline import Taken, layers, take_outline
from ..core.drawing.paper import CannotRead, Kind, Paper, Raster, Word
from ..core.drawing.views import DrawnView, views_of
from ..core.packed import Unpacker
from ..core.refusal import Refusal
from ..core.sketch.model import Sketch
from . import faults

if TYPE_CHECKING:
    from ..core.drawing.dxf import DxfPaper

#: Memory the process may take, bytes.
MOST_MEMORY = 4 * 1024**3
Box = tuple[float, float, float, float]


class Open(msgspec.Struct, tag=True, frozen=True):
    """A file to be held under ``key``."""

    key: int
    name: str
    data: bytes


class Render(msgspec.Struct, tag=True, frozen=True):
    key: int
    sheet: int
    box: Box
    width: int


class Read(msgspec.Struct, tag=True, frozen=True):
    """The words and dimensions of a sheet."""

    key: int
    sheet: int


class CutOut(msgspec.Struct, tag=True, frozen=True):
    key: int
    sheet: int
    x: float
    y: float
    turned: int


class Outline(msgspec.Struct, tag=True, frozen=True):
    """The linework of a DXF layer (empty: of all) as a sketch, ends joined within ``join`` mm."""

    key: int
    layer: str
    join: float


class Look(msgspec.Struct, tag=True, frozen=True):
    """The views that a DXF shows."""

    key: int


class Forget(msgspec.Struct, tag=True, frozen=True):
    """Nobody looks at this file any more. It is not answered."""

    key: int


class Opened(msgspec.Struct, tag=True, frozen=True):
    """``layers`` are those of a DXF that hold linework."""

    kind: Kind
    sizes: tuple[tuple[float, float], ...]
    scale: float
    layers: tuple[str, ...]


class Rendered(msgspec.Struct, tag=True, frozen=True):
    raster: Raster


class Text(msgspec.Struct, tag=True, frozen=True):
    words: tuple[Word, ...]
    sizes: tuple[Word, ...]
    dimensions: tuple[tuple[str, float, float], ...]


class Piece(msgspec.Struct, tag=True, frozen=True):
    png: bytes


class Outlined(msgspec.Struct, tag=True, frozen=True):
    taken: Taken


class Views(msgspec.Struct, tag=True, frozen=True):
    views: tuple[DrawnView, ...]


class Refused(msgspec.Struct, tag=True, frozen=True):
    """``words`` for the user, ``trouble`` for the log: a fault of ours."""

    words: str
    trouble: str = ""


Question = Open | Render | Read | CutOut | Outline | Look
Request = Question | Forget
Answer = Opened | Rendered | Text | Piece | Outlined | Views | Refused
encode = msgspec.msgpack.Encoder().encode
decode_answer = Unpacker[Answer](Answer)
_decode_request = Unpacker[Request](Request)


def is_dxf(paper: Paper) -> TypeGuard[DxfPaper]:
    """Asked of the kind: the reader itself is slow to load."""
    return paper.kind == "dxf"


def serve(pipe: Connection) -> None:
    """One request after another, until the pipe closes."""
    papers: dict[int, Paper] = {}
    while True:
        try:
            request = _decode_request(pipe.recv_bytes())
        except (EOFError, OSError):
            return
        if isinstance(request, Forget):
            papers.pop(request.key, None)
            continue
        try:
            answer = encode(_answer(request, papers))
        except Refusal as refusal:
            answer = encode(Refused(refusal.message))
        except Exception:
            words = "This sheet cannot be shown. The rest of the job is not touched by it."
            answer = encode(Refused(words, traceback.format_exc()))
        pipe.send_bytes(answer)


def _answer(request: Question, papers: dict[int, Paper]) -> Answer:
    if isinstance(request, Open):
        faults.strike(os.environ.get(faults.VARIABLE, ""), "drawing")
        paper = papers[request.key] = open_paper(request.data, request.name)
        sizes = tuple(paper.size(n) for n in range(1, paper.sheets + 1))
        return Opened(paper.kind, sizes, paper.natural_scale(), layers(paper) if is_dxf(paper) else ())
    paper = papers[request.key]
    if isinstance(request, Outline):
        if not is_dxf(paper):
            raise CannotRead("Only the outline of a DXF can be taken as a sketch.")
        return Outlined(take_outline(paper, Sketch(id="new", name="Outline"), request.layer, request.join))
    if isinstance(request, Look):
        return Views(views_of(paper) if is_dxf(paper) else ())
    if isinstance(request, Render):
        return Rendered(paper.render(request.sheet, request.box, request.width))
    if isinstance(request, Read):
        return Text(paper.words(request.sheet), paper.sizes(request.sheet), paper.dimensions(request.sheet))
    return Piece(cut_out(paper, request.sheet, request.x, request.y, request.turned))


if __name__ == "__main__":
    logging.disable()  # libraries tell of every number they mend
    warnings.simplefilter("ignore")
    _, _hard = resource.getrlimit(resource.RLIMIT_AS)
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, _hard))
    serve(Connection(int(sys.argv[1])))
