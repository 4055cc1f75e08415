"""Earlier saves of a job: what a file was before it was saved again, the last few of them."""

from __future__ import annotations

import hashlib
import shutil
import time
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from .files import private_folder

#: How many earlier saves of a file are kept.
MOST = 3


class Earlier(NamedTuple):
    """An earlier save: where it lies, and when it was saved (seconds since 1970)."""

    path: Path
    at: float


def _room(folder: Path, path: Path) -> Path:
    """Where the earlier saves of a file lie: by its whole path, so that two files of one name are told apart."""
    key = hashlib.sha256(str(path.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return folder / key


def keep_earlier(path: Path, folder: Path) -> None:
    """Keep a copy of ``path`` as it is now, and let the oldest go. Raises OSError when it cannot be kept."""
    if not path.is_file():
        return
    room = _room(folder, path)
    private_folder(folder)
    private_folder(room)
    saved = path.stat().st_mtime_ns
    copy = room / f"{saved:020d}-{path.name}"
    if not copy.exists():
        part = copy.with_name(f".{copy.name}.part")
        shutil.copyfile(path, part)
        part.chmod(0o600)
        part.replace(copy)
    for old in earlier_saves(path, folder)[MOST:]:
        with suppress(OSError):
            old.path.unlink()


def earlier_saves(path: Path, folder: Path) -> list[Earlier]:
    """The earlier saves of a file, the newest first."""
    stamped = ((copy.name.partition("-")[0], copy) for copy in _room(folder, path).glob("*.lathed"))
    found = sorted(((int(stamp), copy) for stamp, copy in stamped if stamp.isdigit()), reverse=True)
    return [Earlier(copy, stamp / 1e9) for stamp, copy in found]


def when(saved: Earlier) -> str:
    """When it was saved, as a clock on the wall says it."""
    return time.strftime("%Y-%m-%d %H:%M:%S", time.localtime(saved.at))
