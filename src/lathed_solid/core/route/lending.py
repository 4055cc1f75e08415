"""Lines of one sketch seen square onto the plane of another."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ..sketch.curves import at
from ..sketch.model import Arc, Circle, Curve, Line, Sketch, ends_of
from ..tolerance import PARALLEL

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.measure.project import Flat, Seen

XY = tuple[float, float]
#: Places taken along a curve that is no straight line or circle there.
PLACES = 13


def lent(source: Sketch, there: Frame, here: Frame) -> list[Seen]:
    """Every line of ``source``, which lies ``there``, as it is seen in the plane ``here``; each keeps its name.

    On parallel planes lines, arcs and circles stay what they are; seen at an angle only lines do.
    """
    from ..kernel.ground.geometry import dot, minus
    from ..kernel.measure.project import Seen

    points = source.points()
    level = abs(dot(there.normal, here.normal)) > 1 - PARALLEL

    def seen(place: XY) -> XY:
        gap = minus(there.at(*place), here.origin)
        return dot(gap, here.x), dot(gap, here.y)

    found = []
    for curve in source.curves():
        if not curve.construction:
            places = [at(curve, points, float(t)) for t in np.linspace(0.0, 1.0, PLACES)]
            flat = _flat(curve, source, [seen(p) for p in places], seen, level)
            found.append(Seen(flat, f"{source.id}/{curve.id}"))
    return found


def _flat(curve: Curve, source: Sketch, places: list[XY], seen, level: bool) -> Flat:  # type: ignore[no-untyped-def]
    from ..kernel.measure.project import Free, Round, Straight

    if isinstance(curve, Line):
        return Straight(places[0], places[-1])
    if level and isinstance(curve, Circle | Arc):
        center = source.points()[curve.center]
        middle = seen((center.x, center.y))
        radius = float(np.hypot(places[0][0] - middle[0], places[0][1] - middle[1]))
        if ends_of(curve) is None:
            return Round(middle, radius, places[0], places[0])
        (ax, ay), (bx, by) = places[0], places[1]
        left = (ax - middle[0]) * (by - middle[1]) - (ay - middle[1]) * (bx - middle[0]) > 0
        start, end = (places[0], places[-1]) if left else (places[-1], places[0])
        return Round(middle, radius, start, end)
    return Free(tuple(places))
