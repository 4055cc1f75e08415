"""What an assembly asks of the kernel: its parts looked at, its pairs judged, its file written."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.fit.edits import standing
from ...core.fit.model import Assembly, PartShot
from ...core.fit.motion import Film, Frame
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
    RunDrive,
    RunSwing,
    TakeParts,
    WriteAssembly,
)
from ...worker.protocol import Failed, Fallen, Reply, Request
from .busy import Busy
from .jobs import Jobs


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

    def __init__(self, jobs: Jobs, client: Client, busy: Busy) -> None:
        super().__init__()
        self._jobs, self._client, self._busy = jobs, client, busy
        self._what_for: dict[int, str] = {}
        self._judging: dict[int, Assembly] = {}
        self._driving: dict[int, Assembly] = {}
        self._running: dict[int, Assembly] = {}
        self._cutting: dict[int, Assembly] = {}
        self._meeting: dict[int, Assembly] = {}
        self._swinging: dict[int, Assembly] = {}

    @property
    def store(self) -> Store:
        """Where the solids of parts are kept."""
        return self._jobs.store

    def _ask(self, kind: str, words: str, request: Callable[[int, str], Request]) -> int:
        ticket = self._client.ticket()
        self._busy.undertake(kind, ticket, words)
        self._client.study(request(ticket, str(self._jobs.store.folder)))
        return ticket

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

        def request(ticket: int, store: str) -> Request:
            self._what_for[ticket] = what_for
            files = tuple(map(str, paths))
            return TakeParts(ticket, files, tuple(jobs), str(base), store, tuple(both_hands), tuple(mirrored))

        self._ask(f"parts {what_for}", "looking at the parts", request)

    def judge(self, assembly: Assembly) -> None:
        """Judge all near pairs; one that is under way is let go."""
        for ticket in list(self._judging):
            del self._judging[ticket]
            self._client.end(ticket)
            self._busy.done(ticket)

        def request(ticket: int, store: str) -> Request:
            self._judging[ticket] = assembly
            return Judge(ticket, assembly, store)

        self._ask("judge", "looking for what is in the way", request)

    def drive(self, assembly: Assembly, relation: str, values: Sequence[float]) -> None:
        """Drive a relation through values; one that is under way is let go."""
        for ticket in list(self._running):
            del self._running[ticket]
            self._client.end(ticket)
            self._busy.done(ticket)

        def request(ticket: int, store: str) -> Request:
            self._running[ticket] = assembly
            return RunDrive(ticket, assembly, relation, tuple(values), store)

        self._ask("drive", "driving the relation", request)

    def swing(self, assembly: Assembly, instance: str, way: int) -> None:
        """Take an instance along one of its free ways; ``swung`` tells it."""

        def request(ticket: int, store: str) -> Request:
            self._swinging[ticket] = assembly
            return RunSwing(ticket, assembly, instance, way, store)

        self._ask("swing", "moving the part", request)

    def judge_now(self, assembly: Assembly, moved: Assembly) -> None:
        """What is in the way of what has moved, while it moves; ``met`` tells it."""

        def request(ticket: int, store: str) -> Request:
            self._meeting[ticket] = moved
            return JudgeNow(ticket, assembly, tuple(i.pose for i in moved.instances), store)

        self._ask("judge now", "looking for what is in the way", request)

    def judge_drive(self, assembly: Assembly, moments: Sequence[Assembly]) -> None:
        """Find the first moment of a drive in which parts are in each other's way."""
        poses = tuple(tuple(i.pose for i in moment.instances) for moment in moments)

        def request(ticket: int, store: str) -> Request:
            self._driving[ticket] = assembly
            return JudgeDrive(ticket, assembly, poses, store)

        self._ask("judge drive", "looking for what is in the way", request)

    def cut_open(self, assembly: Assembly, plane: tuple[Vector, Vector], whole: Sequence[str]) -> None:
        """Hatch it where a plane (a place, the direction of what is taken away) cuts it; the last asked counts."""
        for ticket in list(self._cutting):
            del self._cutting[ticket]
            self._client.end(ticket)
            self._busy.done(ticket)

        def request(ticket: int, store: str) -> Request:
            self._cutting[ticket] = assembly
            return CutOpen(ticket, assembly, *plane, tuple(whole), store)

        self._ask("cut open", "hatching the cut", request)

    def write(self, assembly: Assembly, path: Path) -> None:
        """Write the assembly as STEP."""
        self._ask(
            "assembly file", f"writing {path.name}", lambda t, store: WriteAssembly(t, assembly, str(path), store)
        )

    def take(self, reply: Reply) -> bool:
        """Whether a reply was an assembly's and has been told."""
        if isinstance(reply, PartsTaken):
            self.taken.emit(self._what_for.pop(reply.ticket, ""), reply.parts, reply.refused)
            return True
        if isinstance(reply, Judged):
            if (asked := self._judging.pop(reply.ticket, None)) is not None:
                self.judged.emit(asked, reply.clearances)
            return True
        if isinstance(reply, NowJudged):
            if (asked := self._meeting.pop(reply.ticket, None)) is not None:
                self.met.emit(asked, reply.pairs)
            return True
        if isinstance(reply, CutFaces):
            if (asked := self._cutting.pop(reply.ticket, None)) is not None:
                self.cut.emit(asked, reply.lines)
            return True
        if isinstance(reply, DriveRun) and (swung := self._swinging.pop(reply.ticket, None)) is not None:
            self.swung.emit(swung, tuple(standing(swung, poses) for _, poses in reply.moments))
            return True
        if isinstance(reply, DriveRun):
            if (asked := self._running.pop(reply.ticket, None)) is not None:
                frames = tuple(Frame(value, standing(asked, poses)) for value, poses in reply.moments)
                self.driven.emit(asked, Film(frames, reply.ended))
            return True
        if isinstance(reply, DriveJudged):
            if (asked := self._driving.pop(reply.ticket, None)) is not None:
                self.drive_judged.emit(asked, reply.at, reply.pair)
            return True
        if isinstance(reply, Failed | Fallen):
            if (asked := self._running.pop(reply.ticket, None)) is not None:
                self.driven.emit(asked, None)
            self._cutting.pop(reply.ticket, None)
            if (asked := self._meeting.pop(reply.ticket, None)) is not None:
                self.met.emit(asked, ())
            if (asked := self._swinging.pop(reply.ticket, None)) is not None:
                self.swung.emit(asked, ())
            if (asked := self._driving.pop(reply.ticket, None)) is not None:
                self.drive_judged.emit(asked, -2, None)
            if self._what_for.pop(reply.ticket, None) is not None:
                self.taken.emit("", (), ())
            if (asked := self._judging.pop(reply.ticket, None)) is not None:
                self.judged.emit(asked, None)
        return False
