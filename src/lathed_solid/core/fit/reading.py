"""What can be read off an assembly as it stands: where a face is, how far and how turned two are."""

from __future__ import annotations

import math

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Vector
from .features import Feature, feature_at
from .model import Assembly, End
from .poses import aimed, placed


def _standing(assembly: Assembly, end: End) -> tuple[Feature, Floats, Floats]:
    feature, pose = feature_at(assembly, end), assembly.instance(end.instance).pose
    return feature, placed(pose, np.array(feature.at)), aimed(pose, feature.along)


def place_of(assembly: Assembly, end: End) -> Vector:
    """Where a face's point is (a place on its axis, a ball's centre, a place in a flat), mm. Raises Refusal."""
    _, at, _ = _standing(assembly, end)
    x, y, z = (float(v) for v in at)
    return x, y, z


def between(assembly: Assembly, one: End, two: End) -> tuple[float, float]:
    """The distance (mm) and the angle (radians) of two faces: square to a flat, between axes, between centres. Raises
    Refusal.
    """
    (a, p, u), (b, q, v) = _standing(assembly, one), _standing(assembly, two)
    cosine = float(np.clip(u @ v, -1.0, 1.0))
    angle = math.acos(abs(cosine)) if a.has_axis and b.has_axis else math.acos(cosine)
    away = q - p
    if a.shape == "flat":
        return abs(float(away @ u)), angle
    if b.shape == "flat":
        return abs(float(away @ v)), angle
    if a.has_axis and b.has_axis:
        normal = np.cross(u, v)
        size = float(np.linalg.norm(normal))
        if size > 1e-9:
            return abs(float(away @ normal)) / size, angle
        return float(np.linalg.norm(away - (away @ u) * u)), angle
    if a.has_axis or b.has_axis:
        axis = u if a.has_axis else v
        return float(np.linalg.norm(away - (away @ axis) * axis)), angle
    return float(np.linalg.norm(away)), angle
