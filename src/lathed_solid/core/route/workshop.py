"""What a step works with while it is built: numbers, sketches, bodies, and what its references mean just now."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import partial
from typing import TYPE_CHECKING, Any, NamedTuple, TypeAlias

from ..callout import Ledger
from ..names import Renames, bare, lone_ref, refers
from ..quantity import ExpressionError, evaluate
from ..quantity.expression import NoReference
from ..refusal import said
from ..sketch.model import Sketch
from ..standards.tables import NotTabled
from ..standards.threads import ScrewThread, parse_designation
from .model import Built, EdgeRef, FaceRef, FileLook, Shadow, StepBase, StepFailure, ThreadMark, Tooling, Unfinished

if TYPE_CHECKING:
    from ..kernel.ground.figures import Surface, Vector
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody
    from ..kernel.ground.placing import Transform
    from ..kernel.ground.topology import Edge


#: Breaks the edges of a step again where copies of it lie: the step, where, how the copies' faces are called.
Alike: TypeAlias = "Callable[[Any, Workshop, Mapping[str, Sequence[Sequence[Edge]]], Mapping[str, Renames]], NamedBody]"


class Maker(NamedTuple):
    """How the steps of a kind are made: ``build`` makes one, ``break_alike`` breaks its edges again where copies lie
    (None for kinds that break none).
    """

    build: Callable[[Any, Workshop], Built]
    break_alike: Alike | None = None


class Workshop:
    """All that a step may use. ``steps`` are the route's, for those that work another one out again."""

    def __init__(
        self,
        ledger: Ledger,
        sketches: Mapping[str, Sketch],
        steps: Mapping[str, StepBase] | None = None,
        attachments: Callable[[str], bytes | None] | None = None,
        makers: Callable[[StepBase], Maker] | None = None,
    ) -> None:
        self.attachments = attachments
        self._makers = makers
        self.ledger, self.sketches = ledger, dict(sketches)
        self.steps = dict(steps or {})
        #: Sketches whose lines from the solid have moved since they were last stored.
        self.renewed: dict[str, Sketch] = {}
        self.bodies: dict[str, NamedBody] = {}
        self.active = ""
        self.datums: dict[str, Frame] = {}
        #: Planes that sizes are measured in and from: ``s2/frame`` of step s2's sketch, ``s2/from`` where it starts.
        self.frames: dict[str, Frame] = {}
        #: Where each sketch lies, and the part to be shown under it.
        self.shadows: dict[str, Shadow] = {}
        self.looks: dict[str, FileLook] = {}
        #: The id of the step being built.
        self.at_work = ""
        self.tooling: dict[str, Tooling] = {}
        self.marks: tuple[ThreadMark, ...] = ()
        self._place: Transform | None = None

    def build(self, step: StepBase) -> Built:
        """What ``step`` gives: one of the route's, or a copy of one in another place."""
        assert self._makers is not None, "a workshop that was not told how to makes no steps by itself"
        return self._makers(step).build(step, self)

    def breaks_edges(self, step: StepBase) -> bool:
        return self._makers is not None and self._makers(step).break_alike is not None

    def break_alike(
        self, step: StepBase, there: Mapping[str, Sequence[Sequence[Edge]]], renames: Mapping[str, Renames]
    ) -> NamedBody:
        """The body with the edges that lie where copies of the step's edges lie broken as well.

        ``there`` holds these for each copy, one group for each that was picked; ``renames`` how its faces are called.
        Raises LostReference, KernelFailure.
        """
        again = self._makers(step).break_alike if self._makers is not None else None
        assert again is not None, "this step breaks no edges"
        return again(step, self, there, renames)

    # --- bodies
    @property
    def current(self) -> NamedBody | None:
        return self.bodies.get(self.active)

    @current.setter
    def current(self, body: NamedBody | None) -> None:
        if body is None:
            self.bodies.pop(self.active, None)
        else:
            self.bodies[self.active] = body

    @property
    def body(self) -> NamedBody:
        if self.current is None:
            raise Unfinished("There is no body yet. Start the route with a turned profile or an extrude.")
        return self.current

    def turn_to(self, step: StepBase) -> None:
        """Make the body that ``step`` works on the current one. Raises StepFailure for one that is gone."""
        self.at_work = step.id
        if step.body:
            if step.body not in self.bodies:
                raise StepFailure("The body this step works on is not there. Choose another one.")
            self.active = step.body
            return
        for name in _named_by(step):
            if owner := self.owner(name):
                self.active = owner
                return
        if self.active not in self.bodies and self.bodies:
            self.active = next(reversed(self.bodies))

    def owner(self, reference: str) -> str:
        """The body that carries a face; "" for none."""
        name = bare(reference)
        for id_, body in self.bodies.items():
            if any(name in names for names in body.names.values()):
                return id_
        return ""

    def begin(self, id_: str) -> None:
        """A new body: what is built next stands for itself."""
        self.active = id_
        self.bodies.pop(id_, None)

    # --- what references mean
    def surface(self, ref: FaceRef, what: str = "the face") -> Surface:
        """A picked face measured. Raises StepFailure when none is picked, LostReference when it is gone."""
        from ..kernel.measure.surfaces import measure_face

        if not ref.name:
            raise Unfinished(f"Pick {what}.")
        body = self.bodies.get(self.owner(ref.name)) or self.body
        index = body.find(ref.name)[0]
        return measure_face(body.face(index), index)

    def pieces(self, ref: FaceRef) -> list[Surface]:
        """Every face a reference means, measured: another step may have parted it since it was picked."""
        from ..kernel.measure.surfaces import measure_face

        body = self.bodies.get(self.owner(ref.name)) or self.body
        return [measure_face(body.face(i), i) for i in body.find(ref.name)]

    def datum(self, ref: FaceRef) -> Frame | None:
        """The plane or axis of an earlier step that a reference names; None for a face."""
        return self.datums.get(ref.name.partition("/")[0])

    def plane(self, ref: FaceRef, what: str = "the face") -> Frame:
        """A flat face (its normal outward) or a plane of an earlier step, as a frame. Raises StepFailure."""
        from ..kernel.ground.geometry import flat_frame

        if (datum := self.datum(ref)) is not None:
            return datum
        found = self.surface(ref, what)
        if found.kind != "plane":
            raise StepFailure(f"This must be flat ({what}); the picked one is a {found.kind}.")
        return flat_frame(found.origin, found.axis)

    def axis(self, ref: FaceRef, what: str = "a round face") -> tuple[Vector, Vector]:
        """A point and the direction of a round face's axis, or of an axis of an earlier step. Raises StepFailure."""
        if (datum := self.datum(ref)) is not None:
            return datum.origin, datum.normal
        found = self.surface(ref, what)
        if found.kind in ("plane", "other"):
            raise StepFailure(f"Pick {what}: the picked face has no axis.")
        return found.origin, found.axis

    def attachment(self, digest: str) -> bytes:
        """A file kept in the job. Raises StepFailure when it is not there."""
        found = self.attachments(digest) if self.attachments else None
        if found is None:
            raise StepFailure("The file is not in the job any more. Choose it again.")
        return found

    # --- places
    @contextmanager
    def at(self, transform: Transform) -> Iterator[None]:
        """While a step is worked out again elsewhere: every place that its numbers give is moved by ``transform``."""
        before, self._place = self._place, transform
        try:
            yield
        finally:
            self._place = before

    def placed(self, frame: Frame) -> Frame:
        from ..kernel.ground.placing import moved_frame

        return frame if self._place is None else moved_frame(frame, self._place)

    def frame(self, sketch: Sketch, turn: float = 0.0) -> Frame:
        """Where a sketch's plane lies now, turned about the axis by ``turn`` more (radians). Raises StepFailure."""
        from ..kernel.ground.geometry import Frame, shifted, turned_in_plane
        from .planes import plane_axes

        plane = sketch.plane
        offset = self.value(plane.offset, "Plane offset", positive=False)
        angle = self.value(plane.angle, "Plane angle", "angle", positive=False)
        if plane.base == "face":
            found = self.plane(FaceRef(plane.on), f"the face that the sketch “{sketch.name}” lies on")
            made = self.placed(shifted(turned_in_plane(found, angle), offset))
        else:
            made = self.placed(Frame(*plane_axes(plane.base, offset, angle + turn)))
        self.frames[f"{self.at_work}/frame"] = made
        return made

    def sketch(self, id_: str) -> Sketch:
        """The sketch, its lines from the solid brought up to the present body. Raises StepFailure."""
        if id_ not in self.sketches:
            raise Unfinished("This step has no sketch.")
        from .projecting import part_under, refreshed

        old = self.sketches[id_]
        self.shadows[id_] = Shadow(self.frame(old), part_under(old, self.current, self.frame(old)))
        if old.projected and id_ not in self.renewed:
            place = self.frame(old)
            lender = partial(self._lent, {id_})
            self.renewed[id_] = self.sketches[id_] = refreshed(old, self.current, place, self.ledger, lender)
            self.frame(old)
        return self.sketches[id_]

    def _lent(self, asking: set[str], id_: str) -> tuple[Sketch, Frame]:
        """A sketch that lends its lines, and where it lies. Raises StepFailure where it is gone, or asks in turn."""
        from .projecting import refreshed

        if id_ not in self.sketches:
            raise StepFailure("A sketch that lent its lines to this one is gone. Delete its lines, or take others.")
        if id_ in asking:
            raise StepFailure("Two sketches take each other’s lines: one of them must come first.")
        old = self.sketches[id_]
        if not old.projected or id_ in self.renewed:
            return old, self.frame(old)
        lender = partial(self._lent, {*asking, id_})
        return refreshed(old, self.current, self.frame(old), self.ledger, lender), self.frame(old)

    def value(self, text: str, label: str, want: str = "length", positive: bool = True) -> float:
        """A formula's value. Raises StepFailure naming the field."""
        if not text.strip():
            raise Unfinished(f"{label} is not written yet.")
        try:
            value = evaluate(text, self.ledger, want)
        except ExpressionError as error:
            raise StepFailure(f"{label}: {error}") from None
        if positive and value <= 0:
            shown = said(value) if want == "length" else f"{value:g}"
            raise StepFailure(f"{label} must be above zero; it is {shown}.")
        return value

    def thread(self, text: str) -> ScrewThread:
        """A designation, or the thread of the callout that ``text`` names. Raises StepFailure."""
        text = text.strip()
        if not text:
            raise Unfinished("The thread is not written yet: a designation such as M10x1.5 - 6g, or a callout.")
        try:
            if refers(text):
                ref = lone_ref(text)
                if ref is None:
                    raise StepFailure(f"Thread: “{text}” names no callout. Write # and its number.")
                found = self.ledger.reading(ref.number).thread
                if found is None:
                    raise StepFailure(f"Callout #{ref.number} is not a thread.")
                return found
            return parse_designation(text)
        except (NotTabled, NoReference, ExpressionError) as error:
            raise StepFailure(f"Thread: {error}") from None


def _named_by(step: StepBase) -> Iterator[str]:
    """Names of the faces that a step refers to."""
    for field in step.__struct_fields__:
        value = getattr(step, field)
        for ref in value if isinstance(value, tuple) else (value,):
            if isinstance(ref, FaceRef) and ref.name:
                yield ref.name
            elif isinstance(ref, EdgeRef):
                yield from (n for n in (ref.a, ref.b) if n)
