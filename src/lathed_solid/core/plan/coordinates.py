"""Coordinates from machine zero, as they are set on a digital read-out: holes, slot ends, arcs, shoulders, corners."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from ..cells import plain
from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, cross, norm
from ..quantity import Style
from ..tolerance import LEVEL, ONE_PLACE
from .zero import Standing

#: A round face that goes farther round than this is a hole or a boss, else an arc.
_WHOLE = 1.9 * math.pi
_HALF = (0.9 * math.pi, 1.1 * math.pi)
_WHOLES = ("hole", "boss")
KINDS = ("shoulder", "hole", "boss", "slot end", "arc", "corner")


class Place(NamedTuple):
    """``at`` in machine axes, mm: of a hole or boss its middle at the upper end, of an arc its centre there. ``faces``
    are indices of what lies there, ``size`` is its diameter or radius (mm; 0 for none).
    """

    kind: str
    words: str
    size: float
    at: Vector
    faces: tuple[int, ...] = ()


def places(
    surfaces: Sequence[Surface], corners: Iterable[Vector], machine: Standing, style: Style, turned: bool
) -> tuple[Place, ...]:
    """Everything with a place of its own, sorted by kind, then by X, Y and Z. Of a turned part shoulders count, and
    what lies on its axis does not.
    """
    seen = [machine.seen(s) for s in surfaces]
    found = [*_round(seen, style, turned)]
    if turned:
        found += _shoulders(seen, style)
    else:
        found += [Place("corner", "corner", 0.0, machine.machine(c)) for c in corners]
    return tuple(sorted(found, key=lambda p: (KINDS.index(p.kind), *(round(v, 6) for v in p.at))))


def _round(seen: Sequence[Surface], style: Style, turned: bool) -> Iterable[Place]:
    """Each axis once: a bore parted by a slot is one hole, and so is one with its counterbore."""
    groups: dict[tuple[object, ...], list[Surface]] = {}
    for s in seen:
        if s.kind == "cylinder" and not (turned and _on_axis(s)):
            groups.setdefault(_line(s), []).append(s)
    by_axis: dict[tuple[object, ...], list[list[Surface]]] = {}
    for line, same in groups.items():
        by_axis.setdefault((_kind(same), *line[:-2]), []).append(same)
    for (kind, *_), found in by_axis.items():
        every = [s for same in found for s in same]
        sizes = sorted(same[0].radius * (2 if kind in _WHOLES else 1) for same in found)
        sign = "Ø" if kind in _WHOLES else "R"
        told = ", ".join(f"{sign}{style.length(size)}" for size in sizes)
        top = max((_end(s) for s in every), key=_height)
        words = f"{kind} {told}{_way_words(every[0].axis)}"
        yield Place(str(kind), words, sizes[0], top, tuple(s.index for s in every))


def _kind(same: Sequence[Surface]) -> str:
    first, turn = same[0], sum(s.turn for s in _side_by_side(same))
    if turn > _WHOLE:
        return "hole" if first.hollow else "boss"
    return "slot end" if first.hollow and _HALF[0] < turn < _HALF[1] else "arc"


def _side_by_side(same: Sequence[Surface]) -> Iterable[Surface]:
    """Pieces that share a stretch of their axis with the first: others lie beyond it and are not more of its turn."""
    first = same[0]
    low, high = sorted(_along_axis(first, t) for t in first.span)
    for s in same:
        a, b = sorted(_along_axis(s, t) for t in s.span)
        if min(b, high) - max(a, low) > ONE_PLACE or s is first:
            yield s


def _along_axis(s: Surface, t: float) -> float:
    way = s.axis if _first_positive(s.axis) else (-s.axis[0], -s.axis[1], -s.axis[2])
    p = along(s.origin, s.axis, t)
    return p[0] * way[0] + p[1] * way[1] + p[2] * way[2]


def _first_positive(way: Vector) -> bool:
    return next((c > 0 for c in way if abs(c) > LEVEL), True)


def _line(s: Surface) -> tuple[object, ...]:
    """What tells axes apart: where they lie, which way they run, and the size upon them."""
    way = s.axis if _first_positive(s.axis) else (-s.axis[0], -s.axis[1], -s.axis[2])
    foot = cross(way, cross(s.origin, way))
    return (*(round(v, 5) + 0.0 for v in (*foot, *way, s.radius)), s.hollow)


def _on_axis(s: Surface) -> bool:
    """Whether a face of a turned part lies about the spindle's axis."""
    return norm(cross(s.axis, (0.0, 0.0, 1.0))) < LEVEL and math.hypot(s.origin[0], s.origin[1]) < ONE_PLACE


def _end(s: Surface) -> Vector:
    a, b = (along(s.origin, s.axis, t) for t in s.span)
    return max(a, b, key=_height)


def _height(p: Vector) -> tuple[float, float, float]:
    return (round(p[2], 6), round(p[0], 6), round(p[1], 6))


def _way_words(axis: Vector) -> str:
    """Along which machine axis, when it is not Z."""
    k = max(range(3), key=lambda i: abs(axis[i]))
    if abs(axis[k]) > 1 - LEVEL:
        return "" if k == 2 else f" along {'XYZ'[k]}"
    return " leaning"


def _shoulders(seen: Sequence[Surface], style: Style) -> Iterable[Place]:
    """Flat faces square to the spindle, each place along it once."""
    by: dict[float, list[Surface]] = {}
    for s in seen:
        if s.kind == "plane" and abs(s.axis[2]) > 1 - LEVEL:
            by.setdefault(round(s.origin[2], 6) + 0.0, []).append(s)
    for z, same in by.items():
        radii = [c.radius for s in same for c in s.circles if math.hypot(*c.center[:2]) < ONE_PLACE]
        widest = 2 * max(radii, default=0.0)
        words = f"shoulder, Ø{style.length(widest)}" if widest else "shoulder"
        yield Place("shoulder", words, widest, (0.0, 0.0, z), tuple(s.index for s in same))


def to_csv(found: Iterable[Place], style: Style) -> str:
    """One line a place, figures in the job's unit."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["what", f"X {style.unit}", f"Y {style.unit}", f"Z {style.unit}"])
    for place in found:
        rows.writerow([plain(place.words), *(style.fixed(v) for v in place.at)])
    return out.getvalue()
