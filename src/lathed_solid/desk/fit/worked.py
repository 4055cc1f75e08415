"""The assembly worked on: what is chosen, what is free, what stands against an edit. No widgets."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import pyqtSignal

from ...core.fit.conflicts import conflict
from ...core.fit.freedom import Freedom, Freedoms, freedoms
from ...core.fit.model import Assembly, End, Relation
from ...core.fit.solving import NotMet, Solved, solved, still_met
from ...core.fit.statement import stated
from ...core.refusal import Refusal
from ..session import Session
from .kept import KeptAssembly

#: So many states keep what was found of them.
_EARLIER = 12


class _Known(NamedTuple):
    """What was found of a state."""

    of: Assembly
    found: Solved
    free: Freedoms | None


class WorkedAssembly(KeptAssembly):
    """``changed`` tells another state of the assembly (or of what is tried); ``selected`` another choice."""

    selected = pyqtSignal()
    #: Instances to be lit, whatever is chosen.
    lit = pyqtSignal(tuple)

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session, folder)
        self._found: Solved | None = None
        self._free: Freedoms | None = None
        #: What was found of the states before, for undo and redo.
        self._earlier: deque[_Known] = deque(maxlen=_EARLIER)
        self._of = self.assembly
        #: What is looked at and not taken: an offered relation, or a moment of a drive.
        self.tried: Assembly | None = None
        #: The instances chosen, the one picked last in front, or the relation.
        self.chosen: tuple[str, ...] = ()
        self.relation = ""
        self.picks: tuple[End, ...] = ()

    @property
    def instance(self) -> str:
        """The instance chosen last; empty for none."""
        return self.chosen[0] if self.chosen else ""

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
            same = still_met(self._found, wanted) if self._found is not None and not new else None
            made = same or solved(wanted, new)
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
        self.chosen, self.relation, self.picks = (), "", ()

    def _anew(self, found: Solved | None = None) -> None:
        if self._found is not None and all(e.of is not self._of for e in self._earlier):
            self._earlier.append(_Known(self._of, self._found, self._free))
        found = found or next((e.found for e in self._earlier if e.of is self.assembly), None)
        alike = (e.free for e in self._earlier if found is not None and e.found.statement is found.statement)
        self._of, self._found, self._free, self.tried = self.assembly, found, next(alike, None), None
        there = {i.id for i in self.assembly.instances}
        self.chosen = tuple(i for i in self.chosen if i in there)
        if self.relation not in {r.id for r in self.assembly.relations}:
            self.relation = ""
        self.picks = tuple(p for p in self.picks if p.instance in there)
        self.changed.emit()
        self.selected.emit()

    def against(self, wanted: Assembly, error: NotMet, new: str) -> tuple[str, ...]:
        """The relations that a refused one contradicts."""
        try:
            statement = stated(wanted)
            found = conflict(statement, statement.start, new) if new else None
        except Refusal:
            found = None
        return tuple(o for o in (found.others if found is not None else error.owners) if o and o != new)

    def _against(self, wanted: Assembly, error: NotMet, new: str) -> str:
        """Which relations a refused one contradicts, in words."""
        names = ", ".join(self.said_of(wanted, o) for o in self.against(wanted, error, new))
        if not names:
            return "The parts cannot be put together so. Nothing was changed."
        return f"This cannot be met together with: {names}. Loosen or remove one of them; nothing was changed."

    @staticmethod
    def said_of(assembly: Assembly, owner: str) -> str:
        """A relation, or the copies of a ring or row, as they are spoken of."""
        if (repeat := next((r for r in assembly.repeats if r.id == owner), None)) is not None:
            return f"{repeat.kind} of {assembly.called(repeat.leader)}"
        return WorkedAssembly.words_of(assembly, assembly.relation(owner))

    @staticmethod
    def words_of(assembly: Assembly, relation: Relation) -> str:
        """A relation as it is spoken of."""
        value = f" {relation.number_words}" if relation.number_words else ""
        a, b = assembly.called(relation.a.instance), assembly.called(relation.b.instance)
        return f"{relation.kind}{value} ({a} – {b})"

    def look_away(self) -> None:
        if self.tried is not None:
            self.tried = None
            self.changed.emit()

    def show_moment(self, assembly: Assembly) -> None:
        """A moment of a drive."""
        self.tried = assembly
        self.changed.emit()

    # --- choosing
    def choose_instance(self, *instances: str) -> None:
        """These, and nothing else."""
        self.chosen, self.relation = instances, ""
        self.selected.emit()

    def choose_also(self, instance: str) -> None:
        """One more; one that is chosen already is let go."""
        rest = tuple(i for i in self.chosen if i != instance)
        self.chosen = rest if len(rest) < len(self.chosen) else (instance, *rest)
        self.relation, self.picks = "", ()
        self.selected.emit()

    def choose_relation(self, relation: str) -> None:
        self.relation, self.chosen = relation, ()
        self.look_away()
        self.selected.emit()

    def pick(self, end: End | None) -> None:
        """A face clicked: the first, or the second on another part; a third begins anew; nothing lets go."""
        if end is None:
            self.picks, self.chosen, self.relation = (), (), ""
        elif len(self.picks) == 1 and self.picks[0].instance != end.instance:
            self.picks = (*self.picks, end)
        else:
            self.picks = (end,)
        if end is not None:
            self.chosen, self.relation = (end.instance,), ""
        self.look_away()
        self.selected.emit()

    def light(self, instances: tuple[str, ...]) -> None:
        """Show which are meant, without choosing them."""
        self.lit.emit(instances)

    def names_of(self, instances: Iterable[str]) -> str:
        """Several instances as they are spoken of."""
        called = [self.assembly.called(i) for i in instances]
        return called[0] if len(called) == 1 else f"{len(called)} parts"
