"""The functions that relations come down to: each of world points and unit directions, with its gradient by each.

A function takes the vectors of its slots (slots, rows, 3) and its constants (constants, rows) and gives residuals in mm
and, slot by slot, gradients (rows, 3). One chain rule serves all: see ``system``.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import Floats

Gradients = tuple[Floats, ...]
Function = Callable[[Floats, Floats], tuple[Floats, Gradients]]
_NONE = 1e-12


class Kind(NamedTuple):
    """``slots``: one letter each, P a point, D a direction."""

    function: Function
    slots: str


def dot(a: Floats, b: Floats) -> Floats:
    return np.asarray(np.einsum("ij,ij->i", a, b))


def cross(a: Floats, b: Floats) -> Floats:
    """As numpy's, several times as fast for short arrays."""
    made = np.empty(np.broadcast_shapes(a.shape, b.shape))
    made[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    made[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    made[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return made


def plane(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """How far point q lies from p along e, less d. Slots e, p, q; constant d."""
    away = X[2] - X[1]
    return dot(X[0], away) - C[0], (away, -X[0], X[0])


def lean(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The cosine between a and b, less c, at reach L. Slots a, b; constants L, c."""
    reach = C[0][:, None]
    return C[0] * (dot(X[0], X[1]) - C[1]), (reach * X[1], reach * X[0])


def apart(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The distance of p and q, less d."""
    away = X[1] - X[0]
    far = np.sqrt(dot(away, away))
    unit = away / np.maximum(far, _NONE)[:, None]
    return far - C[0], (-unit, unit)


def off_axis(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The distance of q from the line through p along a, less r. Slots a, p, q."""
    away = X[2] - X[1]
    along = dot(X[0], away)[:, None]
    across = away - along * X[0]
    far = np.sqrt(dot(across, across))
    unit = across / np.maximum(far, _NONE)[:, None]
    return far - C[0], (-along * unit, -unit, unit)


def skew(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The signed distance of two lines that are not parallel, less d. Slots a, b, p, q."""
    normal = cross(X[0], X[1])
    size = np.maximum(np.sqrt(dot(normal, normal)), 1e-9)[:, None]
    unit, away = normal / size, X[3] - X[2]
    far = dot(unit, away)
    lever = (away - far[:, None] * unit) / size
    return far - C[0], (cross(X[1], lever), cross(lever, X[0]), -unit, unit)


def cone(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """How far q lies inside the wall of a cone (half angle, along a from its apex p), less r. Slots a, p, q."""
    away = X[2] - X[1]
    along = dot(X[0], away)[:, None]
    across = away - along * X[0]
    far = np.sqrt(dot(across, across))
    unit = across / np.maximum(far, _NONE)[:, None]
    sine, cosine = np.sin(C[0])[:, None], np.cos(C[0])[:, None]
    inwards = sine * X[0] - cosine * unit
    residual = along[:, 0] * sine[:, 0] - far * cosine[:, 0] - C[1]
    return residual, (sine * away + cosine * along * unit, -inwards, inwards)


def turn_between(n: Floats, u: Floats, v: Floats) -> tuple[Floats, Gradients]:
    """The angle from u to v about n, with its gradients."""
    normal = cross(u, v)
    sine, cosine = dot(n, normal), dot(u, v)
    size = np.maximum(sine * sine + cosine * cosine, 1e-24)
    A, B = (cosine / size)[:, None], (-sine / size)[:, None]
    return np.arctan2(sine, cosine), (A * normal, A * cross(v, n) + B * v, A * cross(n, u) + B * u)


def angle(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The turn from u to v about n, less t, at reach L: one root only. Slots n, u, v; constants L, t."""
    found, gradients = turn_between(X[0], X[1], X[2])
    found = found - C[1]
    found -= 2 * np.pi * np.round(found / (2 * np.pi))
    reach = C[0][:, None]
    return C[0] * found, tuple(reach * g for g in gradients)


def couple(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """k1 times one turn and k2 times another and k3 times a way along e from p to q, less c: screws, gears, racks.

    Slots n1 u1 v1 n2 u2 v2 e p q; constants k1 k2 k3 c and the turns they were last at, to which these are the nearest.
    """
    (one, first), (two, second) = turn_between(X[0], X[1], X[2]), turn_between(X[3], X[4], X[5])
    one, two = unwound(one, C[4]), unwound(two, C[5])
    away = X[8] - X[7]
    k1, k2, k3 = (C[i][:, None] for i in range(3))
    gradients = (*(k1 * g for g in first), *(k2 * g for g in second), k3 * away, -k3 * X[6], k3 * X[6])
    return C[0] * one + C[1] * two + C[2] * dot(X[6], away) - C[3], gradients


def carried(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """How far q lies from o along e more than p does along f, less d: copies that go where their leader goes.

    Slots e, f, o, p, q; constant d.
    """
    one, two = X[4] - X[2], X[3] - X[2]
    return dot(X[0], one) - dot(X[1], two) - C[0], (one, -two, X[1] - X[0], -X[1], X[0])


def alike(X: Floats, C: Floats) -> tuple[Floats, Gradients]:
    """The cosine between e and v less that between f and u, at reach L. Slots e, f, u, v; constant L."""
    reach = C[0][:, None]
    size = C[0] * (dot(X[0], X[3]) - dot(X[1], X[2]))
    return size, (reach * X[3], -reach * X[2], -reach * X[1], reach * X[0])


def unwound(turn: Floats, last: Floats) -> Floats:
    """A turn (radians) with as many whole turns as bring it nearest to the last."""
    return np.asarray(turn + 2 * np.pi * np.round((last - turn) / (2 * np.pi)))


KINDS: dict[str, Kind] = {
    "plane": Kind(plane, "DPP"),
    "lean": Kind(lean, "DD"),
    "apart": Kind(apart, "PP"),
    "off axis": Kind(off_axis, "DPP"),
    "skew": Kind(skew, "DDPP"),
    "cone": Kind(cone, "DPP"),
    "angle": Kind(angle, "DDD"),
    "couple": Kind(couple, "DDDDDDDPP"),
    "carried": Kind(carried, "DDPPP"),
    "alike": Kind(alike, "DDDD"),
}


class Held(NamedTuple):
    """A point or direction of a body: in the body's own axes, points from its middle. Body -1 is the room itself."""

    body: int
    vector: tuple[float, float, float]
    is_point: bool


class Row(NamedTuple):
    """One equation: its kind, what fills its slots, its constants, the relation it belongs to."""

    kind: str
    slots: tuple[Held, ...]
    constants: tuple[float, ...]
    owner: str


def point(body: int, at: Sequence[float] | Floats) -> Held:
    return Held(body, (float(at[0]), float(at[1]), float(at[2])), True)


def direction(body: int, along: Sequence[float] | Floats) -> Held:
    return Held(body, (float(along[0]), float(along[1]), float(along[2])), False)
