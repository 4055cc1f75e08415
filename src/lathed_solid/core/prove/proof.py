"""The proof of a part: one line a characteristic, what nobody explains, and the mass."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal, NamedTuple

import msgspec

from ..kernel.ground.figures import MassProperties

Mark = Literal["in", "near", "out", "open"]
StatedKind = Literal["volume", "mass", "area", "length"]

#: In limits, but more of the band than this share is used.
NEAR_SHARE = 0.8


class ProofLine(msgspec.Struct, frozen=True):
    """One characteristic judged. Figures in mm, radians or counts; ``measured`` is None when ``mark`` is ``open``.

    ``faces`` are indices of the faces touched; ``used`` the share of the tolerance band taken up (0 at nominal).
    """

    number: int
    key: str
    kind: str
    note: str
    nominal: float
    lower: float
    upper: float
    basis: str
    measured: float | None
    mark: Mark
    used: float = 0.0
    message: str = ""
    faces: tuple[int, ...] = ()

    def with_(self, **changes: object) -> ProofLine:
        return msgspec.structs.replace(self, **changes)


class FaceNote(msgspec.Struct, frozen=True):
    """A face: its index, reference and short description."""

    index: int
    name: str
    words: str


class StatedCheck(msgspec.Struct, frozen=True):
    """A stated figure against the measured one: ``what`` in words, its ``kind`` (mm³, g, mm² or mm), and ``within``
    which they agree, in the same unit.
    """

    what: str
    kind: StatedKind
    stated: float
    measured: float
    within: float
    mark: Mark

    @property
    def off(self) -> float:
        """How much more the solid has."""
        return self.measured - self.stated


class Weighed(NamedTuple):
    """Figures of a body and its mass in grams; the centre is that of its mass."""

    figures: MassProperties
    grams: float


def together(bodies: Iterable[Weighed]) -> Weighed:
    """Several bodies as one: volumes and masses add, the centre is that of all the mass."""
    found = list(bodies)
    if len(found) == 1:
        return found[0]
    grams = sum(w.grams for w in found)
    center = [sum(w.grams * w.figures.center[k] for w in found) / grams for k in range(3)]
    low = [min(w.figures.low[k] for w in found) for k in range(3)]
    high = [max(w.figures.high[k] for w in found) for k in range(3)]
    figures = MassProperties(
        sum(w.figures.volume for w in found), sum(w.figures.area for w in found),
        (center[0], center[1], center[2]), (low[0], low[1], low[2]), (high[0], high[1], high[2]),
        sum(w.figures.off for w in found),
    )  # fmt: skip
    return Weighed(figures, grams)


class Proof(msgspec.Struct, frozen=True):
    """All that was proved of one part. ``grams`` from the solid's volume and the material's density."""

    lines: tuple[ProofLine, ...]
    stated: tuple[StatedCheck, ...]
    unexplained: tuple[FaceNote, ...]
    unused: tuple[int, ...]
    mass: MassProperties
    grams: float

    def _marks(self) -> list[Mark]:
        return [line.mark for line in self.lines] + [check.mark for check in self.stated]

    @property
    def all_in(self) -> bool:
        """True when every characteristic and stated figure is measured and in limits."""
        return all(mark in ("in", "near") for mark in self._marks())

    @property
    def any_out(self) -> bool:
        return "out" in self._marks()

    def mark_of(self, number: int) -> Mark:
        """The worst mark of a callout's characteristics."""
        marks = {line.mark for line in self.lines if line.number == number}
        return next((m for m in ("out", "open", "near", "in") if m in marks), "open")

    def faces_of(self, number: int) -> tuple[int, ...]:
        return tuple(sorted({f for line in self.lines if line.number == number for f in line.faces}))
