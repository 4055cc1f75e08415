"""What is asked of the kernel for an assembly, and told of it."""

from __future__ import annotations

import msgspec

from ..core.drafting.sheet.model import Sheet
from ..core.fit.clearance import Clearances, Pair
from ..core.fit.model import Assembly, PartShot, Pose
from ..core.job.model import Content
from ..core.kernel.ground.figures import Vector


class TakeParts(msgspec.Struct, frozen=True, tag="take-parts"):
    """Look at the parts in files (``paths``), or of jobs that are open (the path each goes by, and its state), to put
    them into an assembly; paths are kept relative to ``base``. Of parts that come from ``both_hands`` (as kept) the
    other hand is made as well, and of ``mirrored`` only that.
    """

    ticket: int
    paths: tuple[str, ...]
    jobs: tuple[tuple[str, Content], ...]
    base: str
    attachments: str = ""
    both_hands: tuple[str, ...] = ()
    mirrored: tuple[PartShot, ...] = ()


class PartsTaken(msgspec.Struct, frozen=True, tag="parts-taken"):
    """Each part with where its file has it standing; what could not be taken, and why."""

    ticket: int
    parts: tuple[tuple[PartShot, tuple[Pose, ...]], ...]
    refused: tuple[tuple[str, str], ...]


class Judge(msgspec.Struct, frozen=True, tag="judge"):
    """Judge every near pair of an assembly."""

    ticket: int
    assembly: Assembly
    attachments: str = ""


class Judged(msgspec.Struct, frozen=True, tag="judged"):
    ticket: int
    clearances: Clearances


class RunDrive(msgspec.Struct, frozen=True, tag="run-drive"):
    """Drive a relation of an assembly through ``values`` (mm, radians or a plain number)."""

    ticket: int
    assembly: Assembly
    relation: str
    values: tuple[float, ...]
    attachments: str = ""


class RunSwing(msgspec.Struct, frozen=True, tag="run-swing"):
    """Take an instance of an assembly along its free way of that number."""

    ticket: int
    assembly: Assembly
    instance: str
    way: int
    attachments: str = ""


class DriveRun(msgspec.Struct, frozen=True, tag="drive-run"):
    """Each value that was reached, with the poses in the order of the instances; why it ended before its goal."""

    ticket: int
    moments: tuple[tuple[float, tuple[Pose, ...]], ...]
    ended: str


class JudgeNow(msgspec.Struct, frozen=True, tag="judge-now"):
    """What an assembly runs into with its instances standing so, of what has moved."""

    ticket: int
    assembly: Assembly
    poses: tuple[Pose, ...]
    attachments: str = ""


class NowJudged(msgspec.Struct, frozen=True, tag="now-judged"):
    ticket: int
    pairs: tuple[Pair, ...]


class JudgeDrive(msgspec.Struct, frozen=True, tag="judge-drive"):
    """Find the first of ``moments`` (poses in the order of the instances) in which two parts of an assembly overlap."""

    ticket: int
    assembly: Assembly
    moments: tuple[tuple[Pose, ...], ...]
    attachments: str = ""


class DriveJudged(msgspec.Struct, frozen=True, tag="drive-judged"):
    """Which moment (-1: none), and the worst pair of it."""

    ticket: int
    at: int
    pair: Pair | None


class WriteAssembly(msgspec.Struct, frozen=True, tag="write-assembly"):
    """Write an assembly to ``path``: as STEP with its structure, or its drawing sheets (or ``which``), as the ending
    asks.
    """

    ticket: int
    assembly: Assembly
    path: str
    which: str = ""
    attachments: str = ""


class SeeAssemblySheet(msgspec.Struct, frozen=True, tag="see-assembly-sheet"):
    """What the views of ``sheet`` show of an assembly as it stands."""

    ticket: int
    assembly: Assembly
    sheet: Sheet
    attachments: str = ""


class ProposeAssemblySheet(msgspec.Struct, frozen=True, tag="propose-assembly-sheet"):
    """A whole sheet of an assembly, called ``id``."""

    ticket: int
    assembly: Assembly
    id: str
    attachments: str = ""


class CutOpen(msgspec.Struct, frozen=True, tag="cut-open"):
    """Hatch an assembly where a plane cuts it, but for the instances left ``whole``."""

    ticket: int
    assembly: Assembly
    origin: Vector
    normal: Vector
    whole: tuple[str, ...]
    attachments: str = ""


class CutFaces(msgspec.Struct, frozen=True, tag="cut-faces"):
    """Edges to be drawn."""

    ticket: int
    lines: bytes
