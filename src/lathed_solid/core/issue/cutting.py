"""What is to be cut out of flat stock: a flat face, a side, or what a plane cuts."""

from __future__ import annotations

from typing import Literal

import msgspec

from ..kernel.ground.figures import Vector

Side = Literal["top", "bottom", "front", "back", "right", "left"]
SIDES: dict[Side, Vector] = {
    "top": (0, 0, 1), "bottom": (0, 0, -1), "front": (0, -1, 0), "back": (0, 1, 0), "right": (1, 0, 0),
    "left": (-1, 0, 0),
}  # fmt: skip


class Outline(msgspec.Struct, frozen=True, kw_only=True):
    """What is to be cut out: a flat ``face`` by its name, the largest one to a ``side`` of the part as it stands in the
    machine, or what a ``plane`` (a place and its normal, in the part's axes) cuts; ``kerf`` mm.
    """

    face: str = ""
    side: Side | Literal[""] = ""
    plane: tuple[Vector, Vector] | None = None
    kerf: float = 0.0
