"""The drawing sheets of the part: what they are drawn from, and where their changes go."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

import msgspec

from ...core.callout.words import pretty
from ...core.drafting.sheet.compose import Composed
from ...core.drafting.sheet.model import Sheet
from ...core.drafting.sheet.seen import Seen
from ...core.issue.drawing.facts import drawn_sheet
from ...core.job.model import Content, part_of
from ...core.quantity import Style
from ...core.route.model import FaceRef
from ..paper.drawing import SheetDrawing, Sheets, views_of
from ..picking import Picking
from ..session import Session
from ..session.documents import OpenJob


class _Asked(NamedTuple):
    """What views show depends on: the part, where it stands, how it is seen."""

    part: Content
    zero: object
    style: object
    views: tuple[object, ...]


def _asked(content: Content, sheet: Sheet) -> _Asked:
    return _Asked(part_of(content), content.zero, content.header.style, views_of(sheet))


class PartDrawing(SheetDrawing):
    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session)
        self._picking = picking
        session.sheet_seen.connect(self._on_seen)
        session.sheet_proposed.connect(self._on_proposed)
        for news in (session.edited, session.switched, session.proved):
            news.connect(self.refresh)

    @property
    def content(self) -> Content:
        return self.session.content

    @property
    def sheets(self) -> Sheets:
        return self.content.sheets

    @property
    def written(self) -> Mapping[int, str]:
        return {c.number: pretty(c.note) for c in self.content.callouts}

    @property
    def style(self) -> Style:
        return self.content.header.style

    @property
    def is_turned(self) -> bool:
        return self.content.turned

    @property
    def is_there(self) -> bool:
        return bool(self.content.steps)

    def flat(self) -> FaceRef | None:
        faces = [f for f in (*self.pointed.faces, *self._picking.faces) if f]
        figures = ((f, self._picking.figure(f)) for f in faces)
        found = next((f for f, s in figures if s is not None and s.kind == "plane"), 0)
        reference = self._picking.reference(found) if found else None
        return FaceRef(reference.name, reference.was) if reference is not None else None

    def _document(self) -> OpenJob:
        return self.session.current

    def _asked(self, sheet: Sheet) -> _Asked:
        return _asked(self.content, sheet)

    def _ask(self, sheet: Sheet) -> None:
        self.session.see_sheet(sheet)

    def _ask_new(self, id_: str) -> None:
        self.session.propose_sheet(id_, "")

    def _put_together(self, sheet: Sheet, seen: Seen) -> Composed:
        history = self.session.current.history.state
        revisions = [(r.label, r.date) for r in history.revisions]
        number = self.sheets.index(sheet) + 1
        proof = None if self.is_late else self.session.current.proof
        return drawn_sheet(self.content, sheet.id, seen, proof, revisions, number)

    def _change(self, change: Callable[[Sheets], Sheets], words: str) -> bool:
        return self.session.edit(lambda c: msgspec.structs.replace(c, sheets=change(c.sheets)), words)

    def _tell_of(self, sheet: Sheet) -> None:
        left = len(self.content.callouts) - len(sheet.labels)
        more = f" {left} {'is' if left == 1 else 'are'} in no view: see “Not on a sheet”." if left else ""
        said = f"Sheet of {len(sheet.views)} views at {sheet.scale}, {len(sheet.labels)} callouts.{more}"
        self.session.say(said, "good")

    def _choose(self, number: int) -> None:
        self.session.select_callout(number)

    # --- what comes
    def _on_seen(self, job: OpenJob, content: Content, sheet: Sheet, seen: Seen | None, is_all: bool) -> None:
        if is_all:
            self._take(job, sheet, _asked(content, sheet), seen)
        elif seen is not None:
            self._grow(job, sheet, seen)

    def _on_proposed(self, job: OpenJob, content: Content, sheet: Sheet | None, seen: Seen | None) -> None:
        self._take_new(job, sheet, seen, lambda made: _asked(content, made))
