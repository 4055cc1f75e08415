"""What all changes of curves share: new end points, points nobody uses any more, neighbours."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

import msgspec

from ...tolerance import ONE_PLACE
from ..curves import at as place_on
from ..intersect import meet
from ..make.draw import fresh, grown
from ..model import Arc, Curve, Line, Point, Relation, RelationKind, Sketch, ends_of, stands_on
from ..refusal import SketchError

XY = tuple[float, float]


def replaced(sketch: Sketch, *entities: Any) -> Sketch:
    """With elements exchanged for those of the same id."""
    by_id = {e.id: e for e in entities}
    return msgspec.structs.replace(sketch, entities=tuple(by_id.get(e.id, e) for e in sketch.entities), stations=None)


def related(sketch: Sketch, kind: RelationKind, *of: str) -> Sketch:
    """With a relation that follows from the change."""
    return grown(sketch, (), [Relation(fresh(sketch, "r"), kind, of)])


def new_point(sketch: Sketch, x: float, y: float) -> tuple[Sketch, str]:
    id_ = fresh(sketch, "p")
    return grown(sketch, [Point(id_, x, y)]), id_


def without_relations(sketch: Sketch, curve: str, kinds: Iterable[str]) -> Sketch:
    """Without relations of ``kinds`` on a curve, which its new length or shape would break."""
    gone = set(kinds)
    return msgspec.structs.replace(
        sketch, relations=tuple(r for r in sketch.relations if not (r.kind in gone and curve in r.of))
    )


def swept(sketch: Sketch, before: Sketch) -> Sketch:
    """Without points that held up a curve in ``before`` and now hold nothing, no relation and no size."""
    was_held = {p for e in before.entities for p in stands_on(e)}
    held = {p for e in sketch.entities for p in stands_on(e)}
    spoken = {i for r in sketch.relations for i in r.of if r.kind not in ("on", "coincident")}
    spoken |= {i for d in sketch.dimensions for i in d.of} | {r.center for r in sketch.repeats}
    both_on = {p for p in was_held if sum(r.kind == "on" and r.of[0] == p for r in sketch.relations) > 1}
    gone = {e.id for e in sketch.entities if isinstance(e, Point) and e.id in was_held - held - spoken - both_on}
    return msgspec.structs.replace(
        sketch,
        entities=tuple(e for e in sketch.entities if e.id not in gone),
        relations=tuple(r for r in sketch.relations if not gone & set(r.of)),
    )


def curve_named(sketch: Sketch, id_: str) -> Curve:
    """Raises SketchError for what is no curve."""
    for curve in sketch.curves():
        if curve.id == id_:
            return curve
    raise SketchError(f"{id_} is no line or arc.")


def meetings(sketch: Sketch, id_: str, beyond: bool = False) -> list[tuple[float, XY, str]]:
    """Where other curves meet this one: parameter, place, the other curve. Sorted along the curve."""
    points, curve = sketch.points(), curve_named(sketch, id_)
    found = [
        (m.s, (m.x, m.y), other.id)
        for other in sketch.curves()
        if other.id != id_
        for m in meet(curve, other, points, beyond)
    ]
    return sorted(found)


def end_at(sketch: Sketch, at: XY, other: str) -> tuple[Sketch, str]:
    """A point where a curve now ends: the other curve's own end if it lies there, else a new one on that curve."""
    points = sketch.points()
    for end in ends_of(sketch.get(other)) or ():
        if math.hypot(points[end].x - at[0], points[end].y - at[1]) < ONE_PLACE:
            return sketch, end
    sketch, id_ = new_point(sketch, *at)
    return related(sketch, "on", id_, other), id_


def with_end(curve: Line | Arc, first: bool, point: str) -> Line | Arc:
    return msgspec.structs.replace(curve, a=point) if first else msgspec.structs.replace(curve, b=point)


def place(sketch: Sketch, curve: Curve, t: float) -> XY:
    return place_on(curve, sketch.points(), t)


def users(sketch: Sketch, point: str) -> list[Line | Arc]:
    """Lines and arcs that end at a point, or at one lying on it."""
    points = sketch.points()
    here = points[point]
    same = {p.id for p in points.values() if math.hypot(p.x - here.x, p.y - here.y) < ONE_PLACE}
    return [c for c in sketch.curves() if isinstance(c, Line | Arc) and same & {c.a, c.b}]
