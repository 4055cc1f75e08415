"""How two picked faces, edges or corners lie to each other: apart, at an angle, on one axis."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from typing import NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.TopoDS import TopoDS

from ...quantity import Style
from ...tolerance import LEVEL
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, cross, dot, minus, norm, unit
from ..ground.placing import triple
from ..ground.topology import FACE, VERTEX, Shape
from .curves import straight_edge
from .surfaces import circle_of, measure_face

#: Axes nearer than this are one (mm).
ONE_AXIS = 1e-7
_SQUARE = math.pi / 2 - 1e-6


Near = tuple[float, tuple[Vector, Vector]]
_KNOWN: deque[tuple[Shape, Shape, Near | None]] = deque(maxlen=8)


class Thing(NamedTuple):
    """A picked face, edge or corner as a place with a direction: ``flat`` (its normal, outwards), a ``line`` (or an
    axis), a ``point`` (a corner, a ball's centre) or ``free``. ``radius`` is what is round about it, mm; ``hollow``
    when the material lies outside.
    """

    kind: str
    place: Vector = (0.0, 0.0, 0.0)
    way: Vector = (0.0, 0.0, 1.0)
    word: str = ""
    radius: float = 0.0
    hollow: bool = False


#: What can be measured: a shape, or a plane, an axis or a point that has no bounds of its own.
Measurable = Shape | Thing


class Lying(NamedTuple):
    """How two things lie: ``angle`` between them (radians; None where parallel, or one has no direction), and how far
    they are ``apart`` square to it (mm; None where they cross in a plane or line).
    """

    angle: float | None
    apart: float | None


def datum_thing(what: str, frame: Frame) -> Thing:
    """A ``plane``, ``axis`` or ``point`` of a step, which lies in its frame."""
    kind = {"plane": "flat", "axis": "line"}.get(what, "point")
    return Thing(kind, frame.origin, frame.normal, what)


def thing(shape: Measurable) -> Thing:
    """What of a face, edge or vertex is measured to."""
    if isinstance(shape, Thing):
        return shape
    if shape.ShapeType() == FACE:
        return _face(measure_face(TopoDS.Face(shape)))
    if shape.ShapeType() == VERTEX:
        return Thing("point", triple(BRep_Tool.Pnt_s(TopoDS.Vertex(shape))), word="corner")
    edge = TopoDS.Edge(shape)
    if circle := circle_of(edge):
        return Thing("line", circle.center, circle.axis, "axis", circle.radius)
    line = straight_edge(edge)
    return Thing("line", *line, "edge") if line is not None else Thing("free")


def _face(surface: Surface) -> Thing:
    if surface.kind == "plane":
        return Thing("flat", surface.origin, surface.axis, "face")
    if surface.kind == "sphere":
        return Thing("point", surface.origin, word="centre", radius=surface.radius, hollow=surface.hollow)
    if surface.kind == "other":
        return Thing("free")
    radius = surface.radius if surface.kind == "cylinder" else 0.0
    return Thing("line", surface.origin, surface.axis, "axis", radius, surface.hollow)


def lying(a: Thing, b: Thing) -> Lying:
    """How ``a`` and ``b`` lie to each other; nothing of what is free."""
    if a.kind > b.kind:
        a, b = b, a
    gap = minus(b.place, a.place)
    if "free" in (a.kind, b.kind):
        return Lying(None, None)
    if a.kind == "flat":
        return _from_flat(a, b, gap)
    if a.kind == "point":
        return Lying(None, norm(gap))
    if b.kind == "point":
        return Lying(None, norm(cross(gap, a.way)))
    square = cross(a.way, b.way)
    if norm(square) < LEVEL:
        return Lying(None, norm(cross(gap, a.way)))
    return Lying(math.asin(min(1.0, norm(square))), abs(dot(gap, unit(square))))


def _from_flat(a: Thing, b: Thing, gap: Vector) -> Lying:
    away = abs(dot(gap, a.way))
    if b.kind == "flat":
        if norm(cross(a.way, b.way)) < LEVEL:
            return Lying(None, away)
        return Lying(math.acos(max(-1.0, min(1.0, -dot(a.way, b.way)))), None)
    if b.kind == "point":
        return Lying(None, away)
    lean = math.asin(min(1.0, abs(dot(a.way, b.way))))
    return Lying(None, away) if lean < LEVEL else Lying(lean, None)


def nearest(a: Shape, b: Shape) -> Near | None:
    """The shortest distance between two shapes, mm, and its ends; None where the kernel finds none. The last few pairs
    are remembered: what is picked is asked about again and again.
    """
    for first, second, found in _KNOWN:
        if a.IsEqual(first) and b.IsEqual(second):
            return found
    found = _nearest(a, b)
    _KNOWN.append((a, b, found))
    return found


def _nearest(a: Shape, b: Shape) -> Near | None:
    extrema = BRepExtrema_DistShapeShape(a, b)
    if not extrema.IsDone() or not extrema.NbSolution():
        return None
    ends = triple(extrema.PointOnShape1(1)), triple(extrema.PointOnShape2(1))
    return float(extrema.Value()), ends


def lie(shapes: Sequence[Measurable], style: Style) -> str:
    """In words, how two faces, edges or corners lie to each other; ``style`` writes the figures."""
    a, b = sorted((thing(s) for s in shapes), key=lambda t: t.kind)
    bounded = [s for s in shapes if not isinstance(s, Thing)]
    near = nearest(*bounded) if len(bounded) == 2 else None
    return "  ·  ".join(filter(None, (_words(a, b, style), f"nearest {style.length(near[0])}" if near else "")))


def _words(a: Thing, b: Thing, style: Style) -> str:
    """``a`` and ``b`` in the order of their kinds: flat, free, line, point."""
    angle, apart = lying(a, b)
    if angle is None and apart is None:
        return ""
    far = style.length(apart) if apart is not None else ""
    if a.kind == b.kind == "flat":
        if angle is None:
            return f"parallel, {far} apart"
        return f"at {style.angle(angle)} (the rest to 180°: {style.angle(math.pi - angle)})"
    if a.kind == "flat" and angle is None:
        return f"{b.word} {far} from the {a.word}"
    if a.kind == "flat":
        assert angle is not None
        return f"{b.word} {'square' if angle > _SQUARE else f'at {style.angle(angle)}'} to the {a.word}"
    if a.kind == b.kind == "point":
        return f"{'centres' if a.word == b.word == 'centre' else 'places'} {far} apart"
    if b.kind == "point":
        return f"{b.word} {far} from the {a.word}"
    return _lines(a, b, Lying(angle, apart), style)


def _lines(a: Thing, b: Thing, found: Lying, style: Style) -> str:
    words = "axes" if a.word == b.word == "axis" else "edges" if a.word == b.word else "axis and edge"
    assert found.apart is not None
    if found.angle is None:
        near = words == "axes" and found.apart < ONE_AXIS
        return "on one axis" if near else f"{words} parallel, {style.length(found.apart)} apart"
    meet = "meet" if found.apart < ONE_AXIS else f"pass at {style.length(found.apart)}"
    return f"{words} {meet}, at {style.angle(found.angle)}"
