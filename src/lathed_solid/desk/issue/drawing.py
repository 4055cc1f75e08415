"""The drawing sheet that is looked at: what its views show of the part as it is now, drawn, and how it is changed."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple
from weakref import WeakKeyDictionary

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drafting.sheet.compose import Composed
from ...core.drafting.sheet.homes import homes
from ...core.drafting.sheet.model import XY, Label, Sheet, SheetView
from ...core.drafting.sheet.seen import Seen
from ...core.issue.drawing.facts import drawn_sheet
from ...core.job import sheeting
from ...core.job.model import Content, part_of
from ...core.refusal import Refusal
from ..session import Session
from ..session.documents import OpenJob
from .pointed import Pointed


class _Asked(NamedTuple):
    """What views show depends on: the part, where it stands, how it is seen."""

    part: Content
    zero: object
    style: object
    views: tuple[object, ...]


def _asked(content: Content, sheet: Sheet) -> _Asked:
    views = tuple((v.id, v.way, v.face, v.cut, v.detail) for v in sheet.views)
    return _Asked(part_of(content), content.zero, content.header.style, views)


class SheetDrawing(QObject):
    """``changed`` when another picture is to be shown; ``pointed_changed`` when something else is chosen on it."""

    changed = pyqtSignal()
    pointed_changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._ids: WeakKeyDictionary[OpenJob, str] = WeakKeyDictionary()
        self._seen: WeakKeyDictionary[OpenJob, dict[str, tuple[_Asked, Seen]]] = WeakKeyDictionary()
        self._wanted: _Asked | None = None
        self._on = False
        self.composed: Composed | None = None
        #: Of a sheet that was never drawn before, the views that are there already: to be looked at, no more.
        self.growing: Composed | None = None
        self.pointed = Pointed()
        #: Whether a sheet is being laid out.
        self.is_proposing = False
        session.sheet_seen.connect(self._on_seen)
        session.sheet_proposed.connect(self._on_proposed)
        for news in (session.edited, session.switched, session.proved):
            news.connect(self.refresh)

    # --- which sheet
    @property
    def content(self) -> Content:
        return self._session.content

    @property
    def sheet(self) -> Sheet | None:
        """The sheet looked at; the first one until another was chosen."""
        sheets = self.content.sheets
        wanted = self._ids.get(self._session.current, "")
        return next((s for s in sheets if s.id == wanted), sheets[0] if sheets else None)

    def look_at(self, id_: str) -> None:
        self._ids[self._session.current] = id_
        self.point(Pointed())
        self.refresh()

    @property
    def seen(self) -> Seen | None:
        """What the views show, of the part as it is or as it was when it was last looked at."""
        sheet, own = self.sheet, self._seen.get(self._session.current, {})
        return own[sheet.id][1] if sheet is not None and sheet.id in own else None

    @property
    def is_late(self) -> bool:
        """Whether what is shown is of an earlier state of the part."""
        sheet, own = self.sheet, self._seen.get(self._session.current, {})
        return sheet is not None and (sheet.id not in own or own[sheet.id][0] != _asked(self.content, sheet))

    def look(self, on: bool) -> None:
        """Whether anybody looks at the sheet: nothing is drawn while nobody does."""
        self._on = on
        self.refresh()

    # --- drawing it
    def refresh(self) -> None:
        if not self._on:
            return
        sheet = self.sheet
        if sheet is not None and self.is_late and self.content.steps:
            asked = _asked(self.content, sheet)
            if asked != self._wanted:
                self._wanted = asked
                self._session.see_sheet(sheet)
        self._compose()

    def _compose(self) -> None:
        sheet, seen = self.sheet, self.seen
        self.growing = None
        self.composed = self._composed(sheet, seen) if sheet is not None and seen is not None else None
        self.changed.emit()

    def _composed(self, sheet: Sheet, seen: Seen) -> Composed | None:
        history = self._session.current.history.state
        revisions = [(r.label, r.date) for r in history.revisions]
        number = self.content.sheets.index(sheet) + 1
        proof = None if self.is_late else self._session.current.proof
        try:
            return drawn_sheet(self.content, sheet.id, seen, proof, revisions, number)
        except Refusal as error:
            self._session.refuse(error)
            return None

    def _on_seen(self, job: OpenJob, content: Content, sheet: Sheet, seen: Seen | None, is_all: bool) -> None:
        if not is_all:
            shown = job is self._session.current and sheet == self.sheet
            if self._on and shown and seen is not None and self.seen is None:
                self.growing = self._composed(sheet, seen)
                self.changed.emit()
            return
        self._wanted = None
        if seen is not None:
            self._seen.setdefault(job, {})[sheet.id] = (_asked(content, sheet), seen)
        if self._on and job is self._session.current and seen is not None:
            self.refresh()

    # --- a sheet from nothing
    def propose(self, size: str = "") -> None:
        """Lay out a new sheet of the part; it is added when it comes."""
        try:
            id_ = sheeting.fresh_sheet_id(self.content)
        except Refusal as error:
            self._session.refuse(error)
            return
        if not self.content.steps:
            self._session.say("There is no part to draw yet. Make it in Shape first.", "warn")
            return
        self.is_proposing = True
        self._session.propose_sheet(id_, size)
        self.changed.emit()

    def _on_proposed(self, job: OpenJob, content: Content, sheet: Sheet | None, seen: Seen | None) -> None:
        self.is_proposing = False
        if sheet is None or seen is None or job is not self._session.current:
            self.changed.emit()
            return
        made = msgspec.structs.replace(sheet, id=sheeting.fresh_sheet_id(self.content))
        self._seen.setdefault(job, {})[made.id] = (_asked(content, made), seen)
        if self._session.edit(lambda c: sheeting.with_sheet(c, made), "drawing sheet added"):
            self.look_at(made.id)
            left = len(content.callouts) - len(made.labels)
            more = f" {left} are seen in no view: see “Not on a sheet”." if left else ""
            self._session.say(
                f"Sheet of {len(made.views)} views at {made.scale}, {len(made.labels)} callouts.{more}", "good"
            )

    # --- changing it
    def edit(self, change: Callable[[Content, str], Content], words: str) -> bool:
        """Change the sheet looked at; what was decided of its callouts is kept with that."""
        sheet = self.sheet
        if sheet is None:
            return False
        decided = self.composed.labels if self.composed is not None else ()
        return self._session.edit(lambda c: change(sheeting.set_labels(c, sheet.id, decided), sheet.id), words)

    def add_view(self, view: SheetView, words: str) -> None:
        made = ""

        def change(content: Content, id_: str) -> Content:
            nonlocal made
            content, made = sheeting.add_view(content, id_, view)
            return content

        if self.edit(change, words):
            self.point(Pointed(f"view:{made}"))

    def move(self, of: str, by: XY) -> None:
        """A callout or a view dragged so far on the page (mm)."""
        what = Pointed(of)
        if of == "table:holes":
            self.edit(lambda c, i: sheeting.move_holes(c, i, by), "table of holes moved")
            return
        if what.view:
            self.edit(lambda c, i: sheeting.move_view(c, i, what.view, by), "view moved")
            return
        sheet, composed = self.sheet, self.composed
        spot = next((s for s in composed.scene.spots if s.of == of), None) if composed is not None else None
        label = sheet.label(what.number) if sheet is not None else None
        if sheet is None or spot is None or label is None:
            return
        zero = sheet.view(label.view).at
        left, bottom, right, top = spot.box
        at = (left + right) / 2 + by[0] - zero[0], (bottom + top) / 2 + by[1] - zero[1]
        self.edit(lambda c, i: sheeting.place_label(c, i, what.number, at), f"callout {what.number} moved on the sheet")

    def remove(self, of: str) -> None:
        what = Pointed(of)
        if of == "table:holes":
            self.edit(lambda c, i: sheeting.show_holes(c, i, False), "table of holes taken away")
        elif what.view:
            self.edit(lambda c, i: sheeting.remove_view(c, i, what.view), "view removed")
        elif what.number:
            self.edit(
                lambda c, i: sheeting.remove_label(c, i, what.number), f"callout {what.number} taken off the sheet"
            )
        self.point(Pointed())

    def drop(self) -> None:
        """Take off the sheet what is chosen."""
        self.remove(self.pointed.of)

    def by_itself(self, number: int) -> None:
        """A callout that was put by hand stands by itself again."""
        self.edit(lambda c, i: sheeting.place_label(c, i, number, None), f"callout {number} placed by itself")

    def write(self, numbers: list[int], view: str = "") -> None:
        """Put callouts on the sheet, by the view that shows each best or by ``view``."""
        sheet, seen = self.sheet, self.seen
        if sheet is None or seen is None:
            return
        wanted = (
            dict.fromkeys(numbers, view) if view else homes([h for h in seen.holds if h.number in numbers], sheet, seen)
        )
        labels = [Label(number=n, view=wanted[n]) for n in numbers if n in wanted]
        if labels and self.edit(lambda c, i: sheeting.set_labels(c, i, labels), "callouts put on the sheet"):
            many = len(labels)
            self._session.say(f"{many} callout{'s' * (many > 1)} put on the sheet.", "good")
        if rest := [n for n in numbers if n not in wanted]:
            told = ", ".join(map(str, rest))
            self._session.say(f"No view of this sheet shows callout {told}. Add a view or a section that does.", "warn")

    # --- pointing
    def point(self, what: Pointed) -> None:
        if what.number:
            self._session.select_callout(what.number)
        if what != self.pointed:
            self.pointed = what
            self.pointed_changed.emit()

    @property
    def chosen_view(self) -> SheetView | None:
        """The view that is chosen, or that the chosen callout is written by."""
        sheet = self.sheet
        if sheet is None:
            return None
        label = sheet.label(self.pointed.number) if self.pointed.number else None
        wanted = self.pointed.view or (label.view if label is not None else "")
        return next((v for v in sheet.views if v.id == wanted), None)
