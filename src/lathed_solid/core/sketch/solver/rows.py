"""The residual rows every relation and dimension of a sketch comes down to, vectorised (see ``solving.rows``)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ...arrays import Floats
from ...solving.rows import Kind, linear

_TINY = 1e-12


def distance(X: Floats, P: Floats, G: Floats) -> Floats:
    """|q - p| - a r1 - b r2 - d, with X = p q r1 r2."""
    d = X[2:4] - X[0:2]
    length = np.hypot(d[0], d[1])
    unit = d / np.maximum(length, _TINY)
    G[2:4], G[0:2] = unit, -unit
    G[4:6] = -P[0:2]
    result: Floats = length - P[0] * X[4] - P[1] * X[5] - P[2]
    return result


def offset(X: Floats, P: Floats, G: Floats) -> Floats:
    """Signed distance of c from the line a b, less s r, less d, with X = a b c r."""
    ux, uy = X[2] - X[0], X[3] - X[1]
    length = np.maximum(np.hypot(ux, uy), _TINY)
    ux, uy = ux / length, uy / length
    wx, wy = X[4] - X[0], X[5] - X[1]
    t = (ux * wx + uy * wy) / length
    G[4], G[5] = -uy, ux
    G[2], G[3] = uy * t, -ux * t
    G[0], G[1] = uy * (1 - t), -ux * (1 - t)
    G[6] = -P[0]
    result: Floats = ux * wy - uy * wx - P[0] * X[6] - P[1]
    return result


def turn(X: Floats, P: Floats, G: Floats) -> Floats:
    """w times (directed angle from a b to c d, less theta), wrapped to the nearest turn, with X = a b c d."""
    ux, uy, vx, vy = X[2] - X[0], X[3] - X[1], X[6] - X[4], X[7] - X[5]
    angle = np.arctan2(ux * vy - uy * vx, ux * vx + uy * vy) - P[0]
    angle -= 2 * np.pi * np.round(angle / (2 * np.pi))
    wu = P[1] / np.maximum(ux * ux + uy * uy, _TINY**2)
    wv = P[1] / np.maximum(vx * vx + vy * vy, _TINY**2)
    G[2], G[3] = uy * wu, -ux * wu
    G[0], G[1] = -G[2], -G[3]
    G[6], G[7] = -vy * wv, vx * wv
    G[4], G[5] = -G[6], -G[7]
    result: Floats = P[1] * angle
    return result


def equal_length(X: Floats, P: Floats, G: Floats) -> Floats:
    """|a b| - |c d| - k."""
    u, v = X[2:4] - X[0:2], X[6:8] - X[4:6]
    lu, lv = np.maximum(np.hypot(u[0], u[1]), _TINY), np.maximum(np.hypot(v[0], v[1]), _TINY)
    G[2:4], G[4:6] = u / lu, v / lv
    G[0:2], G[6:8] = -G[2:4], -G[4:6]
    result: Floats = lu - lv - P[0]
    return result


def square_to(X: Floats, P: Floats, G: Floats) -> Floats:
    """(q - p) along the unit direction of a b, with X = p q a b."""
    d, t = X[2:4] - X[0:2], X[6:8] - X[4:6]
    length = np.maximum(np.hypot(t[0], t[1]), _TINY)
    t = t / length
    f = d[0] * t[0] + d[1] * t[1]
    G[2:4], G[0:2] = t, -t
    G[6:8] = (d - f * t) / length
    G[4:6] = -G[6:8]
    result: Floats = f - P[0]
    return result


def middle_on(X: Floats, P: Floats, G: Floats) -> Floats:
    """Signed distance of the middle of p q from the line a b, with X = p q a b."""
    tx, ty = X[6] - X[4], X[7] - X[5]
    length = np.maximum(np.hypot(tx, ty), _TINY)
    tx, ty = tx / length, ty / length
    wx, wy = 0.5 * (X[0] + X[2]) - X[4], 0.5 * (X[1] + X[3]) - X[5]
    t = (tx * wx + ty * wy) / length
    G[0] = G[2] = -0.5 * ty
    G[1] = G[3] = 0.5 * tx
    G[6], G[7] = ty * t, -tx * t
    G[4], G[5] = ty * (1 - t), -tx * (1 - t)
    result: Floats = tx * wy - ty * wx - P[0]
    return result


def image(X: Floats, P: Floats, G: Floats) -> Floats:
    """One coordinate (P1: 0 or 1) of q less p turned about c by P0, with X = p q c."""
    first = P[1] == 0
    cos, sin = np.cos(P[0]), np.sin(P[0])
    a, b = np.where(first, cos, sin), np.where(first, -sin, cos)
    one, other = np.where(first, 1.0, 0.0), np.where(first, 0.0, 1.0)
    G[0], G[1], G[2], G[3] = -a, -b, one, other
    G[4], G[5] = a - one, b - other
    result: Floats = one * (X[2] - X[4]) + other * (X[3] - X[5]) - a * (X[0] - X[4]) - b * (X[1] - X[5])
    return result


def arc_length(X: Floats, P: Floats, G: Floats) -> Floats:
    """r times the counter-clockwise sweep from a to b about c, less the length, with X = c a b r."""
    ux, uy, vx, vy = X[2] - X[0], X[3] - X[1], X[4] - X[0], X[5] - X[1]
    sweep = np.mod(np.arctan2(ux * vy - uy * vx, ux * vx + uy * vy), 2 * np.pi)
    wu, wv = X[6] / np.maximum(ux * ux + uy * uy, _TINY), X[6] / np.maximum(vx * vx + vy * vy, _TINY)
    G[2], G[3], G[4], G[5] = uy * wu, -ux * wu, -vy * wv, vx * wv
    G[0], G[1] = -G[2] - G[4], -G[3] - G[5]
    G[6] = sweep
    result: Floats = X[6] * sweep - P[0]
    return result


def _complex_step(f: Callable[[Any, Floats], Any]) -> Callable[[Floats, Floats, Floats], Floats]:
    """A row function with exact gradients for a residual that is analytic in ``X``."""

    def row(X: Floats, P: Floats, G: Floats) -> Floats:
        for i in range(len(X)):
            Z = X.astype(complex)
            Z[i] += 1e-30j
            G[i] = f(Z, P).imag * 1e30
        return np.asarray(f(X, P), dtype=np.float64)

    return row


def _on_ellipse(X: Any, P: Floats) -> Any:
    """First-order distance of p from the ellipse about c with half axis end a and other half axis b, X = p c a b."""
    dx, dy, ex, ey = X[0] - X[2], X[1] - X[3], X[4] - X[2], X[5] - X[3]
    long2 = ex * ex + ey * ey
    u2, v2 = (dx * ex + dy * ey) ** 2 / long2, (ex * dy - ey * dx) ** 2 / long2
    short2 = X[6] * X[6]
    return (u2 / long2 + v2 / short2 - 1) / (2 * np.sqrt(u2 / long2**2 + v2 / short2**2 + 1e-30))


def _touches_ellipse(X: Any, P: Floats) -> Any:
    """Distance of the ellipse's centre from the line a b (side P0) less what the ellipse reaches, X = a b c e b."""
    ux, uy, ex, ey = X[2] - X[0], X[3] - X[1], X[6] - X[4], X[7] - X[5]
    length2 = ux * ux + uy * uy
    gap = (ux * (X[5] - X[1]) - uy * (X[4] - X[0])) / np.sqrt(length2)
    long2 = ex * ex + ey * ey
    cross2 = (ux * ey - uy * ex) ** 2 / length2
    return P[0] * gap - np.sqrt(cross2 + X[8] * X[8] * (1 - cross2 / long2))


KINDS: dict[str, Kind] = {
    "linear": Kind(3, 4, linear),
    "distance": Kind(6, 3, distance),
    "offset": Kind(7, 2, offset),
    "turn": Kind(8, 2, turn),
    "equal_length": Kind(8, 1, equal_length),
    "square_to": Kind(8, 1, square_to),
    "middle_on": Kind(8, 1, middle_on),
    "image": Kind(6, 2, image),
    "arc_length": Kind(7, 1, arc_length),
    "on_ellipse": Kind(7, 1, _complex_step(_on_ellipse)),
    "touches_ellipse": Kind(9, 1, _complex_step(_touches_ellipse)),
}
