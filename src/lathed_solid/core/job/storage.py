"""Job files: a zip with a readable ``job.json``. A damaged one is opened as far as it can be read."""

from __future__ import annotations

import io
import zipfile
import zlib
from contextlib import suppress
from pathlib import Path
from typing import Any, NamedTuple

import msgspec

from ..caliper.logbook import LogEntry
from ..callout import Callout
from ..drafting.sheet.model import Sheet
from ..drawing.paper import Drawing
from ..plan.blank import Blank
from ..plan.sheet.model import OperationSheet
from ..plan.zero import Zero
from ..prove.binding import Binding
from ..route.registry import Step
from ..sketch.model import Sketch
from ..sketch.traces import Traces
from . import attachments
from .attachments import NoAttachment, Store
from .damaged import MAX_JSON, CannotOpen, closed, each, member_of, one, read
from .earlier import keep_earlier
from .files import CannotBeRead, CannotWrite, read_whole, write_atomic
from .migrate import NoJob, TooNew, migrated
from .model import Aside, BodyLook, Chain, Content, FaceLook, FamilyTable, Header, Job, Kept, Revision, Route
from .sound import mended

MEMBER = "job.json"
FOLDER = "attachments/"
PREVIEW = "preview.png"
#: A preview larger than this is not shown, bytes.
MAX_PREVIEW = 4 * 1024 * 1024
#: A file larger than all it may hold is no job, bytes.
MAX_FILE = MAX_JSON + attachments.MAX_ALL + MAX_PREVIEW


class Opened(NamedTuple):
    """``lost`` says in words what could not be read; empty for a sound file."""

    job: Job
    lost: tuple[str, ...]


def to_json(job: Job) -> bytes:
    """Readable, indented, fields in a fixed order."""
    return msgspec.json.format(msgspec.json.encode(job), indent=1)


def save(job: Job, path: Path, store: Store | None = None, preview: bytes = b"", earlier: Path | None = None) -> None:
    """Write the job, its attachments and a ``preview`` (PNG) atomically; the file's last preview stays without one.

    What was written is read back before the old file goes, and that one is kept among the ``earlier`` saves when their
    folder is given. Raises CannotWrite, also for a job that could not be opened again.
    """
    data = packed(job, path.name, store, preview or read_preview(path))

    def read_back(made: Path) -> None:
        if trouble := what_differs(made.read_bytes(), job, path.name):
            raise CannotWrite(
                f"{path.name} was not saved: what was written could not be read back as it is ({trouble}). The old "
                "file is untouched, and the job is still open."
            )

    def keep(old: Path) -> None:
        if earlier is not None:
            with suppress(OSError):  # an earlier save that cannot be kept must not keep this one from being made
                keep_earlier(old, earlier)

    write_atomic(path, data, check=read_back, before=keep)


