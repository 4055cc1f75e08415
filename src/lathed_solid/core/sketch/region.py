"""Closed outlines of a sketch, and what keeps an outline from being closed."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ..tolerance import CLOSED
from .model import Arc, Circle, Curve, Line, Point, Sketch
from .solver.rows import Floats


class Gap(NamedTuple):
    """An open end: its point, the nearest other open end ("" if none) and how far that is, mm."""

    point: str
    other: str
    size: float


class Loop(NamedTuple):
    """Curves in order, each with whether it runs backwards; ``outline`` is a fine polyline (k x 2, mm)."""

    curves: tuple[tuple[str, bool], ...]
    outline: Floats

    @property
    def area(self) -> float:
        x, y = self.outline[:, 0], self.outline[:, 1]
        return float(0.5 * np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))


class Region(NamedTuple):
    """One closed area: an outer loop and the loops that are holes in it. ``id`` is stable: its curves' names."""

    outer: Loop
    holes: tuple[Loop, ...]

    @property
    def id(self) -> str:
        return "+".join(sorted(name for name, _ in self.outer.curves))


class Regions(NamedTuple):
    """All closed areas and what is wrong: open ends, points where more than two lines meet, crossings."""

    regions: tuple[Region, ...]
    gaps: tuple[Gap, ...]
    branches: tuple[str, ...]
    crossings: tuple[tuple[str, str], ...]

    def problem(self, sketch: Sketch) -> str:
        """Why the sketch cannot become a solid, in words; empty when it can."""
        points = sketch.points()
        if self.gaps:
            gap = self.gaps[0]
            p = points[gap.point]
            if gap.other:
                return f"The outline is open at {p.x:.3f}, {p.y:.3f}: a gap of {gap.size:.4g} mm. Close it."
            return f"The outline is open: a line ends alone at {p.x:.3f}, {p.y:.3f}."
        if self.branches:
            p = points[self.branches[0]]
            return f"More than two lines meet at {p.x:.3f}, {p.y:.3f}. Trim one, or make it construction."
        if self.crossings:
            a, b = self.crossings[0]
            return f"The outline crosses itself: {a} and {b} cut each other."
        if not self.regions:
            return "There is no closed outline yet."
        return ""


def find_regions(sketch: Sketch) -> Regions:
    """Closed areas of all lines that are not construction."""
    points = sketch.points()
    curves = [c for c in sketch.curves() if not c.construction]
    node = _nodes(points)
    at_node: dict[int, list[Curve]] = {}
    for curve in curves:
        if not isinstance(curve, Circle):
            for end in (curve.a, curve.b):
                at_node.setdefault(node[end], []).append(curve)
    gaps = _gaps(curves, at_node, node, points)
    branches = tuple(p for p, n in node.items() if len(at_node.get(n, ())) > 2)[:1]
    loops = [Loop(((c.id, False),), polyline(c, points)) for c in curves if isinstance(c, Circle)]
    if not gaps and not branches:
        loops += _walk(curves, at_node, node, points)
    return Regions(_nest(loops), gaps, branches, _crossings(curves, points, node))


def _nodes(points: dict[str, Point]) -> dict[str, int]:
    """Points that fall on one place share a node."""
    grid: dict[tuple[int, int], int] = {}
    node = {}
    for at, (id_, p) in enumerate(points.items()):
        cell = (round(p.x / CLOSED / 4), round(p.y / CLOSED / 4))
        near = next(
            (grid[c] for dx in (0, -1, 1) for dy in (0, -1, 1) if (c := (cell[0] + dx, cell[1] + dy)) in grid),
            None,
        )
        node[id_] = near if near is not None else at
        grid.setdefault(cell, node[id_])
    return node


def _gaps(
    curves: list[Curve], at_node: dict[int, list[Curve]], node: dict[str, int], points: dict[str, Point]
) -> tuple[Gap, ...]:
    ends = [end for c in curves if not isinstance(c, Circle) for end in (c.a, c.b) if len(at_node[node[end]]) == 1]
    found = []
    for end in ends:
        p = points[end]
        others = [(math.hypot(points[o].x - p.x, points[o].y - p.y), o) for o in ends if o != end]
        size, other = min(others, default=(0.0, ""))
        found.append(Gap(end, other, size))
    return tuple(found)


