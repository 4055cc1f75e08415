"""Linework of a scanned drawing under a sketch: what may be snapped to while drawing over it. It is no geometry,
brings no relations, and nothing is made of it by itself.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

XY = tuple[float, float]


class Traces(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Straight lines (x0, y0, x1, y1) and circles (x, y, radius), mm in the plane of ``sketch``."""

    sketch: str
    lines: tuple[tuple[float, float, float, float], ...] = ()
    circles: tuple[tuple[float, float, float], ...] = ()


def snapped(traces: Traces, x: float, y: float, reach: float) -> tuple[XY, str] | None:
    """The place of a scan within ``reach`` of a place, and which it is: a circle's middle, a corner, an end, a line."""
    for places, words in (
        (((c[0], c[1]) for c in traces.circles), "middle of a circle of the scan"),
        (_corners(traces, x, y, reach), "corner on the scan"),
        (_ends(traces), "end of a line of the scan"),
    ):
        near = min(places, key=lambda p: math.dist(p, (x, y)), default=None)
        if near is not None and math.dist(near, (x, y)) < reach:
            return near, words
    feet = [*(_foot(s, x, y) for s in traces.lines), *(_on_circle(c, x, y) for c in traces.circles)]
    foot = min(feet, key=lambda p: math.dist(p, (x, y)), default=None)
    if foot is not None and math.dist(foot, (x, y)) < 0.6 * reach:
        return foot, "on the scan"
    return None


def _ends(traces: Traces) -> Iterator[XY]:
    for x0, y0, x1, y1 in traces.lines:
        yield x0, y0
        yield x1, y1


def _corners(traces: Traces, x: float, y: float, reach: float) -> Iterator[XY]:
    """Where lines that pass near would cross: the ends that were found are less exact than the lines."""
    near = [s for s in traces.lines if math.dist(_foot(s, x, y), (x, y)) < 2 * reach]
    for i, a in enumerate(near):
        for b in near[i + 1 :]:
            ax, ay, bx, by = a[2] - a[0], a[3] - a[1], b[2] - b[0], b[3] - b[1]
            cross = ax * by - ay * bx
            if abs(cross) > 0.1 * math.hypot(ax, ay) * math.hypot(bx, by):
                t = ((b[0] - a[0]) * by - (b[1] - a[1]) * bx) / cross
                yield a[0] + t * ax, a[1] + t * ay


def _foot(line: tuple[float, float, float, float], x: float, y: float) -> XY:
    x0, y0, x1, y1 = line
    long = (x1 - x0) ** 2 + (y1 - y0) ** 2
    t = min(max(((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / long, 0.0), 1.0) if long else 0.0
    return x0 + t * (x1 - x0), y0 + t * (y1 - y0)


def _on_circle(circle: tuple[float, float, float], x: float, y: float) -> XY:
    cx, cy, r = circle
    away = math.hypot(x - cx, y - cy) or 1.0
    return cx + r * (x - cx) / away, cy + r * (y - cy) / away
