"""Making parsers. Their tables take a quarter of a second to work out, so they are kept in the user's cache folder."""

from __future__ import annotations

import hashlib

from lark import Lark
from platformdirs import user_cache_path


def make_parser(grammar: str, start: str) -> Lark:
    """An LALR parser with places; without a writable cache it is simply made anew."""
    options = {"parser": "lalr", "start": start, "propagate_positions": True}
    name = hashlib.sha256(f"{start}\n{grammar}".encode()).hexdigest()[:16]
    try:
        folder = user_cache_path("lathed-solid")
        folder.mkdir(parents=True, exist_ok=True)
        return Lark(grammar, cache=str(folder / f"{start}-{name}.lark"), **options)
    except OSError:
        return Lark(grammar, **options)
