"""Files made to harm: small ones that unfold without end, that go round, or are no files at all. Each is refused in
words or opened as far as it goes, in little time and memory, and nothing is written beside its folder.
"""

from __future__ import annotations

import io
import json
import logging
import os
import random
import struct
import tempfile
import time
import zipfile
import zlib
from collections.abc import Callable
from functools import partial
from pathlib import Path

from ezdxf.filemanagement import new
from PIL import Image

from lathed_solid.core.job import storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.family import read_table
from lathed_solid.core.job.model import Job
from lathed_solid.worker.drawings import DrawingReader

from . import memory
from .drawings import EXAMPLES, LONG, used
from .outcome import Outcome


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Jobs, drawings and tables in turn."""
    found, reader = Outcome(), DrawingReader(LONG)
    logging.getLogger("lathed_solid").setLevel(logging.CRITICAL)
    try:
        reads = partial(_drawing, reader, found)
        sound = max(reads("sound.dxf", (EXAMPLES / "skp-02.dxf").read_bytes()), reads("sound.png", _scan()))
        while going():
            name, make = rng.choice(JOBS)
            with tempfile.TemporaryDirectory() as folder:
                _job(make(rng, Path(folder)), Path(folder), name, found)
            name, draw = rng.choice(DRAWINGS)
            found.taken(reads(name, draw(rng)) - sound, name)
            name, table = rng.choice(TABLES)
            found.attempt(partial(read_table, table(rng)), name)
    finally:
        reader.close()
    return found


def _job(path: Path, folder: Path, name: str, found: Outcome) -> None:
    store = Store(folder / "store")
    opened = found.attempt(partial(storage.load, path, store), name)
    if isinstance(opened, storage.Opened):
        storage.save(opened.job, folder / "again.lathed", store)
        storage.load(folder / "again.lathed", Store(folder / "other"))
    if any((place / "evil").exists() for place in (folder, folder.parent, Path("/tmp"))):
        found.fault("written beside its folder", name)


def _drawing(reader: DrawingReader, found: Outcome, name: str, data: bytes) -> int:
    process, begun = reader._process, time.monotonic()
    with memory.watched(process.pid if process else 0) as watch:
        found.attempt(partial(used, reader, data, name), (name, len(data)))
    if time.monotonic() - begun > LONG:
        found.fault("never ends", (name, len(data)))
    return watch.peak


# --- jobs
def _packed(folder: Path, text: bytes, *more: tuple[str, bytes]) -> Path:
    path = folder / "a.lathed"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", text)
        for name, data in more:
            archive.writestr(name, data)
    return path


def _sound() -> bytes:
    return storage.to_json(Job())


def _swollen(rng: random.Random, folder: Path) -> Path:
    return _packed(folder, b" " * rng.choice((10**6, 10**8, 3 * 10**8)))


def _nested(rng: random.Random, folder: Path) -> Path:
    deep = rng.choice((100, 1000, 100_000))
    open_, close = rng.choice((("[", "]"), ('{"a":', "}"), ('{"content":', "}")))
    return _packed(folder, (open_ * deep + "1" + close * deep).encode())


def _crowded(rng: random.Random, folder: Path) -> Path:
    """More of everything than a part has."""
    job = json.loads(_sound())
    field = rng.choice(("callouts", "sketches", "routes", "logbook", "aside"))
    job["content"][field] = [{}] * rng.choice((10**4, 10**5))
    return _packed(folder, json.dumps(job).encode())


def _outside(rng: random.Random, folder: Path) -> Path:
    """Attachments that would lie elsewhere."""
    name = rng.choice(("../evil", "/tmp/evil", "attachments/../../evil", "attachments/evil", "..\\evil"))
    return _packed(folder, _sound(), (name, b"%PDF-1.4 " + bytes(100)))


def _many(rng: random.Random, folder: Path) -> Path:
    names = [(f"attachments/{k:032x}.png", b"\x89PNG") for k in range(rng.choice((100, 5000)))]
    return _packed(folder, _sound(), *names)


def _swollen_attachment(rng: random.Random, folder: Path) -> Path:
    name = f"attachments/{rng.getrandbits(128):032x}.png"
    return _packed(folder, _sound(), (name, bytes(rng.choice((10**7, 3 * 10**8)))))


def _lying(rng: random.Random, folder: Path) -> Path:
    """A member that says to be smaller than it is, or that is locked, or stored by an unknown method."""
    path = _packed(folder, b" " * 10**7)
    data = bytearray(path.read_bytes())
    at = data.index(b"PK\x01\x02")
    field, value = rng.choice(((24, struct.pack("<I", 10)), (8, b"\x01\x00"), (10, b"\x63\x00"), (42, b"\xff" * 4)))
    data[at + field : at + field + len(value)] = value
    path.write_bytes(data)
    return path


def _no_file(rng: random.Random, folder: Path) -> Path:
    path, kind = folder / "a.lathed", rng.randrange(5)
    if kind == 0:
        os.mkfifo(path)
    elif kind == 1:
        path.symlink_to("/dev/zero")
    elif kind == 2:
        path.symlink_to(path)
    elif kind == 3:
        path.mkdir()
    else:
        with path.open("wb") as sparse:
            sparse.truncate(10**12)
    return path


JOBS: tuple[tuple[str, Callable[[random.Random, Path], Path]], ...] = tuple(
    (f.__name__[1:], f)
    for f in (_swollen, _nested, _crowded, _outside, _many, _swollen_attachment, _lying, _no_file)
)  # fmt: skip


# --- drawings
def _scan() -> bytes:
    """A sheet of A3 at 300 dots an inch, as it is scanned every day."""
    out = io.BytesIO()
    Image.new("L", (4961, 3508), "white").save(out, "PNG")
    return out.getvalue()


def _blocks(rng: random.Random) -> bytes:
    """Blocks in blocks; one that holds itself; one in so many rows and columns."""
    document, kind = new("R2010"), rng.randrange(3)
    document.blocks.new("B0").add_line((0, 0), (1, 1))
    for level in range(1, rng.choice((3, 7, 12))):
        block = document.blocks.new(f"B{level}")
        for k in range(10):
            block.add_blockref(f"B{level - 1}", (k, level))
    many = rng.choice((1000, 30_000))
    rows = {"row_count": many, "column_count": many, "row_spacing": 1.0, "column_spacing": 1.0} if kind == 2 else {}
    document.modelspace().add_blockref("B1" if kind else "B2", (0, 0), rows)
    if kind == 1:
        document.blocks["B0"].add_blockref("B1", (0, 0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _endless_spline(rng: random.Random) -> bytes:
    document = new("R2010")
    space, many = document.modelspace(), rng.choice((100, 20_000))
    if rng.random() < 0.5:
        space.add_spline([(k, (k * 7919) % 100) for k in range(many // 20)])
    else:
        space.add_lwpolyline([(k % 100, k // 100, 0, 0, rng.choice((0, 1, 1e9))) for k in range(many)])
    space.add_text("X" * rng.choice((10, 10**6)))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _vast_png(rng: random.Random) -> bytes:
    """A picture that says to be far larger than its bytes; or that unfolds to as much."""
    wide, high = rng.choice(((65_000, 65_000), (2**31 - 1, 1), (10_000, 10_000), (1, 10**6)))

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    body = zlib.compress(bytes(rng.choice((100, 10**8))))
    words = chunk(b"zTXt", b"a\0\0" + zlib.compress(bytes(10**8))) if rng.random() < 0.3 else b""
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", wide, high, rng.choice((1, 8)), 0, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + words + chunk(b"IDAT", body) + chunk(b"IEND", b"")


def _round_pdf(rng: random.Random) -> bytes:
    """Pages that hold themselves, a vast sheet, a stream that unfolds, or pictures in pictures."""
    vast = rng.choice(("0 0 595 842", "0 0 1e9 1e9", "0 0 0 0", "-1e30 0 1e30 nan"))
    kids = rng.choice(("[3 0 R]", "[2 0 R]", "[3 0 R 2 0 R]", "[" + "3 0 R " * 20_000 + "]"))
    draw = rng.choice((b"/F Do", b"q " * 10**6, b"0 0 m 1 1 l S " * 10**5, bytes(10**7)))
    body = zlib.compress(draw)
    resources = "<</XObject<</F 5 0 R>>>>"
    objects = [
        b"<</Type/Catalog/Pages 2 0 R>>",
        f"<</Type/Pages/Kids{kids}/Count {rng.choice((1, 10**9, -1))}>>".encode(),
        f"<</Type/Page/Parent 2 0 R/MediaBox[{vast}]/Contents 4 0 R/Resources{resources}>>".encode(),
        f"<</Length {len(body)}/Filter/FlateDecode>>stream\n".encode() + body + b"\nendstream",
        f"<</Type/XObject/Subtype/Form/BBox[0 0 9 9]/Resources{resources}/Length 5>>stream\n/F Do\nendstream".encode(),
    ]
    out, places = bytearray(b"%PDF-1.7\n"), []
    for number, text in enumerate(objects, 1):
        places.append(len(out))
        out += f"{number} 0 obj\n".encode() + text + b"\nendobj\n"
    table = len(out)
    out += f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n".encode()
    for place in places:
        out += f"{place:010d} 00000 n \n".encode()
    return bytes(out) + f"trailer<</Root 1 0 R/Size {len(objects) + 1}>>\nstartxref\n{table}\n%%EOF".encode()


DRAWINGS: tuple[tuple[str, Callable[[random.Random], bytes]], ...] = (
    ("blocks.dxf", _blocks), ("endless.dxf", _endless_spline), ("vast.png", _vast_png), ("round.pdf", _round_pdf),
)  # fmt: skip


# --- tables of values
def _wide(rng: random.Random) -> str:
    return ",".join(["#1"] * rng.choice((10, 10**5))) + "\n" + "1,2\n" * rng.choice((1, 10**4))


def _quoted(rng: random.Random) -> str:
    return 'name,#1\n"' + "x" * rng.choice((100, 10**6)) + '"' * rng.choice((0, 1, 3)) + "\n=1+1,-5\n"


TABLES: tuple[tuple[str, Callable[[random.Random], str]], ...] = (("wide", _wide), ("quoted", _quoted))
