"""Centre lines, crosses and pitch circles that come by themselves: from the round faces of the part."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence

from ...drafting.sheet.seen import Centre
from ...kernel.draw.strokes import XY, Stroke
from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import Frame, along, dot, minus
from ...tolerance import PARALLEL

#: What turns less about its axis is a rounding, and has no centre line.
_TURN = 1.1 * math.pi
#: Axes nearer than this are one (mm).
_ONE = 0.01


def centres(
    surfaces: Sequence[Surface], eye: Frame, strokes: Sequence[Stroke], apart: float = math.inf
) -> Iterator[Centre]:
    """Centre lines of what is seen, hidden lines among it: along axes seen from the side, crosses where they are seen
    end-on, circles through three holes and more. Faces about one axis that lie more than ``apart`` (mm) from each other
    have a line each.
    """
    shown = {f for s in strokes for f in s.faces}
    round_ = [s for s in surfaces if s.index in shown and s.kind in ("cylinder", "cone") and s.turn > _TURN]
    round_ += [s for s in surfaces if s.index in shown and s.kind == "sphere" and s.radius > 0]
    level = [s for s in round_ if abs(dot(s.axis, eye.normal)) < 1e-6 and s.kind != "sphere"]
    facing = [s for s in round_ if abs(dot(s.axis, eye.normal)) > 1 - PARALLEL or s.kind == "sphere"]
    yield from _lines(level, eye, apart)
    crosses = _crosses(facing, eye)
    rings = list(_rings(facing, eye, crosses))
    yield from rings
    yield from crosses.values()


def _flat(place: Vector, eye: Frame) -> XY:
    away = minus(place, eye.origin)
    return dot(away, eye.x), dot(away, eye.y)


def _lines(level: Sequence[Surface], eye: Frame, apart: float) -> Iterator[Centre]:
    """One line for faces about one axis, from the first to the last of them that are not too far apart."""
    spans: dict[tuple[int, int], list[tuple[XY, XY]]] = defaultdict(list)
    for s in level:
        a, b = (_flat(along(s.origin, s.axis, t), eye) for t in s.span)
        turn = math.atan2(b[1] - a[1], b[0] - a[0]) % math.pi
        turn = 0.0 if turn > math.pi - 1e-6 else turn
        off = a[1] * math.cos(turn) - a[0] * math.sin(turn)
        spans[(round(turn / 1e-4), round(off / _ONE))].append((a, b))
    for (turned, _), found in spans.items():
        u = (math.cos(turned * 1e-4), math.sin(turned * 1e-4))
        ways = [sorted((p[0] * u[0] + p[1] * u[1], p) for p in span) for span in found]
        low, high = (ways := sorted(ways))[0]
        for start, end in ways[1:]:
            if start[0] - high[0] > apart:
                yield Centre(low[1], high[1])
                low, high = start, end
            high = max(high, end)
        yield Centre(low[1], high[1])


def _crosses(facing: Sequence[Surface], eye: Frame) -> dict[tuple[int, int], Centre]:
    """One cross for round faces about one place, as large as the largest of them."""
    found: dict[tuple[int, int], Centre] = {}
    for s in facing:
        at = _flat(s.center if s.kind == "sphere" else s.origin, eye)
        key = (round(at[0] / _ONE), round(at[1] / _ONE))
        radius = s.radius
        if s.kind == "cone":
            radius = max(abs(s.radius + t * math.tan(s.half_angle)) for t in s.span)
        if key not in found or found[key].radius < radius:
            found[key] = Centre(at, at, radius)
    return found


def _rings(facing: Sequence[Surface], eye: Frame, crosses: dict[tuple[int, int], Centre]) -> Iterator[Centre]:
    """Circles through three or more like holes about one of the crosses."""
    sizes: dict[int, dict[tuple[int, int], XY]] = defaultdict(dict)
    for s in facing:
        if s.kind == "cylinder" and s.hollow:
            at = _flat(s.origin, eye)
            sizes[round(s.radius / 1e-3)][(round(at[0] / _ONE), round(at[1] / _ONE))] = at
    done: set[tuple[int, int, int]] = set()
    for holes in sizes.values():
        if len(holes) < 3:
            continue
        for center in crosses.values():
            by_radius: dict[int, int] = defaultdict(int)
            for at in holes.values():
                by_radius[round(math.dist(at, center.a) / _ONE)] += 1
            for r, many in by_radius.items():
                key = (round(center.a[0] / _ONE), round(center.a[1] / _ONE), r)
                if many >= 3 and r > 1 and many == len(holes) and key not in done:
                    done.add(key)
                    yield Centre(center.a, center.a, r * _ONE, ring=True)
