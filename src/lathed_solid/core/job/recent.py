"""Which jobs were worked on last, and which were open when the program was left: a list in the state folder."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

import msgspec

from .files import CannotBeRead, CannotWrite, read_whole, write_atomic

_NAME = "recent.json"
#: So many jobs are remembered; a list larger than this is none of ours (bytes).
_MOST, _LARGEST = 16, 256 * 1024


class Recent(msgspec.Struct, frozen=True):
    """Paths of jobs and assemblies: those worked on, the last one first; those left open, in their order."""

    worked: tuple[str, ...] = ()
    left_open: tuple[str, ...] = ()


def recent(folder: Path) -> Recent:
    """What is remembered in a state folder, without files that are gone; nothing where the list cannot be read."""
    try:
        found = msgspec.json.decode(read_whole(folder / _NAME, _LARGEST), type=Recent)
    except (CannotBeRead, msgspec.DecodeError):
        return Recent()
    return Recent(tuple(filter(_is_there, found.worked)), tuple(filter(_is_there, found.left_open)))


def _is_there(path: str) -> bool:
    try:
        return Path(path).is_file()
    except OSError:
        return False


def worked_on(folder: Path, path: Path) -> None:
    """A job was opened or saved. A list that cannot be written is let be: it only saves a search."""
    known, name = recent(folder), str(path.resolve())
    others = tuple(w for w in known.worked if w != name)
    _write(folder, msgspec.structs.replace(known, worked=(name, *others)[:_MOST]))


def left_open(folder: Path, paths: Iterable[Path]) -> None:
    """The program is left with these open."""
    _write(folder, msgspec.structs.replace(recent(folder), left_open=tuple(str(p.resolve()) for p in paths)[:_MOST]))


def _write(folder: Path, found: Recent) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        write_atomic(folder / _NAME, msgspec.json.encode(found))
    except (CannotWrite, OSError):
        return
