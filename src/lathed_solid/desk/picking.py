"""What a click on the part means just now: a free choice, or an answer to a field that asked for a face or edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ..core.kernel.ground.figures import Surface
from ..core.names import bare, face_name
from ..core.route.model import CornerRef, EdgeRef, FaceRef, edge_ref
from ..worker.protocol import BuiltPart
from .session import Session

#: What a click takes while edges are asked for.
TAKES = (
    ("edge", "the edge"),
    ("loop", "the loop round one of its faces"),
    ("other", "the loop round its other face"),
    ("parallel", "all edges parallel to it"),
    ("pair", "all edges between its two faces"),
    ("face", "all edges of the face clicked"),
    ("two", "what lies between two faces clicked"),
)


def widened(edge: EdgeRef, take: str) -> EdgeRef:
    """What a click on ``edge`` takes when it is to take more than the edge."""
    a, b = (edge.b, edge.a) if take == "other" else (edge.a, edge.b)
    match take:
        case "loop" | "other":
            return EdgeRef(a, b, f"loop of {a}", "loop", edge.piece)
        case "parallel":
            return EdgeRef(a, b, f"edges parallel to that between {a} and {b}", "parallel", edge.piece)
        case "pair":
            return EdgeRef(a, b, f"all edges between {a} and {b}")
    return edge


class Picked(NamedTuple):
    """References to what is picked; among the ``faces`` are planes, axes and points of steps."""

    faces: tuple[FaceRef, ...] = ()
    edges: tuple[EdgeRef, ...] = ()
    corners: tuple[CornerRef, ...] = ()

    @property
    def many(self) -> int:
        return len(self.faces) + len(self.edges) + len(self.corners)


class Picking(QObject):
    """``changed`` when the picked faces or what is asked for change."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._faces: list[tuple[int, str]] = []
        self.edges: list[EdgeRef] = []
        #: Corners, and planes, axes and points of steps: picked only where something is measured.
        self.corners: list[CornerRef] = []
        self.datums: list[FaceRef] = []
        self._measuring = False
        self.asking = ""
        session.proved.connect(self._still_asked)
        self._face_answer: Callable[[FaceRef], None] | None = None
        self._edge_answer: Callable[[EdgeRef], None] | None = None
        self._many = False
        #: What a click takes while edges are asked for, kept from field to field.
        self.edge_take = "edge"
        #: The first of two faces whose common edges are wanted.
        self.first = ""
        self.old_faces: tuple[FaceRef, ...] = ()
        self.old_edges: tuple[EdgeRef, ...] = ()

    @property
    def faces(self) -> list[int]:
        """Indices of the faces picked, on the part that is shown."""
        return [index for index, _ in self._faces]

    @faces.setter
    def faces(self, indices: Sequence[int]) -> None:
        self._faces = [(i, self.reference(i).name if self.figure(i) is not None else "") for i in indices]

    def show(self, indices: Sequence[int]) -> None:
        """Faces picked as if they had been clicked: a list speaks of them."""
        self.faces = list(indices)
        self.changed.emit()

    def carried_over(self) -> None:
        """Another part is shown: what was picked is picked on it too, where it is still there."""
        part = self.part
        here = {name: i for i, name in enumerate(part.references, 1)} if part is not None else {}
        self._faces = [(here[name], name) for _, name in self._faces if name in here]
        known = {n for names in part.names for n in names} if part is not None else set()
        self.edges = [e for e in self.edges if {bare(e.a), bare(e.b)} - {""} <= known]
        self.corners = [c for c in self.corners if {bare(c.a), bare(c.b), bare(c.c)} <= known]
        steps = {d.step for d in part.datums} if part is not None else set()
        self.datums = [d for d in self.datums if face_name(d.name).step in steps]

    @property
    def measures(self) -> bool:
        """Whether corners, planes and axes can be picked just now: something is measured, nothing asked for."""
        return self._measuring and not self.asking

    def measure(self, on: bool) -> None:
        """Something is measured from now on, or no longer."""
        if on != self._measuring:
            self._measuring = on
            if not on:
                self.corners, self.datums = [], []
            self.changed.emit()

    @property
    def wants_face(self) -> bool:
        return self._face_answer is not None

    @property
    def wants_edges(self) -> bool:
        return self._edge_answer is not None

    @property
    def by_faces(self) -> bool:
        """Whether the edges asked for are told by clicking faces."""
        return self.wants_edges and self.edge_take in ("face", "two")

    def take_by(self, take: str) -> None:
        """What the next clicks take."""
        self.edge_take, self.first = take, ""
        self.changed.emit()

    def meant(self, face: str) -> EdgeRef | None:
        """The edges that a click on a face would take; None while another face is needed for it."""
        if self.edge_take == "face":
            return EdgeRef(face, "", f"edges of {face}", "face")
        if self.first and self.first != face:
            return EdgeRef(self.first, face, f"all edges between {self.first} and {face}")
        return None

    @property
    def adds(self) -> bool:
        """Whether picks add up; otherwise a pick takes the place of the one before."""
        return self._many

    @property
    def part(self) -> BuiltPart | None:
        return self._session.current.shown

    def figure(self, index: int) -> Surface | None:
        part = self.part
        return part.surfaces[index - 1] if part and 1 <= index <= len(part.surfaces) else None

    def reference(self, index: int) -> FaceRef:
        """A reference to a face with what it is now, for when it is lost."""
        part, figure = self.part, self.figure(index)
        assert part is not None and figure is not None
        return FaceRef(part.references[index - 1], self.words(index))

    def words(self, index: int) -> str:
        """What a face is and where, in the job's unit."""
        figure, content = self.figure(index), self._session.content
        if figure is None:
            return ""
        return self._session.current.machine.seen(figure).describe(content.header.style, content.turned)

    def body_of(self, index: int) -> str:
        """The body that a face of the part belongs to; "" for none."""
        part = self.part
        bodies = part.bodies if part is not None else ()
        return next((b.id for b in bodies if b.first <= index <= b.last), "")

    def told(self, face: FaceRef) -> str:
        """What a face is just now; what it was when it is not on the part that is shown."""
        return self.words(self.index_of(face.name)) or face.was or face.name

    def index_of(self, name: str) -> int:
        """The face a reference means on the part that is shown, the very piece where it was parted; 0 for none."""
        part = self.part
        if part is None or not name:
            return 0
        if name in part.references:
            return part.references.index(name) + 1
        plain = bare(name)
        return next((i for i, names in enumerate(part.names, 1) if plain in names), 0)

    def told_edge(self, edge: EdgeRef) -> str:
        """What an edge, or what is taken with it, is just now."""
        a, b = self.told(FaceRef(edge.a)), self.told(FaceRef(edge.b))
        if edge.take == "face":
            return f"all edges of {a}"
        if edge.take == "loop":
            return f"the loop round {a}, where it meets {b}"
        if edge.take == "pair":
            one = edge.was.startswith("edge between")
            return f"{'edge' if one else 'all edges'} between {a} and {b}"
        if edge.take == "parallel":
            return f"all edges parallel to that between {a} and {b}"
        if not edge.a:
            return edge.was
        which = edge.was.partition(" between ")[0] if edge.was.startswith("edge ") else "edge"
        return f"{which} between {a} and {b}"

    def told_corner(self, corner: CornerRef) -> str:
        """Where a corner is just now."""
        return f"corner of {', '.join(self.told(FaceRef(n)) for n in (corner.a, corner.b, corner.c))}"

    def told_all(self, picked: Picked) -> list[str]:
        """What each of the things picked is just now."""
        faces, edges = map(self.told, picked.faces), map(self.told_edge, picked.edges)
        return [*faces, *edges, *map(self.told_corner, picked.corners)]

    def picked(self) -> Picked:
        """References to what is picked just now and is on the part that is shown."""
        faces = (*(self.reference(i) for i in self.faces if self.figure(i) is not None), *self.datums)
        return Picked(faces, tuple(self.edges), tuple(self.corners))

    def _clear(self) -> None:
        self.faces, self.edges, self.corners, self.datums = [], [], [], []

    def ask_face(
        self, words: str, answer: Callable[[FaceRef], None], old: Sequence[FaceRef] = (), many: bool = False
    ) -> None:
        """The next face picked is the answer (every one until :meth:`done` with ``many``); ``old`` is what was picked
        before, shown meanwhile.
        """
        self._look_back()
        self.asking, self._face_answer, self._edge_answer, self._many = words, answer, None, many
        self.old_faces, self.old_edges = tuple(old), ()
        self.changed.emit()

    def ask_edges(self, words: str, answer: Callable[[EdgeRef], None], old: Sequence[EdgeRef] = ()) -> None:
        """Every edge picked is an answer, until :meth:`done`; ``old`` is what was picked before."""
        self._look_back()
        self.asking, self._edge_answer, self._face_answer, self._many = words, answer, None, True
        self.old_faces, self.old_edges = (), tuple(old)
        self.changed.emit()

    def _still_asked(self) -> None:
        """An answer was built while more are asked for: the part is shown as it was before the step again."""
        if self.asking and self._session.step:
            self._session.look_back(self._session.step)

    def _look_back(self) -> None:
        """What a step is placed on is picked on the part as it was before that step."""
        if not self.asking and self._session.step:
            self._session.look_back(self._session.step)

    def done(self) -> None:
        """Nothing is asked for any more."""
        if self.asking:
            self.asking, self._face_answer, self._edge_answer = "", None, None
            self.old_faces, self.old_edges, self.first = (), (), ""
            self._session.look_away()
            self.changed.emit()

    def forget(self) -> None:
        self._clear()
        self.done()
        self.changed.emit()

    def on_face(self, index: int, more: bool) -> None:
        if self._face_answer is not None:
            self.take(self.reference(index))
            return
        if self._edge_answer is not None:
            if self.by_faces:
                self._by_face(self._edge_answer, self.reference(index).name)
            return
        if more:
            self.faces = [f for f in self.faces if f != index] if index in self.faces else [*self.faces, index]
        else:
            self._clear()
            self.faces = [index]
        self.changed.emit()

    def _by_face(self, answer: Callable[[EdgeRef], None], face: str) -> None:
        meant = self.meant(face)
        if meant is not None:
            self.first = ""
            answer(meant)
            return
        self.first = face
        self._session.say(f"{self.words(self.index_of(face))}: now click the other face")

    def take(self, reference: FaceRef) -> None:
        """Answer what is asked with a face, or with a plane of an earlier step."""
        if self._face_answer is not None:
            answer = self._face_answer
            if not self._many:
                self.done()
            answer(reference)

    def edge(self, a: str, b: str, piece: int, pieces: int) -> EdgeRef:
        """A reference to one of the edges between two faces."""
        return edge_ref(a, b, piece, pieces, (self.words(self.index_of(a)), self.words(self.index_of(b))))

    def on_edge(self, a: str, b: str, more: bool, piece: int = 0, pieces: int = 1) -> None:
        """``piece`` of ``pieces`` edges between the faces ``a`` and ``b`` was clicked."""
        reference = self.edge(a, b, piece, pieces)
        if self._edge_answer is not None:
            known = any({e.a, e.b} == {a, b} and (e.take, e.piece) == (reference.take, piece) for e in self.old_edges)
            self._edge_answer(reference if known else widened(reference, self.edge_take))
            return
        if self._face_answer is not None:
            return
        before = self.edges if more else []
        if not more:
            self._clear()
        self.edges = [*before, reference]
        self.changed.emit()

    def on_corner(self, corner: CornerRef, more: bool) -> None:
        if not self.measures:
            return
        before = self.corners if more else []
        if not more:
            self._clear()
        self.corners = [c for c in before if c != corner] if corner in before else [*before, corner]
        self.changed.emit()

    def on_datum(self, datum: FaceRef, more: bool) -> None:
        """A plane, an axis or a point of a step was clicked: an answer, or measured."""
        if self.wants_face:
            self.take(datum)
        elif self.measures:
            before = self.datums if more else []
            if not more:
                self._clear()
            self.datums = [d for d in before if d != datum] if datum in before else [*before, datum]
            self.changed.emit()

    def on_nothing(self) -> None:
        if not self.asking:
            self._clear()
            self.changed.emit()

    def owners(self, index: int) -> list[int]:
        """Callouts whose proof touched a face."""
        proof = self._session.current.proof
        if proof is None:
            return []
        return sorted({line.number for line in proof.lines if index in line.faces})
