"""Drawing and editing sketches: pure functions from sketch to sketch."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

import msgspec

from ..copies import copy_of, is_given
from ..curves import leaving
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Entity,
    Line,
    Point,
    Relation,
    RelationKind,
    Sketch,
    Spline,
    ends_of,
    stands_on,
)
from ..refusal import SketchError


class Spot(NamedTuple):
    """Where a click lands: a place in mm, and the point or curve it snapped to (empty for none).

    ``middle`` says that it is the middle of that curve; ``also`` names a second curve that goes through the place.
    """

    x: float
    y: float
    point: str = ""
    curve: str = ""
    middle: bool = False
    also: str = ""

    @property
    def xy(self) -> tuple[float, float]:
        return self.x, self.y


def fresh(sketch: Sketch, prefix: str) -> str:
    """An id not yet used by any element, relation or dimension."""
    taken, number = sketch.taken, 1
    while f"{prefix}{number}" in taken:
        number += 1
    return f"{prefix}{number}"


def grown(sketch: Sketch, entities: Iterable[Entity] = (), relations: Iterable[Relation] = ()) -> Sketch:
    """With more elements. A sketch that is changed by hand leaves its table."""
    return msgspec.structs.replace(
        sketch,
        entities=(*sketch.entities, *entities),
        relations=(*sketch.relations, *relations),
        stations=None,
    )


def placed(sketch: Sketch, spot: Spot) -> tuple[Sketch, str]:
    """The point at a spot: the one snapped to, or a new one with the relation the snap means."""
    if spot.point and spot.point != ORIGIN:
        return sketch, spot.point
    id_ = fresh(sketch, "p")
    sketch = grown(sketch, [Point(id_, spot.x, spot.y)])
    if spot.point == ORIGIN:
        return grown(sketch, (), [Relation(fresh(sketch, "r"), "coincident", (id_, ORIGIN), True)]), id_
    kind: RelationKind = "midpoint" if spot.middle else "on"
    for curve in filter(None, (spot.curve, spot.also)):
        sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), kind, (id_, curve), True)])
    return sketch, id_


def add_point(sketch: Sketch, spot: Spot) -> tuple[Sketch, str]:
    """A point by itself, for holes and sizes."""
    return placed(sketch, spot)


def add_line(sketch: Sketch, a: Spot, b: Spot, construction: bool = False) -> tuple[Sketch, str]:
    """A line; level or upright ones get that relation, marked as assumed. Raises SketchError when it has no length."""
    if math.hypot(b.x - a.x, b.y - a.y) < 1e-6 or (a.point and a.point == b.point):
        raise SketchError("A line needs two different ends.")
    sketch, p = placed(sketch, a)
    sketch, q = placed(sketch, b)
    id_ = fresh(sketch, "l")
    sketch = grown(sketch, [Line(id_, p, q, construction)])
    kind: RelationKind | None = None
    if abs(b.y - a.y) < 1e-9:
        kind = "horizontal"
    elif abs(b.x - a.x) < 1e-9:
        kind = "vertical"
    both_on_axis = any(all(_on(sketch, point, axis) for point in (p, q)) for axis in (ALONG, ACROSS))
    if kind and not both_on_axis:
        return grown(sketch, (), [Relation(fresh(sketch, "r"), kind, (id_,), True)]), id_
    return (sketch if kind else _goes_on(sketch, id_, p)), id_


def _goes_on(sketch: Sketch, line: str, start: str) -> Sketch:
    """A slanted line that leaves a curve exactly smoothly or squarely is meant to."""
    points, made = sketch.points(), sketch.get(line)
    assert isinstance(made, Line)
    heading = leaving(made, points, False)[0]
    for curve in sketch.curves():
        ends = ends_of(curve)
        if curve.id == line or not ends or start not in ends or isinstance(curve, Spline):
            continue
        turn = heading - leaving(curve, points, ends[0] != start)[0]
        smooth, square = abs(math.sin(turn)) < 1e-9, abs(math.cos(turn)) < 1e-9
        if smooth and isinstance(curve, Arc):
            return grown(sketch, (), [Relation(fresh(sketch, "r"), "tangent", (line, curve.id), True)])
        if square and isinstance(curve, Line):
            return grown(sketch, (), [Relation(fresh(sketch, "r"), "perpendicular", (curve.id, line), True)])
    return sketch


def _on(sketch: Sketch, point: str, axis: str) -> bool:
    """Whether relations already hold a point on an axis."""
    return any(
        (r.kind == "on" and r.of == (point, axis)) or (r.kind == "coincident" and set(r.of) == {point, ORIGIN})
        for r in sketch.relations
    )


def add_rectangle(sketch: Sketch, a: Spot, b: Spot) -> Sketch:
    """Four lines with level and upright relations. Raises SketchError when it has no area."""
    if abs(a.x - b.x) < 1e-6 or abs(a.y - b.y) < 1e-6:
        raise SketchError("A rectangle needs two opposite corners.")
    sketch, p = placed(sketch, a)
    sketch, r = placed(sketch, b)
    sketch, q = placed(sketch, Spot(b.x, a.y))
    sketch, s = placed(sketch, Spot(a.x, b.y))
    for start, end, kind in ((p, q, "horizontal"), (q, r, "vertical"), (r, s, "horizontal"), (s, p, "vertical")):
        id_ = fresh(sketch, "l")
        sketch = grown(sketch, [Line(id_, start, end)])
        sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), kind, (id_,), True)])  # type: ignore[arg-type]
    return sketch


def add_circle(sketch: Sketch, center: Spot, radius: float) -> tuple[Sketch, str]:
    """Raises SketchError for a radius of nothing."""
    if radius < 1e-6:
        raise SketchError("A circle needs a radius.")
    sketch, c = placed(sketch, center)
    id_ = fresh(sketch, "c")
    return grown(sketch, [Circle(id_, c, radius)]), id_


def add_arc(sketch: Sketch, a: Spot, b: Spot, through: Spot) -> tuple[Sketch, str]:
    """An arc from ``a`` to ``b`` over ``through``. Raises SketchError when the three lie on a line."""
    d = 2 * (a.x * (b.y - through.y) + b.x * (through.y - a.y) + through.x * (a.y - b.y))
    if abs(d) < 1e-9:
        raise SketchError("An arc needs a third place off the straight line.")
    sa, sb, st = a.x**2 + a.y**2, b.x**2 + b.y**2, through.x**2 + through.y**2
    cx = (sa * (b.y - through.y) + sb * (through.y - a.y) + st * (a.y - b.y)) / d
    cy = (sa * (through.x - b.x) + sb * (a.x - through.x) + st * (b.x - a.x)) / d
    sketch, p = placed(sketch, a)
    sketch, q = placed(sketch, b)
    sketch, c = placed(sketch, Spot(cx, cy))
    left = (b.x - a.x) * (through.y - a.y) - (b.y - a.y) * (through.x - a.x) > 0
    start, end = (q, p) if left else (p, q)
    id_ = fresh(sketch, "a")
    return grown(sketch, [Arc(id_, c, start, end)]), id_


def delete(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """Without these elements, relations and dimensions, and without what cannot stand without them.

    Deleting a copy deletes its whole repeat, deleting a projected line its projection.
    """
    gone = set(ids)
    whole = {i.partition(".")[0] for i in gone if copy_of(sketch, i) or is_given(sketch, i)}
    gone |= {r.id for r in sketch.repeats if r.center in gone or {r.along, r.across} & gone or r.id in whole}
    gone |= {r.id for r in sketch.repeats if not set(r.of) - gone}
    gone |= {p.id for p in sketch.projected if p.id in whole}
    lost = {p.id for p in sketch.projected if p.id in gone} | {r.id for r in sketch.repeats if r.id in gone}
    gone |= {e.id for e in sketch.entities if e.id.partition(".")[0] in lost and "." in e.id}
    while more := {e.id for e in sketch.entities if e.id not in gone and gone & set(stands_on(e))}:
        gone |= more
    entities = [e for e in sketch.entities if e.id not in gone]
    held = {p for e in entities for p in stands_on(e)}
    was_held = {p for e in sketch.entities for p in stands_on(e)}
    gone |= {e.id for e in entities if isinstance(e, Point) and e.id in was_held and e.id not in held}
    return msgspec.structs.replace(
        sketch,
        entities=tuple(e for e in entities if e.id not in gone),
        relations=tuple(_without(r, gone) for r in sketch.relations if r.id not in gone and _stands(r, gone)),
        dimensions=tuple(d for d in sketch.dimensions if d.id not in gone and not gone & set(d.of)),
        repeats=tuple(
            msgspec.structs.replace(r, of=tuple(i for i in r.of if i not in gone))
            for r in sketch.repeats
            if r.id not in gone
        ),
        projected=tuple(p for p in sketch.projected if p.id not in gone),
        stations=None if gone else sketch.stations,
    )


def _stands(r: Relation, gone: set[str]) -> bool:
    """Whether a relation still says something; one of many elements may lose some of them."""
    if r.kind in ("equal", "concentric", "collinear"):
        return len(set(r.of) - gone) > 1
    return not gone & set(r.of)


def _without(r: Relation, gone: set[str]) -> Relation:
    return msgspec.structs.replace(r, of=tuple(i for i in r.of if i not in gone)) if gone & set(r.of) else r


def toggle_construction(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    chosen = set(ids)
    entities = tuple(
        msgspec.structs.replace(e, construction=not e.construction)
        if e.id in chosen and not isinstance(e, Point)
        else e
        for e in sketch.entities
    )
    return msgspec.structs.replace(sketch, entities=entities, stations=None)


def link(sketch: Sketch, curve: str, face: str) -> Sketch:
    """Make ``curve`` a construction line that stands for a face of the solid."""
    entities = tuple(
        msgspec.structs.replace(e, construction=True, link=face) if e.id == curve and not isinstance(e, Point) else e
        for e in sketch.entities
    )
    return msgspec.structs.replace(sketch, entities=entities, stations=None)
