"""What the window and the kernel process say to each other: msgpack messages over a pipe."""

from __future__ import annotations

from typing import Literal

import msgspec

from ..core.job.enduring import Endured
from ..core.job.model import BodyLook, Content
from ..core.job.rewriting.asked import Rewriting
from ..core.job.routes import RouteFigures
from ..core.kernel.ground.figures import Surface, Vector
from ..core.packed import Unpacker
from ..core.plan.finished import Solid
from ..core.plan.sheet.views import View
from ..core.plan.shop import Shop
from ..core.prove.proof import Proof
from ..core.route.model import FileLook, ThreadMark
from ..core.route.rebuild import StepReport
from ..core.sketch.model import Entity, Projected, Sketch
from ..core.standards.speeds import ToolMaterial
from .fitting import (
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
from .inspecting import (
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
from .issuing import Pack, ProposeSheet, SeeSheet, SheetProposed, SheetSeen, SheetSoFar, WriteOutline, WriteSheets
from .picturing import PictureSoFar, PictureTaken, TakePicture

Want = Literal["shape", "proof"]


class Build(msgspec.Struct, frozen=True, tag="build"):
    """Build ``content`` up to step ``until``; ``faulted`` steps are not tried again; ``attachments`` is the folder of
    files that steps read. Only what is wanted is worked out: a ``shape`` to be shown is meshed and sent, a ``proof``
    measures every callout.
    """

    ticket: int
    content: Content
    until: str = ""
    faulted: dict[str, str] = {}
    attachments: str = ""
    want: frozenset[Want] = frozenset(("shape", "proof"))


class Export(msgspec.Struct, frozen=True, tag="export"):
    """Write the part of ``content`` to ``path``; ``form`` is the id of a format."""

    ticket: int
    content: Content
    path: str
    form: str
    attachments: str = ""


class Hatch(msgspec.Struct, frozen=True, tag="hatch"):
    """Hatch lines where a plane (origin mm, unit x and y) cuts the bodies of build ``of``, but for the ``hidden``."""

    ticket: int
    of: int
    origin: Vector
    x: Vector
    y: Vector
    hidden: tuple[str, ...] = ()


class Compare(msgspec.Struct, frozen=True, tag="compare"):
    """Build and prove every route of ``content``."""

    ticket: int
    content: Content
    attachments: str = ""


class Endure(msgspec.Struct, frozen=True, tag="endure"):
    """Change every size that the present route of ``content`` uses, and rebuild it each time."""

    ticket: int
    content: Content
    attachments: str = ""


class Survey(msgspec.Struct, frozen=True, tag="survey"):
    """Look over the part of ``content`` for what is planned of it."""

    ticket: int
    content: Content
    attachments: str = ""


class Draw(msgspec.Struct, frozen=True, tag="draw"):
    """Draw the part of ``content`` as each of ``views`` has it; ``size`` of a picture in pixels."""

    ticket: int
    content: Content
    views: tuple[View, ...]
    size: tuple[int, int]
    attachments: str = ""


class Travel(msgspec.Struct, frozen=True, tag="travel"):
    """Write the operation sheet of ``content`` to ``path``; ``shop`` has the speeds and the crib, ``of`` is what drills
    and cutters are made of, ``date`` is printed.
    """

    ticket: int
    content: Content
    path: str
    shop: Shop
    of: ToolMaterial
    date: str = ""
    attachments: str = ""


class Rewrite(msgspec.Struct, frozen=True, tag="rewrite"):
    """Make the present route of ``content`` another way, as ``asked``."""

    ticket: int
    content: Content
    asked: Rewriting
    attachments: str = ""


class Drop(msgspec.Struct, frozen=True, tag="drop"):
    """Let build ``ticket`` go at its next step; said while it runs. Answered by Dropped, or by its usual end."""

    ticket: int


Request = (
    Build
    | Export
    | Hatch
    | Compare
    | Survey
    | Endure
    | Draw
    | Travel
    | SeeSheet
    | ProposeSheet
    | WriteSheets
    | WriteOutline
    | Pack
    | TakePicture
    | Inspect
    | Match
    | Carry
    | LookForWalls
    | LookForRoom
    | LookAsAShop
    | HoldAgainst
    | Rewrite
    | Explain
    | TakeParts
    | CutOpen
    | Judge
    | JudgeDrive
    | JudgeNow
    | RunDrive
    | RunSwing
    | WriteAssembly
    | SeeAssemblySheet
    | ProposeAssemblySheet
)
Message = Request | Drop


class BodyFigures(msgspec.Struct, frozen=True):
    """One body: the faces it has in the whole (first and last index), its volume in mm³, what its file says of it."""

    id: str
    first: int
    last: int
    volume: float
    file: FileLook = FileLook()

    def look(self, content: Content) -> BodyLook:
        """How it is called and shown: as said by hand, else as its file says."""
        return content.look(self.id, self.file)


class DatumFigure(msgspec.Struct, frozen=True):
    """A plane, axis or point of a step: its frame in the part (mm)."""

    step: str
    origin: Vector
    x: Vector
    y: Vector


class Shadow(msgspec.Struct, frozen=True):
    """Where a sketch lies (zero of its plane in the part, mm, and its unit x and y), and the lines of the part under
    it.
    """

    sketch: str
    origin: Vector
    x: Vector
    y: Vector
    entities: tuple[Entity, ...] = ()
    items: tuple[Projected, ...] = ()


class Started(msgspec.Struct, frozen=True, tag="started"):
    """A step is about to run; when the process falls, this is the guilty one."""

    ticket: int
    step: str


class Ended(msgspec.Struct, frozen=True, tag="ended"):
    ticket: int
    report: StepReport


class BuiltPart(msgspec.Struct, frozen=True, tag="built"):
    """A finished build, sent before it is proved. ``shape`` is the meshed last good solid (empty when there is none, or
    none is wanted).

    ``names[i]`` are the names of face i + 1, ``references[i]`` the one reference that finds just this face.
    ``renewed`` are sketches whose lines taken from the solid have moved.
    """

    ticket: int
    reports: tuple[StepReport, ...]
    shape: bytes
    names: tuple[tuple[str, ...], ...]
    references: tuple[str, ...]
    surfaces: tuple[Surface, ...]
    marks: tuple[ThreadMark, ...]
    seconds: float
    renewed: tuple[Sketch, ...] = ()
    bodies: tuple[BodyFigures, ...] = ()
    datums: tuple[DatumFigure, ...] = ()
    shadows: tuple[Shadow, ...] = ()


class Proved(msgspec.Struct, frozen=True, tag="proved"):
    """The proof of what was built; follows every BuiltPart. None when there is no solid, or none is wanted."""

    ticket: int
    proof: Proof | None


class Exported(msgspec.Struct, frozen=True, tag="exported"):
    ticket: int
    path: str


class Hatched(msgspec.Struct, frozen=True, tag="hatched"):
    """``of`` is the build whose bodies were hatched."""

    ticket: int
    of: int
    shape: bytes


class Compared(msgspec.Struct, frozen=True, tag="compared"):
    ticket: int
    routes: tuple[RouteFigures, ...]


class Surveyed(msgspec.Struct, frozen=True, tag="surveyed"):
    """``solid`` is None when the route gives none."""

    ticket: int
    solid: Solid | None


class Drawn(msgspec.Struct, frozen=True, tag="drawn"):
    """PNG of each view; empty where the part is not there yet."""

    ticket: int
    pictures: tuple[bytes, ...]


class Rewritten(msgspec.Struct, frozen=True, tag="rewritten"):
    """The content with the route that was asked for as the present one."""

    ticket: int
    content: Content


class Tried(msgspec.Struct, frozen=True, tag="tried"):
    """What the route called ``route`` endures."""

    ticket: int
    route: str
    endured: Endured


class Failed(msgspec.Struct, frozen=True, tag="failed"):
    """A request that could not be carried out, in words."""

    ticket: int
    message: str


class Fallen(msgspec.Struct, frozen=True, tag="fallen"):
    """The process ended in the middle of ``step`` (empty when outside any step). Made by the client, never sent."""

    ticket: int
    step: str
    cancelled: bool


class Dropped(msgspec.Struct, frozen=True, tag="dropped"):
    """A build that was let go."""

    ticket: int


Answer = (
    Exported | Hatched | Compared | Surveyed | Tried | Drawn | Inspected | Matched | CarriedThrough | WallsFound
    | RoomTold | Sensed | Held | SheetSoFar | SheetSeen | SheetProposed | PictureTaken | PictureSoFar
    | Rewritten | Suspected | Explained | PartsTaken | Judged | DriveJudged | DriveRun | CutFaces | NowJudged
)  # fmt: skip
Reply = Started | Ended | BuiltPart | Proved | Answer | Failed | Fallen | Dropped
#: Replies that end their request.
FINAL = (
    Proved, Exported, Hatched, Compared, Surveyed, Tried, Drawn, Inspected, Matched, CarriedThrough, WallsFound,
    RoomTold, Sensed, Held, SheetSeen, SheetProposed, PictureTaken,
    Rewritten, Explained, PartsTaken, Judged, DriveJudged, DriveRun, CutFaces, NowJudged, Failed, Dropped,
)  # fmt: skip

encode = msgspec.msgpack.Encoder().encode
decode_message = Unpacker[Message](Message)
decode_reply = Unpacker[Reply](Reply)
