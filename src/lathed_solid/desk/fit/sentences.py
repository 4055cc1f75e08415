"""Relations written into the entry line while the Fit stage is shown."""

from __future__ import annotations

from ...core.fit.typed import TypedRelation, kind_said, read_relation
from ...core.refusal import Refusal
from .document import FitDocument


class Sentences:
    def __init__(self, document: FitDocument) -> None:
        self._document = document

    def is_one(self, text: str) -> bool:
        return kind_said(text) is not None and bool(self._document.assembly.instances)

    def told(self, text: str) -> str:
        """What a sentence would tie, in words; the parts are lit. Raises Refusal."""
        typed = self._read(text)
        self._document.light((typed.a.instance, typed.b.instance))
        called = self._document.assembly.called
        value = f" {typed.value}" if typed.value else ""
        return f"Ties {called(typed.a.instance)} and {called(typed.b.instance)}: {typed.kind}{value}."

    def left(self) -> None:
        """The line says something else."""
        self._document.light(())

    def take(self, text: str) -> bool:
        """Tie what a sentence says; whether it was done. Raises Refusal."""
        typed = self._read(text)
        self._document.light(())
        return self._document.tie(typed.kind, typed.a, typed.b, typed.value)

    def _read(self, text: str) -> TypedRelation:
        try:
            return read_relation(text, self._document.assembly, self._document.picks)
        except Refusal as error:
            self.left()
            raise error from None
