"""The six sides of a part and its corners as views: where the eye stands, and what is up."""

from __future__ import annotations

from typing import Literal

from ..kernel.ground.figures import Vector
from ..kernel.ground.geometry import Frame, cross, unit

#: Which way is up: a part drawn lying along Z with X up (turned), or standing on its Z or Y.
Up = Literal["x", "z", "y"]
#: What views are called on a sheet, and their keys.
Side = Literal["front", "back", "top", "bottom", "right", "left", "three faces"]
KEYS: dict[Side, str] = {
    "front": "F",
    "back": "K",
    "top": "T",
    "bottom": "B",
    "right": "R",
    "left": "L",
    "three faces": "I",
}
#: Towards the eye in front, up, right.
_AXES: dict[str, tuple[Vector, Vector, Vector]] = {
    "x": ((0, 1, 0), (1, 0, 0), (0, 0, 1)),
    "z": ((0, -1, 0), (0, 0, 1), (1, 0, 0)),
    "y": ((0, 0, 1), (0, 1, 0), (1, 0, 0)),
}


def axes_of_standing(standing: str) -> tuple[Vector, Vector, Vector]:
    """Towards the eye in front, up, right (machine axes) of a part that stands so."""
    return _AXES[standing]


def seen_from(key: str, standing: str) -> tuple[Vector, Vector]:
    """The direction from the part to the eye, and what is up, in machine axes, for a view of a part that stands so.
    ``key`` is F, K (behind), T, B, R or L, two or three of them for a corner, I for three faces at once.
    """
    front, up, right = _AXES[standing]
    if key == "I":
        return _sum((front, 1.0), (up, 0.55), (right, -0.62 if standing == "x" else 0.7)), up
    ways = {"F": (front, 1), "K": (front, -1), "T": (up, 1), "B": (up, -1), "R": (right, 1), "L": (right, -1)}
    if len(key) == 1:
        # Seen from above what is in front lies below, seen from below it lies above.
        turned = {"T": _sum((front, -1)), "B": front}
        return _sum(ways[key]), turned.get(key, up)
    return _sum(ways[key[0]], ways[key[1]], ways["K" if key.endswith("K") else "F"]), up


def _sum(*ways: tuple[Vector, float]) -> Vector:
    x, y, z = (sum(way[k] * by for way, by in ways) for k in range(3))
    return x, y, z


def eye_of(key: str, standing: str) -> Frame:
    """That view as a frame about zero: x to the right, y up, the normal towards the eye."""
    out, up = seen_from(key, standing)
    out = unit(out)
    right = unit(cross(up, out))
    return Frame((0.0, 0.0, 0.0), right, cross(out, right))
