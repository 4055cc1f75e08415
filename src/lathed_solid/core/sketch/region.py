"""Closed areas of a sketch, and what keeps an outline from being closed.

Lines and arcs are walked as the edges of a flat graph, so one sketch may hold areas side by side, divided areas and
areas inside each other. An area is called after the curves round it, which nothing drawn elsewhere can change.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

import msgspec
import numpy as np

from ..arrays import Floats
from ..tolerance import CLOSED
from .arrange import arranged, between, piece_name, source_of
from .copies import is_given
from .curves import leaving, polyline
from .lettering import all_contours
from .model import Arc, Curve, Line, Point, Sketch, ends_of, stands_on
from .refusal import SketchError
from .shadow import of_part


class Gap(NamedTuple):
    """An open end: its point, the nearest other open end ("" if none) and how far that is, mm."""

    point: str
    other: str
    size: float


class Loop(NamedTuple):
    """Curves in order, each with whether it runs backwards; ``outline`` is a fine polyline (k x 2, mm).

    Where lines cross, a loop is made of pieces of them: those stand in ``pieces``, their ends in ``places``.
    """

    curves: tuple[tuple[str, bool], ...]
    outline: Floats
    pieces: Mapping[str, Curve] = MappingProxyType({})
    places: Mapping[str, Point] = MappingProxyType({})

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
    """``regions`` are the areas taken when none are chosen, ``openings`` the others; then what is wrong: open ends of
    lines that bound no area, free edges that cut each other. With ``divided`` lines there are no usual areas.
    """

    regions: tuple[Region, ...]
    openings: tuple[Region, ...]
    gaps: tuple[Gap, ...]
    crossings: tuple[tuple[str, str], ...]
    divided: bool = False

    def every(self) -> tuple[Region, ...]:
        return (*self.regions, *self.openings)

    def chosen(self, ids: Sequence[str]) -> tuple[Region, ...]:
        """The areas called ``ids``, or the usual ones when there are none. Raises SketchError for one that is gone."""
        if not ids:
            return self.regions
        by_id = {r.id: r for r in self.every()}
        gone = next((i for i in ids if i not in by_id), None)
        if gone is not None:
            bounds = ", ".join(dict.fromkeys(source_of(name) for name in gone.split("+")))
            raise SketchError(f"The area bounded by {bounds} is no longer closed. Choose the areas anew.")
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
            return f"The free edge crosses the outline: {a} and {b} cut each other. Split and trim them."
        if not self.regions:
            return "There is no closed outline yet."
        return ""


def find_regions(sketch: Sketch, check: bool = True) -> Regions:
    """Closed areas of all lines that are not construction, however these cross, touch or lie on each other.

    Areas that the outline taken from the solid bounds as well come with ``openings``. Without ``check`` open ends are
    not looked for.
    """
    found = _regions(sketch, [c for c in sketch.curves() if not c.construction], check)
    taken = [c for c in sketch.curves() if c.construction and is_given(sketch, c.id) and not of_part(c.id)]
    if not taken:
        return found
    drawn = [c for c in sketch.curves() if not c.construction]
    more = _regions(sketch, [*drawn, *taken], False)
    known = {r.id for r in found.every()}
    beside = tuple(r._replace(depth=1) for r in more.every() if r.id not in known)
    return found._replace(openings=(*found.openings, *beside))


def _regions(sketch: Sketch, curves: list[Curve], check: bool) -> Regions:
    cut = arranged(curves, sketch.points())
    points = {**sketch.points(), **cut.points}
    node = _nodes(points)
    whole = [c for c in cut.curves if ends_of(c) is None]
    open_ = [c for c in cut.curves if ends_of(c) is not None]
    islands = [[Loop(((c.id, False),), polyline(c, points))] for c in whole]
    islands += [[Loop(((name, False),), c.outline())] for name, c in all_contours(sketch).items()]
    outlines = [island[0] for island in islands]
    for faces, outline in _walk(open_, node, points):
        islands.append(faces)
        outlines.append(outline)
    found = _nest(islands, outlines)
    bounding = {source_of(name) for r in found for loop in (r.outer, *r.holes) for name, _ in loop.curves}
    loose = [c for c in curves if ends_of(c) is not None and c.id not in bounding] if check else []
    return Regions(
        tuple(r for r in found if r.depth % 2 == 0),
        tuple(r for r in found if r.depth % 2),
        _gaps(loose, node, points),
        cut.crossings if check else (),
        cut.split and len(found) > 1,
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
    """Open ends of lines that bound nothing; what hangs over an area is no gap in its outline."""
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
    face = [half for run in _runs(face) for half in run]
    outline = []
    for half in face:
        line = polyline(half.curve, points)
        outline.append((line[::-1] if half.backwards else line)[:-1])
    pieces = {h.curve.id: h.curve for h in face if source_of(h.curve.id) != h.curve.id}
    places = {p: points[p] for c in pieces.values() for p in stands_on(c)}
    return Loop(tuple((h.curve.id, h.backwards) for h in face), np.concatenate(outline), pieces, places)


def _runs(face: list[_Half]) -> list[list[_Half]]:
    """Neighbouring pieces of one curve made one again: what was cut off there bounds nothing here."""
    runs: list[list[_Half]] = []
    for half in face:
        if runs and _goes_on(runs[-1][-1], half):
            runs[-1].append(half)
        else:
            runs.append([half])
    if len(runs) > 1 and _goes_on(runs[-1][-1], runs[0][0]):
        runs[0] = runs.pop() + runs[0]
    return [[_joined(run)] if len(run) > 1 else run for run in runs]


def _goes_on(one: _Half, after: _Half) -> bool:
    same = source_of(one.curve.id) == source_of(after.curve.id) and one.backwards == after.backwards
    return same and isinstance(one.curve, Line | Arc) and one.curve.id != after.curve.id


def _joined(run: list[_Half]) -> _Half:
    """A run of pieces as one piece of their curve."""
    ordered = [h.curve for h in (reversed(run) if run[0].backwards else run)]
    first, last = ordered[0], ordered[-1]
    assert isinstance(first, Line | Arc) and isinstance(last, Line | Arc)
    name = piece_name(source_of(first.id), between(first.id)[0], between(last.id)[1])
    if first.a == last.b:
        name = source_of(first.id)  # all the way round: the whole circle again
    return _Half(msgspec.structs.replace(first, id=name, b=last.b), run[0].backwards)


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
    turned = tuple((name, not back) for name, back in reversed(loop.curves))
    return loop._replace(curves=turned, outline=loop.outline[::-1])
