"""Callouts: the numbers of a drawing as written, what they mean, and the ledger that holds them."""

from .ledger import Ledger, ledger_of
from .model import Callout, Characteristic, Place, Reading
from .normal import normal_note
from .notation import NoteError, read_note
from .sense import asks, odd
from .words import in_words, pretty

__all__ = [
    "Callout", "Characteristic", "Ledger", "NoteError", "Place", "Reading", "asks", "in_words", "ledger_of",
    "normal_note", "odd", "pretty", "read_note",
]  # fmt: skip
