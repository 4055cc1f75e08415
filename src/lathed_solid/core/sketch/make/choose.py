"""Which relations and sizes the chosen elements can take, and how they are called."""

from __future__ import annotations

import re
from collections.abc import Iterable

from ..kinds import RELATIONS
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Ellipse,
    Line,
    Point,
    Relation,
    RelationKind,
    Sketch,
    Spline,
    Text,
    ends_of,
)
from ..refusal import NoElement
from .draw import fresh

_LETTER = {Point: "p", Line: "l", Circle: "c", Arc: "c", Ellipse: "e", Spline: "s", Text: "t"}

_SPOKEN = {"p": "point", "l": "line", "c": "circle", "e": "ellipse", "s": "spline", "t": "text"}


def letter(sketch: Sketch, id_: str) -> str:
    if id_ in (ORIGIN, ALONG, ACROSS):
        return "p" if id_ == ORIGIN else "l"
    return _LETTER[type(sketch.get(id_))]


def letters(sketch: Sketch, ids: Iterable[str]) -> str:
    """The chosen elements as sorted letters."""
    return "".join(sorted(letter(sketch, i) for i in ids))


def possible_relations(sketch: Sketch, ids: tuple[str, ...]) -> list[RelationKind]:
    """Which relations the chosen elements can take."""
    chosen = letters(sketch, ids)
    found = [kind for kind, spec in RELATIONS.items() if spec.needs and re.fullmatch(spec.needs, chosen)]
    if "midpoint" in found and any(isinstance(_entity(sketch, i), Circle) for i in ids):
        found.remove("midpoint")
    if chosen in ("ls", "cs", "ss") and _joint(sketch, ids) is None:
        found.remove("tangent")
    built_in = set(ids) & {ORIGIN, ALONG, ACROSS}
    if built_in and chosen in ("p", "l"):
        return []
    return found


def _entity(sketch: Sketch, id_: str) -> object:
    return None if id_ in (ORIGIN, ALONG, ACROSS) else sketch.get(id_)


def _joint(sketch: Sketch, ids: tuple[str, ...]) -> tuple[str, str] | None:
    """Ends that two curves share."""
    entities = [sketch.get(i) for i in ids if i not in (ALONG, ACROSS)]
    if len(entities) < 2:
        return None
    points = sketch.points()
    for p in ends_of(entities[0]) or ():
        for q in ends_of(entities[1]) or ():
            a, b = points[p], points[q]
            if abs(a.x - b.x) < 1e-6 and abs(a.y - b.y) < 1e-6:
                return p, q
    return None


def make_relation(sketch: Sketch, kind: RelationKind, ids: tuple[str, ...]) -> Relation:
    """A relation on the chosen elements, in the order its kind wants (points first, then in the order chosen).

    ``spaced`` points are put in the order in which they lie; the line of symmetry comes last.
    """
    order = {"p": 0, "l": 1, "c": 2, "e": 2, "s": 2, "t": 2}
    if kind == "symmetric":
        axis = next(i for i in reversed(ids) if letter(sketch, i) == "l")
        return Relation(fresh(sketch, "r"), kind, (*(i for i in ids if i != axis), axis))
    if kind == "spaced":
        return Relation(fresh(sketch, "r"), kind, _in_line(sketch, ids))
    return Relation(fresh(sketch, "r"), kind, tuple(sorted(ids, key=lambda i: order[letter(sketch, i)])))


def _in_line(sketch: Sketch, ids: tuple[str, ...]) -> tuple[str, ...]:
    points = sketch.points()
    places = {i: (0.0, 0.0) if i == ORIGIN else (points[i].x, points[i].y) for i in ids}
    xs, ys = zip(*places.values(), strict=True)
    k = 0 if max(xs) - min(xs) >= max(ys) - min(ys) else 1
    return tuple(sorted(ids, key=lambda i: places[i][k]))


def ready_for(sketch: Sketch, relation: Relation) -> Sketch:
    """The sketch with what a relation needs and lacks: a spline's handle at the end that is to be smooth."""
    from .freehand import with_handle

    if relation.kind != "tangent":
        return sketch
    joint = _joint(sketch, relation.of)
    if joint is None:
        return sketch
    for id_ in relation.of:
        entity = _entity(sketch, id_)
        if isinstance(entity, Spline):
            at_start = entity.through[0] in joint
            if not (entity.start if at_start else entity.end):
                sketch = with_handle(sketch, entity.id, at_start)
    return sketch


def spoken(sketch: Sketch, id_: str) -> str:
    """An element as it is called in a message: ``line l3``, ``arc a1``, ``the origin``."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return {ORIGIN: "the origin", ALONG: "the axis", ACROSS: "the cross axis"}[id_]
    try:
        entity = sketch.get(id_)
    except NoElement:
        return id_
    return f"arc {id_}" if isinstance(entity, Arc) else f"{_SPOKEN[letter(sketch, id_)]} {id_}"


def in_words(sketch: Sketch, id_: str) -> str:
    """A relation or dimension named for a message."""
    for r in sketch.relations:
        if r.id == id_:
            return f"{r.kind} {' '.join(r.of)}" + (" (assumed)" if r.assumed else "")
    for d in sketch.dimensions:
        if d.id == id_:
            return f"{d.kind.replace('_', ' ')} {d.text}"
    return spoken(sketch, id_)
