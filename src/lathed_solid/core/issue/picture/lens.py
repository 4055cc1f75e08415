"""The camera: it stands upright, looks at the part, and stands back until all of it is in the picture."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ...arrays import Floats
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import cross, dot

#: Width of the frame that a focal length is told for, mm.
_FRAME = 36.0
#: This share of the picture stays free at each side.
_MARGIN = 0.09


class Camera(NamedTuple):
    """``eye`` mm; unit ``right``, ``up`` in the picture and ``out`` towards the eye (3,); ``half`` the tangents of half
    the angle seen across and upwards. ``level`` is towards the eye without its height, ``over`` straight up.
    """

    eye: Floats
    right: Floats
    up: Floats
    out: Floats
    half: tuple[float, float]
    level: Floats
    over: Floats

    def rays(self, x: Floats, y: Floats) -> Floats:
        """Unit directions (n, 3) through places of the picture, each -1 to 1 to the right and upwards."""
        ways = -self.out + self.right * (x * self.half[0])[:, None] + self.up * (y * self.half[1])[:, None]
        found: Floats = ways / np.sqrt(np.einsum("ij,ij->i", ways, ways))[:, None]
        return found

    def in_room(self, ways: Floats) -> Floats:
        """Directions (n, 3) as the room has them: at the camera, to its right, up."""
        found: Floats = ways @ np.array([self.level, self.right, self.over]).T
        return found


def camera(points: Floats, toward: Vector, over: Vector, lens: float, size: tuple[int, int]) -> Camera:
    """All of ``points`` (n, 3) in the picture: ``toward`` the eye and straight ``over`` are unit directions."""
    out, high = np.array(toward, float), np.array(over, float)
    right = np.cross(high, out)
    if np.linalg.norm(right) < 1e-6:  # straight from above or below: any way is to the right
        right = np.cross(high, [1.0, 0.3, 0.2])
    right = right / np.linalg.norm(right)
    up = np.cross(out, right)
    level = np.cross(right, high)
    half = _FRAME / 2 / lens
    tangents = (half, half * size[1] / size[0])
    seen = points @ np.array([right, up, out]).T
    # Each point pushes the eye back until it is seen: of all places beside the axis the one from which that is nearest.
    aside, far = [], []
    for k in range(2):
        lean = seen[:, k] / (tangents[k] * (1 - 2 * _MARGIN))
        one, two = float((seen[:, 2] + lean).max()), float((seen[:, 2] - lean).max())
        aside.append((one - two) / 2 * tangents[k] * (1 - 2 * _MARGIN))
        far.append((one + two) / 2)
    eye = right * aside[0] + up * aside[1] + out * max(*far, float(seen[:, 2].max()) + 1e-3)
    return Camera(eye, right, up, out, tangents, level, high)


def gone_round(toward: Vector, over: Vector, angle: float) -> Vector:
    """The direction towards an eye that has gone round the upright, to its right, by ``angle`` radians."""
    c, s, rise = math.cos(angle), math.sin(angle), dot(over, toward) * (1 - math.cos(angle))
    aside = cross(over, toward)
    x, y, z = (t * c + a * s + o * rise for t, a, o in zip(toward, aside, over, strict=True))
    return x, y, z


def all_round(points: Floats, over: Vector) -> Floats:
    """Places (n, 3) that the points sweep when they turn about the upright through their middle."""
    up = np.array(over, float)
    middle = (points.min(0) + points.max(0)) / 2
    away = points - middle
    high = away @ up
    flat = np.column_stack([np.linalg.norm(away - high[:, None] * up, axis=1), high])
    bins = np.unique(np.round(flat / max(float(np.ptp(flat)), 1e-9) * 200), axis=0, return_index=True)[1]
    x = np.cross(up, [1.0, 0.0, 0.0] if abs(up[0]) < 0.9 else [0.0, 1.0, 0.0])
    x /= np.linalg.norm(x)
    y = np.cross(up, x)
    turns = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    ring = np.cos(turns)[:, None] * x + np.sin(turns)[:, None] * y
    rim = flat[bins]
    found: Floats = (middle + rim[:, 0, None, None] * ring + rim[:, 1, None, None] * up).reshape(-1, 3)
    return found
