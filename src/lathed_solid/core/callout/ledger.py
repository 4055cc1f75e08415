"""The ledger: all callouts of a job, read together, so that one may refer to another."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from functools import lru_cache

import msgspec

from ..names import refers
from ..quantity import Quantity
from ..quantity.expression import NoReference
from .limits import General
from .model import Callout, Characteristic, Reading
from .notation import NoteError, read_note


class Ledger:
    """Callouts by number, each read once. It is the scope in which every formula of the job is worked out."""

    def __init__(self, callouts: Iterable[Callout], length_unit: str = "mm", rule: General = "m") -> None:
        self.callouts = {c.number: c for c in callouts}
        self._unit, self._rule = length_unit, rule
        self._read: dict[int, Reading | NoteError] = {}
        self._open: list[int] = []

    @property
    def length_unit(self) -> str:
        return self._unit

    def reading(self, number: int) -> Reading:
        """The meaning of callout ``number``. Raises NoteError, or NoReference when there is none."""
        if number not in self.callouts:
            raise NoReference(f"There is no callout #{number}.")
        if number in self._open:
            chain = " → ".join(f"#{n}" for n in [*self._open[self._open.index(number) :], number])
            raise NoReference(f"These callouts refer to each other in a circle: {chain}.")
        if number not in self._read:
            self._open.append(number)
            try:
                note = self.callouts[number].note
                plain = not refers(note)  # it means the same in every ledger
                read = _plain(note, self._unit, self._rule) if plain else read_note(note, self, self._rule)
                self._read[number] = _scaled(read) if self.callouts[number].origin == "scaled" else read
            except NoteError as error:
                self._read[number] = error
            finally:
                self._open.pop()
        found = self._read[number]
        if isinstance(found, NoteError):
            raise found
        return found

    def error(self, number: int) -> NoteError | None:
        """Why callout ``number`` cannot be read, or None."""
        try:
            self.reading(number)
        except NoteError as error:
            return error
        return None

    def characteristic(self, number: int, key: str) -> Characteristic:
        """One size, stated or completed by a standard. Raises NoReference naming what the callout does state."""
        try:
            found = self.reading(number)
        except NoteError as error:
            raise NoReference(f"Callout #{number} cannot be read: {error.message}") from None
        stated = found.known(key)
        if stated is None:
            keys = ", ".join(c.key for c in (*found.characteristics, *found.completed) if c.key)
            raise NoReference(
                f"Callout #{number} states no {key.replace('_', ' ')}" + (f"; it states {keys}." if keys else ".")
            )
        return stated

    def reference(self, number: int, key: str) -> Quantity:
        """The size to make as a quantity (mm, radians or a plain count). Raises NoReference."""
        stated = self.characteristic(number, key)
        if stated.kind in ("count", "ratio"):
            return Quantity(stated.nominal)
        if stated.kind == "angle":
            return Quantity(stated.made, angle=1)
        return Quantity(stated.made, length=1)

    def try_note(self, note: str) -> Reading:
        """Read a note that is not yet in the ledger. Raises NoteError."""
        return read_note(note, self, self._rule)


@lru_cache(maxsize=4096)
def _plain(note: str, length_unit: str, rule: General) -> Reading:
    """The meaning of a note that refers to no other. Raises NoteError."""
    return read_note(note, Ledger((), length_unit), rule)


class _Shelf(threading.local):
    """The last few ledgers: one state of a job is asked for its numbers many times over."""

    KEPT = 4

    def __init__(self) -> None:
        self.ledgers: list[tuple[tuple[Callout, ...], str, General, Ledger]] = []


_SHELF = _Shelf()


def ledger_of(callouts: tuple[Callout, ...], length_unit: str, rule: General) -> Ledger:
    """The ledger of these very callouts, with what it has read already."""
    shelf = _SHELF.ledgers
    for kept, unit, by, ledger in shelf:
        if kept is callouts and unit == length_unit and by == rule:
            return ledger
    made = Ledger(callouts, length_unit, rule)
    shelf.insert(0, (callouts, length_unit, rule, made))
    del shelf[_Shelf.KEPT :]
    return made


def _scaled(reading: Reading) -> Reading:
    """A size measured on the picture is never a stated one: its limits are no criterion."""
    kept = tuple(
        c if c.kind == "count" else msgspec.structs.replace(c, basis="scaled from the drawing")
        for c in reading.characteristics
    )
    return msgspec.structs.replace(reading, characteristics=kept)
