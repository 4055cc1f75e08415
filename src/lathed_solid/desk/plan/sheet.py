"""The operation sheet of the present route as it is worked on in the window: worked out when it is looked at."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path
from weakref import WeakKeyDictionary

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job.files import CannotWrite, write_atomic
from ...core.job.model import Content, part_of
from ...core.job.operating import Faces, built_of, set_sheet, sheet_terms
from ...core.kernel.ground.figures import Vector
from ...core.plan.sheet import order
from ...core.plan.sheet.finding import operations
from ...core.plan.sheet.model import HOLDINGS, OperationSheet
from ...core.plan.sheet.telling import to_csv
from ...core.plan.sheet.views import View, views
from ...core.plan.sheet.work import Built
from ...core.plan.sheet.worked import WorkedSetUp, worked
from ..session import Session
from ..session.documents import OpenJob
from .planning import Planning

#: Pixels of a picture beside the sheet.
PICTURE = (250, 180)


class Sheet(QObject):
    """``changed`` when it is another, ``pictured`` when its pictures have come. Worked out only while ``is_on``."""

    changed = pyqtSignal()
    pictured = pyqtSignal()

    def __init__(self, session: Session, planning: Planning) -> None:
        super().__init__()
        self._session, self._planning = session, planning
        self.is_on = False
        self.setups: tuple[WorkedSetUp, ...] = ()
        self.built: Built | None = None
        #: The set-up looked at.
        self.at = 0
        self._asked: tuple[Content, tuple[View, ...]] | None = None
        self._pictures: WeakKeyDictionary[OpenJob, tuple[Content, tuple[View, ...], tuple[bytes, ...]]] = (
            WeakKeyDictionary()
        )
        planning.changed.connect(self.refresh)
        session.built.connect(self.refresh)
        session.drawn.connect(self._on_drawn)

    def look(self, on: bool) -> None:
        """It is looked at, or left."""
        self.is_on = on
        self.refresh()

    def refresh(self) -> None:
        if not (self.is_on and self._planning.is_on):
            return
        job, content = self._session.current, self._session.content
        part = job.shown
        if part is None or not part.shape or job.glimpse is not None:
            self.built, self.setups = None, ()
        else:
            faces = Faces(part.references, part.names, part.surfaces)
            proof = job.proof if job.built_of is job.content else None
            self.built = built_of(content, faces, part.marks, part.reports, proof)
            terms = sheet_terms(content, faces, self._planning.shop, self._planning.of)
            self.setups = worked(content.sheet, self.built, terms)
        self.at = min(self.at, max(0, len(self.setups) - 1))
        self.changed.emit()
        self._draw()

    @property
    def chosen(self) -> WorkedSetUp | None:
        return self.setups[self.at] if self.setups else None

    @property
    def is_proposed(self) -> bool:
        """Whether nobody has changed it yet."""
        return not self._session.content.sheet.setups

    def choose(self, at: int) -> None:
        if at != self.at and 0 <= at < len(self.setups):
            self.at = at
            self.changed.emit()

    # --- pictures
    def _views(self) -> tuple[Content, tuple[View, ...]]:
        part, content = self._session.current.shown, self._session.content
        references = part.references if part is not None else ()
        return part_of(content), views([s.id for s in content.steps], self.setups, references)

    def _draw(self) -> None:
        job = self._session.current
        if not self.setups or job.proof is None or job.built_of is not job.content:
            return
        wanted = self._views()
        known = self._pictures.get(job)
        if wanted == self._asked or (known is not None and known[:2] == wanted):
            return
        self._asked = wanted
        self._session.draw(*wanted, PICTURE)

    def _on_drawn(self, job: OpenJob, content: Content, seen: tuple[View, ...], made: tuple[bytes, ...]) -> None:
        self._asked = None
        self._pictures[job] = (content, seen, made)
        self.pictured.emit()

    def picture(self) -> bytes:
        """Of the set-up looked at, as PNG; empty until it has come, or when the part is another by now."""
        known = self._pictures.get(self._session.current)
        if known is None or known[:2] != self._views() or self.at >= len(known[2]):
            return b""
        return known[2][self.at]

    # --- edits
    def take(self, make: Callable[[OperationSheet], OperationSheet], what: str) -> bool:
        """An edit of the sheet; a proposed one is first made the job's own."""
        if self.built is None:
            return False
        own = self._session.content.sheet
        sheet = make(own if own.setups else order.proposed(operations(self.built), self.built))
        if sheet.setups:
            sheet = order.complete(sheet, self.built)
        if not self._session.edit(lambda c: set_sheet(c, sheet), what):
            return False
        self.refresh()
        return True

    def change(self, what: str, **fields: object) -> bool:
        """The set-up looked at, with other fields."""
        chosen = self.chosen
        return chosen is not None and self.take(lambda s: order.changed(s, chosen.setup.id, **fields), what)

    def move(self, keys: Sequence[str], to: str, at: int = -1) -> bool:
        what = "operation moved" if len(keys) == 1 else f"{len(keys)} operations moved"
        return self.take(lambda s: order.moved(s, keys, to, at), what)

    def add(self) -> None:
        chosen = self.chosen
        up: Vector = chosen.setup.up if chosen is not None else (0.0, 0.0, 1.0)
        after = chosen.setup.id if chosen is not None else ""
        if self.take(lambda s: order.added(s, after, up)[0], "set-up added"):
            self.choose(self.at + 1)

    def remove(self) -> None:
        chosen = self.chosen
        if chosen is not None and len(self.setups) > 1:
            self.take(lambda s: order.removed(s, chosen.setup.id), "set-up removed")

    def shift(self, by: int) -> None:
        chosen, at = self.chosen, self.at + by
        if chosen is not None and 0 <= at < len(self.setups):
            self.at = at
            self.take(lambda s: order.shifted(s, chosen.setup.id, by), "set-ups in another order")

    def as_proposed(self) -> None:
        if self._session.edit(lambda c: set_sheet(c, OperationSheet()), "operation sheet as proposed"):
            self.refresh()

    # --- what leaves
    def write(self, path: Path) -> None:
        """As PDF, beside the present part; as a table at once."""
        if path.suffix.lower() == ".csv":
            try:
                write_atomic(path, to_csv(self.setups, self._session.content.header.style).encode())
            except CannotWrite as error:
                self._session.say(error.message, "bad")
            else:
                self._session.say(f"Wrote {path.name}.", "good")
            return
        path = path if path.suffix.lower() == ".pdf" else path.with_name(f"{path.name}.pdf")
        self._session.write_sheet(path, self._planning.shop, self._planning.of, date.today().isoformat())


def holding_words() -> list[tuple[str, str]]:
    """Every way to hold work, its id and its words with the machine."""
    return [(id_, f"{words} ({machine})") for id_, (words, machine) in HOLDINGS.items()]
