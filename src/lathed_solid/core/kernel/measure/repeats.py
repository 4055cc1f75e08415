"""What repeats on a part: round faces alike, in a circle or a row."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from ...tolerance import LEVEL, ONE_PLACE
from ..ground.figures import Surface, Vector
from ..ground.geometry import cross, dot, norm

#: Places nearer than this to where a pattern has them are in it (mm).
_NEAR = 1e-5


class Pattern(NamedTuple):
    """Round faces alike: how ``many``, the ``circle`` they lie on (its diameter) or their ``pitch``, mm, if any."""

    many: int
    circle: float | None
    pitch: float | None


def pattern(one: Surface, every: Sequence[Surface]) -> Pattern | None:
    """The holes or pins alike to ``one``, parallel to it; None where it stands alone."""
    alike = [
        s for s in every
        if s.kind == one.kind == "cylinder" and s.hollow == one.hollow and abs(s.radius - one.radius) < ONE_PLACE
        and abs(dot(s.axis, one.axis)) > 1 - LEVEL and s.turn > math.pi
    ]  # fmt: skip
    u, v = _plane(one.axis)
    places = list(dict.fromkeys((round(dot(s.origin, u), 6), round(dot(s.origin, v), 6)) for s in alike))
    if len(places) < 2:
        return None
    return Pattern(len(places), _on_circle(places), _in_row(places))


def _plane(axis: Vector) -> tuple[Vector, Vector]:
    helper = (1.0, 0.0, 0.0) if abs(axis[0]) < 0.9 else (0.0, 1.0, 0.0)
    n = cross(axis, helper)
    u = (n[0] / norm(n), n[1] / norm(n), n[2] / norm(n))
    return u, cross(axis, u)


def _on_circle(places: Sequence[tuple[float, float]]) -> float | None:
    """The diameter of the circle about their middle that all lie on; three at least."""
    if len(places) < 3:
        return None
    x, y = (sum(p[k] for p in places) / len(places) for k in (0, 1))
    radii = [math.hypot(p[0] - x, p[1] - y) for p in places]
    return 2 * radii[0] if max(radii) - min(radii) < _NEAR else None


def _in_row(places: Sequence[tuple[float, float]]) -> float | None:
    """The pitch of places in one line at equal steps."""
    order = sorted(places)
    first, last = order[0], order[-1]
    step = (last[0] - first[0]) / (len(order) - 1), (last[1] - first[1]) / (len(order) - 1)
    wanted = [(first[0] + k * step[0], first[1] + k * step[1]) for k in range(len(order))]
    even = all(math.dist(p, q) < _NEAR for p, q in zip(order, wanted, strict=True))
    return math.hypot(*step) if even else None
