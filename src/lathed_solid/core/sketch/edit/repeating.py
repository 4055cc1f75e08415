"""Rows, grids and rings of sketch geometry, with count and pitch linked."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Literal

import msgspec

from ...quantity import negated
from ..copies import Copy, copy_of, is_given
from ..make.draw import delete, fresh, grown
from ..make.size import direction, place
from ..model import ACROSS, ALONG, ORIGIN, Dimension, Line, Point, Relation, Repeat, Sketch, whole
from ..refusal import SketchError
from .copying import Placing, placed_copy, shift, turned

MOST = 500


def add_repeat(
    sketch: Sketch,
    kind: Literal["row", "grid", "ring"],
    ids: tuple[str, ...],
    counts: tuple[tuple[str, int], ...],
    pitches: tuple[tuple[str, float], ...],
    about: tuple[str, ...] = (),
) -> tuple[Sketch, str]:
    """Linked copies of what is chosen.

    ``counts`` and ``pitches`` are texts with their values (mm; radians for a ring, none of them for a full turn),
    ``about`` the directions of a row or grid, or the centre of a ring. Raises SketchError.
    """
    of = whole(sketch, tuple(i for i in ids if i not in about))
    if not of:
        raise SketchError("Choose what to repeat.")
    if any(copy_of(sketch, i) or is_given(sketch, i) for i in of):
        raise SketchError("Copies and lines from the solid cannot be repeated once more. Choose the original.")
    id_ = fresh(sketch, "m")
    fields: dict[str, str] = {}
    if kind == "ring":
        if not about:
            raise SketchError("A ring needs a centre.")
        sketch, fields["center"] = _center(sketch, about[0])
    else:
        fields = {"along": about[0] if about else ALONG, "across": about[1] if len(about) > 1 else ACROSS}
    made = Repeat(
        id=id_, kind=kind, of=of, count=counts[0][0], count2=counts[1][0] if len(counts) > 1 else "1", **fields
    )
    sketch = msgspec.structs.replace(sketch, repeats=(*sketch.repeats, made), stations=None)
    names = {"row": ("pitch",), "grid": ("pitch", "pitch2"), "ring": ("turn",)}[kind]
    for name, (text, value) in zip(names, pitches, strict=False):
        bare = negated(text) if text.strip().startswith("-") else text.strip()
        size = Dimension(id=fresh(sketch, "d"), kind=name, of=(id_,), text=bare, sense=-1 if value < 0 else 1)  # type: ignore[arg-type]
        sketch = msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, size))
    wanted = {id_: (counts[0][1], counts[1][1] if len(counts) > 1 else 1)}
    steps = {id_: tuple(value for _, value in pitches)}
    return expanded(sketch, wanted, steps), id_


def _center(sketch: Sketch, id_: str) -> tuple[Sketch, str]:
    """A point to turn about: the chosen one, a circle's centre, or one made on the origin."""
    if id_ == ORIGIN:
        point = fresh(sketch, "p")
        sketch = grown(sketch, [Point(point, 0.0, 0.0)], [Relation(fresh(sketch, "r"), "coincident", (point, ORIGIN))])
        return sketch, point
    entity = sketch.get(id_)
    return sketch, id_ if isinstance(entity, Point) else getattr(entity, "center", id_)


def expanded(
    sketch: Sketch, counts: Mapping[str, tuple[int, int]], steps: Mapping[str, tuple[float, ...]] | None = None
) -> Sketch:
    """With as many copies as ``counts`` ask for (repeat id to how many along and across, the original included).

    ``steps`` gives the pitches or the turn for copies not drawn before. Raises SketchError for a count no one means.
    """
    for repeat in sketch.repeats:
        if repeat.id not in counts:
            continue
        many, across = counts[repeat.id]
        if not (1 <= many <= MOST and 1 <= across <= MOST and many * across <= MOST):
            raise SketchError(f"A count of {many * across} is not between 1 and {MOST}.")
        present = {
            (c.i, c.j, c.source) for e in sketch.entities if (c := copy_of(sketch, e.id)) and c.repeat == repeat.id
        }
        wanted = [(i, j) for j in range(across) for i in range(many) if i or j]
        surplus = {Copy(repeat.id, i, j, s).id for i, j, s in present if (i, j) not in wanted or s not in repeat.of}
        if surplus:
            sketch = _without(sketch, surplus)
        missing = [(i, j) for i, j in wanted if any((i, j, s) not in present for s in repeat.of)]
        if missing:
            sketch = _with_copies(sketch, repeat, missing, many, (steps or {}).get(repeat.id, ()))
    return sketch


