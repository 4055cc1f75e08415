"""Cells of a CSV: text that a spreadsheet would run as a formula is written so that it stays text."""

from __future__ import annotations

_RUN = ("=", "+", "-", "@", "\t", "\r")


def plain(text: str) -> str:
    """A cell as it is written: what only looks like a formula begins with an apostrophe; numbers stay numbers."""
    return f"'{text}" if text.startswith(_RUN) and not _is_number(text) else text


def meant(cell: str) -> str:
    """The text of a cell as it was before it was written."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_RUN) else cell


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True
