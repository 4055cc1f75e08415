"""What could be stated about a sketch, the most natural first: symmetric, equal, round sizes, lengths, ordinates."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import msgspec

from ...quantity import Style
from ...tolerance import ONE_PLACE
from ..copies import copy_of, is_given
from ..curves import radius_of
from ..make.size import make_dimension
from ..model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    DimensionKind,
    Ellipse,
    Line,
    Point,
    Relation,
    Sketch,
    Text,
)
from ..refusal import SketchError

Statement = tuple[Dimension | Relation, float, str]


def renamed(item: Dimension | Relation, id_: str) -> Any:
    return msgspec.structs.replace(item, id=id_)


def candidates(sketch: Sketch, style: Style) -> Iterator[Statement]:
    """Statements that are true now, with their present value (mm; 0 for relations) and words."""
    own = [e for e in sketch.entities if not copy_of(sketch, e.id) and not is_given(sketch, e.id)]
    yield from _symmetric(sketch, own)
    rounds = [e for e in own if isinstance(e, Circle | Arc)]
    yield from _equal_rounds(sketch, rounds)
    for round_ in rounds:
        kind: DimensionKind = "diameter" if isinstance(round_, Circle) else "radius"
        yield from _size(sketch, (round_.id,), kind, f"the {'circle' if kind == 'diameter' else 'arc'}'s {kind}")
    for e in own:
        if isinstance(e, Ellipse):
            yield from _size(sketch, (e.id,), "long_axis", "the ellipse's first axis")
            yield from _size(sketch, (e.id,), "short_axis", "the ellipse's other axis")
        elif isinstance(e, Text):
            yield from _size(sketch, (e.id,), "height", "the height of the letters")
    yield from _lines(sketch, [e for e in own if isinstance(e, Line) and not e.link], style)
    for repeat in sketch.repeats:
        if repeat.kind != "ring":
            yield from _size(sketch, (repeat.id,), "pitch", f"the {repeat.kind}'s pitch")
        if repeat.kind == "grid":
            yield from _size(sketch, (repeat.id,), "pitch2", "the grid's pitch across")
    centres = {e.center for e in rounds}
    points = [e for e in own if isinstance(e, Point)]
    for p in sorted(points, key=lambda p: (p.id not in centres, p.x, p.y)):
        yield from _ordinates(sketch, p, style)


def _size(sketch: Sketch, ids: tuple[str, ...], kind: DimensionKind, words: str) -> Iterator[Statement]:
    try:
        made, value = make_dimension(sketch, ids, "", kind)
    except SketchError:
        return
    if value >= 1e-9 or made.kind in ("along", "across"):  # only an ordinate may be nothing
        yield made, value, words


def _symmetric(sketch: Sketch, own: list[Any]) -> Iterator[Statement]:
    """Pairs of points that lie alike on both sides of an axis, or of a centre line through the sketch."""
    points = [e for e in own if isinstance(e, Point)]
    if len(points) > 200:
        return
    for axis, k in ((ACROSS, 0), (ALONG, 1)):
        if sketch.turned and axis == ALONG:
            continue
        place = {(round(p.x / ONE_PLACE), round(p.y / ONE_PLACE)): p.id for p in points}
        for p in points:
            x, y = (-p.x, p.y) if k == 0 else (p.x, -p.y)
            if (p.x, p.y)[k] <= ONE_PLACE:
                continue
            other = place.get((round(x / ONE_PLACE), round(y / ONE_PLACE)))
            if other:
                words = f"{p.id} and {other} symmetric about the {'cross ' if k == 0 else ''}axis"
                yield Relation("?", "symmetric", (p.id, other, axis)), 0.0, words


def _equal_rounds(sketch: Sketch, rounds: list[Circle | Arc]) -> Iterator[Statement]:
    points = sketch.points()
    groups: dict[int, list[str]] = {}
    for e in rounds:
        groups.setdefault(round(radius_of(e, points) / ONE_PLACE), []).append(e.id)
    for ids in groups.values():
        for other in ids[1:]:
            yield Relation("?", "equal", (ids[0], other)), 0.0, f"{other} equal to {ids[0]}"


def _lines(sketch: Sketch, lines: list[Line], style: Style) -> Iterator[Statement]:
    points = sketch.points()
    if sketch.turned:
        for e in lines:
            if abs(points[e.a].y - points[e.b].y) < 1e-9:
                at = style.length(min(points[e.a].x, points[e.b].x))
                yield from _size(sketch, (e.id,), "diameter", f"the diameter at {at}")
        return
    for e in lines:
        a, b = points[e.a], points[e.b]
        if abs(a.y - b.y) < 1e-9:
            words = f"the length of the level line at {style.length(a.y)}"
        elif abs(a.x - b.x) < 1e-9:
            words = f"the length of the upright line at {style.length(a.x)}"
        else:
            continue
        yield from _size(sketch, (e.a, e.b), "distance", words)


def _ordinates(sketch: Sketch, p: Point, style: Style) -> Iterator[Statement]:
    at = f"{style.length(p.x)}, {style.length(p.y)}"
    yield from _size(sketch, (ORIGIN, p.id), "along", f"how far along {at} lies")
    if sketch.turned:
        if not math.isclose(p.y, 0.0, abs_tol=1e-12):
            yield from _size(sketch, (p.id,), "diameter", f"the diameter at {style.length(p.x)}")
    else:
        yield from _size(sketch, (ORIGIN, p.id), "across", f"how far across {at} lies")
