"""What the part view shows of the job, and what happens when something on the part is pointed at."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

from PyQt6.QtCore import QObject

from ..core.job import edits
from ..core.job.model import Content
from ..core.kernel.ground.geometry import Frame
from ..core.kernel.measure.pair import Measurable, datum_thing, lie
from ..core.names import bare, face_name
from ..core.quantity import evaluate
from ..core.route.model import EdgeRef, FaceRef
from ..core.route.registry import DATUMS, Step, called, kind_of
from ..core.route.steps.datum import DatumAxis, DatumPlane, DatumPoint
from ..core.route.steps.edges import Chamfer, Fillet
from ..core.units import UNITS
from .numbers import numbers_of
from .picking import Picked, Picking, widened
from .session import Session
from .timing import one_shot
from .viewport.coats import PLAIN, coats_of
from .viewport.partview import PartView
from .viewport.referring import corner_shapes, edge_shapes, sharp


class PartDesk(QObject):
    """Between the session, what is picked, and the part view. ``shaping`` and ``reading`` say which stage is up."""

    def __init__(self, session: Session, picking: Picking, view: PartView) -> None:
        super().__init__(view)
        self._session, self._picking, self._view = session, picking, view
        self.shaping = self.reading = False
        self._step = session.step
        #: Faces whose look was told to be lost, so that it is told once.
        self._lost: tuple[str, ...] = ()
        view.face_picked.connect(self.on_face)
        view.edge_picked.connect(picking.on_edge)
        view.corner_picked.connect(picking.on_corner)
        view.nothing_picked.connect(picking.on_nothing)
        view.datum_picked.connect(self.on_datum)
        view.number_changed.connect(self.set_number)
        view.number_dragged.connect(self.pull_number)
        #: What a dragged number would make; shown not more often than a build takes.
        self._pulled: Callable[[Content], Content] | None = None
        #: What was being asked for when it was last looked at; empty for nothing.
        self._asked = ""
        self._pull = one_shot(self, 150)
        self._pull.timeout.connect(self._show_pulled)
        view.hovered.connect(self.on_hover)
        view.edge_hovered.connect(self.on_edge_hover)
        picking.changed.connect(self.light)
        picking.changed.connect(self.show_datums)
        picking.changed.connect(self.show_numbers)
        session.proved.connect(self.light)

    def enter(self, stage: str) -> None:
        """Another stage is up."""
        self.shaping, self.reading = stage == "Shape", stage == "Read"
        self.show_numbers()

    def show(self) -> None:
        """The part as it is now: the last good one, or what is being looked at."""
        built, content = self._session.current.shown, self._session.content
        self._picking.carried_over()
        self._view.show_part(built, partial(coats_of, content, built) if built is not None else lambda _: PLAIN)
        if built is not None and self._session.current.glimpse is None:
            self._tell_lost()
        self.show_numbers()
        self.show_datums()
        self._view.say("")  # what was told of a face under the mouse was told of the part before
        if self._picking.asking or self._picking.faces or self._picking.edges:
            self.light()

    def _tell_lost(self) -> None:
        """What was said of the look of a face that is gone must not go without a word."""
        lost = self._view.scene.coats.lost
        if lost and lost != self._lost:
            told = ", ".join(dict.fromkeys(lost))
            words = f"The finish or colour of {told} has no face any more: pick the face and say it anew."
            self._session.say(words, "warn")
        self._lost = lost

    def chosen(self) -> None:
        """Another callout or step was chosen. What is picked stays picked for a callout, in either order."""
        if self._session.step != self._step:
            self._step = self._session.step
            self._picking.faces, self._picking.edges = [], []
        self.light()
        self.show_numbers()
        self.show_datums()

    def _named(self, references: Iterable[str]) -> list[int]:
        """Indices of the faces that references mean on the part that is shown."""
        part = self._picking.part
        wanted = {bare(r) for r in references}
        return [i for i, names in enumerate(part.names, 1) if wanted & set(names)] if part is not None else []

    def show_numbers(self) -> None:
        """The chosen step's sizes, on the part; away while something is to be picked, which they might hide."""
        part, step = self._session.current.shown, self._chosen_step()
        shown = step is not None and part is not None and self.shaping and not self._picking.asking
        self._view.show_numbers(numbers_of(step, self._session.content.plan(), part) if shown else ())  # type: ignore[arg-type]

    def _chosen_step(self) -> Step | None:
        return next((s for s in self._session.content.steps if s.id == self._session.step), None)

    def show_datums(self) -> None:
        """Planes and axes while a face is asked for, and that of the chosen step."""
        kinds = {DatumPlane: "plane", DatumAxis: "axis", DatumPoint: "point"}
        every = self._picking.wants_face or self._picking.measures
        steps = [
            s for s in self._session.content.steps if isinstance(s, DATUMS) and (every or s.id == self._session.step)
        ]
        proof = self._session.current.proof
        middle = proof.mass.center if proof is not None else (0.0, 0.0, 0.0)
        wanted = {s.id: kinds[type(s)] for s in steps}
        self._view.show_datums(wanted, self._session.part_size or 50.0, middle, self._picking.measures)

    def on_datum(self, step: str, more: bool) -> None:
        found = next((s for s in self._session.content.steps if s.id == step), None)
        if found is not None:
            word = {DatumPlane: "plane", DatumAxis: "axis"}.get(type(found), "point")
            self._picking.on_datum(FaceRef(f"{step}/{word}", f"{word} “{found.name or called(found)}”"), more)

    def set_number(self, field: str, text: str) -> None:
        """A size was changed on the part."""
        step = self._chosen_step()
        if step is None:
            return
        param = next(p for p in kind_of(step).params if p.field == field)

        def change(content: Content) -> Content:
            if param.want != "thread":
                evaluate(text, content.ledger(), param.want)
            return edits.change_step(content, step.id, **{field: text})

        self._session.edit(change, f"step changed: {param.label.lower()}")

    def pull_number(self, field: str, value: float, done: bool) -> None:
        """A depth is dragged on the part: shown as it would be, and set when the mouse lets go."""
        step, style = self._chosen_step(), self._session.content.header.typed_style
        if step is None:
            return
        mm = UNITS[style.unit]
        grain = self._view.surface.grain(mm)
        text = f"{max(round(value / mm / grain) * grain, grain):.6g}"
        if done:
            self._pull.stop()
            self._session.look_away()
            self.set_number(field, text)
            return
        param = next(p for p in kind_of(step).params if p.field == field)
        self._view.tags.tell(field, f"{param.label} {text}")
        self._pulled = lambda c: edits.change_step(c, step.id, **{field: text})
        if not self._pull.isActive():
            self._pull.start()

    def _show_pulled(self) -> None:
        if self._pulled is not None:
            self._session.preview(self._pulled)

    def light_sharp(self) -> list[EdgeRef]:
        """Light every edge that is still sharp, and say which they are."""
        found = sharp(self._view.scene.body)
        self._view.scene.light((), [edge for _, edge in found])
        self._view.say(f"{len(found)} sharp edge{'s' * (len(found) != 1)}")
        return [ref for ref, _ in found]

    def light_edge(self, ref: EdgeRef) -> None:
        """Light one edge of the list."""
        self._view.scene.light((), edge_shapes(self._view.scene.body, (ref,)))

    def light(self) -> None:
        """Light what is picked; else the faces of the chosen callout; else those the chosen step made."""
        session, faces = self._session, list(self._picking.faces)
        if self._picking.asking:
            session.say(self._picking.asking)
        elif self._asked:
            session.withdraw(self._asked)
        self._asked = self._picking.asking
        by_faces = self._picking.by_faces
        self._view.scene.allow(
            faces=by_faces or not self._picking.wants_edges,
            edges=not (by_faces or self._picking.wants_face),
            corners=self._picking.measures,
        )
        edges = list(self._picking.edges)
        step = next((s for s in session.content.steps if s.id == session.step), None)
        asked = bool(self._picking.asking)
        if not faces and not edges and not asked and session.callout is not None and session.current.proof is not None:
            faces = list(session.current.proof.faces_of(session.callout))
        picking, chains = self._picking, isinstance(step, Fillet | Chamfer)
        if isinstance(step, Fillet | Chamfer) and not (faces or edges or asked) and self._failed(step.id):
            edges = list(step.edges)  # the part stands as it was before: these are the edges that would not have it
        before = self._named(r.name for r in picking.old_faces)
        owned = session.current.proof.faces_of(session.callout) if session.current.proof and session.callout else ()
        edges += picking.old_edges
        # Where picks add up, those before are part of the choice; where one takes the place of another, they are not.
        chosen, ghosts = ([*faces, *before], []) if picking.adds else (faces, list(before))
        if (faces or edges) and not asked:
            ghosts += [f for f in owned if f not in chosen]
        tips = corner_shapes(self._view.scene.body, self._picking.corners)
        self._view.light(chosen, edge_shapes(self._view.scene.body, edges, chains=chains), ghosts, tips)
        if len(self._picking.faces) == 1:
            self._view.say(self._face_words(self._picking.faces[0]))
        elif self._picking.picked().many == 2 and not asked:
            self._view.say(self._pair_words())
        elif len(self._picking.faces) > 1:
            self._view.say(f"{len(self._picking.faces)} faces picked")
        elif self._picking.edges:
            self._view.say(f"{len(self._picking.edges)} edge{'s' * (len(self._picking.edges) > 1)} picked")

    def _pair_words(self) -> str:
        """How the two things picked lie to each other."""
        shapes = self.shapes(self._picking.picked())
        return lie(shapes, self._session.content.header.style) if len(shapes) == 2 else ""

    def shapes(self, picked: Picked) -> list[Measurable]:
        """What is picked on the part that is shown, to be measured; what is not there is left out."""
        body, part = self._view.scene.body, self._picking.part
        if body is None:
            return []
        frames = {d.step: Frame(d.origin, d.x, d.y) for d in part.datums} if part is not None else {}
        names = [face_name(f.name) for f in picked.faces]
        own = [self._picking.index_of(str(n)) for n in names if n.step not in frames]
        found: list[Measurable] = [body.face(i) for i in own if 0 < i <= body.face_count]
        found += [*edge_shapes(body, picked.edges), *corner_shapes(body, picked.corners)]
        return [*found, *(datum_thing(n.rest, frames[n.step]) for n in names if n.step in frames)]

    def _failed(self, step: str) -> bool:
        report = self._session.current.reports.get(step)
        return report is not None and report.state == "failed" and not report.unfinished

    def on_face(self, index: int, more: bool) -> None:
        asked = bool(self._picking.asking)
        self._picking.on_face(index, more)
        owners = self._picking.owners(index)
        if not asked and not more and len(owners) == 1 and self.reading:
            self._session.select_callout(owners[0])

    def _face_words(self, index: int) -> str:
        """What a face is, which step made it, which callouts own it."""
        figure, part = self._picking.figure(index), self._picking.part
        if figure is None or part is None:
            return ""
        id_ = part.references[index - 1].partition("/")[0]
        step = next((s for s in self._session.content.steps if s.id == id_), None)
        owners = self._picking.owners(index)
        mark = next((m for m in part.marks if m.face in part.names[index - 1]), None)
        words = [self._picking.words(index)]
        if mark is not None:
            words.append(f"{mark.thread.designation}, {mark.length:g} long")
        if step is not None:
            words.append(called(step))
        words.append(f"callout {', '.join(map(str, owners))}" if owners else "no callout")
        return "  ·  ".join(words)

    def on_edge_hover(self, a: str, b: str, piece: int, pieces: int) -> None:
        """What a click here would take is lit before it is taken."""
        picking = self._picking
        if not picking.wants_edges or picking.by_faces or picking.edge_take == "edge":
            self._view.scene.preview(())
            return
        meant = widened(picking.edge(a, b, piece, pieces), picking.edge_take)
        self._preview(meant)

    def _preview(self, meant: EdgeRef) -> None:
        edges = edge_shapes(self._view.scene.body, (meant,))
        self._view.scene.preview(edges)
        self._view.say(f"{self._picking.told_edge(meant)}: {len(edges)} edge{'s' * (len(edges) != 1)}")

    def _over_face(self, index: int) -> bool:
        """Light the edges that a click on this face would take; False when faces are not clicked for edges."""
        if not self._picking.by_faces:
            self._view.scene.preview(())
            return False
        meant = self._picking.meant(self._picking.reference(index).name) if index else None
        if meant is None:
            self._view.scene.preview(())
            return False
        self._preview(meant)
        return True

    def on_hover(self, index: int) -> None:
        if self._over_face(index):
            return
        if index:
            self._view.say(self._face_words(index))
        elif not self._picking.faces:
            self._view.say("")
