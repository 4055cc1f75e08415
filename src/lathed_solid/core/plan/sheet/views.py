"""How each set-up is seen: what is worked in it, on the part as far as it is built by then."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import msgspec

from ...kernel.ground.figures import Vector
from ...names import face_name

if TYPE_CHECKING:
    from .worked import WorkedSetUp


class View(msgspec.Struct, frozen=True):
    """One picture: the part built up to step ``until``, the tool coming from ``out`` (unit, part's axes; to the right
    when ``lying``), the faces named ``lit`` in another colour.
    """

    until: str
    out: Vector
    lying: bool
    lit: tuple[str, ...]


def views(steps: Sequence[str], setups: Sequence[WorkedSetUp], references: Sequence[str]) -> tuple[View, ...]:
    """One for each set-up; ``steps`` are the route's ids in order, ``references`` the names of the faces."""
    order = {id_: at for at, id_ in enumerate(steps)}
    found, last = [], 0
    for setup in setups:
        worked = {f for line in setup.lines for f in line.operation.faces}
        names = [references[f - 1] for f in sorted(worked) if 0 < f <= len(references)]
        last = max([last, *(order.get(face_name(n).step, 0) for n in names)])
        lying = setup.setup.machine == "lathe"
        found.append(View(steps[last] if steps else "", setup.setup.up, lying, tuple(names)))
    return tuple(found)