def packed(job: Job, name: str, store: Store | None, preview: bytes) -> bytes:
    """A job file as bytes. Raises CannotWrite for what could not be opened again, or a missing attachment."""
    text = to_json(job)
    if len(text) > MAX_JSON:
        raise CannotWrite(
            f"{name} was not saved: the job takes {len(text) / 2**20:.0f} MB, and no more than "
            f"{MAX_JSON / 2**20:.0f} MB can be opened again. Remove what is not needed: issued revisions or readings."
        )
    stream, room = io.BytesIO(), attachments.MAX_ALL
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        # A fixed time stamp: the same job is always the same file.
        info = zipfile.ZipInfo(MEMBER, (2026, 1, 1, 0, 0, 0))
        info.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(info, text)
        for blob in attachments.named_in(job):
            info = zipfile.ZipInfo(FOLDER + blob, (2026, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            try:
                if store is None:
                    raise NoAttachment("Its drawings are not at hand.")
                content = store.get(blob)
            except NoAttachment as error:
                raise CannotWrite(f"{name} was not saved. {error.message}") from None
            room -= len(content)
            if room < 0:
                raise CannotWrite(
                    f"{name} was not saved: its drawings and files take more than "
                    f"{attachments.MAX_ALL / 2**20:.0f} MB together, and could not be opened again. Remove one."
                )
            archive.writestr(info, content)
        if preview and len(preview) <= MAX_PREVIEW:
            archive.writestr(zipfile.ZipInfo(PREVIEW, (2026, 1, 1, 0, 0, 0)), preview)
    return stream.getvalue()


def what_differs(data: bytes, job: Job, name: str) -> str:
    """What a file's bytes do not give back of this very job, in words; empty when they give all.

    The job is taken as it is, sound or not: whoever works on it must be able to keep it.
    """
    try:
        text, lost = member_of(data, name, MEMBER)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            damaged = archive.testzip()
        if lost or damaged:
            return f"{damaged or MEMBER} is damaged"
        return "" if msgspec.convert(read(text), Job) == job else "a number is not what it was"
    except msgspec.ValidationError:
        return "; ".join(decode(text, name).lost)
    except (CannotOpen, zipfile.BadZipFile, zlib.error, EOFError, ValueError, RuntimeError) as error:
        return str(error)


def read_preview(path: Path) -> bytes:
    """The picture (PNG) a job was saved with; empty when there is none that can be read."""
    try:
        with zipfile.ZipFile(path) as archive:
            return archive.read(PREVIEW) if archive.getinfo(PREVIEW).file_size <= MAX_PREVIEW else b""
    except (zipfile.BadZipFile, KeyError, zlib.error, EOFError, ValueError, RuntimeError, OSError):
        return b""


def load(path: Path, store: Store | None = None) -> Opened:
    """Read a job; its attachments go into ``store``. Raises CannotOpen when nothing of it can be used."""
    try:
        data = read_whole(path, MAX_FILE)
    except CannotBeRead as error:
        raise CannotOpen(error.message) from error
    text, lost = member_of(data, path.name, MEMBER)
    opened = decode(text, path.name, lost)
    if store is None:
        return opened
    missing = _unpack(data, attachments.named_in(opened.job), store)
    return Opened(opened.job, (*opened.lost, *missing))


def _unpack(data: bytes, names: tuple[str, ...], store: Store) -> list[str]:
    """Put the named attachments into the store; what is missing or not what it says is told in words."""
    lost, room = [], attachments.MAX_ALL
    for name in names:
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                info = archive.getinfo(FOLDER + name)
                room -= info.file_size
                if room < 0:
                    raise ValueError
                content = archive.read(info)
            if attachments.name_of(content) != name:
                raise ValueError
            store.put(content)
        except (zipfile.BadZipFile, KeyError, zlib.error, EOFError, ValueError, RuntimeError, OSError, CannotWrite):
            lost.append("a drawing or cut-out")
    return list(dict.fromkeys(lost))


def decode(text: bytes, name: str, lost: tuple[str, ...] = ()) -> Opened:
    """A job from its JSON, whole or in parts, with nothing in it that cannot be worked on. Raises CannotOpen."""
    plain = read(text)
    if plain is None:
        plain = closed(text)
        lost = (*lost, "the end of the file is missing")
    if not isinstance(plain, dict):
        raise CannotOpen(f"{name} is not a Lathed Solid job.")
    try:
        plain = migrated(plain)
    except (TooNew, NoJob) as error:
        raise CannotOpen(f"{name}: {error}") from None
    try:
        job = msgspec.convert(plain, Job)
    except msgspec.ValidationError:
        job, missing = _salvage(plain)
        if not missing and not lost:
            missing = ["a part of the file that this version does not know"]
        lost = (*lost, *missing)
    job, told = mended(job)
    return Opened(job, (*lost, *told))


#: How each field of a damaged job is read: its struct and what it is called. Every field of Content is in one of these
#: three, or is the title block or the routes (a test holds it).
PARTS: dict[str, tuple[Any, str]] = {
    "callouts": (Callout, "callout"),
    "sketches": (Sketch, "sketch"),
    "bindings": (Binding, "binding"),
    "drawings": (Drawing, "drawing"),
    "chains": (Chain, "chain"),
    "logbook": (LogEntry, "logbook entry"),
    "bodies": (BodyLook, "body's look"),
    "faces": (FaceLook, "face's look"),
    "kept": (Kept, "kept measurement"),
    "sheets": (Sheet, "drawing sheet"),
    "traces": (Traces, "scan under a sketch"),
    "aside": (Aside, "piece set aside before"),
}
WHOLES: dict[str, tuple[Any, Any, str]] = {
    "family": (FamilyTable, FamilyTable(), "the table of the family"),
    "blank": (Blank | None, None, "the blank"),
    "zero": (Zero, Zero(), "machine zero"),
}
NUMBERS = {
    "route": "which route was worked on",
    "next_callout": "the next callout's number",
    "next_step": "the next step's number",
}


def _salvage(plain: dict[str, Any]) -> tuple[Job, list[str]]:
    """Each part by itself; what does not read is left out and named."""
    lost: list[str] = []
    given = plain.get("content")
    given = given if isinstance(given, dict) else {}
    header = one(given.get("header", {}), Header, "the title block", lost) or Header()
    routes = []
    for number, route in enumerate(given.get("routes", ()) if isinstance(given.get("routes"), list) else ()):
        said = route if isinstance(route, dict) else {"steps": []}
        steps = each(said.get("steps"), Step, "step", lost)
        sheet = one(said.get("sheet", {}), OperationSheet, "an operation sheet", lost) or OperationSheet()
        routes.append(Route(name=str(said.get("name", "A")) or f"Route {number + 1}", steps=steps, sheet=sheet))
    if not routes:
        lost.append("the route")
    fields: dict[str, Any] = {"header": header, "routes": tuple(routes) or (Route(),)}
    for field in Content.__struct_fields__:
        if field in PARTS:
            kind, words = PARTS[field]
            fields[field] = each(given.get(field, []), kind, words, lost)
        elif field in WHOLES:
            whole, plain_one, words = WHOLES[field]
            read = one(given[field], whole, words, lost) if field in given else None
            fields[field] = plain_one if read is None else read
        elif field in NUMBERS:
            found = one(given.get(field, 0), int, NUMBERS[field], lost)
            fields[field] = max(found or 0, 0 if field == "route" else 1)
    if fields["route"] >= len(fields["routes"]):
        fields["route"] = 0
        lost.append("which route was worked on")
    content = Content(**fields)
    return Job(content=content, revisions=each(plain.get("revisions"), Revision, "revision", lost)), lost
