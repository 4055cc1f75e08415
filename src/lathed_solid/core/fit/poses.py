"""Where bodies stand, as arrays to reckon with."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import numpy as np
from scipy.spatial.transform import Rotation

from ..arrays import Floats
from .model import Pose


class Poses(NamedTuple):
    """Rotations (k, 3, 3), places of the bodies' middles (k, 3) mm, and the angle each coupling has been turned by
    (couplings, 2), radians: a screw's turns are counted, not read off the pose.
    """

    turns: Floats
    places: Floats
    wound: Floats


def rotation(pose: Pose) -> Floats:
    """The rotation matrix of a pose."""
    w, x, y, z = pose.turn
    return np.asarray(Rotation.from_quat((x, y, z, w)).as_matrix())


def pose_of(turn: Floats, place: Iterable[float]) -> Pose:
    """The pose of a body whose zero lies at ``place``."""
    x, y, z, w = (float(v) for v in Rotation.from_matrix(turn).as_quat(canonical=True))
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


def across(direction: Floats) -> tuple[Floats, Floats]:
    """Two unit directions square to a unit direction and to each other."""
    least = np.eye(3)[np.argmin(np.abs(direction))]
    first = np.cross(direction, least)
    first /= np.linalg.norm(first)
    return first, np.cross(direction, first)


def positive(direction: Floats) -> Floats:
    """A direction told the positive way."""
    large = direction[np.argmax(np.abs(direction) > 0.5 * np.abs(direction).max())]
    return -direction if large < 0 else direction
