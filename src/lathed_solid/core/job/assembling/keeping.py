"""Every state of an assembly on disk before the next one; offered again when the program ended without saving it."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import msgspec

from ...fit.model import Assembly
from ..alive import alive, started
from ..claim import Stamp
from ..files import CannotWrite, private_folder, write_atomic

_ENDING = ".assembly"


class _Kept(msgspec.Struct):
    at: float
    path: str
    assembly: Assembly
    stamp: Stamp | None = None


class Unsaved(NamedTuple):
    """Work that was not saved: where it is kept, the file it belongs to (may be empty), itself, and the state that file
    was in when the work began.
    """

    kept: Path
    path: str
    assembly: Assembly
    stamp: Stamp | None


class Keeper:
    """Keeps the last state of one assembly; trouble with the disk is returned in words, never raised."""

    def __init__(self, folder: Path) -> None:
        self._path = folder / f"{os.getpid()}-{started(os.getpid())}-{time.monotonic_ns()}{_ENDING}"
        self.trouble = ""

    def keep(self, assembly: Assembly, path: str, stamp: Stamp | None = None) -> None:
        try:
            private_folder(self._path.parent)
            write_atomic(self._path, msgspec.json.encode(_Kept(time.time(), path, assembly, stamp)), private=True)
            self.trouble = ""
        except (OSError, CannotWrite) as error:
            self.trouble = f"Autosave is not working: {error}. Save the assembly by hand."

    def leave(self) -> None:
        """Leave the work to be offered at the next start: it is no longer that of this program."""
        if self._path.exists():
            self._path.replace(self._path.with_name(f"kept-{self._path.name}"))

    def holds(self, assembly: Assembly) -> bool:
        """Whether what is on disk is this very state, read back."""
        kept = _read(self._path)
        return kept is not None and kept.assembly == assembly

    def close(self) -> None:
        """The work is saved or given up."""
        self._path.unlink(missing_ok=True)


def unsaved(folder: Path) -> Iterator[Unsaved]:
    """Assemblies of programs that are gone, which were not saved."""
    for path in _left(folder):
        if (kept := _read(path)) is not None:
            yield Unsaved(path, kept.path, kept.assembly, kept.stamp)


def unreadable(folder: Path) -> list[Path]:
    """What programs that are gone left and cannot be read: nothing ever takes it away."""
    return [path for path in _left(folder) if _read(path) is None]


def _left(folder: Path) -> Iterator[Path]:
    for path in sorted(folder.glob(f"*{_ENDING}")) if folder.is_dir() else ():
        process, _, rest = path.name.partition("-")
        if not (process.isdigit() and alive(int(process), rest.partition("-")[0])):
            yield path


def _read(path: Path) -> _Kept | None:
    try:
        return msgspec.json.decode(path.read_bytes(), type=_Kept)
    except (OSError, msgspec.DecodeError):
        return None
