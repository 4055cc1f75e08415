"""Drawing and editing sketches: pure functions from sketch to sketch."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

import msgspec

from ..model import (
    ACROSS,
    ALONG,
    BUILT_IN,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    DimensionKind,
    Entity,
    Line,
    Point,
    Relation,
    RelationKind,
    Sketch,
)


class Spot(NamedTuple):
    """Where a click lands: a place in mm, and the point or line it snapped to (empty for none)."""

    x: float
    y: float
    point: str = ""
    curve: str = ""


def fresh(sketch: Sketch, prefix: str) -> str:
    """An id not yet used by any element, relation or dimension."""
    taken = {e.id for e in (*sketch.entities, *sketch.relations, *sketch.dimensions)} | set(BUILT_IN)
    number = 1
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


def _place(sketch: Sketch, spot: Spot) -> tuple[Sketch, str]:
    """The point at a spot: the one snapped to, or a new one with the relation the snap means."""
    if spot.point and spot.point != ORIGIN:
        return sketch, spot.point
    id_ = fresh(sketch, "p")
    sketch = grown(sketch, [Point(id_, spot.x, spot.y)])
    if spot.point == ORIGIN:
        return grown(sketch, (), [Relation(fresh(sketch, "r"), "coincident", (id_, ORIGIN), True)]), id_
    if spot.curve:
        return grown(sketch, (), [Relation(fresh(sketch, "r"), "on", (id_, spot.curve), True)]), id_
    return sketch, id_


def add_line(sketch: Sketch, a: Spot, b: Spot, construction: bool = False) -> tuple[Sketch, str]:
    """A line; level or upright ones get that relation, marked as assumed. Raises ValueError when it has no length."""
    if math.hypot(b.x - a.x, b.y - a.y) < 1e-6 or (a.point and a.point == b.point):
        raise ValueError("A line needs two different ends.")
    sketch, p = _place(sketch, a)
    sketch, q = _place(sketch, b)
    id_ = fresh(sketch, "l")
    sketch = grown(sketch, [Line(id_, p, q, construction)])
    kind: RelationKind | None = None
    if abs(b.y - a.y) < 1e-9:
        kind = "horizontal"
    elif abs(b.x - a.x) < 1e-9:
        kind = "vertical"
    both_on_axis = any(all(_on(sketch, point, axis) for point in (p, q)) for axis in (ALONG, ACROSS))
    if kind and not both_on_axis:
        sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), kind, (id_,), True)])
    return sketch, id_


def _on(sketch: Sketch, point: str, axis: str) -> bool:
    """Whether relations already hold a point on an axis."""
    return any(
        (r.kind == "on" and r.of == (point, axis)) or (r.kind == "coincident" and set(r.of) == {point, ORIGIN})
        for r in sketch.relations
    )


def add_rectangle(sketch: Sketch, a: Spot, b: Spot) -> Sketch:
    """Four lines with level and upright relations. Raises ValueError when it has no area."""
    if abs(a.x - b.x) < 1e-6 or abs(a.y - b.y) < 1e-6:
        raise ValueError("A rectangle needs two opposite corners.")
    sketch, p = _place(sketch, a)
    sketch, r = _place(sketch, b)
    sketch, q = _place(sketch, Spot(b.x, a.y))
    sketch, s = _place(sketch, Spot(a.x, b.y))
    for start, end, kind in ((p, q, "horizontal"), (q, r, "vertical"), (r, s, "horizontal"), (s, p, "vertical")):
        id_ = fresh(sketch, "l")
        sketch = grown(sketch, [Line(id_, start, end)])
        sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), kind, (id_,), True)])  # type: ignore[arg-type]
    return sketch


def add_circle(sketch: Sketch, center: Spot, radius: float) -> tuple[Sketch, str]:
    """Raises ValueError for a radius of nothing."""
    if radius < 1e-6:
        raise ValueError("A circle needs a radius.")
    sketch, c = _place(sketch, center)
    id_ = fresh(sketch, "c")
    return grown(sketch, [Circle(id_, c, radius)]), id_


def add_arc(sketch: Sketch, a: Spot, b: Spot, through: Spot) -> tuple[Sketch, str]:
    """An arc from ``a`` to ``b`` over ``through``. Raises ValueError when the three lie on a line."""
    d = 2 * (a.x * (b.y - through.y) + b.x * (through.y - a.y) + through.x * (a.y - b.y))
    if abs(d) < 1e-9:
        raise ValueError("An arc needs a third place off the straight line.")
    sa, sb, st = a.x**2 + a.y**2, b.x**2 + b.y**2, through.x**2 + through.y**2
    cx = (sa * (b.y - through.y) + sb * (through.y - a.y) + st * (a.y - b.y)) / d
    cy = (sa * (through.x - b.x) + sb * (a.x - through.x) + st * (b.x - a.x)) / d
    sketch, p = _place(sketch, a)
    sketch, q = _place(sketch, b)
    sketch, c = _place(sketch, Spot(cx, cy))
    left = (b.x - a.x) * (through.y - a.y) - (b.y - a.y) * (through.x - a.x) > 0
    start, end = (q, p) if left else (p, q)
    id_ = fresh(sketch, "a")
    return grown(sketch, [Arc(id_, c, start, end)]), id_


def delete(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """Without these elements, relations and dimensions, and without what cannot stand without them."""
    gone = set(ids)
    while True:
        more = {
            e.id
            for e in sketch.entities
            if e.id not in gone and any(getattr(e, f, None) in gone for f in ("a", "b", "center"))
        }
        if not more:
            break
        gone |= more
    entities = [e for e in sketch.entities if e.id not in gone]
    held = {getattr(e, f) for e in entities for f in ("a", "b", "center") if hasattr(e, f)}
    was_held = {getattr(e, f) for e in sketch.entities for f in ("a", "b", "center") if hasattr(e, f)}
    gone |= {e.id for e in entities if isinstance(e, Point) and e.id in was_held and e.id not in held}
    return msgspec.structs.replace(
        sketch,
        entities=tuple(e for e in entities if e.id not in gone),
        relations=tuple(r for r in sketch.relations if r.id not in gone and not gone & set(r.of)),
        dimensions=tuple(d for d in sketch.dimensions if d.id not in gone and not gone & set(d.of)),
        stations=None if gone else sketch.stations,
    )


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


#: Relation kind: what must be chosen (p point, l line, c circle or arc), as sorted letters.
_NEEDS: dict[RelationKind, tuple[str, ...]] = {
    "coincident": ("pp",),
    "horizontal": ("l", "pp"),
    "vertical": ("l", "pp"),
    "parallel": ("ll",),
    "perpendicular": ("ll",),
    "tangent": ("cl", "cc"),
    "equal": ("ll", "cc"),
    "midpoint": ("lp",),
    "symmetric": ("lpp",),
    "on": ("lp", "cp"),
    "fixed": ("p",),
}


def letters(sketch: Sketch, ids: Iterable[str]) -> str:
    """The chosen elements as sorted letters: p, l, c."""

    def letter(id_: str) -> str:
        if id_ == ORIGIN:
            return "p"
        if id_ in (ALONG, ACROSS):
            return "l"
        return {Point: "p", Line: "l", Circle: "c", Arc: "c"}[type(sketch.get(id_))]

    return "".join(sorted(letter(i) for i in ids))


def possible_relations(sketch: Sketch, ids: tuple[str, ...]) -> list[RelationKind]:
    """Which relations the chosen elements can take."""
    chosen = letters(sketch, ids)
    return [kind for kind, needs in _NEEDS.items() if chosen in needs]


def make_relation(sketch: Sketch, kind: RelationKind, ids: tuple[str, ...]) -> Relation:
    """A relation on the chosen elements, in the order its kind wants (points first, lines before circles)."""
    order = {"p": 0, "l": 1, "c": 2}
    of = tuple(sorted(ids, key=lambda i: order[letters(sketch, (i,))]))
    return Relation(fresh(sketch, "r"), kind, of)


def possible_dimensions(sketch: Sketch, ids: tuple[str, ...]) -> list[tuple[DimensionKind, str]]:
    """The sizes the chosen elements can take besides the usual one: kind and a short label."""
    chosen = letters(sketch, ids)
    if chosen == "pp":
        return [("distance", "straight"), ("along", "along"), ("across", "across")]
    if chosen == "c":
        return [("diameter", "Ø"), ("radius", "R")]
    if chosen != "l" or ids[0] in (ALONG, ACROSS):
        return []
    found: list[tuple[DimensionKind, str]] = [("distance", "length")]
    if sketch.plane.base != "end" and abs(_direction(sketch, ids[0])[1]) < 1e-9:
        found.insert(0, ("diameter", "Ø"))
    return found


def make_dimension(
    sketch: Sketch, ids: tuple[str, ...], text: str, kind: DimensionKind | None = None
) -> tuple[Dimension, float]:
    """The dimension the chosen elements ask for, and its present value (mm, radians).

    In a turned profile a level line or a point gives a diameter. Raises ValueError when they give none.
    """
    chosen = letters(sketch, ids)
    id_ = fresh(sketch, "d")
    if chosen == "c":
        made: DimensionKind = kind or ("diameter" if isinstance(sketch.get(ids[0]), Circle) else "radius")
        value = _radius(sketch, ids[0])
        return Dimension(id=id_, kind=made, of=ids, text=text), 2 * value if made == "diameter" else value
    if chosen == "l" and ids[0] not in (ALONG, ACROSS):
        return _line_dimension(sketch, id_, ids[0], text, kind)
    if chosen == "p" and sketch.turned and ids[0] != ORIGIN:
        y = _at(sketch, ids[0])[1]
        return Dimension(id=id_, kind="diameter", of=ids, text=text, sense=_sign(y)), 2 * abs(y)
    if chosen in ("pp", "lp", "ll", "cl"):
        return _pair_dimension(sketch, id_, ids, text, kind, chosen)
    raise ValueError("Choose a line, a circle, two points, a point and a line, or two lines.")


def _line_dimension(
    sketch: Sketch, id_: str, line: str, text: str, kind: DimensionKind | None
) -> tuple[Dimension, float]:
    entity = sketch.get(line)
    assert isinstance(entity, Line)
    (ax, ay), (bx, by) = _at(sketch, entity.a), _at(sketch, entity.b)
    level = abs(ay - by) < 1e-6
    if (kind == "diameter" and level and sketch.plane.base != "end") or (kind is None and level and sketch.turned):
        return Dimension(id=id_, kind="diameter", of=(line,), text=text, sense=_sign(ay)), 2 * abs(ay)
    ends = (entity.a, entity.b)
    if kind in (None, "distance"):
        return Dimension(id=id_, kind="distance", of=ends, text=text), math.hypot(bx - ax, by - ay)
    value = bx - ax if kind == "along" else by - ay
    return Dimension(id=id_, kind=kind, of=ends, text=text, sense=_sign(value)), abs(value)


def _pair_dimension(
    sketch: Sketch, id_: str, ids: tuple[str, ...], text: str, kind: DimensionKind | None, chosen: str
) -> tuple[Dimension, float]:
    lines = [i for i in ids if letters(sketch, (i,)) == "l"]
    if chosen == "ll":
        first, second = (_direction(sketch, i) for i in lines)
        turn = math.atan2(first[0] * second[1] - first[1] * second[0], first[0] * second[0] + first[1] * second[1])
        if kind in (None, "angle") and abs(math.sin(turn)) > 1e-6:
            return Dimension(id=id_, kind="angle", of=ids, text=text, sense=_sign(turn)), abs(turn)
        upright = all(abs(_direction(sketch, i)[0]) < 1e-6 for i in lines)
        if upright and kind in (None, "along"):
            value = _at(sketch, lines[1])[0] - _at(sketch, lines[0])[0]
            return Dimension(id=id_, kind="along", of=ids, text=text, sense=_sign(value)), abs(value)
    if lines:
        other = next((i for i in ids if i != lines[0]), lines[0])
        value = _offset(sketch, lines[0], _at(sketch, other))
        gap = abs(value) - (_radius(sketch, other) if chosen == "cl" else 0.0)
        return Dimension(id=id_, kind="distance", of=(lines[0], other), text=text, sense=_sign(value)), gap
    (ax, ay), (bx, by) = (_at(sketch, i) for i in ids)
    if kind in ("along", "across"):
        value = bx - ax if kind == "along" else by - ay
        return Dimension(id=id_, kind=kind, of=ids, text=text, sense=_sign(value)), abs(value)
    return Dimension(id=id_, kind="distance", of=ids, text=text), math.hypot(bx - ax, by - ay)


def _sign(value: float) -> int:
    return -1 if value < 0 else 1


def _at(sketch: Sketch, id_: str) -> tuple[float, float]:
    """Where a dimension takes hold of an element."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return 0.0, 0.0
    entity = sketch.get(id_)
    if isinstance(entity, Line):
        entity = sketch.get(entity.a)
    elif isinstance(entity, Circle | Arc):
        entity = sketch.get(entity.center)
    assert isinstance(entity, Point)
    return entity.x, entity.y


