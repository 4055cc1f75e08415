"""Closed areas of a sketch, and what keeps an outline from being closed.

Lines and arcs are walked as the edges of a flat graph, so one sketch may hold areas side by side, divided areas and
areas inside each other. An area is called after the curves round it, which nothing drawn elsewhere can change.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from ..tolerance import CLOSED
from .curves import arc_span, leaving, polyline
from .intersect import meet
from .lettering import all_contours
from .model import Arc, Circle, Curve, Ellipse, Line, Point, Sketch, ends_of
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
    """One closed area: an outer loop and the loops that are holes in it. ``id`` is stable: its curves' names.

    ``depth`` counts the outlines it lies inside of: odd ones are openings unless they are chosen.
    """

    outer: Loop
    holes: tuple[Loop, ...]
    depth: int = 0

    @property
    def id(self) -> str:
        return "+".join(sorted(name for name, _ in self.outer.curves))

    def holds(self, x: float, y: float) -> bool:
        return inside(self.outer.outline, x, y) and not any(inside(h.outline, x, y) for h in self.holes)


class Regions(NamedTuple):
    """``regions`` are the areas taken when none are chosen, ``openings`` the others; then what is wrong: open ends,
    curves that cut each other, curves that lie on each other.
    """

    regions: tuple[Region, ...]
    openings: tuple[Region, ...]
    gaps: tuple[Gap, ...]
    crossings: tuple[tuple[str, str], ...]
    overlaps: tuple[tuple[str, str], ...]

    def every(self) -> tuple[Region, ...]:
        return (*self.regions, *self.openings)

    def chosen(self, ids: Sequence[str]) -> tuple[Region, ...]:
        """The areas called ``ids``, or the usual ones when there are none. Raises LookupError for one that is gone."""
        if not ids:
            return self.regions
        by_id = {r.id: r for r in self.every()}
        gone = next((i for i in ids if i not in by_id), None)
        if gone is not None:
            raise LookupError(
                f"The area bounded by {gone.replace('+', ', ')} is no longer closed. Choose the areas anew."
            )
        return tuple(by_id[i] for i in ids)

    def problem(self, sketch: Sketch, chosen: bool = False) -> str:
        """Why the sketch cannot become a solid, in words; empty when it can. Chosen areas may have open ends beside."""
        points = sketch.points()
        if self.gaps and not chosen:
            gap = self.gaps[0]
            p = points[gap.point]
            if gap.other:
                return f"The outline is open at {p.x:.3f}, {p.y:.3f}: a gap of {gap.size:.4g} mm. Close it."
            return f"The outline is open: a line ends alone at {p.x:.3f}, {p.y:.3f}."
        if self.crossings:
            a, b = self.crossings[0]
            return f"The outline crosses itself: {a} and {b} cut each other. Split and trim them."
        if self.overlaps:
            a, b = self.overlaps[0]
            return f"{a} and {b} lie on each other. Delete one of them."
        if not self.regions:
            return "There is no closed outline yet."
        return ""


def find_regions(sketch: Sketch, check: bool = True) -> Regions:
    """Closed areas of all lines that are not construction; without ``check`` crossings are not looked for."""
    points = sketch.points()
    curves = [c for c in sketch.curves() if not c.construction]
    node = _nodes(points)
    whole = [c for c in curves if ends_of(c) is None]
    open_ = [c for c in curves if ends_of(c) is not None]
    islands = [[Loop(((c.id, False),), polyline(c, points))] for c in whole]
    islands += [[Loop(((name, False),), c.outline())] for name, c in all_contours(sketch).items()]
    outlines = [island[0] for island in islands]
    for faces, outline in _walk(open_, node, points):
        islands.append(faces)
        outlines.append(outline)
    found = _nest(islands, outlines)
    crossings, overlaps = _collisions(curves, points) if check else ((), ())
    return Regions(
        tuple(r for r in found if r.depth % 2 == 0),
        tuple(r for r in found if r.depth % 2),
        _gaps(open_, node, points),
        crossings,
        overlaps,
    )


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


def _ends(curve: Curve, node: dict[str, int]) -> tuple[int, int]:
    ends = ends_of(curve)
    assert ends is not None
    return node[ends[0]], node[ends[1]]


def _gaps(curves: list[Curve], node: dict[str, int], points: dict[str, Point]) -> tuple[Gap, ...]:
    count: dict[int, int] = {}
    for c in curves:
        for n in _ends(c, node):
            count[n] = count.get(n, 0) + 1
    ends = [end for c in curves for end in ends_of(c) or () if count[node[end]] == 1]
    found = []
    for end in ends:
        p = points[end]
        others = [(math.hypot(points[o].x - p.x, points[o].y - p.y), o) for o in ends if o != end]
        size, other = min(others, default=(0.0, ""))
        found.append(Gap(end, other, size))
    return tuple(found)


# --- walking the graph
class _Half(NamedTuple):
    """A curve walked one way."""

    curve: Curve
    backwards: bool


def _walk(curves: list[Curve], node: dict[str, int], points: dict[str, Point]) -> Iterable[tuple[list[Loop], Loop]]:
    """Connected islands of curves: their smallest areas, and the outline round all of them."""
    while True:
        curves = _pruned(curves, node)
        faces = _faces(curves, node, points)
        # A curve with the same area on both sides bounds nothing: it is a bridge and is left out.
        bridges = {h.curve.id for f in faces for h in f if _Half(h.curve, not h.backwards) in f}
        if not bridges:
            break
        curves = [c for c in curves if c.id not in bridges]
    member = _islands(curves, node)
    inner: dict[int, list[Loop]] = {}
    outer: dict[int, Loop] = {}
    for face in faces:
        loop = _loop(face, points)
        island = member[_ends(face[0].curve, node)[0]]
        if loop.area > 0:
            inner.setdefault(island, []).append(loop)
        elif island not in outer or abs(loop.area) > abs(outer[island].area):
            outer[island] = loop
    return [(inner[i], outer[i]) for i in inner if i in outer]


def _pruned(curves: list[Curve], node: dict[str, int]) -> list[Curve]:
    """Without what hangs loose at one end."""
    at: dict[int, set[int]] = {}
    ends = [_ends(c, node) for c in curves]
    for k, (a, b) in enumerate(ends):
        at.setdefault(a, set()).add(k)
        at.setdefault(b, set()).add(k)
    loose = [n for n, held in at.items() if len(held) == 1 and not _ring_of_one(held, ends)]
    gone: set[int] = set()
    while loose:
        for k in list(at[loose.pop()]):
            gone.add(k)
            for n in ends[k]:
                at[n].discard(k)
                if len(at[n]) == 1 and not _ring_of_one(at[n], ends):
                    loose.append(n)
    return [c for k, c in enumerate(curves) if k not in gone]


def _ring_of_one(held: set[int], ends: list[tuple[int, int]]) -> bool:
    """A single curve that begins and ends at one node is closed by itself."""
    (k,) = held
    return ends[k][0] == ends[k][1]


def _islands(curves: list[Curve], node: dict[str, int]) -> dict[int, int]:
    root: dict[int, int] = {}

    def find(n: int) -> int:
        while root.setdefault(n, n) != n:
            n = root[n]
        return n

    for c in curves:
        a, b = (find(n) for n in _ends(c, node))
        root[a] = b
    return {n: find(n) for n in list(root)}


def _faces(curves: list[Curve], node: dict[str, int], points: dict[str, Point]) -> list[list[_Half]]:
    """Every walk that keeps its area on the left: turn as sharply to the left as the node allows."""
    leaves: dict[int, list[tuple[float, float, _Half]]] = {}
    for c in curves:
        a, b = _ends(c, node)
        for start, back in ((a, False), (b, True)):
            leaves.setdefault(start, []).append((*_order(leaving(c, points, back)), _Half(c, back)))
    after: dict[tuple[str, bool], _Half] = {}
    for fan in leaves.values():
        fan.sort(key=lambda item: item[:2])
        for k, (_, _, half) in enumerate(fan):
            # Arriving along the twin of ``half``, go on with the next one clockwise.
            after[half.curve.id, not half.backwards] = fan[k - 1][2]
    faces, seen = [], set()
    for c in curves:
        for back in (False, True):
            half, face = _Half(c, back), []
            while (half.curve.id, half.backwards) not in seen:
                seen.add((half.curve.id, half.backwards))
                face.append(half)
                half = after[half.curve.id, half.backwards]
            if face:
                faces.append(face)
    return faces


def _order(leave: tuple[float, float]) -> tuple[float, float]:
    """Angle, then how it bends; angles that differ by rounding alone count as one."""
    return round(leave[0] % (2 * math.pi), 7) % round(2 * math.pi, 7), leave[1]


def _loop(face: list[_Half], points: dict[str, Point]) -> Loop:
    pieces = []
    for half in face:
        line = polyline(half.curve, points)
        pieces.append((line[::-1] if half.backwards else line)[:-1])
    return Loop(tuple((h.curve.id, h.backwards) for h in face), np.concatenate(pieces))


def inside(outline: Floats, x: float, y: float) -> bool:
    """Whether a point lies inside a polyline loop (even-odd)."""
    a, b = outline, np.roll(outline, -1, axis=0)
    crosses = (a[:, 1] > y) != (b[:, 1] > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = a[:, 0] + (y - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool(np.count_nonzero(crosses & (at > x)) % 2)


def _nest(islands: list[list[Loop]], outlines: list[Loop]) -> list[Region]:
    """Areas with the islands that lie directly inside them as holes."""
    boxes = [(o.outline.min(axis=0), o.outline.max(axis=0)) for o in outlines]

    def around(i: int, j: int) -> bool:
        if i == j or (boxes[i][0] < boxes[j][0]).any() or (boxes[i][1] > boxes[j][1]).any():
            return False
        x, y = outlines[i].outline[0]
        return inside(outlines[j].outline, float(x), float(y))

    holders = [[j for j in range(len(outlines)) if around(i, j)] for i in range(len(outlines))]
    found = []
    for i, faces in enumerate(islands):
        direct = [j for j, held in enumerate(holders) if i in held and len(held) == len(holders[i]) + 1]
        for face in faces:
            holes = [
                _reversed(outlines[j]) if outlines[j].area < 0 else outlines[j]
                for j in direct
                if len(faces) == 1 or inside(face.outline, *map(float, outlines[j].outline[0]))
            ]
            found.append(Region(face, tuple(holes), len(holders[i])))
    return found


def _reversed(loop: Loop) -> Loop:
    return Loop(tuple((name, not back) for name, back in reversed(loop.curves)), loop.outline[::-1])


# --- what is wrong
def _collisions(
    curves: list[Curve], points: dict[str, Point]
) -> tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]:
    """Pairs of curves that cut each other away from their common ends, and pairs that lie on each other."""
    if len(curves) < 2:
        return (), ()
    lines = [polyline(c, points, math.pi / 12) for c in curves]
    low, high = np.array([p.min(axis=0) for p in lines]), np.array([p.max(axis=0) for p in lines])
    grow = np.array(
        [0.05 * (h - lo).max() if not isinstance(c, Line) else 0.0 for c, lo, h in zip(curves, low, high, strict=True)]
    )
    low, high = low - grow[:, None] - CLOSED, high + grow[:, None] + CLOSED
    i, j = np.triu_indices(len(curves), 1)
    near = ((low[i] <= high[j]) & (low[j] <= high[i])).all(axis=1)
    crossings, overlaps = [], []
    for p, q in zip(i[near], j[near], strict=True):
        a, b = curves[p], curves[q]
        if _overlap(a, b, points):
            overlaps.append((a.id, b.id))
        elif _cut(a, b, points):
            crossings.append((a.id, b.id))
    return tuple(sorted(crossings)), tuple(sorted(overlaps))


def _cut(a: Curve, b: Curve, points: dict[str, Point]) -> bool:
    ends_a, ends_b = ends_of(a), ends_of(b)
    # An end that lies on the other curve does not cut it: it is an open end, and told as such.
    places = [points[e] for e in (*(ends_a or ()), *(ends_b or ()))]
    for m in meet(a, b, points):
        if any(math.hypot(m.x - p.x, m.y - p.y) < 10 * CLOSED for p in places):
            continue
        return True
    return False


def _overlap(a: Curve, b: Curve, points: dict[str, Point]) -> bool:
    """Whether two lines, or two round ones of one centre and radius, share more than a place."""
    if isinstance(a, Line) and isinstance(b, Line):
        p, q, r, s = points[a.a], points[a.b], points[b.a], points[b.b]
        size = math.hypot(q.x - p.x, q.y - p.y) or 1e-12
        ux, uy = (q.x - p.x) / size, (q.y - p.y) / size
        if any(abs(ux * (e.y - p.y) - uy * (e.x - p.x)) > CLOSED for e in (r, s)):
            return False
        t = sorted((ux * (e.x - p.x) + uy * (e.y - p.y)) for e in (r, s))
        return min(size, t[1]) - max(0.0, t[0]) > 10 * CLOSED
    if isinstance(a, Circle | Arc) and isinstance(b, Circle | Arc):
        return _same_circle(a, b, points)
    if isinstance(a, Ellipse) and isinstance(b, Ellipse):
        return bool(np.allclose(polyline(a, points), polyline(b, points), atol=CLOSED))
    return False


def _same_circle(a: Circle | Arc, b: Circle | Arc, points: dict[str, Point]) -> bool:
    spans = [(0.0, 2 * math.pi, c.radius) if isinstance(c, Circle) else arc_span(c, points) for c in (a, b)]
    p, q = points[a.center], points[b.center]
    if math.hypot(p.x - q.x, p.y - q.y) > CLOSED or abs(spans[0][2] - spans[1][2]) > CLOSED:
        return False
    (s0, w0, r), (s1, w1, _) = spans
    slack = 10 * CLOSED / max(r, CLOSED)
    into = (s1 - s0) % (2 * math.pi)
    return into < w0 - slack or into + w1 > 2 * math.pi + slack
