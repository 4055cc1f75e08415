"""The rows that tie linked copies to what they repeat. Copies bring no freedom of their own."""

from __future__ import annotations

import math

from ..copies import Copy, copy_of, extent
from ..model import Circle, Ellipse, Point, Repeat, Text
from .elements import Elements, Pair


def state_repeat(f: Elements, repeat: Repeat) -> None:
    """Rows for every copy of ``repeat`` that the sketch holds."""
    found = [c for e in f.sketch.entities if (c := copy_of(f.sketch, e.id)) and c.repeat == repeat.id]
    for copy in found:
        entity = f.element(copy.id)
        if isinstance(entity, Circle):
            f.row("linear", (f.radius[copy.id], f.radius[copy.source]), 1, -1, 0, 0)
        elif isinstance(entity, Ellipse | Text):
            f.row("linear", (f.scalar[copy.id], f.scalar[copy.source]), 1, -1, 0, 0)
    points = [c for c in found if isinstance(f.element(c.id), Point)]
    if repeat.kind == "ring":
        _ring(f, repeat, points)
    else:
        _shifts(f, repeat, points)


def _ring(f: Elements, repeat: Repeat, points: list[Copy]) -> None:
    dimension = next((d for d in f.sketch.dimensions if d.kind == "turn" and d.of == (repeat.id,)), None)
    driven = dimension is not None and not dimension.reference
    turn = f.values[dimension.id] if driven and dimension else 2 * math.pi / extent(f.sketch, repeat.id)[0]
    sense = dimension.sense if dimension else 1
    center = f.point[repeat.center]
    for copy in points:
        p, q = f.point[copy.source], f.point[copy.id]
        for k in (0, 1):
            row = f.row("image", (*p, *q, *center), sense * copy.i * turn, k)
            if driven and dimension:
                f.slot(row, 0, sense * copy.i, owner=dimension.id)


def _shifts(f: Elements, repeat: Repeat, points: list[Copy]) -> None:
    """Row and grid: one step along and one across, shared by all copies."""
    first = _step(f, repeat.along, _seen(f, points, 0))
    second = _step(f, repeat.across, _seen(f, points, 1)) if repeat.kind == "grid" else first
    f.step[repeat.id] = (first, second)
    for copy in points:
        base = copy.source if copy.j == 0 or copy.i == 0 else Copy(copy.repeat, copy.i, 0, copy.source).id
        times, step = (copy.i, first) if copy.j == 0 else (copy.j, second)
        for k in (0, 1):
            f.row("linear", (f.point[copy.id][k], f.point[base][k], step[k]), 1, -1, -times, 0)


def _seen(f: Elements, points: list[Copy], way: int) -> tuple[float, float]:
    """The step as the stored pose shows it."""
    for copy in points:
        if (copy.i, copy.j) == ((1, 0), (0, 1))[way]:
            (ax, ay), (bx, by) = f.at(f.point[copy.source]), f.at(f.point[copy.id])
            return bx - ax, by - ay
    return (1.0, 0.0) if way == 0 else (0.0, 1.0)


def _step(f: Elements, direction: str, seen: tuple[float, float]) -> Pair:
    """Two variables that hold the step, along (or against) the direction."""
    step = (f.variable(seen[0]), f.variable(seen[1]))
    f.turn(f.line(direction), ((0, 0), step), (0.0, math.pi))
    return step
