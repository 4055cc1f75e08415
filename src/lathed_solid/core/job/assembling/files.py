"""Assembly files: a zip with a readable ``assembly.json`` and the solids of its parts: it opens without their files."""

from __future__ import annotations

import io
import zipfile
import zlib
from contextlib import suppress
from pathlib import Path
from typing import Any, NamedTuple

import msgspec

from ...drafting.sheet.model import Sheet
from ...fit.mass import bill
from ...fit.model import Assembly, Follow, Instance, PartShot, Relation, Repeat
from ..attachments import MAX_ALL, NoAttachment, Store, name_of
from ..damaged import CannotOpen, closed, each, member_of, one, read
from ..earlier import keep_earlier
from ..files import CannotBeRead, CannotWrite, read_whole, write_atomic
from ..sound import sheets_mended
from ..storage import FOLDER, MAX_FILE, MAX_PREVIEW, PREVIEW, read_preview

MEMBER = "assembly.json"
#: The version of the document; a newer one is refused in words. 3: drawing sheets.
FORMAT = 3


#: The fields that hold many, with what one is and is called.
MANY: dict[str, tuple[Any, str]] = {
    "parts": (PartShot, "part"),
    "instances": (Instance, "instance"),
    "relations": (Relation, "relation"),
    "follows": (Follow, "part in every hole"),
    "repeats": (Repeat, "ring or row"),
    "sheets": (Sheet, "drawing sheet"),
}


class Document(msgspec.Struct, frozen=True, kw_only=True):
    """What stands in the file."""

    format: int = FORMAT
    assembly: Assembly = Assembly()


class OpenedAssembly(NamedTuple):
    """``lost`` says in words what could not be read; empty for a sound file."""

    assembly: Assembly
    lost: tuple[str, ...] = ()


def is_assembly(path: Path) -> bool:
    """Whether a file is an assembly, and no job; a damaged one says so where it begins."""
    try:
        with zipfile.ZipFile(path) as archive:
            return MEMBER in archive.namelist()
    except (zipfile.BadZipFile, ValueError):
        with suppress(OSError), path.open("rb") as stream:
            return MEMBER.encode() in stream.read(100)
        return False
    except OSError:
        return False


def save_assembly(
    assembly: Assembly, path: Path, store: Store, earlier: Path | None = None, preview: bytes = b""
) -> None:
    """Write it with its parts' solids and its small picture (PNG; without one that of the old file stays), atomically;
    it is read back before the old file goes. Raises CannotWrite.
    """
    data = packed(assembly, path.name, store, preview or read_preview(path))

    def read_back(made: Path) -> None:
        if _document(made.read_bytes(), path.name) != (assembly, []):
            raise CannotWrite(
                f"{path.name} was not saved: what was written could not be read back as it is. The old file is "
                "untouched, and the assembly is still open."
            )

    def keep(old: Path) -> None:
        if earlier is not None:
            with suppress(OSError):  # an earlier save that cannot be kept must not keep this one from being made
                keep_earlier(old, earlier)

    write_atomic(path, data, check=read_back, before=keep)


def packed(assembly: Assembly, name: str, store: Store, preview: bytes = b"") -> bytes:
    """An assembly file as bytes. Raises CannotWrite for a solid that is not at hand or a file that grows too large."""
    stream, room = io.BytesIO(), MAX_ALL
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        _write(archive, MEMBER, msgspec.json.format(msgspec.json.encode(Document(assembly=assembly)), indent=1))
        for shape in dict.fromkeys(p.shape for p in assembly.parts if p.shape):
            try:
                solid = store.get(shape)
            except NoAttachment as error:
                raise CannotWrite(
                    f"{name} was not saved: the solid of a part is not at hand. {error.message}"
                ) from None
            room -= len(solid)
            if room < 0:
                raise CannotWrite(
                    f"{name} was not saved: the solids of its parts take more than {MAX_ALL / 2**20:.0f} MB together."
                )
            _write(archive, FOLDER + shape, solid)
        if preview and len(preview) <= MAX_PREVIEW:
            _write(archive, PREVIEW, preview)
    return stream.getvalue()


def _write(archive: zipfile.ZipFile, member: str, data: bytes) -> None:
    # A fixed time stamp: the same assembly is always the same file.
    info = zipfile.ZipInfo(member, (2026, 1, 1, 0, 0, 0))
    info.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(info, data)


