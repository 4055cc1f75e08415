"""From which ways a tool reaches a face, and how few ways reach them all."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import dot, minus, norm
from ...tolerance import LEVEL, ONE_PLACE

#: Top first, for that is how a part comes out of the drawing.
LEVEL_WAYS: tuple[Vector, ...] = (
    (0.0, 0.0, 1.0), (0.0, 0.0, -1.0), (0.0, -1.0, 0.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0), (-1.0, 0.0, 0.0),
)  # fmt: skip
_HALF = math.pi * 1.001


def reaches(s: Surface, way: Vector) -> bool:
    """Whether a tool that comes down from ``way`` can make a face: it looks that way, or stands along it.

    What other faces hide is not looked at: a floor looks only the way it was cut from, and that tells most of it.
    """
    along = dot(s.axis, way)
    if s.kind == "plane":
        return along > -LEVEL
    if s.kind in ("cylinder", "torus") and abs(along) > 1 - LEVEL:
        return True
    if s.kind == "cone" and abs(along) > 1 - LEVEL:
        # it widens along its axis: a hollow one opens that way, a full one looks the other way
        return (along if s.hollow else -along) > 0
    return _looks(s, way)


def _looks(s: Surface, way: Vector) -> bool:
    """By the middle of the face: out from a full one's axis or centre, in towards a hollow one's. The farther it goes
    round, the straighter it must look: half a round only looks one way, a whole one none.
    """
    if s.kind == "other":
        return True
    gap, least = minus(s.center, s.origin), 0.0
    if s.kind != "sphere":
        if s.turn > _HALF:
            return False
        least = math.sin(min(s.turn, math.pi) / 2)
        lift = dot(gap, s.axis)
        gap = (gap[0] - lift * s.axis[0], gap[1] - lift * s.axis[1], gap[2] - lift * s.axis[2])
    size = norm(gap)
    if size < ONE_PLACE:
        return s.kind == "sphere"
    return dot(gap, way) / size * (-1.0 if s.hollow else 1.0) > least - ONE_PLACE


def ways_of(faces: Iterable[Surface]) -> list[Vector]:
    """The ways worth trying: along the axes, and square to what leans."""
    found = list(LEVEL_WAYS)
    for s in faces:
        both = (s.axis,) if s.kind == "plane" else (s.axis, _back(s.axis)) if s.kind in ("cylinder", "cone") else ()
        found += [w for w in both if not any(is_same(w, other) for other in found)]
    return found


def common_ways(faces: Sequence[Surface]) -> tuple[Vector, ...]:
    """The ways that reach every one of the faces."""
    return tuple(w for w in ways_of(faces) if all(reaches(s, w) for s in faces))


def covered(faces: Sequence[Surface]) -> list[tuple[tuple[Vector, ...], list[Surface]]]:
    """The faces in as few groups as one by one come to, each with the ways that reach all of it; what nothing reaches
    comes last, with none.
    """
    groups: list[tuple[tuple[Vector, ...], list[Surface]]] = []
    left = list(faces)
    while left:
        best = max(ways_of(left), key=lambda w: sum(reaches(s, w) for s in left))
        taken = [s for s in left if reaches(s, best)]
        if not taken:
            return [*groups, ((), left)]
        groups.append((common_ways(taken), taken))
        left = [s for s in left if s not in taken]
    return groups


def is_same(a: Vector, b: Vector) -> bool:
    return dot(a, b) > 1 - LEVEL


def _back(way: Vector) -> Vector:
    return (-way[0] + 0.0, -way[1] + 0.0, -way[2] + 0.0)
