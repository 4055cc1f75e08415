"""Sizes for what is chosen: which there are, what they measure now, and rows of them from a datum."""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec

from ...tolerance import ONE_PLACE
from ..copies import copy_of
from ..curves import arc_span
from ..model import ACROSS, ALONG, ORIGIN, Arc, Circle, Dimension, DimensionKind, Ellipse, Line, Point, Sketch, Text
from ..refusal import SketchError
from .choose import letter, letters
from .draw import fresh

XY = tuple[float, float]


class Choice(NamedTuple):
    """A size on offer: its kind, a short label, which edges of circles it takes (``rim``, ``far``), which angle."""

    kind: DimensionKind
    label: str
    rim: tuple[int, int] = (0, 0)
    far: bool = False
    quadrant: int = 0


def possible_dimensions(sketch: Sketch, ids: tuple[str, ...]) -> list[Choice]:
    """The sizes the chosen elements can take, the usual one first."""
    if len(ids) == 1 and (copy := copy_of(sketch, ids[0])) is not None:
        return _of_repeat(sketch, copy.repeat)
    chosen = letters(sketch, ids)
    fixed: dict[str, list[Choice]] = {
        "pp": [Choice("distance", "straight"), Choice("along", "along"), Choice("across", "across")],
        "e": [Choice("long_axis", "first axis"), Choice("short_axis", "other axis")],
        "t": [Choice("height", "height")],
        "lp": [Choice("distance", "square to the line")],
        "cl": [Choice("distance", "near edge"), Choice("distance", "far edge", far=True)],
    }
    if chosen in fixed:
        return fixed[chosen]
    if chosen == "c":
        arc = [Choice("arc_length", "arc length")] if isinstance(sketch.get(ids[0]), Arc) else []
        return [Choice("diameter", "Ø"), Choice("radius", "R"), *arc]
    if chosen in ("cc", "cp"):
        return _between_rounds(sketch, ids, chosen)
    if chosen == "ll":
        parallel = abs(_cross(direction(sketch, ids[0]), direction(sketch, ids[1]))) <= 1e-6
        if parallel:
            return [Choice("distance", "between")]
        asked = Dimension(id="?", kind="angle", of=ids, text="")
        both = sorted(angle_choices(sketch, asked), key=lambda c: c[0].quadrant)[:2]
        return [Choice("angle", f"angle {math.degrees(v):.4g}°", quadrant=d.quadrant) for d, v in both]
    if chosen == "p" and sketch.turned and ids[0] != ORIGIN:
        return [Choice("diameter", "Ø")]
    if chosen != "l" or ids[0] in (ALONG, ACROSS):
        return []
    found = [Choice("distance", "length"), Choice("along", "along"), Choice("across", "across")]
    ux, uy = direction(sketch, ids[0])
    if min(abs(ux), abs(uy)) < 1e-9:
        found = found[:1]
    if sketch.plane.base != "end" and abs(uy) < 1e-9:
        found.insert(0, Choice("diameter", "Ø"))
    return found


def _of_repeat(sketch: Sketch, repeat: str) -> list[Choice]:
    kind = next(r.kind for r in sketch.repeats if r.id == repeat)
    if kind == "ring":
        return [Choice("turn", "turn")]
    return [Choice("pitch", "pitch")] + ([Choice("pitch2", "pitch across")] if kind == "grid" else [])


def _between_rounds(sketch: Sketch, ids: tuple[str, ...], chosen: str) -> list[Choice]:
    a, b = place(sketch, ids[0]), place(sketch, ids[1])
    if chosen == "cc" and math.dist(a, b) < ONE_PLACE:
        return [Choice("distance", "wall", (-1, 1)), Choice("distance", "both radii", (1, 1))]
    near, far = [Choice("distance", "centres")], []
    rims = [letter(sketch, i) == "c" for i in ids]
    near.append(Choice("distance", "near edges", (-int(rims[0]), -int(rims[1]))))
    far.append(Choice("distance", "far edges", (int(rims[0]), int(rims[1]))))
    if all(rims):
        far += [Choice("distance", "near to far", (-1, 1)), Choice("distance", "far to near", (1, -1))]
    return [*near, *far, Choice("along", "centres along"), Choice("across", "centres across")]