def load_assembly(path: Path, store: Store) -> OpenedAssembly:
    """Read an assembly; the solids of its parts go into ``store``. Raises CannotOpen."""
    try:
        return unpacked(read_whole(path, MAX_FILE), path.name, store)
    except CannotBeRead as error:
        raise CannotOpen(error.message) from error


def unpacked(data: bytes, name: str, store: Store) -> OpenedAssembly:
    """An assembly from a file's bytes, as far as they can be read. Raises CannotOpen."""
    assembly, lost = _document(data, name)
    missing = _solids(data, assembly, store)
    sound, told = _sound(assembly)
    return OpenedAssembly(sound, (*lost, *missing, *told))


def _document(data: bytes, name: str) -> tuple[Assembly, list[str]]:
    """The assembly in a file's bytes, and what of it could not be read. Raises CannotOpen."""
    text, told = member_of(data, name, MEMBER, "assembly")
    lost, plain = list(told), read(text)
    if plain is None:
        plain = closed(text)
        lost.append("the end of the file is missing")
    if not isinstance(plain, dict):
        raise CannotOpen(f"{name} is not an assembly.")
    if isinstance(version := plain.get("format", FORMAT), int) and version > FORMAT:
        raise CannotOpen(f"{name} was written by a newer version of Lathed Solid. Open it there.")
    try:
        return msgspec.convert(plain, Document).assembly, lost
    except msgspec.ValidationError:
        return _salvaged(plain.get("assembly"), lost), lost


def _salvaged(given: Any, lost: list[str]) -> Assembly:
    """Each part of it by itself; what does not read is left out and named."""
    said = given if isinstance(given, dict) else {}
    if not isinstance(given, dict):
        lost.append("all of it")
    fields: dict[str, Any] = {}
    for field in msgspec.structs.fields(Assembly):
        if field.name not in said:
            continue
        if field.name in MANY:
            kind, words = MANY[field.name]
            fields[field.name] = each(said[field.name], kind, words, lost)
        elif (found := one(said[field.name], field.type, f"its {field.name.replace('_', ' ')}", lost)) is not None:
            fields[field.name] = found
    return Assembly(**fields)


def _solids(data: bytes, assembly: Assembly, store: Store) -> list[str]:
    lost = []
    for part in assembly.parts:
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                solid = archive.read(FOLDER + part.shape)
            if name_of(solid) != part.shape:
                raise ValueError("damaged")
            store.put(solid)
        except (KeyError, zlib.error, EOFError, ValueError, RuntimeError, OSError, zipfile.BadZipFile, CannotWrite):
            if store.find(part.shape) is None:  # else it is here from before
                lost.append(f"the solid of {part.called}")
    return lost


def _sound(assembly: Assembly) -> tuple[Assembly, list[str]]:
    """Without what refers to nothing, and what that was in words."""
    told: list[str] = []
    parts = {p.id for p in assembly.parts}
    instances = tuple(i for i in assembly.instances if i.part in parts)
    if len(instances) < len(assembly.instances):
        told.append(f"{len(assembly.instances) - len(instances)} instances of parts that are not in the file")
    there = {i.id for i in instances}
    relations = tuple(r for r in assembly.relations if r.a.instance in there and r.b.instance in there)
    if len(relations) < len(assembly.relations):
        told.append(f"{len(assembly.relations) - len(relations)} relations between parts that are not in the file")
    repeats = tuple(r for r in assembly.repeats if r.leader in there and r.about.instance in there)
    if len(repeats) < len(assembly.repeats):
        told.append(f"{len(assembly.repeats) - len(repeats)} rings or rows of parts that are not in the file")
    # A copy that is not there is a gap, as one that was taken out.
    repeats = tuple(
        msgspec.structs.replace(r, made=tuple(name if name in there else "" for name in r.made)) for r in repeats
    )
    sheets, mended = sheets_mended(assembly.sheets, {line.item for line in bill(assembly)})
    told += mended
    driven = assembly.drive is not None and assembly.drive.relation in {r.id for r in relations}
    held = (assembly.parts, instances, relations, repeats, assembly.follows)
    last = max((int("".join(c for c in one.id if c.isdigit()) or 0) for kind in held for one in kind), default=0)
    return msgspec.structs.replace(
        assembly, instances=instances, relations=relations, repeats=repeats, sheets=sheets,
        drive=assembly.drive if driven else None, next_id=max(assembly.next_id, last + 1),
    ), told  # fmt: skip
