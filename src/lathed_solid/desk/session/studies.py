"""Studies: what is asked of the kernel beside the present part, which they never delay, and what comes of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drafting.sheet.model import Sheet
from ...core.issue.cutting import Outline
from ...core.job import edits
from ...core.job.carried import What
from ...core.job.model import Content
from ...core.job.rewriting.asked import Rewriting
from ...core.job.room import RoomAsked
from ...core.plan.sheet.views import View
from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ...worker.client import Client
from ...worker.inspecting import (
    CarriedThrough,
    Carry,
    Explain,
    Explained,
    Held,
    HoldAgainst,
    Inspect,
    Inspected,
    LookAsAShop,
    LookForRoom,
    LookForWalls,
    Match,
    Matched,
    RoomTold,
    Sensed,
    Suspected,
    WallsFound,
)
from ...worker.issuing import (
    Pack,
    ProposeSheet,
    SeeSheet,
    SheetProposed,
    SheetSeen,
    SheetSoFar,
    WriteOutline,
    WriteSheets,
)
from ...worker.protocol import (
    Compare,
    Compared,
    Draw,
    Drawn,
    Endure,
    Failed,
    Fallen,
    Reply,
    Request,
    Rewrite,
    Rewritten,
    Survey,
    Surveyed,
    Travel,
    Tried,
)
from .busy import Busy
from .documents import OpenJob
from .jobs import Jobs


class _Asked(NamedTuple):
    """A study under way: its kind, what it was asked of, and what else its answer is told with."""

    kind: str
    job: OpenJob
    content: Content
    more: tuple[object, ...] = ()


#: What each answer tells; those that are not the last one of their study are told apart below.
_TOLD: dict[type, Callable[[Any], tuple[object, ...]]] = {
    Compared: lambda r: (r.routes,),
    Tried: lambda r: (r.route, r.endured),
    Surveyed: lambda r: (r.solid,),
    Drawn: lambda r: (r.pictures,),
    Rewritten: lambda r: (r.content,),
    Suspected: lambda r: (r.why, False),
    Explained: lambda r: (r.why, True),
    Inspected: lambda r: (r.pages,),
    Matched: lambda r: (r.offers,),
    CarriedThrough: lambda r: (r.carried,),
    WallsFound: lambda r: (r.walls,),
    RoomTold: lambda r: (r.room,),
    Sensed: lambda r: (r.findings,),
    Held: lambda r: (r.against,),
    SheetSoFar: lambda r: (r.seen, False),
    SheetSeen: lambda r: (r.seen, True),
    SheetProposed: lambda r: (r.sheet, r.seen),
}
#: What is told to whoever waits for a study that came to nothing; of the others nothing is told.
_NOTHING: dict[str, tuple[object, ...]] = {
    "survey": (None,), "draw": ((),), "why": (None, True), "report": ((),), "match": (None,), "carry": (None,),
    "walls": (None,), "room": (None,), "sense": (None,), "against": (None,), "see sheet": (None, True),
    "new sheet": (None, None),
}  # fmt: skip


class Studies(QObject):
    """What comes counts only for what was asked about: every signal brings the job and the content along."""

    #: Figures of the routes that were compared; then what each of them endures.
    compared = pyqtSignal(object, object, tuple)
    endured = pyqtSignal(object, object, str, object)
    #: What was found when the part was looked over (None when it gives no solid).
    surveyed = pyqtSignal(object, object, object)
    #: The views that were drawn, and a PNG of each (none when it could not be done).
    drawn = pyqtSignal(object, object, tuple, tuple)
    #: How the route was to be rewritten, and the content that came.
    rewritten = pyqtSignal(object, object, object, object)
    #: The line of the proof asked about (None: the stated figures), what was found of the gap (None when the search
    #: broke off), and whether that is all.
    explained = pyqtSignal(object, object, object, object, bool)
    #: The pages of a report (PNG; none when it could not be made).
    inspected = pyqtSignal(object, object, tuple)
    #: Offers for callouts, limits carried through, thin walls: each None when it broke off.
    matched = pyqtSignal(object, object, object)
    carried = pyqtSignal(object, object, object)
    walls_found = pyqtSignal(object, object, object)
    #: What it was held against, in words, and how the two differ (None: it broke off).
    held = pyqtSignal(object, object, str, object)
    #: What shop sense has against the part (None: it broke off).
    sensed = pyqtSignal(object, object, object)
    #: A drawing sheet, what its views show (None: it broke off), and whether that is all of them; a sheet that is
    #: proposed, and what it shows.
    sheet_seen = pyqtSignal(object, object, object, object, bool)
    sheet_proposed = pyqtSignal(object, object, object, object)
    #: What room was asked for, and what there is (None: it broke off).
    room_found = pyqtSignal(object, object, object, object)

    def __init__(self, jobs: Jobs, client: Client, busy: Busy) -> None:
        super().__init__()
        self._jobs, self._client, self._busy = jobs, client, busy
        self._asked: dict[int, _Asked] = {}
        #: Studies that nobody waits for any more: whatever becomes of them is not told.
        self._let_go: set[int] = set()
        self._signals = {
            "routes": self.compared, "endure": self.endured, "survey": self.surveyed, "draw": self.drawn,
            "rewrite": self.rewritten, "why": self.explained, "report": self.inspected, "match": self.matched,
            "carry": self.carried, "walls": self.walls_found, "room": self.room_found,
            "sense": self.sensed, "against": self.held, "see sheet": self.sheet_seen, "new sheet": self.sheet_proposed,
        }  # fmt: skip

    @property
    def _store(self) -> str:
        return str(self._jobs.store.folder)

    def _ask(
        self, kind: str, words: str, request: Callable[[int], Request], content: Content, *more: object, again: str = ""
    ) -> None:
        """Ask for a study of the present job; ``again`` tells several of a kind apart."""
        ticket = self._client.ticket()
        self._busy.undertake(f"{kind}{again}", ticket, words)
        self._asked[ticket] = _Asked(kind, self._jobs.current, content, more)
        self._client.study(request(ticket))

    def _forget(self, kind: str) -> None:
        """Those of a kind asked for before are let go."""
        for ticket in [t for t, asked in self._asked.items() if asked.kind == kind]:
            del self._asked[ticket]
            self._let_go.add(ticket)
            self._client.end(ticket)
            self._busy.done(ticket)  # one that still waited is forgotten without a word

    # --- asking
    def compare_routes(self) -> None:
        """Build and prove every route, then change every number of each."""
        self.drop_comparison()
        content, store = self._jobs.content, self._store
        self._ask("routes", "comparing the routes", lambda t: Compare(t, content, store), content)
        for at, route in enumerate(content.routes):
            own, words = edits.take_route(content, at), f"changing every number of route {route.name}"
            self._ask("endure", words, lambda t, own=own: Endure(t, own, store), content, again=f" {at}")  # type: ignore[misc]

    def drop_comparison(self) -> None:
        """Nobody waits any more for what the routes come to."""
        self._forget("routes")
        self._forget("endure")

    def survey(self, content: Content) -> None:
        """Look a part of this job over for what is planned of it."""
        self._forget("survey")
        self._ask("survey", "looking the part over", lambda t: Survey(t, content, self._store), content)

    def draw(self, content: Content, views: tuple[View, ...], size: tuple[int, int]) -> None:
        """Small pictures of a part of this job."""
        self._forget("draw")
        self._ask("draw", "drawing the set-ups", lambda t: Draw(t, content, views, size, self._store), content, views)

    def write_sheet(self, path: Path, shop: Shop, of: ToolMaterial, date: str) -> None:
        """The operation sheet as a file, written beside the present part."""
        ticket = self._client.ticket()
        self._busy.undertake("sheet", ticket, f"writing {path.name}")
        self._client.study(Travel(ticket, self._jobs.content, str(path), shop, of, date, self._store))

    def inspect(self, asked: Inspect) -> None:
        """The pages of the present part's report, or its file; ``asked`` says what of."""
        content = self._jobs.content
        full = msgspec.structs.replace(asked, content=content, attachments=self._store)
        if asked.path:
            ticket = self._client.ticket()
            self._busy.undertake("report file", ticket, f"writing {Path(asked.path).name}")
            self._client.study(msgspec.structs.replace(full, ticket=ticket))
            return
        self._forget("report")
        self._ask("report", "making the report", lambda t: msgspec.structs.replace(full, ticket=t), content)

    def _of_part(self, kind: str, words: str, request: Callable[[int, Content, str], Request], *more: object) -> None:
        """A study of the present content; one of its kind that is under way is let go."""
        self._forget(kind)
        content = self._jobs.content
        self._ask(kind, words, lambda t: request(t, content, self._store), content, *more)

    def carry(self, what: What, text: str) -> None:
        """Carry the limits of the callouts through to a figure."""
        self._of_part("carry", "carrying the limits through", lambda t, c, store: Carry(t, c, what, text, store))

    def look_for_walls(self) -> None:
        """Look for the thinnest walls of the present part."""
        self._of_part("walls", "looking for thin walls", LookForWalls)

    def look_for_room(self, asked: RoomAsked) -> None:
        """Look for room for holes on the present part."""
        self._of_part("room", "looking for room", lambda t, c, store: LookForRoom(t, c, asked, store), asked)

    def look_as_a_shop(self) -> None:
        """What shop sense has against the present part."""
        self._of_part("sense", "looking as a shop does", LookAsAShop)

    def hold_against(self, words: str, other: Content | None, path: str = "", lay: bool = False) -> None:
        """Hold the present part against another one, which ``words`` name, or a file."""

        def request(ticket: int, content: Content, store: str) -> Request:
            return HoldAgainst(ticket, content, other, path, lay, store)

        self._of_part("against", f"comparing with {words}", request, words)

    def see_sheet(self, sheet: Sheet) -> None:
        """What the views of a drawing sheet show of the present part."""
        self._of_part("see sheet", "drawing the sheet", lambda t, c, store: SeeSheet(t, c, sheet, store), sheet)

    def propose_sheet(self, id_: str, size: str) -> None:
        """A whole drawing sheet of the present part."""
        self._of_part("new sheet", "laying out a sheet", lambda t, c, store: ProposeSheet(t, c, id_, size, store))

    def write_sheets(self, path: Path, which: str) -> None:
        """The drawing sheets of the present job (or ``which``) as files."""
        ticket, job = self._client.ticket(), self._jobs.current.history.state
        revisions = tuple((r.label, r.date) for r in job.revisions)
        self._busy.undertake("write sheets", ticket, f"writing {path.name}")
        self._client.study(WriteSheets(ticket, self._jobs.content, str(path), which, revisions, self._store))

    def write_outline(self, outline: Outline, path: Path) -> None:
        """A flat outline of the present part for cutting."""
        ticket = self._client.ticket()
        self._busy.undertake("outline", ticket, f"writing {path.name}")
        self._client.study(WriteOutline(ticket, self._jobs.content, outline, str(path), self._store))

    def write_package(self, path: Path, label: str, shop: Shop, of: ToolMaterial) -> None:
        """All that leaves the workshop with an issued revision."""
        ticket = self._client.ticket()
        self._busy.undertake("package", ticket, f"writing {path.name}")
        job = self._jobs.current.history.state
        self._client.study(Pack(ticket, job, label, str(path), shop, of, self._store))

    def match(self) -> None:
        """Look for the open sizes on the present solid."""
        self._of_part("match", "looking for the callouts on the part", Match)

    def rewrite(self, asked: Rewriting) -> None:
        """The present route made another way."""
        self._of_part("rewrite", "rewriting the route", lambda t, c, store: Rewrite(t, c, asked, store), asked)

    def explain(self, line: tuple[int, str] | None) -> None:
        """Look for what closes the gap of the stated figures, or brings a line of the proof into limits."""
        self._of_part("why", "looking for what closes the gap", lambda t, c, store: Explain(t, c, line, store), line)

    # --- what comes back
    def take(self, reply: Reply) -> bool:
        """Whether nothing more is to be told of a reply, having told what came of a study."""
        if reply.ticket in self._let_go:
            return True
        if isinstance(reply, Failed | Fallen):
            asked = self._asked.pop(reply.ticket, None)
            if asked is not None and asked.kind in _NOTHING:
                self._tell(asked, _NOTHING[asked.kind])  # who waits for it goes on without
            return False
        if type(reply) not in _TOLD:
            return False
        last = not isinstance(reply, Suspected | SheetSoFar)
        asked = self._asked.pop(reply.ticket, None) if last else self._asked.get(reply.ticket)
        if asked is not None:
            self._tell(asked, _TOLD[type(reply)](reply))
        return True

    def _tell(self, asked: _Asked, came: tuple[object, ...]) -> None:
        self._signals[asked.kind].emit(asked.job, asked.content, *asked.more, *came)