def make_dimension(
    sketch: Sketch,
    ids: tuple[str, ...],
    text: str,
    kind: DimensionKind | None = None,
    rim: tuple[int, int] = (0, 0),
    far: bool = False,
    quadrant: int = 0,
) -> tuple[Dimension, float]:
    """The dimension the chosen elements ask for, and its present value (mm, radians).

    In a turned profile a level line or a point gives a diameter. Raises SketchError when they give none.
    """
    id_ = fresh(sketch, "d")
    if kind in ("pitch", "pitch2", "turn"):
        return _repeat_dimension(sketch, id_, ids[0], text, kind)
    chosen = letters(sketch, ids)
    if chosen == "c":
        made: DimensionKind = kind or ("diameter" if isinstance(sketch.get(ids[0]), Circle) else "radius")
        return Dimension(id=id_, kind=made, of=ids, text=text), _round_size(sketch, ids[0], made)
    if chosen in ("e", "t"):
        made = kind or ("long_axis" if chosen == "e" else "height")
        return Dimension(id=id_, kind=made, of=ids, text=text), _own_size(sketch, ids[0], made)
    if chosen == "l" and ids[0] not in (ALONG, ACROSS):
        return _line_dimension(sketch, id_, ids[0], text, kind)
    if chosen == "p" and sketch.turned and ids[0] != ORIGIN:
        y = place(sketch, ids[0])[1]
        return Dimension(id=id_, kind="diameter", of=ids, text=text, sense=_sign(y)), 2 * abs(y)
    if chosen in ("pp", "cc", "cp"):
        return _points_dimension(sketch, id_, ids, text, kind, rim)
    if chosen == "ll" and kind in (None, "angle", "along", "across"):
        found = _lines_dimension(sketch, id_, ids, text, kind, quadrant)
        if found is not None:
            return found
    if chosen in ("lp", "ll", "cl"):
        return _line_to(sketch, id_, ids, text, far)
    raise SketchError("Choose a line, a circle, two points, a point and a line, or two lines.")


def _round_size(sketch: Sketch, id_: str, kind: str) -> float:
    radius = radius_of(sketch, id_)
    if kind == "arc_length":
        arc = sketch.get(id_)
        assert isinstance(arc, Arc)
        return radius * arc_span(arc, sketch.points())[1]
    return 2 * radius if kind == "diameter" else radius


def _own_size(sketch: Sketch, id_: str, kind: str) -> float:
    entity = sketch.get(id_)
    if isinstance(entity, Text):
        return entity.height
    assert isinstance(entity, Ellipse)
    points = sketch.points()
    c, a = points[entity.center], points[entity.a]
    return 2 * (math.hypot(a.x - c.x, a.y - c.y) if kind == "long_axis" else entity.minor)


def _repeat_dimension(sketch: Sketch, id_: str, copy: str, text: str, kind: DimensionKind) -> tuple[Dimension, float]:
    found = copy_of(sketch, copy)
    repeat = next(r for r in sketch.repeats if r.id == (found.repeat if found else copy))
    wanted = (0, 1) if kind == "pitch2" else (1, 0)
    points = sketch.points()
    first = next(
        (c for e in points if (c := copy_of(sketch, e)) and c.repeat == repeat.id and (c.i, c.j) == wanted), None
    )
    if first is None:
        raise SketchError("There is no copy to measure.")
    p, q = points[first.source], points[first.id]
    if kind != "turn":
        return Dimension(id=id_, kind=kind, of=(repeat.id,), text=text), math.hypot(q.x - p.x, q.y - p.y)
    hub = points[repeat.center]
    turn = math.atan2(q.y - hub.y, q.x - hub.x) - math.atan2(p.y - hub.y, p.x - hub.x)
    turn = math.remainder(turn, 2 * math.pi)
    return Dimension(id=id_, kind="turn", of=(repeat.id,), text=text, sense=_sign(turn)), abs(turn)


def _line_dimension(
    sketch: Sketch, id_: str, line: str, text: str, kind: DimensionKind | None
) -> tuple[Dimension, float]:
    entity = sketch.get(line)
    assert isinstance(entity, Line)
    (ax, ay), (bx, by) = place(sketch, entity.a), place(sketch, entity.b)
    level = abs(ay - by) < 1e-6
    if (kind == "diameter" and level and sketch.plane.base != "end") or (kind is None and level and sketch.turned):
        return Dimension(id=id_, kind="diameter", of=(line,), text=text, sense=_sign(ay)), 2 * abs(ay)
    ends = (entity.a, entity.b)
    if kind in (None, "distance"):
        return Dimension(id=id_, kind="distance", of=ends, text=text), math.hypot(bx - ax, by - ay)
    if kind not in ("along", "across"):
        raise SketchError("A line has a length; a level one in a turned profile has a diameter.")
    value = bx - ax if kind == "along" else by - ay
    return Dimension(id=id_, kind=kind, of=ends, text=text, sense=_sign(value)), abs(value)


