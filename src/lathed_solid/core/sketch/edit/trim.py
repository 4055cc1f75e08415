"""Trim, extend and split."""

from __future__ import annotations

import math
from collections.abc import Sequence

import msgspec

from ...tolerance import ONE_PLACE
from ..curves import arc_span, length, parameter
from ..intersect import segment_meetings
from ..make.draw import delete, fresh, grown
from ..make.size import offset_from
from ..model import ACROSS, ALONG, Arc, Circle, Line, Sketch, stands_on
from ..refusal import SketchError
from .ends import (
    XY,
    curve_named,
    end_at,
    meetings,
    new_point,
    place,
    related,
    replaced,
    swept,
    with_end,
    without_relations,
)

#: Relations that a curve of another length cannot keep.
_LENGTH = ("midpoint", "equal", "symmetric")


def trim(sketch: Sketch, id_: str, at: XY) -> Sketch:
    """Take away the piece of a curve around ``at`` up to the nearest curves; all of it when nothing crosses it.

    Raises SketchError for curves that cannot be cut (splines, ellipses, letters).
    """
    curve = curve_named(sketch, id_)
    if isinstance(curve, Circle):
        return _trim_circle(sketch, curve, at)
    if not isinstance(curve, Line | Arc):
        raise SketchError("Only lines, arcs and circles can be trimmed.")
    here = parameter(curve, sketch.points(), *at)
    cuts = [c for c in meetings(sketch, id_) if _inside(sketch, curve, c[0])]
    before = [c for c in cuts if c[0] < here]
    after = [c for c in cuts if c[0] > here]
    if not before and not after:
        return delete(sketch, (id_,))
    original = sketch
    sketch = without_relations(sketch, id_, _LENGTH)
    if before and after:
        sketch = _cut_out(sketch, curve, before[-1], after[0])
    else:
        first, cut = (True, after[0]) if after else (False, before[-1])
        sketch, end = end_at(sketch, cut[1], cut[2])
        sketch = replaced(sketch, with_end(curve, first, end))
    return swept(_without_lost_sizes(_kept_in_line(sketch, curve), curve), original)


def _kept_in_line(sketch: Sketch, old: Line | Arc) -> Sketch:
    """Ends that hold up something else stay on the shortened curve, so that it does not wander off; ends that became
    its own are no longer said to lie on it.
    """
    now = curve_named(sketch, old.id)
    assert isinstance(now, Line | Arc)
    mine = {now.a, now.b}
    relations = tuple(r for r in sketch.relations if not (r.kind == "on" and r.of[1] == old.id and r.of[0] in mine))
    sketch = _still_along(msgspec.structs.replace(sketch, relations=relations), old, now)
    held = {p for e in sketch.entities for p in stands_on(e)}
    mates = {i for r in relations if r.kind in ("collinear", "equal") and old.id in r.of for i in r.of} - {old.id}
    held -= {p for e in sketch.entities if e.id in mates for p in stands_on(e)}
    for end in {old.a, old.b} - mine:
        said = any(r.kind in ("on", "midpoint") and r.of == (end, old.id) for r in sketch.relations)
        if end in held and not said:
            sketch = related(sketch, "on", end, old.id)
    return sketch


def _still_along(sketch: Sketch, old: Line | Arc, now: Line | Arc) -> Sketch:
    """A line that lay along an axis or another line because its end was held there still does with its new end."""
    if not isinstance(now, Line):
        return sketch
    points = sketch.points()
    for end, new in ((old.a, now.a), (old.b, now.b)):
        for r in sketch.relations:
            if end == new or r.kind != "on" or r.of[0] != end or not _is_straight(sketch, r.of[1]):
                continue
            p = points[new]
            said = any(q.kind == "on" and q.of == (new, r.of[1]) for q in sketch.relations)
            if not said and abs(offset_from(sketch, r.of[1], (p.x, p.y))) < ONE_PLACE:
                sketch = related(sketch, "on", new, r.of[1])
    return sketch


def _is_straight(sketch: Sketch, id_: str) -> bool:
    return id_ in (ALONG, ACROSS) or isinstance(sketch.by_id.get(id_), Line)


def _inside(sketch: Sketch, curve: Line | Arc, t: float) -> bool:
    """Away from both ends."""
    slack = 1e-6 / max(length(curve, sketch.points()), 1e-9)
    return slack < t < 1 - slack


def _cut_out(sketch: Sketch, curve: Line | Arc, low: tuple[float, XY, str], high: tuple[float, XY, str]) -> Sketch:
    """A piece out of the middle: the curve keeps its start, a new one goes on from the far cut."""
    sketch, p = end_at(sketch, low[1], low[2])
    sketch, q = end_at(sketch, high[1], high[2])
    rest = msgspec.structs.replace(curve, id=fresh(sketch, "l" if isinstance(curve, Line) else "a"), a=q)
    sketch = grown(replaced(sketch, with_end(curve, False, p)), [rest])
    return related(sketch, "collinear" if isinstance(curve, Line) else "equal", curve.id, rest.id)


def _without_lost_sizes(sketch: Sketch, old: Line | Arc) -> Sketch:
    """Lengths between the ends of a line that is no longer that long."""
    now = curve_named(sketch, old.id)
    assert isinstance(now, Line | Arc)
    held = {p for e in sketch.entities for p in stands_on(e)}
    changed = {old.a, old.b} - {now.a, now.b} - held
    kept = tuple(
        d
        for d in sketch.dimensions
        if not (set(d.of) == {old.a, old.b} and changed) and not (d.kind == "arc_length" and old.id in d.of)
    )
    return msgspec.structs.replace(sketch, dimensions=kept)


