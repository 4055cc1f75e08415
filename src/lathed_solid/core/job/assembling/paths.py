"""Files of parts: how an assembly keeps their paths, and tells one state of them from another."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

from ...refusal import Refusal
from ..files import CannotBeRead, read_whole
from ..storage import MAX_FILE


def relative(path: Path, base: Path) -> str:
    """A path as an assembly keeps it: beside it or below where that is so, else all of it."""
    try:
        return Path(os.path.relpath(path.resolve(), base.resolve())).as_posix()
    except ValueError:
        return path.resolve().as_posix()


def stamp_of(path: Path) -> str:
    """What tells one state of a file from another. Raises Refusal for a file that cannot be read."""
    try:
        return hashlib.sha256(read_whole(path, MAX_FILE)).hexdigest()[:32]
    except CannotBeRead as error:
        raise Refusal(error.message) from error
