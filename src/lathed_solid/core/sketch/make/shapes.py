"""Shapes that come as a whole, with the relations that keep them what they are: polygons, slots, centred rectangles."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import msgspec

from ...names import refers
from ...quantity import negated
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    DimensionKind,
    Line,
    Point,
    Relation,
    RelationKind,
    Sketch,
)
from ..refusal import SketchError
from .draw import Spot, fresh, grown, placed

XY = tuple[float, float]


def place_point(sketch: Sketch, at: XY, texts: tuple[str, str] | None = None) -> tuple[Sketch, str]:
    """A point at ``at`` mm, tied to the origin or an axis where it lies on one.

    ``texts`` are its coordinates as typed; each that is not zero becomes a size from the origin. In a turned profile
    the second one is a diameter.
    """
    if texts is not None and (same := _stated_there(sketch, at, texts)):
        return sketch, same
    id_ = fresh(sketch, "p")
    sketch = grown(sketch, [Point(id_, *at)])
    # A formula that comes to nothing just now is still a formula: it must follow its callouts.
    lying = [v == 0.0 and not (texts is not None and refers(t)) for v, t in zip(at, texts or ("", ""), strict=True)]
    if all(lying):
        return related(sketch, "coincident", id_, ORIGIN, assumed=True), id_
    for axis, lies in zip((ACROSS, ALONG), lying, strict=True):
        if lies:
            sketch = related(sketch, "on", id_, axis, assumed=True)
    if texts is not None:
        if not lying[0]:
            sketch = sized(sketch, "along", (ORIGIN, id_), texts[0], at[0])
        if not lying[1]:
            sketch = sized(sketch, *across_size(sketch, id_), texts[1], at[1])
    return sketch, id_


def across_size(sketch: Sketch, point: str) -> tuple[DimensionKind, tuple[str, ...]]:
    """The size that a point's second coordinate is: its height, or its diameter in a turned profile."""
    return ("diameter", (point,)) if sketch.turned else ("across", (ORIGIN, point))


def _stated_there(sketch: Sketch, at: XY, texts: tuple[str, str]) -> str:
    """A point that lies at a place and was put there by the very same texts: it is meant again."""
    for p in sketch.points().values():
        if abs(p.x - at[0]) > 1e-9 or abs(p.y - at[1]) > 1e-9:
            continue
        sizes = {(d.kind, d.text) for d in sketch.dimensions if d.of in ((ORIGIN, p.id), (p.id,))}
        bare = [negated(t) if v < 0 else t.strip() for t, v in zip(texts, at, strict=True)]
        held = {r.of[1] for r in sketch.relations if r.kind in ("on", "coincident") and r.of[0] == p.id}
        along = ("along", bare[0]) in sizes if at[0] else bool(held & {ACROSS, ORIGIN})
        kind = across_size(sketch, p.id)[0]
        if along and ((kind, bare[1]) in sizes if at[1] else bool(held & {ALONG, ORIGIN})):
            return p.id
    return ""


def sized(sketch: Sketch, kind: DimensionKind, of: tuple[str, ...], text: str, sign: float = 1.0) -> Sketch:
    """With one more driving size; ``text`` without its sign, which ``sign`` keeps."""
    bare = negated(text) if sign < 0 else text.strip()
    made = Dimension(id=fresh(sketch, "d"), kind=kind, of=of, text=bare, sense=-1 if sign < 0 else 1)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made), stations=None)


def related(sketch: Sketch, kind: RelationKind, *of: str, assumed: bool = False) -> Sketch:
    """With one more relation: part of what a shape is, or ``assumed`` from where something was drawn."""
    return grown(sketch, (), [Relation(fresh(sketch, "r"), kind, of, assumed)])


def add_polyline(sketch: Sketch, places: Sequence[XY | Spot], closed: bool = False) -> tuple[Sketch, list[str]]:
    """Lines from place to place; level and upright ones get that relation. Raises SketchError for one of no length."""
    spots = [p if isinstance(p, Spot) else Spot(*p) for p in places]
    if len(spots) < 2:
        raise SketchError("A line needs two ends.")
    ids = []
    for spot in spots:
        named = (spot.point and spot.point != ORIGIN) or (spot.curve and spot.curve not in (ALONG, ACROSS))
        sketch, id_ = placed(sketch, spot) if named else place_point(sketch, spot.xy)
        ids.append(id_)
    pairs = list(zip(range(len(ids)), [*range(1, len(ids)), 0], strict=True))
    lines = []
    for i, j in pairs if closed else pairs[:-1]:
        a, b = spots[i].xy, spots[j].xy
        if math.dist(a, b) < 1e-9:
            raise SketchError("Two places of the line are the same.")
        line = fresh(sketch, "l")
        sketch = grown(sketch, [Line(line, ids[i], ids[j])])
        lines.append(line)
        on_axis = (a[1] == b[1] == 0.0) or (a[0] == b[0] == 0.0)
        kind: RelationKind | None = "horizontal" if a[1] == b[1] else "vertical" if a[0] == b[0] else None
        if kind and not on_axis:
            sketch = related(sketch, kind, line, assumed=True)
    return sketch, lines


def add_centred_rectangle(sketch: Sketch, middle: str, width: float, height: float) -> tuple[Sketch, list[str]]:
    """A rectangle about the point ``middle``, held there by a construction diagonal. Lines from the lower one round."""
    m = sketch.points()[middle]
    if width <= 0 or height <= 0:
        raise SketchError("A rectangle needs a width and a height above zero.")
    x, y = width / 2, height / 2
    corners = [(m.x - x, m.y - y), (m.x + x, m.y - y), (m.x + x, m.y + y), (m.x - x, m.y + y)]
    sketch, ids = new_points(sketch, corners)
    sketch, lines = _round(sketch, ids)
    for line, kind in zip(lines, ("horizontal", "vertical", "horizontal", "vertical"), strict=True):
        sketch = related(sketch, kind, line)  # type: ignore[arg-type]
    diagonal = fresh(sketch, "l")
    sketch = grown(sketch, [Line(diagonal, ids[0], ids[2], True)])
    return related(sketch, "midpoint", middle, diagonal), lines


