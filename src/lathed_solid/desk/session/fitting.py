"""What an assembly asks of the kernel: its parts looked at, its pairs judged, its file written."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drafting.sheet.model import Sheet
from ...core.fit.edits import standing
from ...core.fit.model import Assembly, PartShot
from ...core.job.attachments import Store
from ...core.job.model import Content
from ...core.kernel.ground.figures import Vector
from ...worker.client import Client
from ...worker.fitting import (
    CutFaces,
    CutOpen,
    DriveJudged,
    DriveRun,
    Judge,
    Judged,
    JudgeDrive,
    JudgeNow,
    NowJudged,
    PartsTaken,
    ProposeAssemblySheet,
    RunDrive,
    RunSwing,
    SeeAssemblySheet,
    TakeParts,
    WriteAssembly,
)
from ...worker.issuing import SheetProposed, SheetSeen, SheetSoFar
from ...worker.protocol import FINAL, Failed, Fallen, Reply, Request
from .busy import Busy
from .jobs import Jobs

_IN_THE_WAY = "looking for what is in the way"
#: Replies to what is asked here.
_ANSWERS = (PartsTaken, Judged, NowJudged, CutFaces, DriveRun, DriveJudged)
#: Replies of which only its own are told here: others are of a part.
_SHEETS = (SheetSoFar, SheetSeen, SheetProposed)
#: What ends a question, answered or not.
_ENDS = (*FINAL, Fallen)


class _Asked(NamedTuple):
    """A question that waits for its answer: of what it is asked; what an answer, or that it broke off, is told by."""

    kind: str
    told: Callable[[Any], object]
    broke_off: Callable[[], object] = lambda: None


class Fitting(QObject):
    """Answers come by signal with what was asked; a question of a kind takes the place of the one before."""

    #: What parts were taken for (the words of whoever asked), the parts with their poses, and what was refused.
    taken = pyqtSignal(str, tuple, tuple)
    #: The assembly that was judged, and what was found; None when it broke off.
    judged = pyqtSignal(object, object)
    #: The assembly that was driven, and its film; None when it broke off.
    driven = pyqtSignal(object, object)
    #: The assembly whose drive was judged, the first moment in which parts overlap (-1: none; -2: it broke off), and
    #: the pair.
    drive_judged = pyqtSignal(object, int, object)

    #: An assembly on its way, and the pairs that overlap there.
    met = pyqtSignal(object, tuple)
    #: The assembly whose part went its way, and each moment of that; none when it cannot.
    swung = pyqtSignal(object, tuple)
    #: The assembly that was cut open, and the lines of its cut faces.
    cut = pyqtSignal(object, bytes)
    #: The assembly, its sheet, what the views show (None: it broke off), and whether that is all of them; the
    #: assembly, a sheet laid out of it and what that shows (None: it broke off).
    sheet_seen = pyqtSignal(object, object, object, bool)
    sheet_proposed = pyqtSignal(object, object, object)

    def __init__(self, jobs: Jobs, client: Client, busy: Busy) -> None:
        super().__init__()
        self._jobs, self._client, self._busy = jobs, client, busy
        self._asked: dict[int, _Asked] = {}
        #: What was ended by what took its place: nobody hears of it.
        self._let_go: set[int] = set()

    @property
    def store(self) -> Store:
        """Where the solids of parts are kept."""
        return self._jobs.store

    def _ask(self, asked: _Asked, words: str, request: Callable[[int, str], Request], instead: bool = False) -> None:
        """``instead``: it takes the place of one of its kind that is under way."""
        for ticket in [t for t, other in self._asked.items() if instead and other.kind == asked.kind]:
            del self._asked[ticket]
            self._let_go.add(ticket)
            self._client.end(ticket)
            self._busy.done(ticket)
        ticket = self._client.ticket()
        self._asked[ticket] = asked
        self._busy.undertake(asked.kind, ticket, words)
        self._client.study(request(ticket, str(self._jobs.store.folder)))

    def take_parts(
        self,
        what_for: str,
        paths: Sequence[Path],
        base: Path,
        jobs: Sequence[tuple[str, Content]] = (),
        both_hands: Sequence[str] = (),
        mirrored: Sequence[PartShot] = (),
    ) -> None:
        """Look at the parts in files and of open jobs, and at the other hand of some; ``taken`` tells them."""
        files, others = tuple(map(str, paths)), (tuple(both_hands), tuple(mirrored))
        asked = _Asked(
            f"parts {what_for}",
            lambda r: self.taken.emit(what_for, r.parts, r.refused),
            lambda: self.taken.emit("", (), ()),
        )
        self._ask(
            asked, "looking at the parts", lambda t, store: TakeParts(t, files, tuple(jobs), str(base), store, *others)
        )

    def judge(self, assembly: Assembly) -> None:
        """Judge all near pairs; one that is under way is let go."""
        asked = _Asked(
            "judge",
            lambda r: self.judged.emit(assembly, r.clearances),
            lambda: self.judged.emit(assembly, None),
        )
        self._ask(asked, _IN_THE_WAY, lambda t, store: Judge(t, assembly, store), instead=True)

    def drive(self, assembly: Assembly, relation: str, values: Sequence[float]) -> None:
        """Drive a relation through values; one that is under way is let go."""

        def told(reply: DriveRun) -> None:
            from ...core.fit.motion import Film, Frame  # they need SciPy, which the window does not wait for

            frames = tuple(Frame(value, standing(assembly, poses)) for value, poses in reply.moments)
            self.driven.emit(assembly, Film(frames, reply.ended))

        asked = _Asked("drive", told, lambda: self.driven.emit(assembly, None))
        self._ask(
            asked, "driving the relation", lambda t, store: RunDrive(t, assembly, relation, tuple(values), store), True
        )

    def swing(self, assembly: Assembly, instance: str, way: int) -> None:
        """Take an instance along one of its free ways; ``swung`` tells it."""
        asked = _Asked(
            "swing",
            lambda r: self.swung.emit(assembly, tuple(standing(assembly, poses) for _, poses in r.moments)),
            lambda: self.swung.emit(assembly, ()),
        )
        self._ask(asked, "moving the part", lambda t, store: RunSwing(t, assembly, instance, way, store))

    def judge_now(self, assembly: Assembly, moved: Assembly) -> None:
        """What is in the way of what has moved, while it moves; ``met`` tells it."""
        poses = tuple(i.pose for i in moved.instances)
        asked = _Asked("judge now", lambda r: self.met.emit(moved, r.pairs), lambda: self.met.emit(moved, ()))
        self._ask(asked, _IN_THE_WAY, lambda t, store: JudgeNow(t, assembly, poses, store))

    def judge_drive(self, assembly: Assembly, moments: Sequence[Assembly]) -> None:
        """Find the first moment of a drive in which parts are in each other's way."""
        poses = tuple(tuple(i.pose for i in moment.instances) for moment in moments)
        asked = _Asked(
            "judge drive",
            lambda r: self.drive_judged.emit(assembly, r.at, r.pair),
            lambda: self.drive_judged.emit(assembly, -2, None),
        )
        self._ask(asked, _IN_THE_WAY, lambda t, store: JudgeDrive(t, assembly, poses, store))

    def cut_open(self, assembly: Assembly, plane: tuple[Vector, Vector], whole: Sequence[str]) -> None:
        """Hatch it where a plane (a place, the direction of what is taken away) cuts it; the last asked counts."""
        asked = _Asked("cut open", lambda r: self.cut.emit(assembly, r.lines))
        self._ask(
            asked, "hatching the cut", lambda t, store: CutOpen(t, assembly, *plane, tuple(whole), store), instead=True
        )

    def write(self, assembly: Assembly, path: Path, which: str = "") -> None:
        """Write the assembly as the ending asks: STEP, or its drawing sheets (or ``which``)."""
        asked = _Asked("assembly file", lambda r: None)
        self._ask(asked, f"writing {path.name}", lambda t, store: WriteAssembly(t, assembly, str(path), which, store))

    def see_sheet(self, assembly: Assembly, sheet: Sheet) -> None:
        """What the views of a drawing sheet show; ``sheet_seen`` tells it, view by view."""
        asked = _Asked(
            "see assembly sheet",
            lambda r: self.sheet_seen.emit(assembly, sheet, r.seen, isinstance(r, SheetSeen)),
            lambda: self.sheet_seen.emit(assembly, sheet, None, True),
        )
        words = "drawing the assembly’s sheet"
        self._ask(asked, words, lambda t, store: SeeAssemblySheet(t, assembly, sheet, store), instead=True)

    def propose_sheet(self, assembly: Assembly, id_: str) -> None:
        """A whole drawing sheet; ``sheet_proposed`` tells it."""
        asked = _Asked(
            "new assembly sheet",
            lambda r: self.sheet_proposed.emit(assembly, r.sheet, r.seen),
            lambda: self.sheet_proposed.emit(assembly, None, None),
        )
        words = "laying out a sheet of the assembly"
        self._ask(asked, words, lambda t, store: ProposeAssemblySheet(t, assembly, id_, store), instead=True)

    def take(self, reply: Reply) -> bool:
        """Whether a reply was an assembly's and has been told; one that nobody waits for any more is dropped."""
        if reply.ticket in self._let_go:
            return True
        asked = self._asked.pop(reply.ticket, None) if isinstance(reply, _ENDS) else self._asked.get(reply.ticket)
        if asked is not None and isinstance(reply, _SHEETS):
            asked.told(reply)
            return True
        if asked is not None and isinstance(reply, _ANSWERS):
            asked.told(reply)
        elif asked is not None and isinstance(reply, Failed | Fallen):
            asked.broke_off()
        return isinstance(reply, _ANSWERS)
