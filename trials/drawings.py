"""Damaged drawings of every kind: each opens and shows what it has, or is refused in words, in time."""

from __future__ import annotations

import io
import logging
import random
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PIL import Image

from lathed_solid.core.drawing.paper import CannotRead
from lathed_solid.worker.drawings import DrawingReader

from . import memory
from .outcome import Outcome

EXAMPLES = Path(__file__).parents[1] / "examples"
#: A file takes longer than this only when its reader is caught in it, seconds of the clock.
LONG = 20.0
#: Lines put in the place of others in a DXF.
ODD = ("", "nan", "inf", "1e400", "-1", "0", "999999999999", "ENTITIES", "X" * 2000)


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Each file is opened, its text and its outline read, a sheet rendered and a cut-out made."""
    found, reader, caught = Outcome(), DrawingReader(LONG), _Caught()
    logging.getLogger("lathed_solid.worker.drawings").addHandler(caught)
    wholes = [(p.name, p.read_bytes()) for p in (EXAMPLES / "skp-02.dxf", EXAMPLES / "skp-02.pdf")]
    wholes += [(f"a.{kind.lower()}", _picture(kind)) for kind in ("PNG", "JPEG", "TIFF")]
    try:
        sound = max(_peak(reader, whole, name, found) for name, whole in wholes)
        while going():
            name, whole = rng.choice(wholes)
            data = _spoiled_lines(rng, whole) if name.endswith("dxf") and rng.random() < 0.6 else spoiled(rng, whole)
            begun = time.monotonic()
            found.taken(_peak(reader, data, name, found) - sound, (name, len(data)))
            if time.monotonic() - begun > LONG:
                found.fault("never ends", (name, len(data)))
    finally:
        reader.close()
    for words in caught.words:
        found.fault("a fault instead of a refusal", words)
    return found


def _peak(reader: DrawingReader, data: bytes, name: str, found: Outcome) -> int:
    """Use a file; the memory its reader came to hold, bytes."""
    process = reader._process
    with memory.watched(process.pid if process else 0) as watch:
        found.attempt(partial(used, reader, data, name), (name, len(data)))
    return watch.peak


class _Caught(logging.Handler):
    """What the reader's own faults are logged as."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.words.append(record.getMessage()[-200:])


def _picture(kind: str) -> bytes:
    out = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").save(out, kind)
    return out.getvalue()


def spoiled(rng: random.Random, whole: bytes) -> bytes:
    """A few bytes changed, the end perhaps missing."""
    data = bytearray(whole[: rng.randrange(len(whole))] if rng.random() < 0.3 else whole)
    for _ in range(rng.choice((1, 3, 10, 100))):
        if data:
            data[rng.randrange(len(data))] = rng.randrange(256)
    return bytes(data)


def _spoiled_lines(rng: random.Random, whole: bytes) -> bytes:
    lines = whole.decode("utf-8", "ignore").split("\n")
    for _ in range(rng.choice((1, 3, 10))):
        at, how = rng.randrange(len(lines)), rng.random()
        if how < 0.4:
            lines[at] = rng.choice(ODD)
        elif how < 0.7 and len(lines) > 1:
            del lines[at]
        else:
            lines.insert(at, rng.choice(lines))
    return "\n".join(lines).encode()


def used(reader: DrawingReader, data: bytes, name: str) -> None:
    paper = reader.open(data, name)
    for sheet in range(1, min(paper.sheets, 2) + 1):
        paper.words(sheet)
        raster = paper.render(sheet, (0.0, 0.0, 1.0, 1.0), 200)
        if len(raster.rgb) != 3 * raster.width * raster.height:
            raise ValueError("a picture that is not as large as it says")
        paper.cut_out(sheet, 0.5, 0.5, 1)
    if paper.layers:
        try:
            paper.outline("", 0.01)
        except CannotRead:
            return
