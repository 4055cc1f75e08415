"""Where bodies stand, as arrays to reckon with."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from .model import Pose


class Poses(NamedTuple):
    """Rotations (k, 3, 3), places of the bodies' middles (k, 3) mm, and the angle each coupling has been turned by
    (couplings, 2), radians: a screw's turns are counted, not read off the pose.
    """

    turns: Floats
    places: Floats
    wound: Floats


@lru_cache(maxsize=4096)
def rotation(pose: Pose) -> Floats:
    """The rotation matrix of a pose, kept and not to be written to."""
    w, x, y, z = pose.turn
    size = w * w + x * x + y * y + z * z
    s = 2.0 / size
    made = np.array(
        [
            [1 - s * (y * y + z * z), s * (x * y - w * z), s * (x * z + w * y)],
            [s * (x * y + w * z), 1 - s * (x * x + z * z), s * (y * z - w * x)],
            [s * (x * z - w * y), s * (y * z + w * x), 1 - s * (x * x + y * y)],
        ]
    )
    made.setflags(write=False)
    return made


def pose_of(turn: Floats, place: Iterable[float]) -> Pose:
    """The pose of a body whose zero lies at ``place``; of the two quaternions of its turning the one with w above 0.
    By Shepperd's method (J. Guidance and Control 1, 1978): the largest of the four is found first.
    """
    (a, b, c), (d, e, f), (g, h, i) = turn.tolist()
    trace = a + e + i
    which = max(range(4), key=lambda k: (trace, a, e, i)[k])
    if which == 0:
        q = (1 + trace, h - f, c - g, d - b)
    elif which == 1:
        q = (h - f, 1 + a - e - i, b + d, c + g)
    elif which == 2:
        q = (c - g, b + d, 1 - a + e - i, f + h)
    else:
        q = (d - b, c + g, f + h, 1 - a - e + i)
    size = math.copysign(math.sqrt(sum(v * v for v in q)), next(v for v in q if v))
    w, x, y, z = (v / size + 0.0 for v in q)
    px, py, pz = (float(v) for v in place)
    return Pose((px, py, pz), (w, x, y, z))


def turned_by(vectors: Floats) -> Floats:
    """Rotation matrices (k, 3, 3) of rotation vectors (k, 3), by Rodrigues' formula."""
    size = np.sqrt(np.einsum("ij,ij->i", vectors, vectors))
    K = np.zeros((len(vectors), 3, 3))
    K[:, 0, 1], K[:, 0, 2], K[:, 1, 2] = -vectors[:, 2], vectors[:, 1], -vectors[:, 0]
    K[:, 1, 0], K[:, 2, 0], K[:, 2, 1] = vectors[:, 2], -vectors[:, 1], vectors[:, 0]
    first = np.sinc(size / np.pi)[:, None, None]
    second = (0.5 * np.sinc(size / 2 / np.pi) ** 2)[:, None, None]
    return np.asarray(np.eye(3) + first * K + second * (K @ K))


def placed(pose: Pose, points: Floats) -> Floats:
    """Points (…, 3) of the part where the instance has them."""
    return np.asarray(np.asarray(points) @ rotation(pose).T + np.array(pose.place))


def aimed(pose: Pose, direction: Sequence[float]) -> Floats:
    """A direction of the part where the instance has it."""
    return np.asarray(rotation(pose) @ np.array(direction))


def across(direction: Floats) -> tuple[Floats, Floats]:
    """Two unit directions square to a unit direction and to each other. Worked out by hand: arrays of three take many
    times as long to be crossed, and of a thousand screws this is asked ten thousand times.
    """
    x, y, z = direction.tolist()
    which = min(range(3), key=lambda k: abs((x, y, z)[k]))
    a, b, c = ((0.0, z, -y), (-z, 0.0, x), (y, -x, 0.0))[which]
    size = math.sqrt(a * a + b * b + c * c)
    a, b, c = a / size, b / size, c / size
    return np.array((a, b, c)), np.array((y * c - z * b, z * a - x * c, x * b - y * a))


def positive(direction: Floats) -> Floats:
    """A direction told the positive way."""
    large = direction[np.argmax(np.abs(direction) > 0.5 * np.abs(direction).max())]
    return -direction if large < 0 else direction
