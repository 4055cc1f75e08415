"""Ids of linked copies: which repeat made an element, and from what."""

from __future__ import annotations

from typing import NamedTuple

from .model import Sketch


class Copy(NamedTuple):
    """Copy (i, j) of element ``source`` in the repeat ``repeat``."""

    repeat: str
    i: int
    j: int
    source: str

    @property
    def id(self) -> str:
        return f"{self.repeat}.{self.i}.{self.j}.{self.source}"


def copy_of(sketch: Sketch, id_: str) -> Copy | None:
    """What an element is a copy of; None for one that stands by itself."""
    head, _, rest = id_.partition(".")
    if not rest or not any(r.id == head for r in sketch.repeats):
        return None
    i, j, source = rest.split(".", 2)
    return Copy(head, int(i), int(j), source)


def is_given(sketch: Sketch, id_: str) -> bool:
    """Whether an element comes from the solid and cannot be moved here."""
    head, _, rest = id_.partition(".")
    return bool(rest) and any(p.id == head for p in sketch.projected)


def extent(sketch: Sketch, repeat: str) -> tuple[int, int]:
    """How many there are along and across, the original included, as the sketch stands."""
    found = [c for e in sketch.entities if (c := copy_of(sketch, e.id)) and c.repeat == repeat]
    return 1 + max((c.i for c in found), default=0), 1 + max((c.j for c in found), default=0)
