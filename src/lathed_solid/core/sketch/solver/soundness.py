"""What of a sketch hangs together: elements that stand on others that are there, relations that can be stated.

A sketch made here always does; one from a damaged file need not.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple, TypeVar

import msgspec

from ..bounds import can_be
from ..kinds import RELATIONS
from ..model import (
    ACROSS,
    ALONG,
    BUILT_IN,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    Entity,
    Line,
    Point,
    Projected,
    Relation,
    Repeat,
    Sketch,
    Station,
    Text,
    stands_on,
)
from ..refusal import SketchError
from .formulate import Formulation

Piece = Entity | Relation | Dimension | Repeat | Projected | Station
Item = TypeVar("Item", Relation, Dimension)
Named = TypeVar("Named", bound=Piece)


class Sound(NamedTuple):
    """The sketch without what does not hang together, and those pieces."""

    sketch: Sketch
    aside: tuple[Piece, ...]


def sound(sketch: Sketch) -> Sound:
    """The sound part of a sketch; the very same one when it is sound."""
    aside: list[Piece] = []
    entities = _standing(_once(sketch.entities, aside), aside)
    there = {e.id for e in entities} | set(BUILT_IN)
    repeats = _once(sketch.repeats, aside)
    relations = [r for r in _once(sketch.relations, aside) if _goes(r, there, aside)]
    dimensions = [d for d in _once(sketch.dimensions, aside) if _goes(d, there | {r.id for r in repeats}, aside)]
    kept_repeats = [r for r in repeats if _repeats(r, there, aside)]
    projected = _once(sketch.projected, aside)
    stations = None if sketch.stations is None else tuple(_once(sketch.stations, aside))
    made = sketch
    if aside:
        made = msgspec.structs.replace(
            sketch,
            entities=tuple(entities),
            relations=tuple(relations),
            dimensions=tuple(dimensions),
            repeats=tuple(kept_repeats),
            projected=tuple(projected),
            stations=stations,
        )
    return _statable(made, aside)


def _once(items: Iterable[Named], aside: list[Piece]) -> list[Named]:
    """Each id once: the first that has it."""
    seen: set[str] = set()
    kept = []
    for item in items:
        if item.id and item.id not in seen:
            kept.append(item)
        else:
            aside.append(item)
        seen.add(item.id)
    return kept


def _standing(entities: list[Entity], aside: list[Piece]) -> list[Entity]:
    """Elements of sizes that can be, whose points are there and are points."""
    points = {e.id for e in entities if isinstance(e, Point)} | {ORIGIN}
    curves = {e.id for e in entities if isinstance(e, Line | Arc | Circle)} | {ALONG, ACROSS}
    kept: list[Entity] = []
    for entity in entities:
        needed = curves if isinstance(entity, Text) else points
        if entity.id not in BUILT_IN and set(stands_on(entity)) <= needed and can_be(entity):
            kept.append(entity)
        else:
            aside.append(entity)
    if len(kept) < len(entities):
        return _standing(kept, aside)  # what stood on those falls too
    return kept


def _goes(item: Relation | Dimension, there: set[str], aside: list[Piece]) -> bool:
    """Whether all that a relation or dimension speaks of is there, and enough of it."""
    own = item.of[:1] if item.kind == "pierce" else item.of
    least = RELATIONS[item.kind].least if isinstance(item, Relation) else 1
    twice = isinstance(item, Relation) and len(set(item.of)) < len(item.of)
    if len(item.of) >= least and set(own) <= there and not twice:
        return True
    aside.append(item)
    return False


def _repeats(repeat: Repeat, there: set[str], aside: list[Piece]) -> bool:
    lines = {repeat.along, repeat.across} if repeat.kind != "ring" else set()
    if repeat.of and {*repeat.of, *lines, *((repeat.center,) if repeat.center else ())} <= there:
        return True
    aside.append(repeat)
    return False


#: What stating a sketch that does not hang together ends in.
_BROKEN = (SketchError, KeyError, IndexError, ValueError, TypeError, AttributeError, ZeroDivisionError)


def _can_be_stated(sketch: Sketch) -> bool:
    try:
        Formulation(sketch, dict.fromkeys((d.id for d in sketch.dimensions), 1.0))
    except _BROKEN:
        return False
    return True


def _statable(sketch: Sketch, aside: list[Piece]) -> Sound:
    """Without what the solver cannot state: each relation and dimension is tried by itself, then all together."""
    if _can_be_stated(sketch):
        return Sound(sketch, tuple(aside))
    plain = Formulation(msgspec.structs.replace(sketch, relations=(), dimensions=(), repeats=()), {})
    relations = tuple(r for r in sketch.relations if _tried(plain, r, aside))
    dimensions = tuple(d for d in sketch.dimensions if d.reference or _tried(plain, d, aside))
    made = msgspec.structs.replace(sketch, relations=relations, dimensions=dimensions)
    if not _can_be_stated(made):
        aside += [*made.relations, *made.dimensions, *made.repeats]
        made = msgspec.structs.replace(made, relations=(), dimensions=(), repeats=())
    return Sound(made, tuple(aside))


def _tried(plain: Formulation, item: Item, aside: list[Piece]) -> bool:
    try:
        made = plain.only(item, {item.id: 1.0})
        if all(math.isfinite(v) for v in made.x):
            return True
    except _BROKEN:
        pass
    aside.append(item)
    return False
