"""Other solutions: the same relations and sizes met in another way, to be shown and chosen from.

Every alternative starts from a closed form (circles touching two curves, lines touching two circles, a side or angle
turned over), is solved, and is kept if it holds and differs from those before it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping

import msgspec

from ...tolerance import ONE_PLACE
from ..curves import radius_of
from ..model import ACROSS, ALONG, Arc, Circle, Dimension, Line, Point, Sketch, ends_of, whole
from ..refusal import NoElement, SketchError
from ..solver.solve import Solver
from ..tangents import centers, common_tangents, touch

XY = tuple[float, float]


def alternatives(sketch: Sketch, values: Mapping[str, float], id_: str) -> list[Sketch]:
    """Other poses in which all holds, for the arc, circle, line or dimension ``id_``; the least moved first."""
    found: list[Sketch] = []
    size = _size(sketch)
    for seed in _seeds(sketch, id_):
        try:
            solved = Solver(seed, values).settle(values)
        except SketchError:
            continue
        if solved is None:
            continue
        if all(_apart(solved, other) > ONE_PLACE * size for other in (sketch, *found)):
            found.append(solved)
    return sorted(found, key=lambda s: _apart(s, sketch))


def _size(sketch: Sketch) -> float:
    points = sketch.points().values()
    return max((max(abs(p.x), abs(p.y)) for p in points), default=1.0) or 1.0


def _apart(a: Sketch, b: Sketch) -> float:
    """Greatest difference between two poses, turned-over arcs counted."""
    p, q = a.points(), b.points()
    gap = max((math.hypot(p[i].x - q[i].x, p[i].y - q[i].y) for i in p), default=0.0)
    for e, o in zip(a.entities, b.entities, strict=True):
        if isinstance(e, Arc) and isinstance(o, Arc) and e.a != o.a:
            gap = max(gap, radius_of(e, p))
        elif isinstance(e, Circle) and isinstance(o, Circle):
            gap = max(gap, abs(e.radius - o.radius))
    return gap


def _seeds(sketch: Sketch, id_: str) -> Iterator[Sketch]:
    dimension = next((d for d in sketch.dimensions if d.id == id_), None)
    if dimension is not None:
        yield from _turned_over(sketch, dimension)
        return
    try:
        entity = sketch.get(id_)
    except NoElement:
        return
    if isinstance(entity, Arc | Circle):
        yield from _touching_circles(sketch, entity)
    elif isinstance(entity, Line):
        yield from _touching_lines(sketch, entity)


def _partners(sketch: Sketch, id_: str) -> list[Line | Arc | Circle]:
    found = []
    for r in sketch.relations:
        if r.kind == "tangent" and id_ in r.of:
            other = next(i for i in r.of if i != id_)
            if other in (ALONG, ACROSS):
                continue
            entity = sketch.get(other)
            if isinstance(entity, Line | Arc | Circle):
                found.append(entity)
    return found


def _put(sketch: Sketch, places: Mapping[str, XY], **changed: object) -> Sketch:
    """With points elsewhere (and everything that is one place with them), and elements exchanged by id."""
    same = _one_place(sketch)
    moved = {other: xy for id_, xy in places.items() for other in same.get(id_, {id_})}
    entities = tuple(
        Point(e.id, *moved[e.id]) if isinstance(e, Point) and e.id in moved else changed.get(e.id, e)
        for e in sketch.entities
    )
    return msgspec.structs.replace(sketch, entities=entities)


def _one_place(sketch: Sketch) -> dict[str, set[str]]:
    groups: dict[str, set[str]] = {}
    for r in sketch.relations:
        if r.kind == "coincident":
            merged = set(r.of).union(*(groups.get(i, set()) for i in r.of))
            for i in merged:
                groups[i] = merged
    return groups


# --- tangent arcs and circles
def _touching_circles(sketch: Sketch, curve: Arc | Circle) -> Iterator[Sketch]:
    partners, points = _partners(sketch, curve.id), sketch.points()
    radius = radius_of(curve, points)
    for a, b in itertools.combinations(partners, 2):
        for center in centers(a, b, points, radius):
            if isinstance(curve, Circle):
                yield _put(sketch, {curve.center: center})
                continue
            ends = _ends_at(sketch, curve, a, b)
            touches = {e: touch(c, points, center, radius) for e, c in zip(ends, (a, b), strict=True) if e}
            seed = _put(sketch, {curve.center: center} | touches)
            yield seed
            # The other way round the same circle.
            yield _put(seed, {}, **{curve.id: msgspec.structs.replace(curve, a=curve.b, b=curve.a)})


def _ends_at(sketch: Sketch, arc: Arc, a: Line | Arc | Circle, b: Line | Arc | Circle) -> tuple[str, str]:
    """Which end of the arc lies at which of its two partners; "" where none does."""
    same = _one_place(sketch)

    def end(curve: Line | Arc | Circle) -> str:
        theirs = set(ends_of(curve) or ())
        held = {r.of[0] for r in sketch.relations if r.kind == "on" and r.of[1] == curve.id}
        for mine in (arc.a, arc.b):
            if same.get(mine, {mine}) & theirs or mine in held:
                return mine
        return ""

    first, second = end(a), end(b)
    if not first and second:
        first = arc.b if second == arc.a else arc.a
    elif first and not second:
        second = arc.b if first == arc.a else arc.a
    return first or arc.a, second or arc.b


# --- tangent lines
def _touching_lines(sketch: Sketch, line: Line) -> Iterator[Sketch]:
    rounds = [p for p in _partners(sketch, line.id) if isinstance(p, Arc | Circle)]
    points = sketch.points()
    for a, b in itertools.combinations(rounds, 2):
        circles = [(points[c.center].x, points[c.center].y, radius_of(c, points)) for c in (a, b)]
        near_a = math.dist(circles[0][:2], (points[line.a].x, points[line.a].y))
        near_b = math.dist(circles[0][:2], (points[line.b].x, points[line.b].y))
        for p, q in common_tangents(circles[0], circles[1]):
            first, second = (p, q) if near_a <= near_b else (q, p)
            yield _put(sketch, {line.a: first, line.b: second})


# --- sides and angles
def _turned_over(sketch: Sketch, d: Dimension) -> Iterator[Sketch]:
    from ..make.choose import letter
    from ..make.size import angle_choices, direction, offset_from, place

    def changed(new: Dimension, places: Mapping[str, XY]) -> Sketch:
        seed = _put(sketch, places)
        return msgspec.structs.replace(seed, dimensions=tuple(new if x.id == d.id else x for x in sketch.dimensions))

    if d.kind == "angle":
        now = next(v for n, v in angle_choices(sketch, d) if n.quadrant == d.quadrant)
        for new, _ in angle_choices(sketch, d):
            for sense in (1, -1):
                over = msgspec.structs.replace(new, sense=sense)
                if over != d:
                    yield changed(over, _swung(sketch, d, over, now))
        return
    over = msgspec.structs.replace(d, sense=-d.sense)
    if d.kind in ("along", "across"):
        (ax, ay), (bx, by) = (place(sketch, i) for i in d.of)
        shift = (2 * (ax - bx), 0.0) if d.kind == "along" else (0.0, 2 * (ay - by))
        yield changed(over, _shifted(sketch, d.of[1], shift))
    elif d.kind == "distance" and any(letter(sketch, i) == "l" for i in d.of):
        line = next(i for i in d.of if letter(sketch, i) == "l")
        other = next((i for i in d.of if i != line), line)
        away, (ux, uy) = offset_from(sketch, line, place(sketch, other)), direction(sketch, line)
        yield changed(over, _shifted(sketch, other, (2 * away * uy, -2 * away * ux)))


def _points_of(sketch: Sketch, id_: str) -> tuple[str, ...]:
    return tuple(i for i in whole(sketch, (id_,)) if isinstance(sketch.get(i), Point))


def _shifted(sketch: Sketch, id_: str, by: XY) -> dict[str, XY]:
    points = sketch.points()
    return {i: (points[i].x + by[0], points[i].y + by[1]) for i in _points_of(sketch, id_)}


def _swung(sketch: Sketch, old: Dimension, new: Dimension, value: float) -> dict[str, XY]:
    """The second line turned about its nearer end so that the new reading holds."""
    from ..make.size import direction

    line = sketch.get(old.of[1]) if old.of[1] not in (ALONG, ACROSS) else None
    if not isinstance(line, Line):
        return {}
    first, second = (direction(sketch, i) for i in old.of)
    turn = (math.pi if new.quadrant & 1 else 0.0) + new.sense * value + (math.pi if new.quadrant & 2 else 0.0)
    wanted = math.atan2(first[1], first[0]) + turn
    delta = wanted - math.atan2(second[1], second[0])
    points = sketch.points()
    hinge, tip = points[line.a], points[line.b]
    other = next((c for c in sketch.curves() if c.id == old.of[0]), None)
    if isinstance(other, Line) and line.b in (other.a, other.b):
        hinge, tip = tip, hinge
    c, s = math.cos(delta), math.sin(delta)
    dx, dy = tip.x - hinge.x, tip.y - hinge.y
    return {tip.id: (hinge.x + c * dx - s * dy, hinge.y + s * dx + c * dy)}
