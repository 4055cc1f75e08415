"""Making parsers. Their tables take a quarter of a second to work out, so they are kept in the user's cache folder."""

from __future__ import annotations

import hashlib
import os
import stat
from pathlib import Path

from lark import Lark
from platformdirs import user_cache_path


def make_parser(grammar: str, start: str) -> Lark:
    """An LALR parser with places; without a cache that only its owner can write it is simply made anew."""
    options = {"parser": "lalr", "start": start, "propagate_positions": True}
    name = hashlib.sha256(f"{start}\n{grammar}".encode()).hexdigest()[:16]
    try:
        folder = user_cache_path("lathed-solid")
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        kept = folder / f"{start}-{name}.lark"
        # What is kept is run when it is read: it must not have been put there by anyone else.
        if not (_only_mine(folder) and (not kept.exists() or _only_mine(kept))):
            return Lark(grammar, **options)
        return Lark(grammar, cache=str(kept), **options)
    except OSError:
        return Lark(grammar, **options)


def _only_mine(path: Path) -> bool:
    """Whether nobody but this user can have written a file or folder."""
    found = path.lstat()
    if found.st_uid != os.getuid() or stat.S_ISLNK(found.st_mode):
        return False
    return not found.st_mode & 0o022