def _trim_circle(sketch: Sketch, circle: Circle, at: XY) -> Sketch:
    cuts = meetings(sketch, circle.id)
    if len(cuts) < 2:
        return delete(sketch, (circle.id,)) if not cuts else _refuse_one_cut()
    here = parameter(circle, sketch.points(), *at)
    after = min(cuts, key=lambda c: (c[0] - here) % 1.0)
    before = min(cuts, key=lambda c: (here - c[0]) % 1.0)
    if after[0] == before[0]:
        return _refuse_one_cut()
    sketch, start = end_at(sketch, after[1], after[2])
    sketch, end = end_at(sketch, before[1], before[2])
    arc = Arc(circle.id, circle.center, start, end, circle.construction, circle.link)
    return _kept_in_line(replaced(sketch, arc), arc)


def _refuse_one_cut() -> Sketch:
    raise SketchError("A circle needs to be crossed twice before a piece of it can be taken away.")


def trim_across(sketch: Sketch, path: Sequence[XY]) -> Sketch:
    """Trim every curve that a drawn stroke crosses, each at the place where it is crossed."""
    for id_, at in _crossed(sketch, path):
        if any(c.id == id_ for c in sketch.curves()):
            sketch = trim(sketch, id_, at)
    return sketch


def extend_across(sketch: Sketch, path: Sequence[XY]) -> Sketch:
    """Extend every line or arc that a drawn stroke crosses, at the end nearer to the crossing.

    Raises SketchError when none of them has anything ahead.
    """
    hits = [(i, at) for i, at in _crossed(sketch, path) if isinstance(sketch.get(i), Line | Arc)]
    done, trouble = 0, "The stroke crosses no line or arc."
    for id_, at in hits:
        try:
            sketch, done = extend(sketch, id_, at), done + 1
        except SketchError as error:
            trouble = error.message
    if not done:
        raise SketchError(trouble)
    return sketch


def _crossed(sketch: Sketch, path: Sequence[XY]) -> list[tuple[str, XY]]:
    """Curves that a stroke crosses, and where."""
    import numpy as np

    from ..curves import polyline

    stroke = np.array(path)
    points, hits = sketch.points(), []
    for curve in sketch.curves():
        line = polyline(curve, points, math.pi / 60)
        if isinstance(curve, Circle):
            line = np.concatenate([line, line[:1]])
        for i, _, s, _ in segment_meetings(stroke, line):
            x, y = stroke[i] + s * (stroke[i + 1] - stroke[i])
            hits.append((curve.id, (float(x), float(y))))
    return hits


def extend(sketch: Sketch, id_: str, at: XY) -> Sketch:
    """Lengthen a line or arc at the end nearer to ``at`` to the next curve. Raises SketchError when there is none."""
    curve = curve_named(sketch, id_)
    if not isinstance(curve, Line | Arc):
        raise SketchError("Only lines and arcs can be extended.")
    first = parameter(curve, sketch.points(), *at) < 0.5
    ahead = [(-t if first else t - 1, xy, other) for t, xy, other in meetings(sketch, id_, beyond=True)]
    if isinstance(curve, Arc):
        turn = 2 * math.pi / arc_span(curve, sketch.points())[1]
        ahead = [((g % turn if g > 1e-9 or g < 0 else g), xy, other) for g, xy, other in ahead]
    slack = 1e-6 / max(length(curve, sketch.points()), 1e-9)
    reachable = [a for a in ahead if a[0] > slack]
    if not reachable:
        raise SketchError("There is nothing ahead to extend to.")
    _, xy, other = min(reachable)
    original, sketch = sketch, without_relations(sketch, id_, _LENGTH)
    sketch, end = end_at(sketch, xy, other)
    longer = _kept_in_line(replaced(sketch, with_end(curve, first, end)), curve)
    return swept(_without_lost_sizes(longer, curve), original)


def split(sketch: Sketch, id_: str, at: XY) -> Sketch:
    """Two curves in place of one, joined at ``at`` and held in line. A circle becomes two halves."""
    curve, points = curve_named(sketch, id_), sketch.points()
    if not isinstance(curve, Line | Arc | Circle):
        raise SketchError("Only lines, arcs and circles can be split.")
    t = parameter(curve, points, *at)
    if isinstance(curve, Circle):
        sketch, p = new_point(sketch, *place(sketch, curve, t))
        sketch, q = new_point(sketch, *place(sketch, curve, t + 0.5))
        rest = Arc(fresh(sketch, "a"), curve.center, q, p, curve.construction)
        sketch = grown(replaced(sketch, Arc(id_, curve.center, p, q, curve.construction, curve.link)), [rest])
        return related(sketch, "equal", id_, rest.id)
    if not _inside(sketch, curve, t):
        raise SketchError("Split a line between its ends, not at an end.")
    original, sketch = sketch, without_relations(sketch, id_, _LENGTH)
    sketch, p = new_point(sketch, *place(sketch, curve, t))
    other = msgspec.structs.replace(curve, id=fresh(sketch, "l" if isinstance(curve, Line) else "a"), a=p)
    sketch = grown(replaced(sketch, with_end(curve, False, p)), [other])
    sketch = related(sketch, "collinear" if isinstance(curve, Line) else "equal", id_, other.id)
    return swept(sketch, original)
