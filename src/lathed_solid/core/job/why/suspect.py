"""What may be wrong with a part, and the solid that it would then be."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property
from typing import TYPE_CHECKING

import msgspec

from ...kernel.ground.figures import Surface
from ...packed import Unpacker
from ...plan.carriers import alone
from ..model import Content
from ..operating import faces_of

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody

packed = msgspec.msgpack.Encoder().encode
_unpacked = Unpacker[Content](Content)


class Suspect(msgspec.Struct, frozen=True):
    """What would have to be so, the volume (mm³) and mass (g) that the part has then, and that part. ``rank`` is 0 when
    all that is stated is met within its rounding, else a class for each power of ten off, and ``off`` what is still
    missing of the figure asked about (None: not measured, for the volume is wrong); ``solid`` is a number that all
    suspects of one solid have, whose words are the ``others``: an equal volume alone makes no solid the same.
    ``lit`` are the faces (as references) that it has and the present part has not. The part travels as ``packed``
    bytes: of a dozen suspects one is opened, by whoever tries it.
    """

    words: str
    volume: float
    grams: float
    rank: int
    weight: float
    packed: bytes
    solid: int = -1
    others: tuple[str, ...] = ()
    lit: tuple[str, ...] = ()
    off: float | None = None

    @property
    def content(self) -> Content:
        return _unpacked(self.packed)

    @property
    def order(self) -> tuple[float, ...]:
        return (self.rank, -self.weight)


class Solid:
    """A solid that was built; it is made again and its faces measured when it is held against another of its volume."""

    def __init__(self, number: int, body: Callable[[], NamedBody | None]) -> None:
        self.number, self._body = number, body

    @cached_property
    def faces(self) -> Sequence[Surface]:
        body = self._body()
        return faces_of(body).surfaces if body is not None else ()

    def is_as(self, other: Solid) -> bool:
        return not alone(self.faces, other.faces) and not alone(other.faces, self.faces)
