"""Studies: what is asked of the kernel beside the present part, which they never delay, and what comes of it."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job import edits
from ...core.job.carried import What
from ...core.job.model import Content
from ...core.job.rewriting.asked import Rewriting
from ...core.plan.sheet.views import View
from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ...worker.client import Client
from ...worker.protocol import (
    CarriedThrough,
    Carry,
    Compare,
    Compared,
    Draw,
    Drawn,
    Endure,
    Explain,
    Explained,
    Failed,
    Fallen,
    Inspect,
    Inspected,
    LookForWalls,
    Match,
    Matched,
    Reply,
    Rewrite,
    Rewritten,
    Survey,
    Surveyed,
    Suspected,
    Travel,
    Tried,
    WallsFound,
)
from .busy import Busy
from .documents import OpenJob
from .jobs import Jobs


class Studies(QObject):
    """What comes counts only for what was asked about: every signal brings that along."""

    #: The content whose routes were compared, and their figures; then what each of them endures.
    compared = pyqtSignal(object, tuple)
    endured = pyqtSignal(object, str, object)
    #: A job, the content that was looked over, and what was found (None when it gives no solid).
    surveyed = pyqtSignal(object, object, object)
    #: A job, the content that was drawn, the views, and a PNG of each (none when it could not be done).
    drawn = pyqtSignal(object, object, tuple, tuple)
    #: A job, the content whose route was to be rewritten, how, and the content that came.
    rewritten = pyqtSignal(object, object, object, object)

    #: A job, the content whose gap was to be explained, what was found (None when the search broke off), and whether
    #: that is all.
    explained = pyqtSignal(object, object, object, bool)
    #: A job, the content whose limits were carried through, and to what (None when it came to nothing).
    carried = pyqtSignal(object, object, object)
    #: A job, the content whose walls were looked for, and those found (None when it broke off).
    walls_found = pyqtSignal(object, object, object)
    #: A job, the content whose callouts were looked for, and what was found (None when it broke off).
    matched = pyqtSignal(object, object, object)
    #: A job, the content whose report was made, and its pages (PNG; none when it could not be made).
    inspected = pyqtSignal(object, object, tuple)

    def __init__(self, jobs: Jobs, client: Client, busy: Busy) -> None:
        super().__init__()
        self._jobs, self._client, self._busy = jobs, client, busy
        self._compared: dict[int, Content] = {}
        self._surveys: dict[int, tuple[OpenJob, Content]] = {}
        self._drawings: dict[int, tuple[OpenJob, Content, tuple[View, ...]]] = {}
        self._rewriting: dict[int, tuple[OpenJob, Content, Rewriting]] = {}
        self._gaps: dict[int, tuple[OpenJob, Content]] = {}
        self._carrying: dict[int, tuple[OpenJob, Content]] = {}
        self._walls: dict[int, tuple[OpenJob, Content]] = {}
        self._matching: dict[int, tuple[OpenJob, Content]] = {}
        self._inspecting: dict[int, tuple[OpenJob, Content]] = {}
        #: Surveys and drawings that nobody waits for any more: whatever becomes of them is not told.
        self._let_go: set[int] = set()

    @property
    def _store(self) -> str:
        return str(self._jobs.store.folder)

    def _undertake(self, kind: str, words: str) -> int:
        ticket = self._client.ticket()
        self._busy.undertake(kind, ticket, words)
        return ticket

    def _forget(self, asked: dict[int, object]) -> None:
        """Those asked for before are let go."""
        self._let_go |= set(asked)
        for old in asked:
            self._client.end(old)
        asked.clear()

    # --- asking
    def compare_routes(self) -> None:
        """Build and prove every route, then change every number of each."""
        self.drop_comparison()
        content = self._jobs.content
        ticket = self._undertake("routes", "comparing the routes")
        self._compared[ticket] = content
        self._client.study(Compare(ticket, content, self._store))
        for at, route in enumerate(content.routes):
            further = self._undertake(f"endure {at}", f"changing every number of route {route.name}")
            self._compared[further] = content
            self._client.study(Endure(further, edits.take_route(content, at), self._store))

    def drop_comparison(self) -> None:
        """Nobody waits any more for what the routes come to."""
        self._forget(self._compared)  # type: ignore[arg-type]

    def survey(self, content: Content) -> None:
        """Look a part of this job over for what is planned of it; a survey asked for before is let go."""
        self._forget(self._surveys)  # type: ignore[arg-type]
        ticket = self._undertake("survey", "looking the part over")
        self._surveys[ticket] = (self._jobs.current, content)
        self._client.study(Survey(ticket, content, self._store))

    def draw(self, content: Content, views: tuple[View, ...], size: tuple[int, int]) -> None:
        """Small pictures of a part of this job; those asked for before are let go."""
        self._forget(self._drawings)  # type: ignore[arg-type]
        ticket = self._undertake("draw", "drawing the set-ups")
        self._drawings[ticket] = (self._jobs.current, content, views)
        self._client.study(Draw(ticket, content, views, size, self._store))

    def write_sheet(self, path: Path, shop: Shop, of: ToolMaterial, date: str) -> None:
        """The operation sheet as a file, written beside the present part."""
        ticket = self._undertake("sheet", f"writing {path.name}")
        self._client.study(Travel(ticket, self._jobs.content, str(path), shop, of, date, self._store))

    def inspect(self, asked: Inspect) -> None:
        """The pages of the present part's report, or its file; ``asked`` says what of. Pages asked for before are let
        go.
        """
        content = self._jobs.content
        if not asked.path:
            self._forget(self._inspecting)  # type: ignore[arg-type]
        words = f"writing {Path(asked.path).name}" if asked.path else "making the report"
        ticket = self._undertake("report", words)
        if not asked.path:
            self._inspecting[ticket] = (self._jobs.current, content)
        full = msgspec.structs.replace(asked, ticket=ticket, content=content, attachments=self._store)
        self._client.study(full)

    def carry(self, what: What, text: str) -> None:
        """Carry the limits of the callouts through to a figure; one that is worked on already is let go."""
        self._forget(self._carrying)  # type: ignore[arg-type]
        ticket, content = self._undertake("carry", "carrying the limits through"), self._jobs.content
        self._carrying[ticket] = (self._jobs.current, content)
        self._client.study(Carry(ticket, content, what, text, self._store))

    def look_for_walls(self) -> None:
        """Look for the thinnest walls of the present part."""
        self._forget(self._walls)  # type: ignore[arg-type]
        ticket, content = self._undertake("walls", "looking for thin walls"), self._jobs.content
        self._walls[ticket] = (self._jobs.current, content)
        self._client.study(LookForWalls(ticket, content, self._store))

    def match(self) -> None:
        """Look for the open sizes on the present solid."""
        self._forget(self._matching)  # type: ignore[arg-type]
        ticket, content = self._undertake("match", "looking for the callouts on the part"), self._jobs.content
        self._matching[ticket] = (self._jobs.current, content)
        self._client.study(Match(ticket, content, self._store))

    def rewrite(self, asked: Rewriting) -> None:
        """The present route made another way; what is asked for anew takes the place of what was."""
        self._forget(self._rewriting)  # type: ignore[arg-type]
        ticket, content = self._undertake("rewrite", "rewriting the route"), self._jobs.content
        self._rewriting[ticket] = (self._jobs.current, content, asked)
        self._client.study(Rewrite(ticket, content, asked, self._store))

    def explain(self) -> None:
        """Look for what closes the gap of the stated figure; one that is looked for already is let go."""
        self._forget(self._gaps)  # type: ignore[arg-type]
        ticket, content = self._undertake("why", "looking for what closes the gap"), self._jobs.content
        self._gaps[ticket] = (self._jobs.current, content)
        self._client.study(Explain(ticket, content, self._store))

    # --- what comes back
    def take(self, reply: Reply) -> bool:
        """Whether nothing more is to be told of a reply, having told what came of a study."""
        if reply.ticket in self._let_go:
            return True
        if isinstance(reply, Failed | Fallen):
            self._came_to_nothing(reply.ticket)
            return False
        if isinstance(reply, Compared):
            if (content := self._compared.get(reply.ticket)) is not None:
                self.compared.emit(content, reply.routes)
        elif isinstance(reply, Tried):
            if (content := self._compared.get(reply.ticket)) is not None:
                self.endured.emit(content, reply.route, reply.endured)
        elif isinstance(reply, Surveyed):
            if (part := self._surveys.pop(reply.ticket, None)) is not None:
                self.surveyed.emit(*part, reply.solid)
        elif isinstance(reply, Drawn):
            if (views := self._drawings.pop(reply.ticket, None)) is not None:
                self.drawn.emit(*views, reply.pictures)
        elif isinstance(reply, Rewritten):
            if (route := self._rewriting.pop(reply.ticket, None)) is not None:
                self.rewritten.emit(*route, reply.content)
        elif isinstance(reply, Inspected):
            if (report := self._inspecting.pop(reply.ticket, None)) is not None:
                self.inspected.emit(*report, reply.pages)
        elif isinstance(reply, CarriedThrough):
            if (carry := self._carrying.pop(reply.ticket, None)) is not None:
                self.carried.emit(*carry, reply.carried)
        elif isinstance(reply, WallsFound):
            if (thin := self._walls.pop(reply.ticket, None)) is not None:
                self.walls_found.emit(*thin, reply.walls)
        elif isinstance(reply, Matched):
            if (match := self._matching.pop(reply.ticket, None)) is not None:
                self.matched.emit(*match, reply.offers)
        elif isinstance(reply, Suspected | Explained):
            if (gap := self._gaps.get(reply.ticket)) is not None:
                self.explained.emit(*gap, reply.why, isinstance(reply, Explained))
        else:
            return False
        return True

    def _came_to_nothing(self, ticket: int) -> None:
        """Who waits for a survey or a picture goes on without."""
        if (part := self._surveys.pop(ticket, None)) is not None:
            self.surveyed.emit(*part, None)  # what its box tells must do
        if (views := self._drawings.pop(ticket, None)) is not None:
            self.drawn.emit(*views, ())
        self._rewriting.pop(ticket, None)
        if (report := self._inspecting.pop(ticket, None)) is not None:
            self.inspected.emit(*report, ())
        if (match := self._matching.pop(ticket, None)) is not None:
            self.matched.emit(*match, None)
        if (carry := self._carrying.pop(ticket, None)) is not None:
            self.carried.emit(*carry, None)
        if (thin := self._walls.pop(ticket, None)) is not None:
            self.walls_found.emit(*thin, None)
        if (gap := self._gaps.pop(ticket, None)) is not None:
            self.explained.emit(*gap, None, True)