def _lines_dimension(
    sketch: Sketch, id_: str, ids: tuple[str, ...], text: str, kind: DimensionKind | None, quadrant: int
) -> tuple[Dimension, float] | None:
    first, second = (direction(sketch, i) for i in ids)
    if kind in (None, "angle") and abs(_cross(first, second)) > 1e-6:
        asked = Dimension(id=id_, kind="angle", of=ids, text=text, quadrant=quadrant)
        return angle_choices(sketch, asked)[0]
    if kind == "angle":
        raise SketchError("These two lines are parallel; they have a distance, no angle.")
    upright = all(abs(direction(sketch, i)[0]) < 1e-6 for i in ids)
    if upright and kind in (None, "along"):
        value = place(sketch, ids[1])[0] - place(sketch, ids[0])[0]
        return Dimension(id=id_, kind="along", of=ids, text=text, sense=_sign(value)), abs(value)
    return None


def _line_to(sketch: Sketch, id_: str, ids: tuple[str, ...], text: str, far: bool) -> tuple[Dimension, float]:
    line = next(i for i in ids if letter(sketch, i) == "l")
    other = next((i for i in ids if i != line), line)
    value = offset_from(sketch, line, place(sketch, other))
    gap = abs(value)
    if letter(sketch, other) == "c":
        gap += radius_of(sketch, other) * (1 if far else -1)
    return Dimension(id=id_, kind="distance", of=(line, other), text=text, sense=_sign(value), far=far), gap


def _points_dimension(
    sketch: Sketch, id_: str, ids: tuple[str, ...], text: str, kind: DimensionKind | None, rim: tuple[int, int]
) -> tuple[Dimension, float]:
    (ax, ay), (bx, by) = (place(sketch, i) for i in ids)
    if kind in ("along", "across"):
        value = bx - ax if kind == "along" else by - ay
        return Dimension(id=id_, kind=kind, of=ids, text=text, sense=_sign(value)), abs(value)
    gap, sense = math.hypot(bx - ax, by - ay), 1
    radii = [radius_of(sketch, i) if r else 0.0 for i, r in zip(ids, rim, strict=True)]
    if any(rim) and gap < 1e-6 and all(letter(sketch, i) == "c" for i in ids):
        sense = _sign(radii[1] - radii[0])
        value = sum(radii) if rim[0] == rim[1] else abs(radii[1] - radii[0])
    else:
        value = gap + rim[0] * radii[0] + rim[1] * radii[1]
    return Dimension(id=id_, kind="distance", of=ids, text=text, sense=sense, rim=rim), value


def angle_choices(sketch: Sketch, d: Dimension) -> list[tuple[Dimension, float]]:
    """The four angles two lines make, each with its present value (radians); the stored one first."""
    found = []
    for quadrant in sorted(range(4), key=lambda q: q != d.quadrant):
        first, second = (direction(sketch, i) for i in d.of)
        a, b = (-1 if quadrant & 1 else 1), (-1 if quadrant & 2 else 1)
        u, v = (a * first[0], a * first[1]), (b * second[0], b * second[1])
        turn = math.atan2(_cross(u, v), u[0] * v[0] + u[1] * v[1])
        found.append((msgspec.structs.replace(d, quadrant=quadrant, sense=_sign(turn)), abs(turn)))
    return found


# --- where things are
def _sign(value: float) -> int:
    return -1 if value < 0 else 1


def _cross(u: XY, v: XY) -> float:
    return u[0] * v[1] - u[1] * v[0]


def place(sketch: Sketch, id_: str) -> XY:
    """Where a dimension takes hold of an element, mm."""
    if id_ in (ORIGIN, ALONG, ACROSS):
        return 0.0, 0.0
    entity = sketch.get(id_)
    if isinstance(entity, Line):
        entity = sketch.get(entity.a)
    elif isinstance(entity, Circle | Arc | Ellipse):
        entity = sketch.get(entity.center)
    assert isinstance(entity, Point)
    return entity.x, entity.y


def direction(sketch: Sketch, line: str) -> XY:
    """Unit direction of a line."""
    if line in (ALONG, ACROSS):
        return (1.0, 0.0) if line == ALONG else (0.0, 1.0)
    entity = sketch.get(line)
    assert isinstance(entity, Line)
    (ax, ay), (bx, by) = place(sketch, entity.a), place(sketch, entity.b)
    length = math.hypot(bx - ax, by - ay) or 1.0
    return (bx - ax) / length, (by - ay) / length


def offset_from(sketch: Sketch, line: str, p: XY) -> float:
    """Signed distance of a place from a line (left positive), mm."""
    (ax, ay), (ux, uy) = place(sketch, line), direction(sketch, line)
    return ux * (p[1] - ay) - uy * (p[0] - ax)


def radius_of(sketch: Sketch, id_: str) -> float:
    entity = sketch.get(id_)
    if isinstance(entity, Circle):
        return entity.radius
    assert isinstance(entity, Arc)
    return arc_span(entity, sketch.points())[2]
