"""Finishing a sketch: relations that were only assumed, and the sizes that would pin what can still move."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

import msgspec

from ...quantity import Style
from ..make.draw import fresh, make_dimension
from ..model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, DimensionKind, Line, Point, Sketch


class Pin(NamedTuple):
    """A size that would take away freedom: the dimension with an empty text, its present value (mm), and its words."""

    dimension: Dimension
    value: float
    words: str


def assumed(sketch: Sketch) -> dict[str, tuple[str, ...]]:
    """Assumed relations by kind: their ids, in the order they were made."""
    found: dict[str, tuple[str, ...]] = {}
    for relation in sketch.relations:
        if relation.assumed:
            found[relation.kind] = (*found.get(relation.kind, ()), relation.id)
    return found


def accept(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """The relations are meant: they are no longer marked as assumed."""
    chosen = set(ids)
    relations = tuple(msgspec.structs.replace(r, assumed=False) if r.id in chosen else r for r in sketch.relations)
    return msgspec.structs.replace(sketch, relations=relations)


def drop(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """The relations were not meant. A profile that loses one leaves its table."""
    chosen = set(ids)
    relations = tuple(r for r in sketch.relations if r.id not in chosen)
    return msgspec.structs.replace(sketch, relations=relations, stations=None)


def pins(sketch: Sketch, values: Mapping[str, float], style: Style | None = None) -> list[Pin]:
    """The most natural sizes that together leave nothing free: radii and diameters, lengths of lines, then ordinates
    from the origin. ``values`` are those of the sketch's driving dimensions; ``style`` writes places in the words.
    Each fits beside the ones before it.
    """
    from .diagnose import freedom, judge

    found: list[Pin] = []
    now, known = sketch, dict(values)
    if not freedom(now, known).ways:
        return found
    for kind, of, words in _candidates(sketch, style or Style()):
        try:
            made, value = make_dimension(now, of, "", kind)
        except (ValueError, LookupError):
            continue
        if value < 1e-9 and made.kind not in ("along", "across"):
            continue  # only an ordinate may be nothing
        known[made.id] = value
        if judge(now, known, made).kind != "fits":
            del known[made.id]
            continue
        now = msgspec.structs.replace(now, dimensions=(*now.dimensions, made))
        found.append(Pin(made, value, words))
        if not freedom(now, known).ways:
            break
    return found


def with_pin(sketch: Sketch, pin: Pin, text: str) -> Sketch:
    """The sketch with a proposed size; ``text`` is its value as it would be typed."""
    made = msgspec.structs.replace(pin.dimension, id=fresh(sketch, "d"), text=text)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made), stations=None)


def _candidates(sketch: Sketch, style: Style) -> Iterator[tuple[DimensionKind | None, tuple[str, ...], str]]:
    points = sketch.points()
    for e in sketch.entities:
        if isinstance(e, Circle):
            yield "diameter", (e.id,), "the circle's diameter"
        elif isinstance(e, Arc):
            yield "radius", (e.id,), "the arc's radius"
    lines = [e for e in sketch.entities if isinstance(e, Line) and not e.link]
    if sketch.turned:
        for e in lines:
            if abs(points[e.a].y - points[e.b].y) < 1e-9:
                yield "diameter", (e.id,), f"the diameter at {style.length(min(points[e.a].x, points[e.b].x))}"
    for e in lines:
        a, b = points[e.a], points[e.b]
        if abs(a.y - b.y) < 1e-9 and not sketch.turned:
            yield "distance", (e.a, e.b), f"the length of the level line at {style.length(a.y)}"
        elif abs(a.x - b.x) < 1e-9 and not sketch.turned:
            yield "distance", (e.a, e.b), f"the length of the upright line at {style.length(a.x)}"
    centres = {e.center for e in sketch.entities if isinstance(e, Circle | Arc)}
    for p in sorted(points.values(), key=lambda p: (p.id not in centres, p.x, p.y)):
        yield from _ordinates(sketch, p, style)


def _ordinates(sketch: Sketch, p: Point, style: Style) -> Iterator[tuple[DimensionKind | None, tuple[str, ...], str]]:
    yield "along", (ORIGIN, p.id), f"how far along {style.length(p.x)}, {style.length(p.y)} lies"
    if sketch.turned:
        yield "diameter", (p.id,), f"the diameter at {style.length(p.x)}"
    else:
        yield "across", (ORIGIN, p.id), f"how far across {style.length(p.x)}, {style.length(p.y)} lies"


def touched(sketch: Sketch, relation: str) -> tuple[str, ...]:
    """The elements a relation is about, for lighting them; the built-in axes and origin are left out."""
    found = next((r for r in sketch.relations if r.id == relation), None)
    return tuple(i for i in found.of if i not in (ORIGIN, ALONG, ACROSS)) if found is not None else ()
