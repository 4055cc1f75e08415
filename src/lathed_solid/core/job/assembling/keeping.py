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
from ..files import CannotWrite, private_folder, write_atomic

_ENDING = ".assembly"


class _Kept(msgspec.Struct):
    at: float
    path: str
    assembly: Assembly


class Unsaved(NamedTuple):
    """Work that was not saved: where it is kept, the file it belongs to (may be empty), and itself."""

    kept: Path
    path: str
    assembly: Assembly


class Keeper:
    """Keeps the last state of one assembly; trouble with the disk is returned in words, never raised."""

    def __init__(self, folder: Path) -> None:
        self._path = folder / f"{os.getpid()}-{started(os.getpid())}-{time.monotonic_ns()}{_ENDING}"
        self.trouble = ""

    def keep(self, assembly: Assembly, path: str) -> None:
        try:
            private_folder(self._path.parent)
            write_atomic(self._path, msgspec.json.encode(_Kept(time.time(), path, assembly)), private=True)
            self.trouble = ""
        except (OSError, CannotWrite) as error:
            self.trouble = f"Autosave is not working: {error}. Save the assembly by hand."

    def close(self) -> None:
        """The work is saved or given up."""
        self._path.unlink(missing_ok=True)


def unsaved(folder: Path) -> Iterator[Unsaved]:
    """Assemblies of programs that are gone, which were not saved; what cannot be read is left as it is."""
    for path in sorted(folder.glob(f"*{_ENDING}")) if folder.is_dir() else ():
        process, _, rest = path.name.partition("-")
        if process.isdigit() and alive(int(process), rest.partition("-")[0]):
            continue
        try:
            kept = msgspec.json.decode(path.read_bytes(), type=_Kept)
        except (OSError, msgspec.DecodeError):
            continue
        yield Unsaved(path, kept.path, kept.assembly)
