"""Advice: a sentence, its rule, what it is about, and how to begin so; and what is said of what repeats."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from typing import Literal, NamedTuple

from ..route.planes import Base

Start = Literal["", "revolve", "extrude", "mirror", "ring", "row", "turned", "flat", "half", "quarter"]
XY = tuple[float, float]
#: Left, top, right and bottom in fractions of a sheet.
SheetBox = tuple[float, float, float, float]


class Advice(NamedTuple):
    """``words`` say what is so, ``rule`` what follows from it and why; ``start`` is the kind of step that begins so, or
    ``turned`` and ``flat``: a route of its own, as it was recognised, or ``half`` and ``quarter``: the route rewritten
    so, mirrored ``about`` a main plane (and another). It is about the ``faces``, or the ``boxes`` of a drawing's sheet.
    """

    words: str
    rule: str
    start: Start = ""
    faces: tuple[int, ...] = ()
    about: Base | Literal[""] = ""
    boxes: tuple[SheetBox, ...] = ()


class Alike(NamedTuple):
    """Things of one kind: how they are called with their number, where they stand, and what shows them."""

    many: str
    places: Sequence[XY]
    faces: tuple[int, ...] = ()
    boxes: tuple[SheetBox, ...] = ()


def ring_or_grid(alike: Alike, length: Callable[[float], str] | None, near: float = 1e-3) -> Iterator[Advice]:
    """Whether things stand evenly on a circle, in a row or a grid, within ``near`` mm. ``length`` writes the circle's
    diameter; it is left out without.
    """
    circle, grid = _circle(alike.places, near), _grid(alike.places, near)
    if circle is not None:
        yield Advice(
            f"{alike.many} lie evenly on a circle{f' of Ø{length(2 * circle)}' if length else ''}.",
            "One is made and repeated in a ring: number and circle stay two numbers.",
            "ring",
            alike.faces,
            boxes=alike.boxes,
        )
    elif grid is not None:
        across, up = grid
        how = f"in a grid of {across} by {up}" if min(grid) > 1 else f"in a row of {max(grid)}"
        yield Advice(
            f"{alike.many} lie {how}.",
            "One is made and repeated in a row or grid, or all stand as points of one sketch.",
            "row",
            alike.faces,
            boxes=alike.boxes,
        )


def _circle(places: Sequence[XY], near: float) -> float | None:
    """The radius of the circle on which three or more places lie evenly; None when they do not."""
    if len(places) < 3:
        return None
    cx, cy = (sum(p[k] for p in places) / len(places) for k in (0, 1))
    radii = [math.dist(p, (cx, cy)) for p in places]
    turns = sorted(math.atan2(y - cy, x - cx) for x, y in places)
    steps = [b - a for a, b in zip(turns, [*turns[1:], turns[0] + 2 * math.pi], strict=True)]
    even = max(radii) - min(radii) < near and (max(steps) - min(steps)) * min(radii) < 4 * near
    return radii[0] if even and min(radii) > near else None


def _grid(places: Sequence[XY], near: float) -> tuple[int, int] | None:
    """How many columns and rows hold all the places; None when they leave gaps."""
    across, up = (_lines([p[k] for p in places], near) for k in (0, 1))
    return (across, up) if across * up == len(places) > 1 else None


def _lines(values: Sequence[float], near: float) -> int:
    """How many different values there are."""
    ordered = sorted(values)
    return 1 + sum(b - a > near for a, b in itertools.pairwise(ordered))
