"""Where the planes of sketches lie in the part, in plain numbers."""

from __future__ import annotations

import math
from typing import Literal

Vector = tuple[float, float, float]
#: The main planes through part zero, by the two directions that lie in them.
Base = Literal["yz", "xz", "xy"]
MAIN_NORMALS: dict[Base, Vector] = {"yz": (1.0, 0.0, 0.0), "xz": (0.0, 1.0, 0.0), "xy": (0.0, 0.0, 1.0)}


def plane_axes(base: str, offset: float, angle: float) -> tuple[Vector, Vector, Vector]:
    """Origin (mm) and the unit x and y directions of a sketch plane; Z is the turning axis.

    ``offset`` is along the normal (mm), ``angle`` about the axis (radians).
    """
    c, s = math.cos(angle), math.sin(angle)
    if base == "end":
        return (0.0, 0.0, offset), (c, s, 0.0), (-s, c, 0.0)
    return (-s * offset, c * offset, 0.0), (0.0, 0.0, 1.0), (c, s, 0.0)
