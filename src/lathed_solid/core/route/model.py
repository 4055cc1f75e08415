"""What every step has in common, and what a step's build gets and gives."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

import msgspec

from ..refusal import Refusal
from ..sketch.model import Sketch
from ..sketch.shadow import Ghost
from ..standards.threads import ScrewThread

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody


class FaceRef(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A face by name; ``was`` describes it as it was when it was picked."""

    name: str
    was: str = ""


class EdgeRef(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Edges by the names of the faces they lie between.

    ``take`` says which: every edge of the ``pair`` of faces, the one ``edge`` numbered ``piece`` among them, the closed
    ``loop`` of face ``a`` that this edge belongs to, every sharp edge ``parallel`` to it, every edge of ``face`` a, or
    every ``sharp`` edge of the part.
    """

    a: str
    b: str
    was: str = ""
    take: Literal["pair", "edge", "loop", "parallel", "face", "sharp"] = "pair"
    piece: int = 0


class CornerRef(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A corner by three of the faces that meet there; ``piece`` says which, where they meet more than once."""

    a: str
    b: str
    c: str
    was: str = ""
    piece: int = 0


def edge_ref(a: str, b: str, piece: int, pieces: int, words: tuple[str, str] = ("", "")) -> EdgeRef:
    """One of ``pieces`` edges between the faces ``a`` and ``b``, which ``words`` describe."""
    first, second = (w or n for w, n in zip(words, (a, b), strict=True))
    if pieces < 2:
        return EdgeRef(a, b, f"edge between {first} and {second}")
    return EdgeRef(a, b, f"edge {piece + 1} of {pieces} between {first} and {second}", "edge", piece)


class StepBase(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``id`` never changes and is part of face names; ``name`` is the user's.

    ``body`` is the body worked on (the id of the step that began it); empty for the one that carries the picked face
    or edge, else the last one begun. Steps of one ``group`` are taken in and out together.
    """

    id: str
    name: str = ""
    suppressed: bool = False
    body: str = ""
    group: str = ""


class StepFailure(Refusal):
    """A step that cannot be built: what, why, and what would work. ``lost`` is a reference that resolves no more."""

    def __init__(self, message: str, lost: str = "") -> None:
        super().__init__(message)
        self.lost = lost


class Unfinished(StepFailure):
    """A step that still lacks something to be picked, drawn or written: not wrong, not ready."""


class ThreadMark(msgspec.Struct, frozen=True):
    """A thread carried by a face; ``length`` in mm, ``from_high`` when it starts at the far end. A ``modelled`` one is
    there in the solid and needs no lines to show it: the step ``skin`` made its faces.
    """

    face: str
    thread: ScrewThread
    length: float
    internal: bool
    from_high: bool = False
    modelled: bool = False
    skin: str = ""


class Tooling(NamedTuple):
    """The shapes a step cut or added, kept so that a pattern can repeat them; of a step that broke edges, those edges
    as they lay, one group for each that was picked.
    """

    mode: Literal["add", "cut", "keep", "break"]
    tools: tuple[NamedBody, ...] = ()
    edges: tuple[tuple[Any, ...], ...] = ()


class FileLook(NamedTuple):
    """What a file says of a body: its name (empty) and sRGB colour (None)."""

    name: str = ""
    color: tuple[float, float, float] | None = None


class Shadow(NamedTuple):
    """Where a sketch lies, and what of the part is seen under it."""

    frame: Frame
    ghost: Ghost


class Built(NamedTuple):
    """What a step gave. ``body`` is the body worked on; None when the step made none (a plane, an axis). ``remark`` is
    what a machinist should know of a step that was built all the same.

    The rest is filled in by the rebuild: ``renewed`` are sketches whose lines from the solid moved for it, ``bodies``
    all bodies after it, ``datums`` the planes, axes and points it made, ``frames`` the planes its sketches stood in
    and its holes start from, ``shadows`` where its sketches lie and the part under them, ``looks`` what a file says of
    the bodies that came from it.
    """

    body: NamedBody | None
    tooling: Tooling | None = None
    marks: tuple[ThreadMark, ...] = ()
    remark: str = ""
    renewed: tuple[Sketch, ...] = ()
    bodies: tuple[tuple[str, NamedBody], ...] = ()
    active: str = ""
    datums: tuple[tuple[str, Frame], ...] = ()
    frames: tuple[tuple[str, Frame], ...] = ()
    shadows: tuple[tuple[str, Shadow], ...] = ()
    looks: tuple[tuple[str, FileLook], ...] = ()


Want = Literal[
    "length", "angle", "number", "thread", "face", "faces", "edges", "sketch", "steps", "bodies", "choice", "flag",
    "regions", "text", "file",
]  # fmt: skip


class Param(NamedTuple):
    """One field of a step as the editor shows it. ``when`` says for which choices it applies: field -> values;
    ``more`` puts it under “More”, away from what every such step needs; ``formulas`` marks a text that holds some.
    ``most`` is how many edges or faces may be picked, the last ones counting (0: any number).
    """

    field: str
    label: str
    want: Want
    choices: tuple[tuple[str, str], ...] = ()
    when: Mapping[str, tuple[str, ...]] = {}
    help: str = ""
    more: bool = False
    formulas: bool = False
    most: int = 0

    @property
    def is_formula(self) -> bool:
        return self.want in ("length", "angle", "number", "thread")

    def applies(self, step: object) -> bool:
        return all(getattr(step, field) in values for field, values in self.when.items())