def add_polygon(sketch: Sketch, middle: str, sides: int, corners: float) -> tuple[Sketch, str, list[str]]:
    """A regular polygon about ``middle``, ``corners`` mm across corners, its first side level and lowest.

    Its corners lie on a construction circle, whose id is returned with the sides. Raises SketchError under three sides.
    """
    if not 3 <= sides <= 64:
        raise SketchError("A polygon has 3 to 64 sides.")
    if corners <= 0:
        raise SketchError("A polygon needs a size above zero.")
    m, r = sketch.points()[middle], corners / 2
    start = -math.pi / 2 - math.pi / sides
    angles = [start + 2 * math.pi * k / sides for k in range(sides)]
    sketch, ids = new_points(sketch, [(m.x + r * math.cos(a), m.y + r * math.sin(a)) for a in angles])
    circle = fresh(sketch, "c")
    sketch = grown(sketch, [Circle(circle, middle, r, True)])
    for id_ in ids:
        sketch = related(sketch, "on", id_, circle)
    sketch, lines = _round(sketch, ids)
    for before, after in itertools.pairwise(lines):
        sketch = related(sketch, "equal", before, after)
    return related(sketch, "horizontal", lines[0]), circle, lines


def add_slot(sketch: Sketch, middle: str, length: float, width: float) -> tuple[Sketch, str, list[str]]:
    """A level straight slot about ``middle``: ``length`` mm between centres, ``width`` mm wide.

    Returns the construction line between the centres and the two straight sides. Raises SketchError for no size.
    """
    m, x = sketch.points()[middle], length / 2
    sketch, (left, right) = new_points(sketch, [(m.x - x, m.y), (m.x + x, m.y)])
    sketch, spine, sides = add_slot_between(sketch, left, right, width)
    return related(related(sketch, "midpoint", middle, spine), "horizontal", spine), spine, sides


def add_slot_between(sketch: Sketch, first: str, last: str, width: float) -> tuple[Sketch, str, list[str]]:
    """A straight slot from the point ``first`` to ``last``, ``width`` mm wide. Returns as :func:`add_slot`."""
    points = sketch.points()
    p, q = points[first], points[last]
    length = math.hypot(q.x - p.x, q.y - p.y)
    if length < 1e-9 or width <= 0:
        raise SketchError("A slot needs a length and a width above zero.")
    nx, ny = -(q.y - p.y) / length * width / 2, (q.x - p.x) / length * width / 2
    places = [(p.x - nx, p.y - ny), (q.x - nx, q.y - ny), (q.x + nx, q.y + ny), (p.x + nx, p.y + ny)]
    sketch, (a, b, c, d) = new_points(sketch, places)
    ids = {}
    for name, start, end in (("spine", first, last), ("low", a, b), ("high", c, d)):
        ids[name] = fresh(sketch, "l")
        sketch = grown(sketch, [Line(ids[name], start, end, name == "spine")])
    for name, arc in (("right", (last, b, c)), ("left", (first, d, a))):
        ids[name] = fresh(sketch, "a")
        sketch = grown(sketch, [Arc(ids[name], *arc)])
    for kind, of in (
        ("equal", (ids["right"], ids["left"])),
        ("tangent", (ids["low"], ids["right"])), ("tangent", (ids["high"], ids["right"])),
        ("tangent", (ids["low"], ids["left"])), ("tangent", (ids["high"], ids["left"])),
    ):  # fmt: skip
        sketch = related(sketch, kind, *of)  # type: ignore[arg-type]
    return sketch, ids["spine"], [ids["low"], ids["high"]]


def new_points(sketch: Sketch, places: Sequence[XY]) -> tuple[Sketch, list[str]]:
    ids = []
    for place in places:
        id_ = fresh(sketch, "p")
        sketch = grown(sketch, [Point(id_, *place)])
        ids.append(id_)
    return sketch, ids


def _round(sketch: Sketch, ids: Sequence[str]) -> tuple[Sketch, list[str]]:
    """Lines from point to point and back to the first."""
    lines = []
    for a, b in zip(ids, [*ids[1:], ids[0]], strict=True):
        line = fresh(sketch, "l")
        sketch = grown(sketch, [Line(line, a, b)])
        lines.append(line)
    return sketch, lines


def add_slanted_rectangle(sketch: Sketch, a: Spot, b: Spot, over: Spot) -> Sketch:
    """A rectangle on the edge from ``a`` to ``b``, as high as ``over`` lies from it. Raises SketchError for no area."""
    dx, dy = b.x - a.x, b.y - a.y
    size = math.hypot(dx, dy)
    height = (dx * (over.y - a.y) - dy * (over.x - a.x)) / size if size > 1e-9 else 0.0
    if abs(height) < 1e-6:
        raise SketchError("A rectangle needs a third place off its first edge.")
    nx, ny = -dy / size * height, dx / size * height
    sketch, p = placed(sketch, a)
    sketch, q = placed(sketch, b)
    sketch, (r, s) = new_points(sketch, [(b.x + nx, b.y + ny), (a.x + nx, a.y + ny)])
    sketch, lines = _round(sketch, [p, q, r, s])
    for first, second in itertools.pairwise(lines):
        sketch = related(sketch, "perpendicular", first, second)
    return sketch