def _without(sketch: Sketch, ids: set[str]) -> Sketch:
    return msgspec.structs.replace(
        sketch,
        entities=tuple(e for e in sketch.entities if e.id not in ids),
        relations=tuple(r for r in sketch.relations if not ids & set(r.of)),
        dimensions=tuple(d for d in sketch.dimensions if not ids & set(d.of)),
    )


def _with_copies(
    sketch: Sketch, repeat: Repeat, places: Iterable[tuple[int, int]], many: int, steps: tuple[float, ...]
) -> Sketch:
    present = {e.id for e in sketch.entities}
    for i, j in places:
        placing = _placing(sketch, repeat, i, j, many, steps)
        new = {s: Copy(repeat.id, i, j, s).id for s in repeat.of}
        fresh_ones = [placed_copy(sketch.get(s), placing, new) for s in repeat.of if new[s] not in present]
        sketch = grown(sketch, fresh_ones)
    return sketch


def _placing(sketch: Sketch, repeat: Repeat, i: int, j: int, many: int, steps: tuple[float, ...]) -> Placing:
    """Where copy i, j goes: by the steps given, else by those the drawing shows."""
    if repeat.kind == "ring":
        turn = steps[0] if steps else _seen(sketch, repeat, (1, 0)) or 2 * math.pi / many
        return turned(place(sketch, repeat.center), i * turn)
    x = y = 0.0
    for k, times, way in ((0, i, repeat.along), (1, j, repeat.across)):
        if not times:
            continue
        step = steps[k] if len(steps) > k else _seen(sketch, repeat, ((1, 0), (0, 1))[k]) or 10.0
        ux, uy = direction(sketch, way)
        x, y = x + times * step * ux, y + times * step * uy
    return shift(x, y)


def _seen(sketch: Sketch, repeat: Repeat, which: tuple[int, int]) -> float:
    """The signed step to the first copy as the drawing shows it; 0 when there is none."""
    points = sketch.points()
    for source in repeat.of:
        copy = Copy(repeat.id, *which, source).id
        if source in points and copy in points:
            p, q = points[source], points[copy]
            if repeat.kind == "ring":
                c = points[repeat.center]
                turn = math.atan2(q.y - c.y, q.x - c.x) - math.atan2(p.y - c.y, p.x - c.x)
                if math.hypot(p.x - c.x, p.y - c.y) > 1e-6:
                    return math.remainder(turn, 2 * math.pi)
                continue
            ux, uy = direction(sketch, repeat.along if which[0] else repeat.across)
            return (q.x - p.x) * ux + (q.y - p.y) * uy
    return 0.0


def dissolve(sketch: Sketch, repeat: str) -> Sketch:
    """The copies stay as lines of their own; the link goes."""
    found = {e.id: c for e in sketch.entities if (c := copy_of(sketch, e.id)) and c.repeat == repeat}
    loose = msgspec.structs.replace(sketch, repeats=tuple(r for r in sketch.repeats if r.id != repeat))
    loose = msgspec.structs.replace(
        loose, dimensions=tuple(d for d in loose.dimensions if d.of != (repeat,)), stations=None
    )
    # Ids keep their dots; without the repeat they are ordinary names.
    return loose if found else delete(loose, (repeat,))


def add_spaced_points(sketch: Sketch, line: str, many: int) -> tuple[Sketch, tuple[str, ...]]:
    """``many`` points on a line, spaced equally between its ends. Raises SketchError."""
    entity = sketch.get(line)
    if not isinstance(entity, Line):
        raise SketchError("Points are spaced along a straight line.")
    if not 1 <= many <= MOST:
        raise SketchError(f"A count of {many} is not between 1 and {MOST}.")
    points = sketch.points()
    a, b = points[entity.a], points[entity.b]
    ids = []
    for k in range(1, many + 1):
        t = k / (many + 1)
        id_ = fresh(sketch, "p")
        sketch = grown(sketch, [Point(id_, a.x + t * (b.x - a.x), a.y + t * (b.y - a.y))])
        ids.append(id_)
    of = (entity.a, *ids, entity.b)
    return grown(sketch, (), [Relation(fresh(sketch, "r"), "spaced", of)]), tuple(ids)
