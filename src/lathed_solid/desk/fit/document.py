"""The assembly worked on: its parts and relations, as hands change them. No widgets."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce
from pathlib import Path

from msgspec.structs import replace

from ...core.fit import edits, repeats
from ...core.fit.clearance import reach_of
from ...core.fit.conflicts import conflict
from ...core.fit.holes import followed, goes_in, in_every_hole, put_in, round_face_for
from ...core.fit.kinds import KINDS
from ...core.fit.model import Assembly, Drive, End, PartShot, Pose, Relation, RelationKind, RepeatKind
from ...core.fit.solving import NotMet, as_far_as, solved
from ...core.fit.statement import present
from ...core.job.assembling.sub import inner_of, taken_apart
from ...core.quantity import Style
from ...core.refusal import Refusal
from .moving import MovedAssembly


class FitDocument(MovedAssembly):
    #: The relations that stand against the one looked at last.
    opposing: tuple[str, ...] = ()

    # --- parts
    def insert(self, parts: tuple[tuple[PartShot, tuple[Pose, ...]], ...]) -> None:
        """Put parts into it, each clear of what is there already; a file that has several standing keeps them so."""

        def change(assembly: Assembly) -> Assembly:
            for shot, poses in parts:
                stand_together = "#" in shot.path or len(poses) > 1
                where = poses if stand_together or not assembly.instances else (_beside(assembly, shot),)
                assembly, made = edits.insert(assembly, shot, where)
                self.chosen = (made[-1],)
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
        """Parts are others: what follows holes follows; what has lost its faces, or can no longer be met, is told."""
        before = set(self.lost)
        try:
            found, loosened = as_far_as(repeats.in_number(followed(change(self.assembly))))
        except Refusal as error:
            self.session.say(error.said_in(self.assembly.unit), "bad")
            return
        self._take(found, words)
        gone = [self.said_of(self.assembly, r) for r in self.lost if r not in before]
        told = f"Faces are gone, and with them: {', '.join(gone)}. Pick them again. " if gone else ""
        if loosened:
            names = ", ".join(self.said_of(self.assembly, r) for r in loosened)
            told += f"As the parts are now this cannot be met, and was loosened: {names}."
        if told:
            self.session.say(told.strip(), "warn")

    def remove(self) -> None:
        chosen, gone = self.chosen, self.relation
        if gone:
            self.edit(lambda a: edits.unrelate(a, gone), "relation removed")
        elif chosen:
            self.edit(lambda a: reduce(edits.remove, chosen, a), f"{self.names_of(chosen)} taken out")

    def copy(self) -> None:
        """The chosen parts once more, beside all, tied to each other as they are."""
        chosen, assembly = self.chosen, self.assembly
        if chosen:
            low = min(assembly.instance(i).pose.place[0] + assembly.part_of(i).box[0][0] for i in chosen)
            by = (right_of(assembly) - low, 0.0, 0.0)
            made: tuple[str, ...] = ()

            def change(assembly: Assembly) -> Assembly:
                nonlocal made
                assembly, made = edits.copied(assembly, chosen, by)
                return assembly

            if self.edit(change, f"{self.names_of(chosen)} once more"):
                self.choose_instance(*made)

    def ground(self, on: bool) -> None:
        self._each("grounded" if on else "freed", grounded=on)

    def hide(self, on: bool) -> None:
        self._each("hidden" if on else "shown", hidden=on)

    def _each(self, words: str, **fields: object) -> None:
        """A field of every chosen instance."""
        if chosen := self.chosen:
            self.edit(
                lambda a: reduce(lambda b, i: edits.change_instance(b, i, **fields), chosen, a),
                f"{self.names_of(chosen)} {words}",
            )

    def take_apart(self, base: Path) -> None:
        """The chosen sub-assembly's parts in its place, with its relations."""
        chosen, store = self.instance, self.session.fitting.store
        if not chosen:
            return
        name = self.assembly.called(chosen)

        def change(assembly: Assembly) -> Assembly:
            return taken_apart(assembly, chosen, *inner_of(assembly, chosen, base, store))

        self.edit(change, f"{name} taken apart")

    # --- rings and rows
    def repeat(self, kind: RepeatKind, leader: str, many: str, spread: str) -> bool:
        """Copies of an instance about the picked face."""
        about = self.picks[0]
        called = self.assembly.called(leader)
        return self.edit(
            lambda a: repeats.repeated(a, kind, leader, about, many, spread)[0], f"{kind} of {many} {called}"
        )

    def mirror(self, other_hand: PartShot) -> bool:
        """The chosen part's other hand on the other side of the picked flat."""
        if not (self.chosen and self.picks):
            return False
        leader, about = self.instance, self.picks[0]
        words = f"{self.assembly.called(leader)} mirrored"
        return self.edit(
            lambda a: repeats.repeated(a, "mirror", leader, about, other_hand=other_hand)[0], words
        )  # fmt: skip

    def change_repeat(self, repeat: str, many: str, spread: str) -> bool:
        return self.edit(lambda a: repeats.changed(a, repeat, many, spread), f"{many} in all")

    def free_repeat(self, repeat: str) -> bool:
        return self.edit(lambda a: repeats.set_free(a, repeat), "copies set free")

    # --- relations
    def relate(self, kind: RelationKind, value: str = "", opposed: bool | None = None) -> bool:
        """Tie what is picked."""
        if len(self.picks) != 2:
            return False
        a, b = self.picks
        return self.tie(lambda assembly: edits.relate(assembly, kind, a, b, value, opposed))

    def tie(self, made: Callable[[Assembly], tuple[Assembly, str]]) -> bool:
        """Make a relation, and choose it."""
        try:
            wanted, name = made(self.assembly)
        except Refusal as error:
            self.session.say(error.said_in(self.assembly.unit), "bad")
            return False
        kind = wanted.relation(name).kind
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
            others = ", ".join(self.said_of(self.assembly, o) for o in found.others)
            self.session.say(f"It is met, and said already by: {others}.", "plain")

    def usual_side(self, kind: RelationKind) -> bool | None:
        """Which of its two ways a relation between the picks would be met, as they stand."""
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, "1" if KINDS[kind].value else "")
        except Refusal:
            return None
        return wanted.relation(name).opposed

    def present(self, kind: RelationKind) -> str:
        """The number of a distance or angle between the picks as they stand, written; empty for other kinds."""
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, "1" if KINDS[kind].value else "")
        except Refusal:
            return ""
        return self.present_of(wanted.relation(name))

    def present_of(self, relation: Relation) -> str:
        """The number of a distance or angle as its parts stand, written in the assembly's unit."""
        try:
            value = present(self.assembly, relation)
        except Refusal:
            return ""
        if value is None:
            return ""
        style = Style(self.assembly.unit)
        return style.angle(value).rstrip("°") if relation.kind == "angle" else style.length(value)

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
        self.picks, self.chosen, self.relation = (), (shank.instance,), ""
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

    def relate_instead(self, kind: RelationKind, value: str, opposed: bool | None) -> bool:
        """Tie what is picked, and loosen one relation that stands against it, the newest that will do: it is kept, and
        not obeyed.
        """
        a, b = self.picks
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, value, opposed)
        except Refusal as error:
            self.session.say(error.said_in(self.assembly.unit), "bad")
            return False
        ties = [r.id for r in reversed(wanted.relations) if r.id in self.opposing]
        for other in ties:
            try:
                freed = edits.change_relation(wanted, other, loose=True)
                solved(freed, name)
            except Refusal:
                continue
            told = self.said_of(wanted, other)
            if self.edit(lambda _, freed=freed: freed, f"{kind} instead of {told}", name):  # type: ignore[misc]
                self.relation, self.picks = name, ()
                self.session.say(f"Loosened for it: {told}.", "warn")
                self.selected.emit()
                return True
        self.session.say("No single one of them stands against it alone: loosen or remove them by hand.", "warn")
        return False

    def look_at(self, kind: RelationKind, value: str = "", opposed: bool | None = None) -> str:
        """Show what a relation between the picks would do; the words why it cannot, empty when it can. What stands
        against it is ``opposing``.
        """
        a, b = self.picks
        self.opposing = ()
        try:
            wanted, name = edits.relate(self.assembly, kind, a, b, value, opposed)
            self.tried = solved(wanted, name).assembly
            self.changed.emit()
            return ""
        except NotMet as error:
            self.opposing = self.against(wanted, error, name)
            words = self._against(wanted, error, name)
        except Refusal as error:
            words = error.said_in(self.assembly.unit)
        self.look_away()
        return words

    def change_relation(self, relation: str, words: str, **fields: object) -> bool:
        return self.edit(lambda a: edits.change_relation(a, relation, **fields), words, relation)

    def keep_drive(self, relation: str, start: str, end: str) -> None:
        """What is driven stays with the assembly."""
        kept = Drive(relation, start, end)
        if self.assembly.drive != kept:
            self.edit(lambda a: replace(a, drive=kept), "drive kept")


def right_of(assembly: Assembly) -> float:
    """X to the right of all that is there, a little off, mm."""
    if not assembly.instances:
        return 0.0
    low, high = reach_of(assembly)
    return high[0] + 0.1 * max(b - a for a, b in zip(low, high, strict=True))


def _beside(assembly: Assembly, shot: PartShot) -> Pose:
    """A place for another part: to the right of all that is there."""
    _, high = reach_of(assembly)
    low = shot.box[0]
    gap = 0.15 * max(b - a for a, b in zip(*shot.box, strict=True))
    return Pose((high[0] + gap - low[0], 0.0, 0.0))
