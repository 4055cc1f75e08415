"""One operation at a machine, and what must be known of a built part to find its operations."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

from ...callout import Ledger
from ...kernel.ground.figures import Surface, Vector
from ...quantity import Style
from ...standards.threads import ScrewThread
from ..tooling import Tool
from .model import Machine

Kind = Literal[
    "square", "face", "outline", "pocket", "slot", "centre", "drill", "bore", "ream", "counterbore", "countersink",
    "tap", "turn", "taper", "groove", "knurl", "thread", "keyway", "round", "chamfer", "engrave", "part_off",
]  # fmt: skip
#: In which order work is done in one set-up: what takes most away first, what is easily spoilt last.
ORDER: tuple[Kind, ...] = (
    "square", "face", "outline", "pocket", "slot", "centre", "drill", "bore", "ream", "counterbore", "countersink",
    "tap", "turn", "taper", "groove", "round", "chamfer", "knurl", "thread", "keyway", "engrave", "part_off",
)  # fmt: skip


class Operation(NamedTuple):
    """``key`` stays the same while the steps do. ``ways`` are the unit ways (part's axes) a tool may come from, empty
    for any. ``length`` is how far the tool feeds in all, ``across`` the diameter it works at (mm); ``chips`` what it
    takes away (mm³, 0 when not known); ``burr`` is what is left sharp; ``pitch`` the feed a thread asks for (mm).
    """

    key: str
    kind: Kind
    machine: Machine
    words: str
    faces: tuple[int, ...] = ()
    ways: tuple[Vector, ...] = ()
    tool: Tool | None = None
    many: int = 1
    callouts: tuple[int, ...] = ()
    length: float = 0.0
    across: float = 0.0
    chips: float = 0.0
    burr: str = ""
    pitch: float = 0.0


class Sized(NamedTuple):
    """A characteristic and the faces it was measured on; figures in mm or radians. ``shape`` is its callout's."""

    number: int
    key: str
    kind: str
    note: str
    nominal: float
    lower: float
    upper: float
    faces: tuple[int, ...]
    shape: str = ""

    @property
    def band(self) -> float:
        return self.upper - self.lower


class Made(NamedTuple):
    """A step as the sheet needs it: ``kind`` is its struct's name, ``adds`` whether it
    gives an outline (puts material on, or keeps what is inside), ``volume`` the
    part's after it (mm³, 0 when not known).
    """

    id: str
    kind: str
    name: str
    adds: bool = False
    volume: float = 0.0


class ThreadOn(NamedTuple):
    """A thread and the face it is on; ``skin`` is the step that modelled its flanks (empty when none did)."""

    face: int
    thread: ScrewThread
    length: float
    internal: bool
    skin: str = ""


class Built(NamedTuple):
    """A built part: its faces and the step that made each, in the order of the faces; ``low`` and ``high`` bound it.
    ``bar`` is the diameter of the round it is turned from (mm, 0 when that is not planned), ``parted`` whether it is
    cut off a bar.
    """

    surfaces: Sequence[Surface]
    makers: Sequence[str]
    steps: Sequence[Made]
    sized: Sequence[Sized]
    threads: Sequence[ThreadOn]
    ledger: Ledger
    style: Style
    turned: bool
    low: Vector = (0.0, 0.0, 0.0)
    high: Vector = (0.0, 0.0, 0.0)
    bar: float = 0.0
    parted: bool = False

    def made_by(self, step: str) -> list[Surface]:
        return [s for s, maker in zip(self.surfaces, self.makers, strict=True) if maker == step]

    def callouts_on(self, faces: Sequence[int]) -> tuple[int, ...]:
        """Callouts whose main size was measured on these faces alone."""
        own = set(faces)
        return tuple(sorted({s.number for s in self.sized if not s.key and s.faces and own.issuperset(s.faces)}))

    def chips_of(self, step: str) -> float:
        """What a step took away, mm³; 0 when it put material on, or that is not known."""
        at = next((k for k, made in enumerate(self.steps) if made.id == step), 0)
        before = next((m.volume for m in reversed(self.steps[:at]) if m.volume), 0.0)
        now = self.steps[at].volume if self.steps else 0.0
        return max(0.0, before - now) if before and now else 0.0


def way_key(way: Vector) -> str:
    """A way in few letters: ``+z``, or its three shares."""
    for k, name in enumerate("xyz"):
        if abs(way[k]) > 1 - 1e-6:
            return ("+" if way[k] > 0 else "-") + name
    return ",".join(f"{c + 0.0:.3f}" for c in way)
