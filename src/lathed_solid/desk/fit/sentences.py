"""Relations written into the entry line while the Fit stage is shown."""

from __future__ import annotations

from ...core.fit.typed import TypedRelation, kind_said, read_relation, tied_as
from ...core.refusal import Refusal
from .document import FitDocument


class Sentences:
    def __init__(self, document: FitDocument) -> None:
        self._document = document
        self._lit: tuple[str, ...] = ()

    def is_one(self, text: str) -> bool:
        return kind_said(text) is not None and bool(self._document.assembly.instances)

    def told(self, text: str) -> str:
        """What a sentence would tie, in words; the parts are lit. Raises Refusal."""
        typed = self._read(text)
        self._light(typed.a.instance, typed.b.instance)
        called = self._document.assembly.called
        return f"Ties {called(typed.a.instance)} and {called(typed.b.instance)}: {typed.words}."

    def left(self) -> None:
        """The line says something else."""
        self._light()

    def take(self, text: str) -> bool:
        """Tie what a sentence says; whether it was done. Raises Refusal."""
        typed = self._read(text)
        self._light()
        return self._document.tie(lambda assembly: tied_as(assembly, typed))

    def _light(self, *instances: str) -> None:
        """Only when it is others: the view is drawn anew, and this is asked at every key."""
        if instances != self._lit:
            self._lit = instances
            self._document.light(instances)

    def _read(self, text: str) -> TypedRelation:
        try:
            return read_relation(text, self._document.assembly, self._document.picks)
        except Refusal as error:
            self.left()
            raise error from None
