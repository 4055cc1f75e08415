"""The assembly worked on: its states, what is chosen, what is free, what stands against a relation. No widgets."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal

from ...core.fit import edits
from ...core.fit.conflicts import conflict
from ...core.fit.drag import Drag
from ...core.fit.freedom import Freedom, Freedoms, freedoms
from ...core.fit.holes import followed, goes_in, in_every_hole, put_in, round_face_for
from ...core.fit.kinds import KINDS
from ...core.fit.model import Assembly, Drive, End, PartShot, Pose, Relation, RelationKind
from ...core.fit.solving import NotMet, Solved, solved
from ...core.fit.statement import stated
from ...core.kernel.ground.figures import Vector
from ...core.refusal import Refusal
from ..session import Session
from .kept import KeptAssembly


class FitDocument(KeptAssembly):
    """``changed`` tells another state of the assembly (or of what is tried); ``selected`` another choice."""

    selected = pyqtSignal()

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session, folder)
        self._found: Solved | None = None
        self._free: Freedoms | None = None
        #: What is looked at and not taken: an offered relation, or a moment of a drive.
        self.tried: Assembly | None = None
        self._drag: Drag | None = None
        self.instance = self.relation = ""
        self.picks: tuple[End, ...] = ()

    # --- what there is
    @property
    def shown(self) -> Assembly:
        """As it is seen just now."""
        return self.tried if self.tried is not None else self.assembly

    @property
    def freedoms(self) -> Freedoms | None:
        """What can still move; None while the relations are not met."""
        if self._free is None and self._solved is not None:
            self._free = freedoms(self._solved.statement, self._solved.state)
        return self._free

    def freedom(self, instance: str) -> Freedom | None:
        found = self.freedoms
        return next((f for f in found.each if f.instance == instance), None) if found is not None else None

    def moves(self, instance: str) -> str:
        """What an instance can still do, in words, and in what."""
        if self.assembly.instance(instance).grounded:
            return "grounded"
        if (free := self.freedom(instance)) is None:
            return ""
        return f"{free.words} in {self.assembly.called(free.parent)}" if free.parent else free.words

    @property
    def lost(self) -> dict[str, str]:
        """Relations whose faces are gone, with the words for it."""
        return dict(self._solved.statement.lost) if self._solved is not None else {}

    @property
    def _solved(self) -> Solved | None:
        if self._found is None and self.assembly.instances:
            try:
                self._found = solved(self.assembly)
            except Refusal:
                return None
        return self._found

    # --- editing
    def edit(self, change: Callable[[Assembly], Assembly], words: str, new: str = "") -> bool:
        """Make an edit and bring all together; what cannot be met is refused with what stands against it, and changes
        nothing. ``new`` is the relation it is about.
        """
        wanted = self.assembly
        try:
            wanted = change(wanted)
            made = solved(wanted, new)
        except NotMet as error:
            self.session.say(self._against(wanted, error, new), "bad")
            return False
        except Refusal as error:
            self.session.say(error.said_in(self.assembly.unit), "bad")
            return False
        return self._take(made, words)

    def _take(self, made: Solved, words: str) -> bool:
        done = self._history.do(made.assembly, words)
        self._anew(made if done else None)
        if done:
            self._keep()
        return done

    def _begun(self) -> None:
        """Another assembly is worked on."""
        self.instance = self.relation = ""
        self.picks = ()

    def _anew(self, found: Solved | None = None) -> None:
        self._found, self._free, self.tried, self._drag = found, None, None, None
        there = {i.id for i in self.assembly.instances}
        if self.instance not in there:
            self.instance = ""
        if self.relation not in {r.id for r in self.assembly.relations}:
            self.relation = ""
        self.picks = tuple(p for p in self.picks if p.instance in there)
        self.changed.emit()
        self.selected.emit()

    def _against(self, wanted: Assembly, error: NotMet, new: str) -> str:
        """Which relations a refused one contradicts."""
        try:
            statement = stated(wanted)
            found = conflict(statement, statement.start, new) if new else None
        except Refusal:
            found = None
        others = [o for o in (found.others if found is not None else error.owners) if o != new]
        names = ", ".join(self.words_of(wanted, wanted.relation(o)) for o in others if o)
        if not names:
            return "The parts cannot be put together so. Nothing was changed."
        return f"This cannot be met together with: {names}. Loosen or remove one of them; nothing was changed."

    @staticmethod
    def words_of(assembly: Assembly, relation: Relation) -> str:
        """A relation as it is spoken of."""
        value = f" {relation.value}" if relation.value else ""
        a, b = assembly.called(relation.a.instance), assembly.called(relation.b.instance)
        return f"{relation.kind}{value} ({a} – {b})"

    # --- parts
    def insert(self, parts: tuple[tuple[PartShot, tuple[Pose, ...]], ...]) -> None:
        """Put parts into it, each clear of what is there already; a file that has several standing keeps them so."""

        def change(assembly: Assembly) -> Assembly:
            for shot, poses in parts:
                stand_together = "#" in shot.path or len(poses) > 1
                where = poses if stand_together or not assembly.instances else (_beside(assembly, shot),)
                assembly, made = edits.insert(assembly, shot, where)
                self.instance = made[-1]
            return assembly

        names = ", ".join(shot.called for shot, _ in parts)
        self.edit(change, f"{names} put in")

    def renew(self, shots: tuple[PartShot, ...]) -> None:
        """Parts as their files have them now."""
        self._changed_parts(lambda a: edits.renewed(a, shots), f"{', '.join(s.called for s in shots)} taken anew")

    def exchange(self, shot: PartShot) -> None:
        """Another part in place of the chosen one, and of all like it."""
        if chosen := self.instance:
            part = self.assembly.instance(chosen).part
            was = self.assembly.part(part).called
            self._changed_parts(lambda a: edits.exchanged(a, part, shot), f"{was} exchanged for {shot.called}")

    def _changed_parts(self, change: Callable[[Assembly], Assembly], words: str) -> None:
        """Parts are others: what follows holes follows, and what has lost its faces is told."""
        before = set(self.lost)
        self.edit(lambda a: followed(change(a)), words)
        gone = [self.words_of(self.assembly, self.assembly.relation(r)) for r in self.lost if r not in before]
        if gone:
            self.session.say(f"Faces are gone, and with them: {', '.join(gone)}. Pick them again.", "warn")

    def remove(self) -> None:
        if self.relation:
            gone = self.relation
            self.edit(lambda a: edits.unrelate(a, gone), "relation removed")
        elif self.instance:
            out = self.instance
            self.edit(lambda a: edits.remove(a, out), f"{self.assembly.called(out)} taken out")

    def copy(self) -> None:
        """Another of the chosen part, beside it."""
        if self.instance:
            shot = self.assembly.part_of(self.instance)
            self.insert(((shot, (Pose(),)),))

    def ground(self, on: bool) -> None:
        if chosen := self.instance:
            words = "grounded" if on else "freed"
            self.edit(
                lambda a: edits.change_instance(a, chosen, grounded=on), f"{self.assembly.called(chosen)} {words}"
            )

    def hide(self, on: bool) -> None:
        if chosen := self.instance:
            self.edit(lambda a: edits.change_instance(a, chosen, hidden=on), "hidden" if on else "shown")

    # --- relations
    def relate(self, kind: RelationKind, value: str = "", opposed: bool | None = None) -> bool:
        """Tie what is picked."""
        if len(self.picks) != 2:
            return False
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, value, opposed)
        except Refusal as error:
            self.session.say(error.said_in(self.assembly.unit), "bad")
            return False
        done = self.edit(lambda _: wanted, f"{kind}: {self.words_of(wanted, wanted.relation(name))}", name)
        if done:
            self.relation, self.picks = name, ()
            self._say_if_repeated(name)
            self.selected.emit()
        return done

    def _say_if_repeated(self, name: str) -> None:
        """A relation whose every row is said already holds nothing of its own."""
        if self._solved is None:
            return
        statement = self._solved.statement
        found = conflict(statement, self._solved.state, name)
        rows = sum(r.owner == name for r in statement.rows)
        if found is not None and found.rows == rows:
            others = ", ".join(self.words_of(self.assembly, self.assembly.relation(o)) for o in found.others)
            self.session.say(f"It is met, and said already by: {others}.", "plain")

    def usual_side(self, kind: RelationKind) -> bool | None:
        """Which of its two ways a relation between the picks would be met, as they stand."""
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, "1" if KINDS[kind].value else "")
        except Refusal:
            return None
        return wanted.relation(name).opposed

    def put_in(self, look: bool = False) -> str:
        """What is picked put into the picked hole, or only looked at; the words why it cannot be, empty when it can."""
        pair = goes_in(self.assembly, *self.picks) if len(self.picks) == 2 else None
        if pair is None:
            return "Pick a hole on one part and the shank of another that has a shoulder."
        return self._put(*pair, look)

    def _put(self, hole: End, shank: End, look: bool = False) -> str:
        wanted, name = self.assembly, ""
        try:
            wanted, name = put_in(self.assembly, hole, shank)
            made = solved(wanted, name)
        except NotMet as error:
            self.look_away()
            return self._against(wanted, error, name)
        except Refusal as error:
            self.look_away()
            return error.said_in(self.assembly.unit)
        if look:
            self.tried = made.assembly
            self.changed.emit()
            return ""
        self.picks, self.instance, self.relation = (), shank.instance, ""
        self._take(made, f"{self.assembly.called(shank.instance)} put in")
        return ""

    def tie_bought(self, face: End) -> None:
        """The part put in last, tied to the hole or shaft it is for."""
        assembly, instance = self.assembly, self.instance
        mine = round_face_for(assembly, instance, face)
        if mine is None:
            return
        wanted = assembly.part_of(face.instance).surface(face.face)
        self.picks = (face, mine)
        if wanted is not None and wanted.hollow:
            if words := self._put(face, mine):
                self.session.say(words, "bad")
        else:
            self.relate("in line")
        self.choose_instance(instance)

    def in_every_hole(self) -> None:
        if chosen := self.instance:
            self.edit(lambda a: in_every_hole(a, chosen), f"{self.assembly.called(chosen)} in every such hole")

    def look_at(self, kind: RelationKind, value: str = "", opposed: bool | None = None) -> str:
        """Show what a relation between the picks would do; the words why it cannot, empty when it can."""
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, value, opposed)
            self.tried = solved(wanted, name).assembly
            self.changed.emit()
            return ""
        except NotMet as error:
            words = self._against(wanted, error, name)
        except Refusal as error:
            words = error.said_in(self.assembly.unit)
        self.look_away()
        return words

    def look_away(self) -> None:
        if self.tried is not None:
            self.tried = None
            self.changed.emit()

    def show_moment(self, assembly: Assembly) -> None:
        """A moment of a drive."""
        self.tried = assembly
        self.changed.emit()

    def change_relation(self, relation: str, words: str, **fields: object) -> bool:
        return self.edit(lambda a: edits.change_relation(a, relation, **fields), words, relation)

    def keep_drive(self, relation: str, start: str, end: str) -> None:
        """What is driven stays with the assembly."""
        kept = Drive(relation, start, end)
        if self.assembly.drive != kept:
            self.edit(lambda a: replace(a, drive=kept), "drive kept")

    # --- choosing
    def choose_instance(self, instance: str) -> None:
        self.instance, self.relation = instance, ""
        self.selected.emit()

    def choose_relation(self, relation: str) -> None:
        self.relation, self.instance = relation, ""
        self.look_away()
        self.selected.emit()

    def pick(self, end: End | None) -> None:
        """A face clicked: the first, or the second on another part; a third begins anew; nothing lets go."""
        if end is None:
            self.picks, self.instance, self.relation = (), "", ""
        elif len(self.picks) == 1 and self.picks[0].instance != end.instance:
            self.picks = (*self.picks, end)
        else:
            self.picks = (end,)
        if end is not None:
            self.instance, self.relation = end.instance, ""
        self.look_away()
        self.selected.emit()

    # --- moving by hand
    def take_hold(self, instance: str, at: Vector) -> bool:
        """Begin to drag a part by a point of it; False when it cannot move."""
        free = self.freedom(instance)
        if self._solved is None or free is None or not free.ways:
            return False
        self._drag = Drag(self._solved.assembly, instance, at)
        return True

    def lead(self, to: Vector) -> None:
        """One picture of the drag."""
        if self._drag is not None:
            self._drag.to(to)
            self.tried = self._drag.standing()
            self.changed.emit()

    def let_loose(self) -> None:
        """The drag or turning is over: where it was left is one edit."""
        drag, self._drag = self._drag, None
        left = drag.ended() if drag is not None else self.tried
        if left is not None:
            self.tried = None
            self.edit(lambda _: left, "moved by hand" if drag is not None else "turned by hand")

    def turn(self, instance: str, about: Vector, angle: float) -> None:
        """One picture of turning a part about its own middle."""
        self.tried = edits.turned(self.shown, instance, about, angle)
        self.changed.emit()


def _beside(assembly: Assembly, shot: PartShot) -> Pose:
    """A place for another part: to the right of all that is there."""
    from ...core.fit.clearance import reach_of

    _, high = reach_of(assembly)
    low = shot.box[0]
    gap = 0.15 * max(b - a for a, b in zip(*shot.box, strict=True))
    return Pose((high[0] + gap - low[0], 0.0, 0.0))
