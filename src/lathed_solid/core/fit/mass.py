"""Mass, its centre and its inertia, of all of an assembly or of what is chosen."""

from __future__ import annotations

from collections.abc import Collection
from typing import NamedTuple

import numpy as np

from ..kernel.ground.figures import Vector
from .model import Assembly, PartShot
from .poses import placed, rotation


class Weight(NamedTuple):
    """``volume`` mm³, ``grams``, the centre of mass (mm), and the inertia tensor about it (g mm²): xx, yy, zz, xy, xz,
    yz. ``unweighed`` are parts whose material is not known: they are not in it.
    """

    volume: float
    grams: float
    center: Vector
    inertia: tuple[float, float, float, float, float, float]
    unweighed: tuple[str, ...]


def weigh(assembly: Assembly, chosen: Collection[str] = ()) -> Weight:
    """Of the chosen instances; of all when none is chosen."""
    every = [i for i in assembly.instances if not chosen or i.id in chosen]
    parts = {p.id: p for p in assembly.parts}
    volume, grams, moment, tensor = 0.0, 0.0, np.zeros(3), np.zeros((3, 3))
    unweighed: dict[str, None] = {}
    for instance in every:
        part = parts[instance.part]
        volume += part.volume
        if not part.density:
            unweighed[part.called] = None
            continue
        own = part.volume * part.density / 1000.0
        at = placed(instance.pose, np.array(part.center))
        turn = rotation(instance.pose)
        grams += own
        moment += own * at
        # About the room's zero (Steiner), to be brought to the common centre below.
        tensor += turn @ _tensor(part) @ turn.T * part.density / 1000.0 + own * (
            (at @ at) * np.eye(3) - np.outer(at, at)
        )
    if not grams:
        return Weight(volume, 0.0, (0.0, 0.0, 0.0), (0.0,) * 6, tuple(unweighed))
    c = moment / grams
    tensor -= grams * ((c @ c) * np.eye(3) - np.outer(c, c))
    x, y, z = (float(v) for v in c)
    xx, yy, zz, xy, xz, yz = (float(tensor[k]) for k in ((0, 0), (1, 1), (2, 2), (0, 1), (0, 2), (1, 2)))
    return Weight(volume, grams, (x, y, z), (xx, yy, zz, xy, xz, yz), tuple(unweighed))


def _tensor(part: PartShot) -> np.ndarray:
    xx, yy, zz, xy, xz, yz = part.inertia
    return np.array([[xx, xy, xz], [xy, yy, yz], [xz, yz, zz]])


class Line(NamedTuple):
    """One line of the bill of materials: ``grams`` of one, None where its material is not known."""

    item: int
    many: int
    part: PartShot
    grams: float | None


def bill(assembly: Assembly) -> tuple[Line, ...]:
    """The bill of materials: parts in the order in which they came, each with how many there are."""
    made = []
    for place, part in enumerate(assembly.parts, 1):
        item = part.item or place
        many = sum(i.part == part.id for i in assembly.instances)
        made.append(Line(item, many, part, part.volume * part.density / 1000.0 if part.density else None))
    return tuple(made)
