"""What a click on the part means just now: a free choice, or an answer to a field that asked for a face or edges."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ..core.kernel.figures import Surface
from ..core.route.model import EdgeRef, FaceRef
from ..worker.protocol import BuiltPart
from .session import Session


class Picking(QObject):
    """``changed`` when the picked faces or what is asked for change."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.faces: list[int] = []
        self.edges: list[EdgeRef] = []
        self.asking = ""
        self._face_answer: Callable[[FaceRef], None] | None = None
        self._edge_answer: Callable[[EdgeRef], None] | None = None

    @property
    def wants_face(self) -> bool:
        return self._face_answer is not None

    @property
    def wants_edges(self) -> bool:
        return self._edge_answer is not None

    @property
    def part(self) -> BuiltPart | None:
        return self._session.current.built

    def figure(self, index: int) -> Surface | None:
        part = self.part
        return part.surfaces[index - 1] if part and 1 <= index <= len(part.surfaces) else None

    def reference(self, index: int) -> FaceRef:
        """A reference to a face with what it is now, for when it is lost."""
        part, figure = self.part, self.figure(index)
        assert part is not None and figure is not None
        return FaceRef(part.references[index - 1], figure.describe())

    def picked(self) -> tuple[tuple[FaceRef, ...], tuple[EdgeRef, ...]]:
        """References to the faces and edges picked just now."""
        return tuple(self.reference(i) for i in self.faces), tuple(self.edges)

    def ask_face(self, words: str, answer: Callable[[FaceRef], None]) -> None:
        """The next face picked is the answer."""
        self.asking, self._face_answer, self._edge_answer = words, answer, None
        self.changed.emit()

    def ask_edges(self, words: str, answer: Callable[[EdgeRef], None]) -> None:
        """Every edge picked is an answer, until :meth:`done`."""
        self.asking, self._edge_answer, self._face_answer = words, answer, None
        self.changed.emit()

    def done(self) -> None:
        """Nothing is asked for any more."""
        if self.asking:
            self.asking, self._face_answer, self._edge_answer = "", None, None
            self.changed.emit()

    def forget(self) -> None:
        self.faces, self.edges = [], []
        self.done()
        self.changed.emit()

    def on_face(self, index: int, more: bool) -> None:
        if self._face_answer is not None:
            answer, reference = self._face_answer, self.reference(index)
            self.done()
            answer(reference)
            return
        if self._edge_answer is not None:
            return
        if more:
            self.faces = [f for f in self.faces if f != index] if index in self.faces else [*self.faces, index]
        else:
            self.faces, self.edges = [index], []
        self.changed.emit()

    def on_edge(self, a: str, b: str, more: bool) -> None:
        reference = EdgeRef(a, b, f"edge between {a} and {b}")
        if self._edge_answer is not None:
            self._edge_answer(reference)
            return
        if self._face_answer is not None:
            return
        self.edges = [*self.edges, reference] if more else [reference]
        if not more:
            self.faces = []
        self.changed.emit()

    def on_nothing(self) -> None:
        if not self.asking:
            self.faces, self.edges = [], []
            self.changed.emit()

    def owners(self, index: int) -> list[int]:
        """Callouts whose proof touched a face."""
        proof = self._session.current.proof
        if proof is None:
            return []
        return sorted({line.number for line in proof.lines if index in line.faces})
