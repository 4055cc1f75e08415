"""Atomic writing: a file is either the old one or the whole new one, never a part."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from ..refusal import Refusal


class CannotWrite(Refusal):
    """A file that could not be written; the text says where, why and what to do."""


def write_atomic(path: Path, data: bytes) -> None:
    """Write through a file beside ``path``, synced and renamed. Raises CannotWrite; the old file then stays."""
    temporary: str | None = None
    try:
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.", suffix=".part")
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        Path(temporary).chmod(0o644)
        Path(temporary).replace(path)
    except OSError as error:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)
        raise CannotWrite(_words(path, error)) from error


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
