"""All that can be measured of one or two things picked on a part: faces, edges, corners, planes and axes."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Literal, NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_CurveType
from OCP.TopoDS import TopoDS

from ...tolerance import LEVEL, ONE_PLACE
from ..ground.curvature import rounding
from ..ground.figures import Surface, Vector
from ..ground.geometry import along, cross, dot, minus, norm
from ..ground.placing import triple
from ..ground.topology import EDGE, FACE, VERTEX, Shape, subshapes
from .pair import Measurable, Thing, lying, nearest, thing
from .surfaces import circle_of, measure_face

FigureKind = Literal["length", "diameter", "radius", "angle", "area", "place", "count"]
Ends = tuple[Vector, Vector]
Axes = tuple[Vector, Vector, Vector]
#: The part's own axes.
OWN: Axes = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


class Taken(NamedTuple):
    """One figure: ``what`` it is in words, ``value`` in mm, radians, mm² or a count; a ``place`` is a coordinate.
    ``ends`` are what it lies between on the part, where it lies between two places.
    """

    what: str
    kind: FigureKind
    value: float
    ends: Ends | None = None


def measured(
    shapes: Sequence[Measurable], axes: Axes = OWN, zero: Vector = (0.0, 0.0, 0.0), near: bool = True
) -> tuple[Taken, ...]:
    """What one shape is, or how two lie to each other; nothing of more. ``axes`` (unit, in the part's own) and ``zero``
    are those of the machine. What matters most comes first; the nearest places, which the kernel has to look for, last,
    and only when ``near`` is wanted.
    """
    if len(shapes) == 1:
        return tuple(_one(shapes[0], axes, zero))
    return tuple(_two(shapes[0], shapes[1], axes, near)) if len(shapes) == 2 else ()


# --- one
def _one(shape: Measurable, axes: Axes, zero: Vector) -> list[Taken]:
    if isinstance(shape, Thing):
        return _datum(shape, axes, zero)
    if shape.ShapeType() == FACE:
        surface = measure_face(TopoDS.Face(shape))
        return [*_FACES[surface.kind](shape, surface), Taken("area", "area", surface.area), *_at(surface, axes, zero)]
    if shape.ShapeType() == EDGE:
        return _edge(shape, axes, zero)
    return _coordinates("corner", triple(BRep_Tool.Pnt_s(TopoDS.Vertex(shape))), axes, zero)


def _coordinates(what: str, place: Vector, axes: Sequence[Vector], zero: Vector) -> list[Taken]:
    gap = minus(place, zero)
    return [Taken(f"{what}, {name}", "place", dot(gap, way)) for name, way in zip("XYZ", axes, strict=True)]


def _datum(t: Thing, axes: Axes, zero: Vector) -> list[Taken]:
    """Where a plane, an axis or a point stands; nothing of what leans to the machine's axes, which has no one place."""
    every = _coordinates(t.word, t.place, axes, zero)
    return [taken for taken, way in zip(every, axes, strict=True) if _stands(t, way)]


def _at(s: Surface, axes: Sequence[Vector], zero: Vector) -> list[Taken]:
    """Where a face stands: a flat one along its normal, an axis across it, a centre."""
    if s.kind == "sphere":
        return _coordinates("centre", s.origin, axes, zero)
    if s.kind == "other":
        return []
    told = "face" if s.kind == "plane" else "axis"
    return [
        Taken(f"{told}, {name}", "place", dot(minus(s.origin, zero), way))
        for name, way in zip("XYZ", axes, strict=True)
        if (abs(dot(way, s.axis)) > 1 - LEVEL) == (s.kind == "plane")
        and (s.kind == "plane" or abs(dot(way, s.axis)) < LEVEL)
    ]


def _flat(shape: Shape, s: Surface) -> list[Taken]:
    return []


def _round(shape: Shape, s: Surface) -> list[Taken]:
    ends = along(s.origin, s.axis, s.span[0]), along(s.origin, s.axis, s.span[1])
    found = [Taken("diameter", "diameter", 2 * s.radius), Taken("radius", "radius", s.radius)]
    if s.turn < 2 * math.pi - LEVEL:
        found = [*reversed(found), Taken("turns through", "angle", s.turn)]
    return [*found, Taken("length", "length", s.span[1] - s.span[0], ends)]


def _cone(shape: Shape, s: Surface) -> list[Taken]:
    ends = along(s.origin, s.axis, s.span[0]), along(s.origin, s.axis, s.span[1])
    wide, narrow = sorted((2 * (s.radius + t * math.tan(s.half_angle)) for t in s.span), reverse=True)
    return [
        Taken("included angle", "angle", 2 * s.half_angle), Taken("half angle", "angle", s.half_angle),
        Taken("diameter at the wide end", "diameter", wide), Taken("diameter at the narrow end", "diameter", narrow),
        Taken("length along the axis", "length", s.span[1] - s.span[0], ends),
    ]  # fmt: skip


def _ball(shape: Shape, s: Surface) -> list[Taken]:
    return [Taken("diameter of the ball", "diameter", 2 * s.radius), Taken("radius", "radius", s.radius)]


def _ring(shape: Shape, s: Surface) -> list[Taken]:
    return [Taken("radius", "radius", s.radius), Taken("diameter of its middle circle", "diameter", 2 * s.major)]


def _free(shape: Shape, s: Surface) -> list[Taken]:
    found = rounding(TopoDS.Face(shape))
    return [Taken("radius, of a free face", "radius", found.radius)] if found is not None else []


_FACES = {"plane": _flat, "cylinder": _round, "cone": _cone, "sphere": _ball, "torus": _ring, "other": _free}


def _edge(shape: Shape, axes: Sequence[Vector], zero: Vector) -> list[Taken]:
    edge = TopoDS.Edge(shape)
    curve = BRepAdaptor_Curve(edge)
    length = float(GCPnts_AbscissaPoint.Length_s(curve))
    ends = triple(curve.Value(curve.FirstParameter())), triple(curve.Value(curve.LastParameter()))
    if circle := circle_of(edge):
        turn = curve.LastParameter() - curve.FirstParameter()
        found = [Taken("diameter", "diameter", 2 * circle.radius), Taken("radius", "radius", circle.radius)]
        if turn < 2 * math.pi - LEVEL:
            found = [
                *reversed(found),
                Taken("turns through", "angle", turn),
                Taken("chord", "length", norm(minus(*ends)), ends),
            ]
        return [
            *found,
            Taken("length of the edge", "length", length),
            *_coordinates("centre", circle.center, axes, zero),
        ]
    straight = curve.GetType() == GeomAbs_CurveType.GeomAbs_Line
    return [Taken("length", "length", length, ends if straight else None)]


# --- two
def _two(first: Measurable, second: Measurable, axes: Axes, near: bool) -> list[Taken]:
    a, b = thing(first), thing(second)
    found = [*_lie(a, b), *_sides(a, b)]
    if isinstance(first, Thing) or isinstance(second, Thing) or first.ShapeType() == second.ShapeType() == VERTEX:
        return [*found, *_along(a, b, axes)]  # bounded by nothing, or by nothing else
    found += [*_corners(first, second), *_along(a, b, axes)]
    if near and (closest := nearest(first, second)) is not None:
        found.append(Taken("nearest", "length", *closest))
    return found


def _lie(a: Thing, b: Thing) -> list[Taken]:
    angle, apart = lying(a, b)
    found: list[Taken] = []
    if apart is not None:
        found.append(Taken(_called(a, b, angle is not None), "length", apart, _feet(a, b)))
    if angle is not None:
        found += [
            Taken("angle", "angle", angle), Taken("half the angle", "angle", angle / 2),
            Taken("the rest to 180°", "angle", math.pi - angle),
        ]  # fmt: skip
    return found


def _called(a: Thing, b: Thing, crossed: bool) -> str:
    """What the distance of two things is."""
    kinds = {a.kind, b.kind}
    if kinds == {"flat"}:
        if "plane" in (a.word, b.word):
            return "between the planes" if a.word == b.word else "face from the plane"
        if dot(a.way, b.way) > 0:
            return "one below the other"
        gap = dot(minus(b.place, a.place), a.way)
        return "wall between" if gap < 0 else "clear between"
    if kinds == {"line"}:
        words = "axes" if a.word == b.word == "axis" else "edges" if a.word == b.word else "axis and edge"
        return f"between the {words}, where they pass" if crossed else f"between the {words}"
    if kinds == {"point"}:
        return "between the centres" if a.word == b.word == "centre" else "between the places"
    round_one = a if a.kind in ("line", "point") else b
    other = b if round_one is a else a
    if kinds == {"line", "point"}:
        point, line = (a, b) if a.kind == "point" else (b, a)
        return f"{point.word} from the {line.word}"
    return f"{round_one.word} from the {other.word}"


def _feet(a: Thing, b: Thing) -> Ends | None:
    """What a distance lies between: the foot of one thing's place on the other."""
    if a.kind == b.kind == "point":
        return a.place, b.place
    if "flat" in (a.kind, b.kind):
        flat, other = (a, b) if a.kind == "flat" else (b, a)
        off = dot(minus(other.place, flat.place), flat.way)
        return other.place, along(other.place, flat.way, -off)
    line, other = (a, b) if a.kind == "line" else (b, a)
    if other.kind == "point" or norm(cross(line.way, other.way)) < LEVEL:
        foot = along(line.place, line.way, dot(minus(other.place, line.place), line.way))
        return other.place, foot
    return _crossing(a, b)


def _crossing(a: Thing, b: Thing) -> Ends:
    """Where two lines that are not parallel pass each other."""
    gap, c = minus(b.place, a.place), dot(a.way, b.way)
    s = (dot(gap, a.way) - c * dot(gap, b.way)) / (1 - c * c)
    t = (c * dot(gap, a.way) - dot(gap, b.way)) / (1 - c * c)
    return along(a.place, a.way, s), along(b.place, b.way, t)


def _sides(a: Thing, b: Thing) -> list[Taken]:
    """Of round things: over both, between their near sides; about one axis, the wall between them."""
    angle, apart = lying(a, b)
    if apart is None or angle is not None or not (a.radius or b.radius):
        return []
    if a.radius and b.radius and a.kind == b.kind and apart < ONE_PLACE:
        inner, outer = sorted((a, b), key=lambda t: t.radius)
        word = "wall between" if inner.hollow and not outer.hollow else "difference of the radii"
        return [Taken(word, "length", outer.radius - inner.radius)]
    reach = a.radius + b.radius
    near, far = Taken("between the near sides", "length", abs(apart - reach)), apart + reach
    return [near, Taken("over the far sides", "length", far)]


def _corners(first: Shape, second: Shape) -> list[Taken]:
    """The farthest of two things whose edges are straight, from corner to corner."""
    places = [_straight_corners(s) for s in (first, second)]
    if not all(places):
        return []
    ends = max(itertools.product(*places), key=lambda pair: norm(minus(*pair)))
    return [Taken("farthest", "length", norm(minus(*ends)), (ends[0], ends[1]))]


def _straight_corners(shape: Shape) -> list[Vector]:
    if shape.ShapeType() == VERTEX:
        return [triple(BRep_Tool.Pnt_s(TopoDS.Vertex(shape)))]
    flat = shape.ShapeType() == EDGE or measure_face(TopoDS.Face(shape)).kind == "plane"
    lines = all(
        BRepAdaptor_Curve(TopoDS.Edge(e)).GetType() == GeomAbs_CurveType.GeomAbs_Line for e in subshapes(shape, EDGE)
    )
    return [triple(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in subshapes(shape, VERTEX)] if flat and lines else []


def _along(a: Thing, b: Thing, axes: Sequence[Vector]) -> list[Taken]:
    """How far they stand apart along each machine axis in which both have a place of their own."""
    if "free" in (a.kind, b.kind):
        return []
    gap = minus(b.place, a.place)
    return [
        Taken(f"along {name}", "length", abs(dot(gap, way)))
        for name, way in zip("XYZ", axes, strict=True)
        if _stands(a, way) and _stands(b, way)
    ]


def _stands(t: Thing, way: Vector) -> bool:
    """Whether a thing has one coordinate along a direction."""
    if t.kind == "point":
        return True
    lean = abs(dot(t.way, way))
    return lean > 1 - LEVEL if t.kind == "flat" else lean < LEVEL
