"""Atomic writing: a file is either the old one or the whole new one, never a part."""

from __future__ import annotations

import glob
import os
import stat
import tempfile
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from ..refusal import Refusal


class CannotWrite(Refusal):
    """A file that could not be written; the text says where, why and what to do."""


class CannotBeRead(Refusal):
    """A file that is not there, is no plain file, or is larger than anything of its kind."""


def read_whole(path: Path, most: int) -> bytes:
    """All of a plain file of at most ``most`` bytes. Raises CannotBeRead.

    A pipe or a device would be waited for, or never end: they are not opened at all.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with os.fdopen(handle, "rb") as stream:
            found = os.fstat(handle)
            if not stat.S_ISREG(found.st_mode):
                raise CannotBeRead(f"{path.name} could not be read: it is no file.")
            if found.st_size > most:
                raise CannotBeRead(f"{path.name} could not be read: it is larger than {most / 2**20:.0f} MB.")
            return stream.read(most + 1)[:most]
    except OSError as error:
        raise CannotBeRead(f"{path.name} could not be read: {error.strerror}.") from error


def write_atomic(
    path: Path,
    data: bytes,
    *,
    private: bool = False,
    check: Callable[[Path], None] | None = None,
    before: Callable[[Path], None] | None = None,
) -> None:
    """Write through a file beside ``path``, synced and renamed, the folder synced too.

    A file that was there keeps its mode and owner, and a link its target; ``private`` ones are for their owner only.
    ``check`` reads back what was written and raises CannotWrite when it will not do; ``before`` is told the old file's
    place when all is well, just before the new one goes there. Raises CannotWrite; the old file then stays.
    """
    temporary: str | None = None
    try:
        target = path.resolve() if path.is_symlink() else path
        handle, temporary = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}.", suffix=".part")
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        made = Path(temporary)
        _dress(made, target, private)
        if check is not None:
            check(made)
        if before is not None:
            before(target)
        made.replace(target)
        temporary = None
        with suppress(OSError):  # the new file stands whole, whatever the folder says
            sync_folder(target.parent)
    except OSError as error:
        raise CannotWrite(_words(path, error)) from error
    finally:
        if temporary is not None:
            with suppress(OSError):
                Path(temporary).unlink(missing_ok=True)


def _dress(made: Path, target: Path, private: bool) -> None:
    """Give a new file the mode and owner of the one it takes the place of, or the usual ones."""
    if private:
        return  # it was made for its owner only
    try:
        old = target.stat()
    except OSError:
        umask = os.umask(0)
        os.umask(umask)
        made.chmod(0o666 & ~umask)
        return
    with suppress(OSError):  # only the superuser may give files away
        os.chown(made, old.st_uid, old.st_gid)
    made.chmod(stat.S_IMODE(old.st_mode))


def sync_folder(folder: Path) -> None:
    """A new name in a folder is only safe once the folder is on disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def private_folder(folder: Path) -> None:
    """Make a folder that only its owner may look into. Raises OSError."""
    if not folder.is_dir():
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        sync_folder(folder.parent)
    if folder.stat().st_uid == os.getuid():
        folder.chmod(0o700)


#: How old a half-written file must be before it is certain that no one is writing it any more, seconds.
_DEAD = 3600.0


def sweep(folder: Path, now: float, name: str = "*") -> int:
    """Remove the half-written files of programs that are gone, of one ``name`` or of all; returns how many.

    Without a name only for folders of our own: other programs' files may end alike.
    """
    gone = 0
    for part in folder.glob(f".{name if name == '*' else glob.escape(name)}.*.part"):
        with suppress(OSError):
            if part.is_file() and not part.is_symlink() and now - part.stat().st_mtime > _DEAD:
                part.unlink()
                gone += 1
    return gone


def _words(path: Path, error: OSError) -> str:
    reasons = {
        28: "the disk is full. Free some space, or save elsewhere",
        13: "the folder may not be written to. Save elsewhere, or ask for the right",
        30: "the folder is read-only. Save elsewhere",
        2: "the folder does not exist",
        122: "your disk quota is used up. Free some space, or save elsewhere",
    }
    reason = reasons.get(error.errno or 0, error.strerror or str(error))
    return f"{path.name} could not be saved in {path.parent}: {reason}. Nothing was lost; the job is still open."