def _walk(
    curves: list[Curve], at_node: dict[int, list[Curve]], node: dict[str, int], points: dict[str, Point]
) -> list[Loop]:
    loops, used = [], set()
    for first in curves:
        if isinstance(first, Circle) or first.id in used:
            continue
        chain: list[tuple[str, bool]] = []
        pieces = []
        curve: Curve = first
        entry = node[first.a]
        while curve.id not in used:
            assert not isinstance(curve, Circle)
            used.add(curve.id)
            backwards = node[curve.a] != entry
            chain.append((curve.id, backwards))
            line = polyline(curve, points)
            pieces.append((line[::-1] if backwards else line)[:-1])
            entry = node[curve.a] if backwards else node[curve.b]
            curve = next((c for c in at_node[entry] if c.id not in used), first)
        loops.append(Loop(tuple(chain), np.concatenate(pieces)))
    return loops


def polyline(curve: Curve, points: dict[str, Point], step: float = math.pi / 36) -> Floats:
    """A curve as a polyline (k x 2, mm); arcs in pieces of at most ``step`` radians."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        return np.array([(a.x, a.y), (b.x, b.y)])
    c = points[curve.center]
    if isinstance(curve, Circle):
        start, sweep, radius = 0.0, 2 * math.pi, curve.radius
    else:
        start, sweep, radius = arc_span(curve, points)
    count = max(2, math.ceil(sweep / step) + 1)
    t = np.linspace(start, start + sweep, count)
    line = np.stack([c.x + radius * np.cos(t), c.y + radius * np.sin(t)], axis=1)
    if isinstance(curve, Arc):
        a, b = points[curve.a], points[curve.b]
        line[0], line[-1] = (a.x, a.y), (b.x, b.y)
        return line
    return line[:-1]


def arc_span(arc: Arc, points: dict[str, Point]) -> tuple[float, float, float]:
    """Start angle, counter-clockwise sweep (radians) and radius (mm)."""
    c, a, b = points[arc.center], points[arc.a], points[arc.b]
    start = math.atan2(a.y - c.y, a.x - c.x)
    sweep = (math.atan2(b.y - c.y, b.x - c.x) - start) % (2 * math.pi)
    return start, sweep or 2 * math.pi, math.hypot(a.x - c.x, a.y - c.y)


def inside(outline: Floats, x: float, y: float) -> bool:
    """Whether a point lies inside a polyline loop (even-odd)."""
    a, b = outline, np.roll(outline, -1, axis=0)
    crosses = (a[:, 1] > y) != (b[:, 1] > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = a[:, 0] + (y - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool(np.count_nonzero(crosses & (at > x)) % 2)


def _nest(loops: list[Loop]) -> tuple[Region, ...]:
    """Loops at even depth are areas, those directly inside them their holes."""
    holders = [
        [j for j, other in enumerate(loops) if j != i and inside(other.outline, *loop.outline[0])]
        for i, loop in enumerate(loops)
    ]
    return tuple(
        Region(
            loop,
            tuple(inner for j, inner in enumerate(loops) if i in holders[j] and len(holders[j]) == len(holders[i]) + 1),
        )
        for i, loop in enumerate(loops)
        if len(holders[i]) % 2 == 0
    )


def _crossings(curves: list[Curve], points: dict[str, Point], node: dict[str, int]) -> tuple[tuple[str, str], ...]:
    """Pairs of curves that cut each other away from their ends."""
    lines = [polyline(c, points, math.pi / 12) for c in curves]
    owner = np.concatenate([np.full(len(p) - 1, i) for i, p in enumerate(lines)]) if lines else np.zeros(0, int)
    if len(owner) < 2:
        return ()
    a = np.concatenate([p[:-1] for p in lines])
    b = np.concatenate([p[1:] for p in lines])
    i, j = np.triu_indices(len(owner), 1)
    apart = owner[i] != owner[j]
    i, j = i[apart], j[apart]
    d1, d2 = b[i] - a[i], b[j] - a[j]
    cross = d1[:, 0] * d2[:, 1] - d1[:, 1] * d2[:, 0]
    w = a[j] - a[i]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (w[:, 0] * d2[:, 1] - w[:, 1] * d2[:, 0]) / cross
        t = (w[:, 0] * d1[:, 1] - w[:, 1] * d1[:, 0]) / cross
    hit = (np.abs(cross) > 1e-12) & (s > 1e-6) & (s < 1 - 1e-6) & (t > 1e-6) & (t < 1 - 1e-6)
    pairs = {(curves[owner[p]].id, curves[owner[q]].id) for p, q in zip(i[hit], j[hit], strict=True)}
    return tuple(sorted(pairs))