def _direction(sketch: Sketch, line: str) -> tuple[float, float]:
    if line in (ALONG, ACROSS):
        return (1.0, 0.0) if line == ALONG else (0.0, 1.0)
    entity = sketch.get(line)
    assert isinstance(entity, Line)
    (ax, ay), (bx, by) = _at(sketch, entity.a), _at(sketch, entity.b)
    length = math.hypot(bx - ax, by - ay) or 1.0
    return (bx - ax) / length, (by - ay) / length


def _offset(sketch: Sketch, line: str, p: tuple[float, float]) -> float:
    (ax, ay), (ux, uy) = _at(sketch, line), _direction(sketch, line)
    return ux * (p[1] - ay) - uy * (p[0] - ax)


def _radius(sketch: Sketch, id_: str) -> float:
    entity = sketch.get(id_)
    if isinstance(entity, Circle):
        return entity.radius
    assert isinstance(entity, Arc)
    return math.dist(_at(sketch, id_), _at(sketch, entity.a))


def in_words(sketch: Sketch, id_: str) -> str:
    """A relation or dimension named for a message."""
    for r in sketch.relations:
        if r.id == id_:
            return f"{r.kind} ({', '.join(r.of)})" + (" (assumed)" if r.assumed else "")
    for d in sketch.dimensions:
        if d.id == id_:
            return f"{d.kind} {d.text}"
    return id_
