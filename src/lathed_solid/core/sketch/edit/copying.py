"""Mirroring, moving, turning, scaling and copying what is chosen."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

import msgspec

from ..copies import copy_of, is_given
from ..kinds import RELATIONS
from ..make.draw import fresh, grown
from ..make.size import direction, place
from ..model import (
    ACROSS,
    ALONG,
    Arc,
    Circle,
    Dimension,
    Ellipse,
    Entity,
    Line,
    Point,
    Relation,
    Sketch,
    Spline,
    Text,
    whole,
)
from ..refusal import SketchError
from .ends import XY, replaced

_PREFIX = {Point: "p", Line: "l", Circle: "c", Arc: "a", Ellipse: "e", Spline: "s", Text: "t"}


class Placing(NamedTuple):
    """Where a place goes, the factor of sizes, and whether the drawing turns over."""

    go: Callable[[XY], XY]
    factor: float = 1.0
    over: bool = False


def shift(dx: float, dy: float) -> Placing:
    """By ``dx``, ``dy`` mm."""
    return Placing(lambda p: (p[0] + dx, p[1] + dy))


def turned(about: XY, angle: float) -> Placing:
    """About a place by ``angle`` radians."""
    c, s = math.cos(angle), math.sin(angle)
    x, y = about
    return Placing(lambda p: (x + c * (p[0] - x) - s * (p[1] - y), y + s * (p[0] - x) + c * (p[1] - y)))


def scaled(about: XY, factor: float) -> Placing:
    """About a place. Raises SketchError for a factor of nothing or less."""
    if factor <= 0:
        raise SketchError("A scale must be above zero.")
    x, y = about
    return Placing(lambda p: (x + factor * (p[0] - x), y + factor * (p[1] - y)), factor)


def over(sketch: Sketch, axis: str) -> Placing:
    """To the other side of a line."""
    (ax, ay), (ux, uy) = place(sketch, axis), direction(sketch, axis)

    def go(p: XY) -> XY:
        away = ux * (p[1] - ay) - uy * (p[0] - ax)
        return p[0] + 2 * away * uy, p[1] - 2 * away * ux

    return Placing(go, over=True)


def placed_copy(entity: Entity, placing: Placing, new: Mapping[str, str]) -> Entity:
    """A copy elsewhere; ``new`` maps the ids of what it stands on (and its own) to those of the copy."""
    id_ = new.get(entity.id, entity.id)
    renamed: dict[str, Any] = {"id": id_}
    for field in ("a", "b", "center", "on", "start", "end"):
        if isinstance(value := getattr(entity, field, None), str):
            renamed[field] = new.get(value, value)
    if isinstance(entity, Point):
        x, y = placing.go((entity.x, entity.y))
        return Point(id_, x, y)
    if isinstance(entity, Spline):
        renamed["through"] = tuple(new.get(i, i) for i in entity.through)
    elif isinstance(entity, Arc) and placing.over:
        renamed["a"], renamed["b"] = renamed["b"], renamed["a"]
    elif isinstance(entity, Circle):
        renamed["radius"] = entity.radius * placing.factor
    elif isinstance(entity, Ellipse):
        renamed["minor"] = entity.minor * placing.factor
    elif isinstance(entity, Text):
        renamed["height"] = entity.height * placing.factor
    if hasattr(entity, "link"):
        renamed["link"] = ""
    return msgspec.structs.replace(entity, **renamed)


def _new_names(sketch: Sketch, ids: tuple[str, ...]) -> dict[str, str]:
    """A free id for the copy of each element."""
    new: dict[str, str] = {}
    taken = sketch
    for id_ in ids:
        new[id_] = fresh(taken, _PREFIX[type(sketch.get(id_))])
        taken = grown(taken, [Point(new[id_], 0.0, 0.0)])
    return new


def copied(sketch: Sketch, ids: tuple[str, ...], placing: Placing, turns: bool) -> tuple[Sketch, dict[str, str]]:
    """A free copy with the relations among what was copied, without sizes. ``turns`` drops level and upright ones."""
    new = _new_names(sketch, whole(sketch, ids))
    sketch = grown(sketch, [placed_copy(sketch.get(i), placing, new) for i in new])
    kinds = {k for k, spec in RELATIONS.items() if spec.turns or (not turns and k in ("horizontal", "vertical"))}
    for r in sketch.relations:
        if r.kind in kinds and all(i in new for i in r.of):
            made = Relation(fresh(sketch, "r"), r.kind, tuple(new[i] for i in r.of), r.assumed)
            sketch = grown(sketch, (), [made])
    return sketch, new


def mirror(sketch: Sketch, ids: tuple[str, ...], axis: str, linked: bool) -> tuple[Sketch, dict[str, str]]:
    """What is chosen on the other side of a line; ``linked`` keeps it the image of the original.

    Points on the line are shared, so that an outline mirrored about its own edge line closes. Raises SketchError.
    """
    chosen = tuple(i for i in ids if i != axis)
    if not chosen:
        raise SketchError("Choose what to mirror, then the line to mirror it about.")
    placing = over(sketch, axis)
    held = [sketch.get(i) for i in whole(sketch, chosen)]
    shared = {e.id for e in held if isinstance(e, Point) and math.dist(placing.go((e.x, e.y)), (e.x, e.y)) < 2e-6}
    new = _new_names(sketch, tuple(e.id for e in held if e.id not in shared)) | {i: i for i in shared}
    sketch = grown(sketch, [placed_copy(e, placing, new) for e in held if e.id not in shared])
    if not linked:
        for r in sketch.relations:
            if RELATIONS[r.kind].turns and all(i in new for i in r.of) and any(new[i] != i for i in r.of):
                made = Relation(fresh(sketch, "r"), r.kind, tuple(new[i] for i in r.of), r.assumed)
                sketch = grown(sketch, (), [made])
        return sketch, new
    for old, image in new.items():
        entity = sketch.get(old)
        kind = (
            "symmetric" if isinstance(entity, Point) else "equal" if isinstance(entity, Circle | Ellipse | Text) else ""
        )
        if old == image:
            if axis not in (ALONG, ACROSS) and not _holds(sketch, old, axis):
                sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), "on", (old, axis))])
            continue
        if kind:
            of = (old, image, axis) if kind == "symmetric" else (old, image)
            sketch = grown(sketch, (), [Relation(fresh(sketch, "r"), kind, of)])  # type: ignore[arg-type]
    return sketch, new


def _holds(sketch: Sketch, point: str, axis: str) -> bool:
    line = sketch.get(axis)
    on = any(r.kind in ("on", "midpoint") and r.of == (point, axis) for r in sketch.relations)
    return on or (isinstance(line, Line) and point in (line.a, line.b))


def moved(sketch: Sketch, ids: tuple[str, ...], placing: Placing) -> Sketch:
    """What is chosen elsewhere, everything else where it was. Its relations then say whether it may stay there.

    Raises SketchError for what comes from the solid or follows something else.
    """
    chosen = set(whole(sketch, ids))
    for id_ in chosen:
        if is_given(sketch, id_):
            raise SketchError("Lines taken from the solid cannot be moved on the plate.")
        if copy_of(sketch, id_):
            raise SketchError("Linked copies follow their original. Move the original.")
    same: dict[str, str] = {}
    return replaced(sketch, *(placed_copy(sketch.get(i), placing, same) for i in chosen))


def ties(sketch: Sketch, ids: tuple[str, ...]) -> list[str]:
    """Relations and sizes between what is chosen and the rest: what may hold it where it is."""
    chosen = set(whole(sketch, ids))
    stated: list[Relation | Dimension] = [*sketch.relations, *(d for d in sketch.dimensions if not d.reference)]
    between = [s.id for s in stated if chosen & set(s.of) and set(s.of) - chosen]
    return between + [r.id for r in sketch.relations if r.kind == "fixed" and chosen & set(r.of)]
