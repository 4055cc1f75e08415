"""From the sizes of a swept sketch to gauges on the faces its lines make."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from ..sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, Line, Sketch
from ..sketch.region import Region, find_regions
from .gauges import (
    AnyGauge,
    AxesApart,
    AxisAngle,
    Between,
    Claim,
    Count,
    Diameter,
    DiameterAt,
    Leg,
    LegAngle,
    Position,
    Radius,
    claim,
)


def sketch_claims(sketch: Sketch, tag: str, chosen: Sequence[str] = ()) -> list[Claim]:
    """What the dimensions of a swept sketch state about the faces ``tag/<line>/side``.

    With areas ``chosen`` only about the lines that bound them: a line between two of them makes no face.
    """
    found: list[Claim] = []
    for dimension in sketch.dimensions:
        if not dimension.reference:
            for gauge in _gauges(sketch, dimension, tag):
                found += claim(dimension.text, gauge)
    found += _counts(found) + _direction_claims(sketch, tag)
    if not chosen:
        return found
    edges = {f"{tag}/{name}/side" for name in _bounding(sketch, chosen)}
    return [c for c in found if all(f in edges or not f.startswith(f"{tag}/") for f in c.faces())]


def _bounding(sketch: Sketch, chosen: Sequence[str]) -> set[str]:
    """Curves that lie on the edge of just one of the chosen areas."""
    regions: list[Region] = [r for r in find_regions(sketch, check=False).every() if r.id in chosen]
    names = [name for r in regions for loop in (r.outer, *r.holes) for name, _ in loop.curves]
    return {n for n in names if names.count(n) == 1}


def _counts(found: list[Claim]) -> list[Claim]:
    """How many round faces a callout such as ``4x R3`` states."""
    faces: dict[int, list[str]] = {}
    for c in found:
        if c.key == "" and isinstance(c.gauge, Radius | Diameter):
            faces.setdefault(c.number, []).append(c.gauge.face)
    return [
        Claim(number, "count", Count(names[0], tuple(names[1:]), even=False))
        for number, named in faces.items()
        if len(names := list(dict.fromkeys(named))) > 1
    ]


def _gauges(sketch: Sketch, d: Dimension, tag: str) -> list[AnyGauge]:
    """The gauges of one dimension: a radius is also that of every element said to be equal."""
    if d.kind in ("radius", "diameter") and d.of[0] not in sketch.points():
        alike = {d.of[0]}
        for r in sketch.relations:
            if r.kind == "equal" and alike & set(r.of):
                alike |= set(r.of)
        rounds = [e.id for e in sketch.curves() if e.id in alike and not (e.construction and not e.link)]
        kind = Radius if d.kind == "radius" else Diameter
        return [kind(face_of(sketch, i, tag)) for i in rounds]
    if d.kind == "offset":
        pairs = [[sketch.get(i) for i in pair] for pair in zip(d.of[::2], d.of[1::2], strict=True)]
        solid = [p for p in pairs if all(not getattr(e, "construction", False) or getattr(e, "link", "") for e in p)]
        flat = [p for p in solid if all(isinstance(e, Line) for e in p) or all(isinstance(e, Arc | Circle) for e in p)]
        return [Between(face_of(sketch, a.id, tag), face_of(sketch, b.id, tag)) for a, b in flat]
    if len(d.of) != 2 and d.kind not in ("radius", "diameter"):
        return []
    if (gauge := _gauge(sketch, d, tag)) is not None:
        return [gauge]
    gauge = _centre_gauge(sketch, d, tag)
    return [gauge] if gauge is not None else []


def _centre_gauge(sketch: Sketch, d: Dimension, tag: str) -> AnyGauge | None:
    """Sizes between and to centres: of round faces, and of what lies midway between two."""
    if d.kind == "distance" and not any(d.rim):
        ends = [_round_at(sketch, i) for i in d.of]
        if all(ends):
            return AxesApart(face_of(sketch, ends[0], tag), face_of(sketch, ends[1], tag))
    if (
        d.kind not in ("along", "across")
        or d.of[0] != ORIGIN
        or sketch.plane.base != "end"
        or sketch.plane.angle != "0"
    ):
        return None
    way: Literal["x", "y"] = "x" if d.kind == "along" else "y"
    if at := _round_at(sketch, d.of[1]):
        return Position(face_of(sketch, at, tag), way)
    middle = next((r for r in sketch.relations if r.kind == "midpoint" and r.of[0] == d.of[1]), None)
    line = sketch.by_id.get(middle.of[1]) if middle is not None else None
    if not isinstance(line, Line):
        return None
    rounds = [_round_at(sketch, p) for p in (line.a, line.b)]
    if all(rounds):
        return Position(face_of(sketch, rounds[0], tag), way, face_of(sketch, rounds[1], tag))
    flats = [_square_at(sketch, p, way) for p in (line.a, line.b)]
    if all(flats):
        return Position(face_of(sketch, flats[0], tag), way, face_of(sketch, flats[1], tag))
    return None


def _round_at(sketch: Sketch, point: str) -> str:
    """A circle or arc about a point; "" for none."""
    return next(
        (c.id for c in sketch.curves() if isinstance(c, Circle | Arc) and c.center == point and not c.construction), ""
    )


def _square_at(sketch: Sketch, point: str, way: str) -> str:
    """A line through a point (its own or a sharp corner kept on it) that stands square to X or Y."""
    kind = "vertical" if way == "x" else "horizontal"
    square = {r.of[0] for r in sketch.relations if r.kind == kind and len(r.of) == 1}
    held = [r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == point]
    ends = [c.id for c in sketch.curves() if isinstance(c, Line) and point in (c.a, c.b)]
    return next((i for i in (*ends, *held) if i in square), "")


def _direction_claims(sketch: Sketch, tag: str) -> list[Claim]:
    """The stated direction of a side plane is that of the lowest flat it makes."""
    if sketch.plane.base != "side":
        return []
    points = sketch.points()
    level = {r.of[0] for r in sketch.relations if r.kind == "horizontal" and len(r.of) == 1}
    lines = [c for c in sketch.curves() if isinstance(c, Line) and c.id in level and not c.construction]
    if not lines:
        return []
    lowest = min(lines, key=lambda c: points[c.a].y)
    return claim(sketch.plane.angle, AxisAngle(face_of(sketch, lowest.id, tag)))


def _gauge(sketch: Sketch, d: Dimension, tag: str) -> AnyGauge | None:
    if d.kind in ("radius", "diameter"):
        return _diameter_at(sketch, d, tag)
    if d.kind == "angle":
        lines = [i for i in d.of if i not in (ALONG, ACROSS)]
        return LegAngle(face_of(sketch, lines[0], tag)) if len(lines) == 1 and sketch.turned else None
    if d.kind == "along":
        shared = [c.id for c in sketch.curves() if isinstance(c, Line) and {c.a, c.b} == set(d.of)]
        if shared:
            return Leg(face_of(sketch, shared[0], tag))
    a, b = (_flat_at(sketch, id_, tag) for id_ in d.of)
    return Between(a, b, d.far) if a and b else None


def _diameter_at(sketch: Sketch, d: Dimension, tag: str) -> AnyGauge | None:
    """Of a line in a turned profile, or of a taper at one of its ends."""
    id_ = d.of[0]
    if id_ not in sketch.points():
        face = face_of(sketch, id_, tag)
        return Radius(face) if d.kind == "radius" else Diameter(face)
    lines = _lines_at(sketch, id_)
    slanted = [i for i in lines if not _is_across(sketch, i)]
    square = [i for i in lines if _is_across(sketch, i)]
    if slanted and square:
        return DiameterAt(face_of(sketch, slanted[0], tag), face_of(sketch, square[0], tag))
    return None


def face_of(sketch: Sketch, id_: str, tag: str) -> str:
    """The face a sketch line makes, or the one it stands for."""
    curve = sketch.get(id_)
    link = getattr(curve, "link", "")
    return link or f"{tag}/{id_}/side"


def _flat_at(sketch: Sketch, id_: str, tag: str) -> str:
    """The face that a dimension's element stands for: its line, or the line across that a point lies on."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return "" if id_ == ALONG else sketch.plane.datum
    if id_ in sketch.points():
        across = [i for i in _lines_at(sketch, id_) if _is_across(sketch, i)]
        return face_of(sketch, across[0], tag) if across else ""
    curve = sketch.get(id_)
    if getattr(curve, "construction", False) and not getattr(curve, "link", ""):
        return ""
    return face_of(sketch, id_, tag)


def _lines_at(sketch: Sketch, point: str) -> list[str]:
    ends = [c.id for c in sketch.curves() if isinstance(c, Line) and point in (c.a, c.b)]
    return ends + [
        r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == point and r.of[1] not in (ALONG, ACROSS)
    ]


def _is_across(sketch: Sketch, line: str) -> bool:
    return any(r.kind == "vertical" and r.of == (line,) for r in sketch.relations)
