"""Callouts: the numbers of a drawing as written, what they mean, and the ledger that holds them."""

from .ledger import Ledger
from .model import Callout, Characteristic, Reading
from .notation import NoteError, read_note
from .words import in_words, pretty

__all__ = ["Callout", "Characteristic", "Ledger", "NoteError", "Reading", "in_words", "pretty", "read_note"]
